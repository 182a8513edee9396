"""Decks and landing stages."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import box
from ..geometry.mesh import Mesh, join, placement_matrix
from ..kit.base import Dice
from ..parameters import count, extent, quantity
from .base import MAKERS, Maker


@MAKERS.register
class Deck(Maker):
    """A deck of boards with gaps between, on joists and posts; boards run along z."""

    kind: Literal["deck"] = "deck"
    title: ClassVar[str] = "Deck"
    size: tuple[float, float] = extent((4, 2.4), low=0.4, high=60, unit="m", help="Extent along x and z.")
    height: float = quantity(0.45, low=0.08, high=8, unit="m", step=0.05, help="From the ground to its top.")
    board: float = quantity(0.14, low=0.05, high=0.5, unit="m", step=0.01, help="Width of a board.")
    gap: float = quantity(0.012, low=0, high=0.1, unit="m", step=0.001, help="Width of the gaps between boards.")
    thickness: float = quantity(0.035, low=0.01, high=0.12, unit="m", step=0.005, help="Thickness of a board.")
    lost: float = quantity(0.03, low=0, high=0.9, unit="", step=0.01, help="Which share of the boards is missing.")
    wear: float = quantity(0.4, low=0, high=1, unit="", step=0.05, help="How far boards have warped and shifted.")
    seed: int = count(1, low=0, high=9999, help="Another number wears it another way.")

    def build(self) -> Mesh:
        dice = Dice("deck", self.seed)
        w, d = self.size
        out: list[Mesh] = []
        boards = max(1, int((w + self.gap) / (self.board + self.gap)))
        step = w / boards
        for k in range(boards):
            x = -w / 2 + (k + 0.5) * step
            if dice.one() < self.lost:
                continue
            over = dice.one(-0.03, 0.03) * self.wear
            lift = dice.one(0, 0.006) * self.wear
            half = (step - self.gap) / 2
            plank = box((-half, -self.thickness, -d / 2 + over), (half, 0, d / 2 + over), "planed_timber")
            out.append(plank.moved(placement_matrix((x, self.height + lift, 0), dice.one(-0.4, 0.4) * self.wear)))
        top = self.height - self.thickness - 0.002
        for z in np.linspace(-d / 2 + 0.12, d / 2 - 0.12, max(2, round(d / 0.7) + 1)):
            out.append(box((-w / 2 + 0.03, top - 0.14, z - 0.04), (w / 2 - 0.03, top, z + 0.04), "planed_timber"))
        for x in np.linspace(-w / 2 + 0.15, w / 2 - 0.15, max(2, round(w / 1.6) + 1)):
            for z in (-d / 2 + 0.15, d / 2 - 0.15):
                out.append(box((x - 0.06, -0.6, z - 0.06), (x + 0.06, top - 0.1, z + 0.06), "planed_timber"))
        return join(out)
