"""Fences."""

from __future__ import annotations

from itertools import pairwise
from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import box
from ..geometry.mesh import Mesh, join
from ..kit.base import Dice
from ..parameters import choice, count, quantity
from .base import MAKERS, Maker


def _leaning(mesh: Mesh, angle: float, along: float) -> Mesh:
    """A mesh tipped about x by an angle and about z by another, radians, its foot held."""
    a, b = np.array([[1, 0, 0], [0, np.cos(angle), -np.sin(angle)], [0, np.sin(angle), np.cos(angle)]]), np.eye(3)
    b[:2, :2] = [[np.cos(along), -np.sin(along)], [np.sin(along), np.cos(along)]]
    matrix = np.eye(4)
    matrix[:3, :3] = a @ b
    return mesh.moved(matrix)


@MAKERS.register
class Fence(Maker):
    """A fence along x: posts with rails, with boards side by side, or with pales; it leans and loses pieces."""

    kind: Literal["fence"] = "fence"
    title: ClassVar[str] = "Fence"
    length: float = quantity(7, low=1, high=200, unit="m", step=0.1, help="Length of the fence.")
    height: float = quantity(1.1, low=0.4, high=4, unit="m", step=0.05, help="Height of the posts.")
    posts: float = quantity(1.9, low=0.6, high=5, unit="m", step=0.1, help="Distance of two posts.")
    filling: Literal["rails", "boards", "pales"] = choice(
        "rails", help="Level rails, close upright boards, or spaced pales."
    )
    lost: float = quantity(0.06, low=0, high=0.9, unit="", step=0.01, help="Which share of its pieces is missing.")
    lean: float = quantity(3, low=0, high=25, unit="°", step=0.5, help="How far posts lean at most.")
    seed: int = count(1, low=0, high=9999, help="Another number leans it another way.")

    def build(self) -> Mesh:
        dice = Dice("fence", self.seed)
        spans = max(1, round(self.length / self.posts))
        xs = np.linspace(-self.length / 2, self.length / 2, spans + 1)
        out: list[Mesh] = []
        tilt = np.radians(self.lean)
        for x in xs:
            post = box((-0.055, -0.6, -0.055), (0.055, self.height, 0.055), "planed_timber")
            out.append(_leaning(post, dice.one(-tilt, tilt), dice.one(-tilt, tilt) * 0.5).at(x))
        rails = np.linspace(0.3, self.height - 0.12, 3) if self.filling == "rails" else [0.25, self.height - 0.2]
        for a, b in pairwise(xs):
            for y in rails:
                if dice.one() < self.lost:
                    continue
                sag = dice.one(-0.03, 0.03) * self.lean / 3
                rail = box((0, -0.045, 0.055), (b - a + 0.06, 0.045, 0.09), "planed_timber")
                out.append(_leaning(rail, 0, sag / (b - a)).at(a - 0.03, y))
            if self.filling != "rails":
                gap = 0.01 if self.filling == "boards" else 0.06
                wide = 0.14 if self.filling == "boards" else 0.075
                for x in np.arange(a, b - wide, wide + gap):
                    if dice.one() < self.lost:
                        continue
                    tall = self.height - 0.02 + dice.one(-0.03, 0.03)
                    pale = box((0, 0.06, 0.09), (wide, tall, 0.112), "planed_timber")
                    out.append(_leaning(pale, 0, dice.one(-0.02, 0.02) * self.lean / 3).at(x))
        return join(out)
