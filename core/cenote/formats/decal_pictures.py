"""Pictures that users bring in for decals."""

from __future__ import annotations

import numpy as np
from PIL import Image

from ..colour import srgb_of
from ..refused import ImportRefused
from .pictures_in import is_exr, open_picture, read_exr_colours

# Pixels that the longer side keeps.
KEPT = 2048
_USE = "a decal"


def read_decal_picture(name: str, content: bytes) -> tuple[np.ndarray, list[str]]:
    """A picture with its opacity.

    :returns: uint8 (h, w, 4), rows from the top: red, green and blue as tones, and opacity; and what its owner should know.
    :raises ImportRefused: with the reason, for anything that cannot be used.
    """
    remarks: list[str] = []
    if is_exr(content):
        tones = np.round(np.clip(srgb_of(np.clip(read_exr_colours(name, content, 1, _USE), 0, 1)), 0, 1) * 255)
        image = Image.fromarray(tones.astype(np.uint8))
        remarks.append("Light above white was cut off.")
    else:
        image = open_picture(name, content, 1, _USE)
    if image.mode.startswith("I"):
        values = np.asarray(image, np.float32)
        image = Image.fromarray(np.clip(values / (257 if values.max() > 255 else 1), 0, 255).astype(np.uint8))
    elif image.mode == "F":
        image = Image.fromarray(np.clip(np.asarray(image) * 255, 0, 255).astype(np.uint8))
    clear = image.mode in ("LA", "PA", "RGBA") or "transparency" in image.info
    image = image.convert("RGBA")
    if not clear:
        remarks.append(
            "It has no transparency of its own: it is opaque, until its opacity is taken from its brightness."
        )
    elif not np.asarray(image)[..., 3].any():
        raise ImportRefused(f"{name}: all of it is transparent, so that nothing of it would be seen.")
    if max(image.size) > KEPT:
        factor = KEPT / max(image.size)
        columns, rows = (max(1, round(side * factor)) for side in image.size)
        image = _smaller(image, (columns, rows))
        remarks.append(f"Kept at {columns} × {rows} pixels.")
    return np.asarray(image), remarks


def _smaller(image: Image.Image, size: tuple[int, int]) -> Image.Image:
    # What is transparent has no say in the colour of what is not.
    return image.convert("RGBa").resize(size, Image.Resampling.BOX).convert("RGBA")
