"""Letters and numerals through a stencil."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import model_validator

from ..parameters import choice, colour, quantity, text
from ..structures.lettering import missing_letters
from .base import DECALS, Decal, Ink, Sheet, ramp
from .outlines import fitted, to_letters

Font = Literal["stencil", "narrow", "serif", "script", "typed"]


@DECALS.register
class Stencil(Decal):
    """Letters and numerals, painted through a stencil or by hand, as large as the box allows."""

    kind: Literal["stencil"] = "stencil"
    title: ClassVar[str] = "Stencilled letters"
    help: ClassVar[str] = "Letters and numerals in paint, as large as the box allows."
    size: ClassVar[tuple[float, float]] = (0.9, 0.4)
    text: str = text("7", most=80, help="What it says; a line break begins a new line.")
    font: Font = choice("stencil", help="The look of its letters.")
    colour: tuple[float, float, float] = colour((0.72, 0.7, 0.64), help="Colour of the paint.")
    thin: float = quantity(
        30, low=0, high=100, unit="%", step=5, help="How thin the paint is: what lies below shows through."
    )
    spray: float = quantity(
        0.006, low=0, high=0.1, unit="m", step=0.002, help="How far paint went astray below the stencil."
    )

    @model_validator(mode="after")
    def _writable(self) -> Stencil:
        check_text("text", self.text, self.font)
        return self

    def draw(self, sheet: Sheet) -> Ink:
        lines = fitted(
            [line for line in self.text.split("\n") if line.strip()], self.font, 0.96 * sheet.width, 0.92 * sheet.height
        )
        gap = to_letters(sheet, lines, self.font)
        ragged = gap + (sheet.noise(0.01, 3, 31) - 0.5) * 0.002
        cover = 1 - self.thin / 100 * (0.35 + 0.65 * ramp(sheet.noise(0.02, 4, 32), 0.35, 0.75))
        haze = (
            0.5 * np.exp(-np.maximum(gap, 0) / max(self.spray, 1e-6)) * (sheet.noise(0.004, 2, 33) > 0.62)
            if self.spray
            else 0.0
        )
        inside = sheet.inside(ragged, 0.0012)
        opacity = np.clip(inside * cover + (1 - inside) * haze * 0.6, 0, 1)
        return Ink(np.array(self.colour, np.float32), opacity.astype(np.float32), 0.62, 0.0, 0.0002 * inside)


def check_text(field: str, value: str, font: str) -> None:
    """:raises ValueError: where a font has no such letters, or there are none."""
    if not value.strip():
        raise ValueError(f"{field}: write at least one letter")
    missing = missing_letters(value, font)
    if missing:
        raise ValueError(
            f"{field}: this font has no {' '.join(missing[:8])}; write it otherwise, or choose another font"
        )
