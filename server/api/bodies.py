"""Bodies of requests that no endpoint could do anything with are refused before any sees them."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from itertools import islice
from typing import Any
from urllib.parse import unquote

from asgiref.sync import iscoroutinefunction
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.decorators import sync_and_async_middleware

from .errors import Problem

# Documents are nested some ten deep.
DEEPEST = 64
# What a form has about its files, bytes.
_FRAME = 1024**2


def unusable_text(text: str) -> str:
    """Why a text cannot be kept; empty where it can. A database keeps no NUL, and half a surrogate pair is no character."""
    if "\0" in text:
        return "It holds a NUL character, which no text can."
    if any("\ud800" <= letter <= "\udfff" for letter in text):
        return "It holds half of a character (a lone surrogate)."
    return ""


def faults(value: Any) -> Iterator[dict[str, str]]:
    """What is wrong with a JSON value, by field: texts that cannot be kept, and what is nested too deep."""
    waiting: list[tuple[Any, str, int]] = [(value, "", 1)]
    while waiting:
        found, at, depth = waiting.pop()
        if isinstance(found, str):
            if why := unusable_text(found):
                yield {"field": at, "message": why}
        elif isinstance(found, (dict, list)):
            if depth > DEEPEST:
                yield {"field": at, "message": f"It is nested more than {DEEPEST} deep."}
                continue
            pairs = found.items() if isinstance(found, dict) else enumerate(found)
            for name, one in pairs:
                here = f"{at}/{name}" if at else str(name)
                if isinstance(name, str) and (why := unusable_text(name)):
                    yield {"field": at or "body", "message": f"A name in it cannot be used. {why}"}
                else:
                    waiting.append((one, here, depth + 1))


def _suspicious(body: bytes) -> bool:
    """Whether a body may hold what :func:`faults` looks for: most do not, and are not parsed twice."""
    lower = body.lower()
    return b"\\u0000" in lower or b"\\ud" in lower or lower.count(b"[") + lower.count(b"{") > DEEPEST


def _told_length(request: HttpRequest) -> int:
    try:
        return int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return 0


def _refusal(request: HttpRequest) -> HttpResponse | None:
    """The answer to a request whose body cannot be used; None for all others."""
    if not request.path.startswith("/api/"):
        return None
    for field, text in (("path", request.path), ("query", unquote(request.META.get("QUERY_STRING", "")))):
        if why := unusable_text(text):
            return Problem.of_field(field, why).response()
    plain = request.content_type == "application/json"
    most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE if plain else settings.MOST_UPLOAD_BYTES + _FRAME
    if _told_length(request) > most:
        return Problem(
            f"That is {_told_length(request) / 1e6:.1f} MB at once; at most {most / 1e6:.0f} MB are taken. Nothing was "
            "changed; send less at a time.",
            status=413,
        ).response()
    if not plain or not _suspicious(request.body):
        return None
    try:
        found = list(islice(faults(json.loads(request.body)), 20))
    except RecursionError:
        found = [{"field": "body", "message": f"It is nested more than {DEEPEST} deep."}]
    except ValueError:
        return None
    if not found:
        return None
    return Problem("Some values cannot be used. Nothing was changed.", status=422, fields=found).response()


@sync_and_async_middleware
def check_bodies(get_response: Callable[[HttpRequest], Any]) -> Callable[[HttpRequest], Any]:
    """Django middleware that answers with 422, by field, where a JSON body cannot be used."""
    if iscoroutinefunction(get_response):

        async def checked(request: HttpRequest) -> Any:
            return _refusal(request) or await get_response(request)

        return checked
    return lambda request: _refusal(request) or get_response(request)
