"""Grading of the parts of an object."""

from __future__ import annotations

from typing import Literal

from ..parameters import Declared, choice, colour, quantity


class PartGrade(Declared):
    """Grading of one part of an object."""

    brightness: float = quantity(1, low=0.1, high=3, unit="×", step=0.02, help="Darker or lighter.")
    tint: tuple[float, float, float] = colour((0.5, 0.4, 0.3), help="The colour of the tint.")
    tinted: float = quantity(0, low=0, high=1, unit="", step=0.02, help="How strong the tint is.")
    blend: Literal["multiply", "soft light"] = choice(
        "multiply", help="Multiply only darkens; soft light keeps how bright the part is."
    )
    spread: float = quantity(
        0.12, low=0, high=1, unit="", step=0.02, help="How far repeated pieces, such as boards, differ in brightness."
    )
    glow: float = quantity(
        0, low=0, high=40, unit="×", step=0.1, help="Light that it gives of its own, as a factor on its colour."
    )
