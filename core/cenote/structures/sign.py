"""Signs: letters in relief, on a board or free, that may glow."""

from __future__ import annotations

from itertools import pairwise
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ..geometry.build import box, limb
from ..geometry.mesh import Mesh, join
from ..kit.base import Dice
from ..kit.wood import worn_box
from ..parameters import choice, colour, quantity, text
from .base import MAKERS, Maker
from .grade import PartGrade
from .lettering import letter_contours, missing_letters, solid_letter

LETTERS, BACKING = "letters", "backing"


@MAKERS.register
class Sign(Maker):
    """Text in one of the shipped open fonts, in relief; on boards, a plate or free, held by posts or brackets."""

    kind: Literal["sign"] = "sign"
    title: ClassVar[str] = "Sign"
    text: str = text("Lock 7", most=80, help="What it says; a line break begins a new line.")
    font: Literal["narrow", "serif", "stencil", "script", "typed"] = choice("serif", help="The look of its letters.")
    height: float = quantity(0.22, low=0.01, high=10, unit="m", step=0.01, help="Height of its capital letters.")
    spacing: float = quantity(0.01, low=-0.2, high=2, unit="m", step=0.005, help="Added between letters.")
    relief: float = quantity(0.03, low=0.001, high=2, unit="m", step=0.002, help="How far letters stand out.")
    backing: Literal["boards", "plate", "none"] = choice("boards", help="What the letters are fixed to.")
    margin: float = quantity(0.09, low=0, high=2, unit="m", step=0.01, help="Of the backing around the text.")
    holders: Literal["posts", "brackets", "none"] = choice(
        "posts", help="Posts in the ground, brackets that hold it out from a wall behind it, or nothing."
    )
    raised: float = quantity(1.3, low=0, high=30, unit="m", step=0.05, help="Its lower edge over the ground.")
    letter_material: str = Field("enamel", description="Of the letters.", json_schema_extra={"picks": "material"})
    backing_material: str = Field("timber", description="Of the backing.", json_schema_extra={"picks": "material"})
    letter_colour: tuple[float, float, float] = colour((0.82, 0.78, 0.66), help="Colour of the letters.")
    glow: float = quantity(
        0, low=0, high=40, unit="×", step=0.5, help="Light that the letters give, as a factor on their colour."
    )

    @model_validator(mode="after")
    def _writable(self) -> Sign:
        if not self.text.strip():
            raise ValueError("text: a sign says something; write at least one letter")
        missing = missing_letters(self.text, self.font)
        if missing:
            raise ValueError(
                f"text: this font has no {' '.join(missing[:8])}; write it otherwise, or choose another font"
            )
        return self

    def part_material(self, part: str) -> str:
        return {LETTERS: self.letter_material, BACKING: self.backing_material}.get(part, part)

    def part_grade(self, part: str) -> PartGrade:
        if part == LETTERS:
            return PartGrade(spread=0, tint=self.letter_colour, tinted=1, glow=self.glow)
        return super().part_grade(part)

    def build(self) -> Mesh:
        lines = [line.strip() for line in self.text.strip().split("\n")]
        rows: list[Mesh] = []
        step = self.height * 1.6
        for row, line in enumerate(lines):
            solid = [solid_letter(one, self.relief, LETTERS)
                     for one in letter_contours(line, self.font, self.height, self.spacing)]  # fmt: skip
            there = [one for one in solid if one is not None]
            if there:
                made = join(there)
                low, high = made.bounds
                rows.append(made.at(-(low[0] + high[0]) / 2, -row * step))
        text = join(rows)
        low, high = text.bounds
        margin = self.margin if self.backing != "none" else 0.0
        lift = self.raised + margin - low[1]
        text = text.at(y=lift)
        left, right = low[0] - margin, high[0] + margin
        bottom, top = self.raised, high[1] + lift + margin
        thick = 0.0 if self.backing == "none" else 0.03
        parts = [text, *self._backing(left, right, bottom, top, thick), *self._holders(left, right, bottom, top, thick)]
        return join(parts)

    def _backing(self, left: float, right: float, bottom: float, top: float, thick: float) -> list[Mesh]:
        if self.backing == "none":
            return []
        if self.backing == "plate":
            return [box((left, bottom, -thick), (right, top, 0), BACKING)]
        dice = Dice("sign", len(self.text))
        count = max(1, round((top - bottom) / 0.16))
        edges = np.linspace(bottom, top, count + 1)
        out = []
        for a, b in pairwise(edges):
            ends = left + dice.one(-0.008, 0.008), right + dice.one(-0.008, 0.008)
            out.append(worn_box((ends[0], a + 0.002, -thick), (ends[1], b - 0.002, 0), 0.004, BACKING))
        return out

    def _holders(self, left: float, right: float, bottom: float, top: float, thick: float) -> list[Mesh]:
        inset = min(0.25, (right - left) * 0.2)
        out: list[Mesh] = []
        if self.holders == "posts":
            for x in (left + inset, right - inset):
                out.append(box((x - 0.04, -0.5, -thick - 0.08), (x + 0.04, top + 0.05, -thick), "timber"))
        elif self.holders == "brackets":
            for x in (left + inset, right - inset):
                for y in (bottom + (top - bottom) * 0.2, top - (top - bottom) * 0.2):
                    path = np.array([[x, y, -thick], [x, y, -thick - 0.12]])
                    out.append(limb(path, np.full(2, 0.009), 8, "bare_metal"))
        return out
