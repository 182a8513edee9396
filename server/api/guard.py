"""What holds for every answer, of static files as well: whom we serve, and what a browser may do with it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from asgiref.sync import iscoroutinefunction
from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse
from django.utils.decorators import sync_and_async_middleware

from .errors import Problem

# Scripts come from us alone. Styles are written into the page by the interface's library as it goes; pictures and
# workers are made from data in the page.
POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "connect-src 'self' data: blob:",
        "worker-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)


def _refusal(request: HttpRequest) -> HttpResponse | None:
    try:
        request.get_host()
    except DisallowedHost:
        return Problem("This server does not answer under that name. Its operator can add it.", status=400).response()
    return None


def _marked(answer: Any) -> Any:
    answer.headers.setdefault("Content-Security-Policy", POLICY)
    answer.headers.setdefault("X-Frame-Options", "DENY")
    return answer


@sync_and_async_middleware
def guard(get_response: Callable[[HttpRequest], Any]) -> Callable[[HttpRequest], Any]:
    """Django middleware, outermost: the host is checked before a static file is given out, and every answer says what a
    browser may do with it (Content Security Policy Level 3)."""
    if iscoroutinefunction(get_response):

        async def guarded(request: HttpRequest) -> Any:
            return _marked(_refusal(request) or await get_response(request))

        return guarded
    return lambda request: _marked(_refusal(request) or get_response(request))
