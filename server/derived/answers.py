"""Answers in the forms that pages take: packs of arrays, and pictures."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpResponse

from cenote.formats.pack import pack

PACK = "application/x-cenote-pack"
_FOREVER = "private, max-age=31536000, immutable"


def packed(arrays: dict[str, np.ndarray], meta: dict[str, Any] | None = None, forever: bool = False) -> HttpResponse:
    """Arrays as a pack. :param forever: whether it may be kept for good, as content under its own key may."""
    return pack_response(pack(arrays, meta or {}), forever)


def pack_response(content: bytes, forever: bool = False) -> HttpResponse:
    """A pack that is written already."""
    return _kept(HttpResponse(content, content_type=PACK), forever)


def png_response(content: bytes, forever: bool = False) -> HttpResponse:
    """A PNG file."""
    return _kept(HttpResponse(content, content_type="image/png"), forever)


def _kept(response: HttpResponse, forever: bool) -> HttpResponse:
    response["Cache-Control"] = _FOREVER if forever else "no-store"
    return response


def same_key(wanted: str, there: str) -> bool:
    """Whether the content may be kept for ever: only under the key that it was asked for by."""
    return bool(wanted) and wanted == there
