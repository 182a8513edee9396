"""Who may call the API."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja.security import django_auth

# Session cookie plus Django's CSRF token, as for any page of the same origin.
signed_in = django_auth


class SignedInRequest(HttpRequest):
    """A request that has passed :data:`signed_in`, as every endpoint but those of the session sees it."""

    user: User
