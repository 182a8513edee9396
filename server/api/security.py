"""Who may call the API."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja.security import django_auth
from ninja.utils import check_csrf

from .errors import Problem

# Session cookie plus Django's CSRF token, as for any page of the same origin.
signed_in = django_auth


def same_page(request: HttpRequest) -> bool:
    """Anybody, signed in or not, but only from a page of ours: without the token another page could sign its visitor in
    under a name of its own, and read what they do there.

    :raises Problem: 403 without the token.
    """
    if check_csrf(request) is not None:
        raise Problem("This did not come from a page of Cenote. Reload the page and try again.", status=403)
    return True


class SignedInRequest(HttpRequest):
    """A request that has passed :data:`signed_in`, as every endpoint but those of the session sees it."""

    user: User
