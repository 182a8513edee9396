"""Signing in and out."""

from __future__ import annotations

import math

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import same_page

from . import patience

router = Router(tags=["session"])


class Session(Schema):
    """Who is signed in; ``csrf`` goes into the X-CSRFToken header of every change."""

    user: str | None
    csrf: str


class Credentials(Schema):
    """What a user signs in with."""

    user: str = Field(max_length=150)
    password: str = Field(max_length=4096)


def _session(request: HttpRequest) -> Session:
    return Session(user=request.user.get_username() if request.user.is_authenticated else None, csrf=get_token(request))


@router.get("/session", response=Session, auth=None)
def get_session(request: HttpRequest) -> Session:
    """Who is signed in."""
    return _session(request)


@router.post("/session", response=Session, auth=same_page)
def sign_in(request: HttpRequest, credentials: Credentials) -> Session:
    """Sign in."""
    name, address = credentials.user, request.META.get("REMOTE_ADDR", "")
    wait = math.ceil(patience.wait_for(name, address))
    if wait > 0:
        raise Problem(
            f"There were too many wrong tries. Wait {wait} {'second' if wait == 1 else 'seconds'} and try again.",
            status=429,
            retry_after=wait,
        )
    with patience.turn():
        user = authenticate(request, username=name, password=credentials.password)
    if user is None:
        patience.tried_wrongly(name, address)
        raise Problem("That name and password do not go together. Check both; capital letters count.", status=401)
    patience.signed_in(name)
    login(request, user)
    return _session(request)


@router.delete("/session", response=Session, auth=same_page)
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
