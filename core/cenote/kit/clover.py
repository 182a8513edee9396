"""Clover."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, blend, ribbon
from .cards import LeafShape, blank, finished, leaf

# On the card: a leaf of three, seen from above, and a head of flowers.
_LEAF, _HEAD = (0.0, 0.0, 0.594, 1.0), (0.61, 0.0, 0.897, 0.484)


@KIT.register
class Clover(KitItem):
    """A patch of white clover: leaves of three with a pale mark, held level on short stalks, and round heads between."""

    kind: Literal["clover"] = "clover"
    title: ClassVar[str] = "Clover"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("flower", "lawn", "meadow", "paving", "small")
    variants: ClassVar[int] = 5
    stiffness: ClassVar[float] = 15.0
    seasons: ClassVar[Seasons] = ((1.0, 1.15, 0.9), (1.0, 1.0, 1.0), (1.15, 1.0, 0.85), (1.4, 1.0, 0.85))

    def card(self) -> np.ndarray:
        card = blank(192, 320)
        part = LeafShape(0.86, 0.62, 0.62, teeth=0, veins=8)
        pale = LeafShape(0.6, 0.5, 0.9, veins=0)
        for k in range(3):
            turn = np.pi / 2 + k * 2 * np.pi / 3
            leaf(card, (95, 100), turn, 90, part, (0.022, 0.062, 0.012), (0.080, 0.165, 0.034), 0.94 + 0.06 * k)
            at = (95 + 34 * np.cos(turn), 100 - 34 * np.sin(turn))
            # The pale mark is an arc across each.
            leaf(card, at, turn, 26, pale, (0.085, 0.135, 0.055), (0.13, 0.19, 0.08), 1.0)
            leaf(
                card,
                (95 + 31 * np.cos(turn), 100 - 31 * np.sin(turn)),
                turn,
                19,
                pale,
                (0.030, 0.075, 0.016),
                (0.065, 0.135, 0.030),
                1.0,
            )
        floret = LeafShape(0.34, 0.6, 1.0, veins=0)
        for k in range(70):
            share, turn = np.sqrt((70 - k - 0.5) / 70), k * 2.39996
            at = (241 + 30 * share * np.cos(turn), 47 + 30 * share * np.sin(turn))
            warm = 0.55 + 0.2 * share
            leaf(card, at, turn, 15, floret, (0.42, 0.36 * warm + 0.1, 0.32), (0.76, 0.72 * warm + 0.22, 0.66), 1.0)
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for head in [False] * (64, 34, 16)[detail] + [True] * (3 + variant % 3, 3, 2)[detail]:
            turn, far = dice.one(0, 2 * np.pi), np.sqrt(dice.one()) * 0.15
            tall = (dice.one(0.07, 0.12) if head else dice.one(0.02, 0.06)) * (1.1 - 2.2 * far)
            top = along_y(turn) * (far + 0.25 * tall) + np.array([0, tall, 0])
            if detail < 2:
                path = np.stack([along_y(turn) * far, top])
                out.append(
                    ribbon(
                        path,
                        np.array([0.0022, 0.0016]),
                        along_y(turn + 1.57),
                        blend((0.06, 0.08, 0.025), (0.10, 0.15, 0.05), np.array([0.0, 1.0])),
                        "stalk",
                    )
                )
            spin, tilt = dice.one(0, 2 * np.pi), along_y(dice.one(0, 2 * np.pi)) * dice.one(0.0, 0.35)
            a = along_y(spin) - np.array([0, 1, 0]) * float(along_y(spin) @ tilt)
            b = along_y(spin + np.pi / 2) - np.array([0, 1, 0]) * float(along_y(spin + np.pi / 2) @ tilt)
            half = (0.013 if head else dice.one(0.014, 0.024)) * (1, 1.2, 1.6)[detail]
            corners = top + half * np.array([-a - b, a - b, -a + b, a + b])
            left, upper, right, lower = _HEAD if head else _LEAF
            uv = [(left, upper), (right, upper), (left, lower), (right, lower)]
            # Faces look up whichever way it is turned.
            out.append(Mesh.of(corners, [[0, 2, 1], [1, 2, 3]], CARD, np.full((4, 3), dice.one(0.78, 1.15)), uv))
            if head and detail == 0:
                upright = top + np.array([[0, -half, 0], [0, half * 0.9, 0]])
                for k in range(2):
                    out.append(
                        ribbon(
                            upright,
                            np.full(2, 2 * half),
                            along_y(spin + k * np.pi / 2),
                            np.full((2, 3), 0.95),
                            CARD,
                            _HEAD,
                        )
                    )
        return join(out)
