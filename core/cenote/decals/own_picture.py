"""Pictures of a user's own."""

from __future__ import annotations

from collections.abc import Sequence
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..colour import LUMINANCE, linear_of
from ..parameters import choice, colour, quantity
from .base import DECALS, Decal, Ink, Sheet

# Where there is no picture, or its file is lost.
_GREY = np.full((1, 1, 4), [120, 120, 120, 255], np.uint8)
# Pixels are averaged until one is about as large as a texel: up to so many times as small before.
_AS_SMALL = 1.42


@DECALS.register
class OwnPicture(Decal):
    """A picture file of one's own; its opacity is that of the picture, or follows from its brightness."""

    kind: Literal["own_picture"] = "own_picture"
    title: ClassVar[str] = "Own picture"
    help: ClassVar[str] = "A picture file of one's own."
    size: ClassVar[tuple[float, float]] = (0.8, 0.8)
    source: str = Field(
        "", pattern=r"^([0-9a-f]{64})?$", description="Content hash of the stored picture; none yet where it is empty.",
        json_schema_extra={"brought": "picture"},
    )  # fmt: skip
    file_name: str = Field("", max_length=200)
    opacity_from: Literal["its transparency", "what is dark", "what is bright", "nothing"] = choice(
        "its transparency",
        help="What tells where it hides what lies below: its transparency, what is dark or bright in it, or nothing, so that all of it does.",
    )
    rough: float = quantity(0.75, low=0.03, high=1, unit="", step=0.05, help="Its roughness.")
    metal: float = quantity(0, low=0, high=1, unit="", step=0.05, help="How metallic it is.")
    raised: float = quantity(
        0, low=-0.2, high=0.2, unit="m", step=0.001, help="Metres that its bright parts stand over its dark ones."
    )
    thick: float = quantity(0, low=0, high=0.05, unit="m", step=0.0005, help="Thickness of what it is on.")
    tint: tuple[float, float, float] = colour((1, 1, 1), help="A factor on its colours.")

    def draw(self, sheet: Sheet) -> Ink:
        seen = sampled(sheet.picture or levels_of(_GREY), sheet)
        colours, opacity = seen[:, :3], seen[:, 3]
        bright = np.clip(colours @ LUMINANCE.astype(np.float32), 0, 1)
        shown = {
            "its transparency": opacity,
            "what is dark": opacity * (1 - bright),
            "what is bright": opacity * bright,
            "nothing": np.ones_like(opacity),
        }[self.opacity_from]
        relief = (self.raised * (bright - 0.5) + self.thick) * shown
        return Ink(
            np.clip(colours * np.array(self.tint, np.float32), 0, 1),
            shown.astype(np.float32),
            self.rough,
            self.metal,
            relief,
        )


def levels_of(picture: np.ndarray) -> tuple[np.ndarray, ...]:
    """A picture and ever smaller ones of it, half as large each, down to one pixel: float16 (h, w, 4), linear colours times opacity, and opacity.

    :param picture: uint8 (h, w, 4), tones and opacity, rows from the top.
    """
    pixels: np.ndarray = np.empty(picture.shape, np.float32)
    pixels[..., 3] = picture[..., 3] * np.float32(1 / 255)
    pixels[..., :3] = linear_of(picture[..., :3] * np.float32(1 / 255)) * pixels[..., 3:]
    out = [pixels.astype(np.float16)]
    while max(pixels.shape[:2]) > 1:
        for axis in (0, 1):
            many = pixels.shape[axis]
            if many > 1:
                # The last of an odd number is left out.
                pairs = np.take(pixels, np.arange(many // 2 * 2), axis)
                pixels = np.add.reduceat(pairs, np.arange(0, many // 2 * 2, 2), axis) / 2
        out.append(pixels.astype(np.float16))
    return tuple(out)


def sampled(levels: Sequence[np.ndarray], sheet: Sheet) -> np.ndarray:
    """A picture over the whole of a sheet: linear red, green and blue, and opacity, float32 (N, 4). :param levels: as :func:`levels_of` gives them."""
    wide = [min(sheet.height / one.shape[0], sheet.width / one.shape[1]) for one in levels]
    pixels = levels[next((k for k, size in enumerate(wide) if size * _AS_SMALL >= sheet.texel), len(levels) - 1)]
    rows, columns = pixels.shape[:2]
    y = np.clip((0.5 - sheet.y / sheet.height) * rows - 0.5, 0, rows - 1)
    x = np.clip((sheet.x / sheet.width + 0.5) * columns - 0.5, 0, columns - 1)
    top, left = y.astype(int), x.astype(int)
    below, right = np.minimum(top + 1, rows - 1), np.minimum(left + 1, columns - 1)
    down, across = (y - top)[:, None], (x - left)[:, None]
    upper = pixels[top, left] * (1 - across) + pixels[top, right] * across
    lower = pixels[below, left] * (1 - across) + pixels[below, right] * across
    out = np.asarray(upper * (1 - down) + lower * down, np.float32)
    out[:, :3] /= np.maximum(out[:, 3:], 1e-6)
    return out
