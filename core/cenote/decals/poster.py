"""Posters that were pasted up, and torn."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import model_validator

from ..parameters import choice, colour, quantity, text
from .base import DECALS, Decal, Ink, Sheet, mixed, ramp
from .outlines import fitted, to_letters
from .stencil import Font, check_text


@DECALS.register
class Poster(Decal):
    """Printed paper that was pasted up: torn, wrinkled and yellowed."""

    kind: Literal["poster"] = "poster"
    title: ClassVar[str] = "Poster"
    help: ClassVar[str] = "Printed paper that was pasted up: torn, wrinkled and yellowed."
    size: ClassVar[tuple[float, float]] = (0.6, 0.85)
    heading: str = text("REGATTA", most=40, help="What it says at its top; a line break begins a new line.")
    lines: str = text("Sunday at noon\nby the old lock\nEight boats\nBrass band", most=300, help="What it says below.")
    font: Font = choice("serif", help="The look of its letters.")
    paper: tuple[float, float, float] = colour((0.5, 0.44, 0.32), help="Colour of the paper.")
    ink: tuple[float, float, float] = colour((0.16, 0.03, 0.02), help="Colour of the print.")
    band: tuple[float, float, float] = colour((0.12, 0.2, 0.22), help="Colour of the band below its heading.")
    torn: float = quantity(30, low=0, high=100, unit="%", step=5, help="How much of it has been torn off.")
    wrinkled: float = quantity(40, low=0, high=100, unit="%", step=5, help="How it is wrinkled.")

    @model_validator(mode="after")
    def _writable(self) -> Poster:
        check_text("heading", self.heading, self.font)
        check_text("lines", self.lines, self.font)
        return self

    def draw(self, sheet: Sheet) -> Ink:
        wide, tall = sheet.width, sheet.height
        heading = _written(sheet, self.heading, self.font, 0.84 * wide, 0.2 * tall, 0.32 * tall)
        below = _written(sheet, self.lines, self.font, 0.74 * wide, 0.34 * tall, -0.24 * tall)
        band = sheet.inside(np.maximum(np.abs(sheet.y - 0.09 * tall) - 0.075 * tall, np.abs(sheet.x) - 0.42 * wide))
        wave = sheet.inside(
            np.abs(sheet.y - 0.09 * tall - 0.02 * tall * np.sin(sheet.x * (9 / wide * 2))) - 0.008 * tall
        )
        frame = np.abs(np.maximum(np.abs(sheet.x) - 0.46 * wide, np.abs(sheet.y) - 0.47 * tall))
        printed = np.maximum.reduce([sheet.inside(heading), sheet.inside(below), sheet.inside(frame - 0.004 * wide)])
        faded = 0.55 + 0.45 * ramp(sheet.noise(0.006, 3, 51), 0.3, 0.62)
        yellow = sheet.noise(0.25, 4, 52)
        colours = mixed(self.paper, tuple(0.55 * one for one in self.paper), 0.7 * ramp(yellow, 0.45, 0.95))  # type: ignore[arg-type]
        colours = _printed(colours, self.band, band * (1 - wave) * faded)
        colours = _printed(colours, self.ink, printed * faded)
        size = min(wide, tall)
        # It comes off from its edges and along tears; under the print the white of torn fibres is left.
        edge = np.minimum(wide / 2 - np.abs(sheet.x), tall / 2 - np.abs(sheet.y))
        tear = sheet.noise(0.55 * size, 6, 53) + 0.55 * ramp(-edge, -0.22 * size, 0.0) - (1.16 - 0.82 * self.torn / 100)
        gone = tear + (sheet.noise(0.02, 4, 54) - 0.5) * 0.06
        there = sheet.inside(gone * 0.5 * size) * sheet.inside(-edge)
        fibres = sheet.inside((gone + 0.012 + 0.02 * self.torn / 100) * 0.5 * size)
        colours = _printed(colours, (0.6, 0.58, 0.52), 1 - fibres)
        folds = np.abs(sheet.noise(0.16, 4, 55) - 0.5) ** 0.7
        relief = 0.0004 * there + 0.004 * self.wrinkled / 100 * folds * there + 0.004 * ramp(gone, -0.05, 0.0) * there
        return Ink(colours, there, 0.86, 0.0, relief, 0.75 * there)


def _written(sheet: Sheet, words: str, font: str, width: float, tall: float, middle: float) -> np.ndarray:
    lines = fitted([line for line in words.split("\n") if line.strip()], font, width, tall)
    return to_letters(sheet, [(line, height, across, up + middle) for line, height, across, up in lines], font)


def _printed(colours: np.ndarray, ink: tuple[float, float, float], share: np.ndarray) -> np.ndarray:
    return np.asarray(colours + share[:, None] * (np.array(ink, np.float32) - colours), np.float32)
