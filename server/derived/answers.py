"""Answers in the forms that pages take: packs of arrays, and pictures."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from django.http import HttpResponse
from PIL import Image

from cenote.formats.pack import pack

PACK = "application/x-cenote-pack"
_FOREVER = "private, max-age=31536000, immutable"


def packed(arrays: dict[str, np.ndarray], meta: dict[str, Any] | None = None, forever: bool = False) -> HttpResponse:
    """Arrays as a pack. :param forever: whether it may be kept for good, as content under its own key may."""
    return pack_response(pack(arrays, meta or {}), forever)


def pack_response(content: bytes, forever: bool = False) -> HttpResponse:
    """A pack that is written already."""
    return _kept(HttpResponse(content, content_type=PACK), forever)


def png_response(pixels: np.ndarray, forever: bool = False) -> HttpResponse:
    """A picture from uint8 (H, W, 3)."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    return _kept(HttpResponse(stream.getvalue(), content_type="image/png"), forever)


def _kept(response: HttpResponse, forever: bool) -> HttpResponse:
    response["Cache-Control"] = _FOREVER if forever else "no-store"
    return response


def same_key(wanted: str, there: str) -> bool:
    """Whether the content may be kept for ever: only under the key that it was asked for by."""
    return bool(wanted) and wanted == there


def opaque(picture: np.ndarray) -> np.ndarray:
    """Pixels uint8 (H, W, 3) with an alpha of 255, as textures are uploaded."""
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])
