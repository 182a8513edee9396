"""Signing in and out."""

from __future__ import annotations

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema

from api.errors import Problem

router = Router(tags=["session"])


class Session(Schema):
    """Who is signed in; ``csrf`` goes into the X-CSRFToken header of every change."""

    user: str | None
    csrf: str


class Credentials(Schema):
    """What a user signs in with."""

    user: str
    password: str


def _session(request: HttpRequest) -> Session:
    return Session(user=request.user.get_username() if request.user.is_authenticated else None, csrf=get_token(request))


@router.get("/session", response=Session, auth=None)
def get_session(request: HttpRequest) -> Session:
    """Who is signed in."""
    return _session(request)


@router.post("/session", response=Session, auth=None)
def sign_in(request: HttpRequest, credentials: Credentials) -> Session:
    """Sign in."""
    user = authenticate(request, username=credentials.user, password=credentials.password)
    if user is None:
        raise Problem("That name and password do not go together. Check both; capital letters count.", status=401)
    login(request, user)
    return _session(request)


@router.delete("/session", response=Session, auth=None)
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
