"""What was written in chalk."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import model_validator

from ..parameters import choice, colour, count, quantity, text
from .base import DECALS, Decal, Ink, Sheet, ramp
from .outlines import fitted, to_letters, to_lines
from .stencil import check_text


@DECALS.register
class Chalk(Decal):
    """Words by hand, or strokes in fives, in chalk that holds to what stands up."""

    kind: Literal["chalk"] = "chalk"
    title: ClassVar[str] = "Chalk marks"
    help: ClassVar[str] = "Words by hand, or strokes in fives, in chalk."
    size: ClassVar[tuple[float, float]] = (0.6, 0.25)
    over: ClassVar[bool] = True
    marks: Literal["words", "tally", "arrow", "cross"] = choice("words", help="What was written.")
    text: str = text("wet paint", most=60, help="What it says, where it is words.")
    number: int = count(13, low=1, high=100, help="How many strokes, where they are counted.")
    stroke: float = quantity(0.01, low=0.002, high=0.1, unit="m", step=0.002, help="Width of a stroke.")
    strength: float = quantity(80, low=0, high=100, unit="%", step=5, help="How strongly it was pressed on.")
    colour: tuple[float, float, float] = colour((0.82, 0.82, 0.78), help="Colour of the chalk.")

    @model_validator(mode="after")
    def _writable(self) -> Chalk:
        if self.marks == "words":
            check_text("text", self.text, "script")
        return self

    def draw(self, sheet: Sheet) -> Ink:
        x = sheet.x + (sheet.noise(0.15, 3, 97) - 0.5) * 0.03
        y = sheet.y + (sheet.noise(0.15, 3, 98) - 0.5) * 0.03
        shaken = sheet.moved(x, y)
        if self.marks == "words":
            texts = [line for line in self.text.split("\n") if line.strip()]
            gap = to_letters(shaken, fitted(texts, "script", 0.9 * sheet.width, 0.7 * sheet.height), "script")
        else:
            gap = to_lines(shaken, self._lines(sheet))
        grain = sheet.noise(0.004, 3, 99)
        held = ramp(grain, 0.62 - 0.4 * self.strength / 100, 0.8 - 0.4 * self.strength / 100)
        there = sheet.inside(gap + (sheet.noise(0.006, 2, 94) - 0.5) * 0.004, 0.002)
        smear = 0.08 * np.clip(1 - gap / 0.03, 0, 1) * sheet.noise(0.05, 3, 93)
        return Ink(
            np.array(self.colour, np.float32),
            np.clip(there * held + smear * (1 - there), 0, 1).astype(np.float32),
            0.97,
        )

    def _lines(self, sheet: Sheet) -> np.ndarray:
        """Strokes, float64 (L, 6), see :func:`cenote.decals.outlines.to_lines`."""
        dice, wide, tall, stroke = sheet.dice(7), sheet.width, sheet.height, self.stroke
        if self.marks == "cross":
            ends = [[-0.4, -0.4, 0.4, 0.4], [-0.4, 0.4, 0.4, -0.4]]
        elif self.marks == "arrow":
            ends = [[-0.42, 0, 0.42, 0], [0.42, 0, 0.2, 0.3], [0.42, 0, 0.2, -0.3]]
        else:
            fives = -(-self.number // 5)
            step = 0.9 / (fives * 5.5)
            ends = []
            for mark in range(self.number):
                five, one = divmod(mark, 5)
                at = -0.45 + (five * 5.5 + one) * step
                if one == 4:
                    ends.append([at - 4.6 * step, -0.22, at - 0.2 * step, 0.24])
                else:
                    ends.append([at + dice.normal(0, 0.1) * step, -0.32, at + dice.normal(0, 0.14) * step, 0.32])
        return np.array([[a * wide, b * tall, c * wide, d * tall, stroke, 0.7 * stroke] for a, b, c, d in ends])
