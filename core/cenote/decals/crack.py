"""Cracks."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..parameters import colour, count, quantity
from .base import DECALS, Decal, Ink, Sheet
from .outlines import to_lines


@DECALS.register
class Crack(Decal):
    """A crack that runs from the left edge to the right, with branches that run out."""

    kind: Literal["crack"] = "crack"
    title: ClassVar[str] = "Crack"
    help: ClassVar[str] = "A crack from the left edge to the right, with branches."
    size: ClassVar[tuple[float, float]] = (1.4, 0.7)
    reach: ClassVar[float] = 0.3
    width: float = quantity(0.006, low=0.0005, high=0.2, unit="m", step=0.001, help="Width where it is widest.")
    depth: float = quantity(0.012, low=0, high=0.3, unit="m", step=0.002, help="How deep it is.")
    branches: int = count(5, low=0, high=40, help="How many branches it has.")
    strays: float = quantity(45, low=0, high=100, unit="%", step=5, help="How far it strays from a straight line.")
    colour: tuple[float, float, float] = colour((0.012, 0.01, 0.008), help="Colour within it.")

    def draw(self, sheet: Sheet) -> Ink:
        # What bends it is the same at any size of texel, and moves its places rather than its lines.
        bend = 0.07 * self.strays / 100
        x = sheet.x + (sheet.noise(0.09, 6, 11) - 0.5) * bend
        y = sheet.y + (sheet.noise(0.09, 6, 12) - 0.5) * bend
        gap = to_lines(sheet.moved(x, y), self._lines(sheet))
        inside = sheet.inside(gap)
        deep = np.clip(-gap / (self.width / 2), 0, 1)
        chips = np.clip(1 - gap / (1.5 * self.width), 0, 1) * (sheet.noise(0.015, 3, 13) > 0.56) * (1 - inside)
        opacity = np.clip(inside + 0.35 * chips, 0, 1)
        return Ink(np.array(self.colour, np.float32) * (1 + 6 * chips[:, None]), opacity, 0.95, 0.0, -self.depth * (0.5 + 0.5 * deep) * inside - 0.15 * self.depth * chips)  # fmt: skip

    def _lines(self, sheet: Sheet) -> np.ndarray:
        """The crack as short lines, float64 (L, 6), see :func:`cenote.decals.outlines.to_lines`."""
        dice = sheet.dice(2)
        steps = 40
        across = np.linspace(-0.5, 0.5, steps + 1) * sheet.width
        stray = np.cumsum(dice.normal(0, 1, steps + 1))
        stray -= np.linspace(stray[0], stray[-1], steps + 1)
        up = stray / max(np.abs(stray).max(), 1e-9) * 0.42 * sheet.height * (self.strays / 100)
        swell = self.width * (0.35 + 0.65 * dice.random(steps + 1))
        swell[[0, -1]] = 0
        lines = [_joined(np.column_stack([across, up]), swell)]
        for _ in range(self.branches):
            start = int(dice.integers(3, steps - 3))
            turn = dice.choice([-1, 1]) * dice.uniform(0.5, 1.2)
            length = sheet.height * dice.uniform(0.15, 0.5)
            ways = turn + np.cumsum(dice.normal(0, 0.35, 10))
            path = np.cumsum(np.column_stack([np.cos(ways), np.sin(ways)]) * length / 10, axis=0)
            points = np.array([across[start], up[start]]) + np.concatenate([np.zeros((1, 2)), path])
            lines.append(_joined(points, swell[start] * 0.7 * np.linspace(1, 0, 11)))
        return np.concatenate(lines)


def _joined(points: np.ndarray, wide: np.ndarray) -> np.ndarray:
    return np.column_stack([points[:-1], points[1:], wide[:-1], wide[1:]])
