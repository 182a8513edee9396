"""Answers to what Django itself refuses, in our words and in the form of every other problem."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import (
    RequestDataTooBig,
    SuspiciousFileOperation,
    TooManyFieldsSent,
    TooManyFilesSent,
)
from django.http import HttpRequest, HttpResponse

from api.errors import Problem

_KEPT = "Nothing was changed."
_BAD: dict[type[Exception], tuple[str, int]] = {
    RequestDataTooBig: (f"That is too much at once. {_KEPT} Send less at a time.", 413),
    TooManyFilesSent: (f"Those are too many files at once. {_KEPT} Send at most a hundred at a time.", 413),
    TooManyFieldsSent: (f"Those are too many fields at once. {_KEPT}", 413),
    SuspiciousFileOperation: (f"A file has a name that cannot be used. {_KEPT} Give it a short name of letters.", 422),
}


def bad(request: HttpRequest, exception: Exception, **_: Any) -> HttpResponse:
    """A request that cannot be understood."""
    for kind, (words, status) in _BAD.items():
        if isinstance(exception, kind):
            return Problem(words, status=status).response()
    return Problem(f"The request could not be understood. {_KEPT}", status=400).response()


def forbidden(request: HttpRequest, exception: Exception, **_: Any) -> HttpResponse:
    """A request that did not come from a page of ours."""
    return Problem(f"This is not allowed. {_KEPT} Reload the page and try again.", status=403).response()


def lost(request: HttpRequest, exception: Exception, **_: Any) -> HttpResponse:
    """An address where nothing is."""
    return Problem("There is nothing at this address.", status=404).response()


def ours(request: HttpRequest, **_: Any) -> HttpResponse:
    """An error of ours."""
    return Problem(
        "That did not work, through an error of ours; it is in the server's log. What was saved before is kept. Try again "
        "in a moment.",
        status=500,
    ).response()
