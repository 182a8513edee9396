"""A profile that repeats: corrugation, pantiles, plough lines."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import choice, quantity
from ..canvas import Canvas
from .base import PATTERNS, Pattern


@PATTERNS.register
class Ridges(Pattern):
    """Straight ridges at even distances, across or along the tile."""

    kind: Literal["ridges"] = "ridges"
    title: ClassVar[str] = "Ridges"
    spread: float = quantity(0.08, low=0.004, high=10, unit="m", step=0.005, help="Distance of two ridges.")
    profile: Literal["wave", "saw", "bar"] = choice("wave", help="Round waves, teeth that rise slowly, or flat bars.")
    lies: Literal["across", "along"] = choice(
        "across", label="Direction", help="Which way one walks over ridge after ridge."
    )

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        turn = (x if self.lies == "across" else y) * np.float32(canvas.cells(self.spread))
        part = turn - np.floor(turn)
        if self.profile == "wave":
            return np.float32(0.5) - np.float32(0.5) * np.cos(np.float32(2 * np.pi) * part)
        if self.profile == "saw":
            return part
        pixel = canvas.cells(self.spread) / canvas.pixels
        return np.clip(
            (np.float32(0.25) - np.abs(part - np.float32(0.5))) / np.float32(2 * pixel) + np.float32(0.5), 0, 1
        )
