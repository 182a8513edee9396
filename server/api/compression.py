"""Large answers are made smaller where the page can read that, by methods that cost less time than sending them would."""

from __future__ import annotations

import gzip
from collections.abc import Callable
from typing import Any

import zstandard
from asgiref.sync import iscoroutinefunction
from django.http import HttpRequest
from django.utils.decorators import sync_and_async_middleware

# Bytes from which it is worth the time. Answers that hold a secret beside something a page sends are far smaller.
WORTH = 50_000
# Pictures and archives are small already.
_KINDS = ("application/x-cenote-pack", "application/json")


def _compressed(request: HttpRequest, response: Any) -> Any:
    if response.streaming or response.has_header("Content-Encoding") or len(response.content) < WORTH:
        return response
    if not response.get("Content-Type", "").startswith(_KINDS):
        return response
    response.headers["Vary"] = "Accept-Encoding"
    accepted = {one.partition(";")[0].strip() for one in request.headers.get("Accept-Encoding", "").split(",")}
    if "zstd" in accepted:
        # What a browser keeps is sent once, and may cost a little more time.
        level = 3 if "immutable" in response.get("Cache-Control", "") else 1
        response.content, encoding = zstandard.ZstdCompressor(level=level).compress(response.content), "zstd"
    elif "gzip" in accepted:
        response.content, encoding = gzip.compress(response.content, compresslevel=1), "gzip"
    else:
        return response
    response.headers["Content-Encoding"] = encoding
    response.headers["Content-Length"] = str(len(response.content))
    return response


@sync_and_async_middleware
def compress(get_response: Callable[[HttpRequest], Any]) -> Callable[[HttpRequest], Any]:
    """Django middleware: zstd (RFC 8878) or gzip (RFC 1952) for packs of arrays and for long JSON."""
    if iscoroutinefunction(get_response):

        async def compressing(request: HttpRequest) -> Any:
            return _compressed(request, await get_response(request))

        return compressing
    return lambda request: _compressed(request, get_response(request))
