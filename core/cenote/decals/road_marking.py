"""Lines and arrows that are painted on a paving."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import choice, colour, quantity
from ..signals.slope import Slope
from .base import DECALS, Decal, Ink, Sheet, found, ramp
from .outlines import to_lines


@DECALS.register
class RoadMarking(Decal):
    """A line, dashes, bars, a ring, a cross or an arrow in thick paint, along the height of the box."""

    kind: Literal["road_marking"] = "road_marking"
    title: ClassVar[str] = "Painted line"
    help: ClassVar[str] = "A line, dashes, bars, a ring, a cross or an arrow in thick paint."
    size: ClassVar[tuple[float, float]] = (0.15, 3.0)
    shape: Literal["line", "dashes", "bars", "ring", "cross", "arrow"] = choice("line", help="What is painted.")
    stroke: float = quantity(0.12, low=0.01, high=2, unit="m", step=0.01, help="Width of a stroke.")
    colour: tuple[float, float, float] = colour((0.74, 0.72, 0.66), help="Colour of the paint.")
    crazed: float = quantity(
        35, low=0, high=100, unit="%", step=5, help="How far it has cracked and come off in flakes."
    )
    thick: float = quantity(0.0015, low=0, high=0.02, unit="m", step=0.0005, help="Thickness of the paint.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(Slope(), 20, 10)

    def draw(self, sheet: Sheet) -> Ink:
        gap = self._gap(sheet) + (sheet.noise(0.02, 3, 41) - 0.5) * 0.004
        whole = sheet.inside(gap, 0.002)
        flakes = np.minimum(np.abs(sheet.noise(0.03, 4, 42) - 0.5), np.abs(sheet.noise(0.05, 4, 43) - 0.5))
        left = ramp(flakes + 0.25 * (sheet.noise(0.25, 3, 44) - 0.35), 0.0, 0.16 * self.crazed / 100 + 1e-4)
        opacity = whole * (left if self.crazed else 1.0)
        shade = 0.82 + 0.3 * sheet.noise(0.15, 3, 45)
        return Ink(np.array(self.colour, np.float32) * shade[:, None], opacity, 0.7, 0.0, self.thick * opacity)

    def _gap(self, sheet: Sheet) -> np.ndarray:
        stroke, right, up = self.stroke, sheet.width / 2, sheet.height / 2
        x, y = np.abs(sheet.x), np.abs(sheet.y)
        if self.shape == "line":
            return np.maximum(x - min(stroke / 2, right), y - up)
        if self.shape == "ring":
            middle = min(right, up) - stroke / 2
            return np.abs(np.hypot(sheet.x, sheet.y) - middle) - stroke / 2
        if self.shape in ("dashes", "bars"):
            along, beside, half = (sheet.y, x, up) if self.shape == "dashes" else (sheet.x, y, right)
            dash = 6 * stroke if self.shape == "dashes" else stroke
            at = np.mod(along + half, 2 * dash)
            wide = min(stroke / 2, right) if self.shape == "dashes" else up
            return np.maximum.reduce([np.maximum(at - dash, -at), beside - wide, np.abs(along) - half])
        inner = right - stroke / 2, up - stroke / 2
        if self.shape == "cross":
            lines = [
                [-inner[0], -inner[1], inner[0], inner[1], stroke, stroke],
                [-inner[0], inner[1], inner[0], -inner[1], stroke, stroke],
            ]
        else:
            tip = inner[1]
            head = min(2.2 * inner[0], inner[1])
            lines = [
                [0, -inner[1], 0, tip, stroke, stroke],
                [-inner[0], tip - head, 0, tip, stroke, stroke],
                [inner[0], tip - head, 0, tip, stroke, stroke],
            ]
        return to_lines(sheet, np.array(lines, float))
