"""Wildflowers."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from ..parameters import colour
from .base import CARD, KIT, Dice, Group, KitItem, along_y, blend, ribbon
from .cards import LeafShape, blank, finished, leaf


@KIT.register
class Wildflower(KitItem):
    """Ox-eyed wildflowers: thin stalks over a leafy foot, each with a rayed head."""

    kind: Literal["wildflower"] = "wildflower"
    title: ClassVar[str] = "Wildflower"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("flower", "meadow", "small")
    variants: ClassVar[int] = 5
    stiffness: ClassVar[float] = 10.0
    petals: tuple[float, float, float] = colour((0.74, 0.72, 0.66), help="Colour of the petals.")
    heart: tuple[float, float, float] = colour((0.55, 0.34, 0.02), help="Colour of the heart.")

    def card(self) -> np.ndarray:
        card = blank(128, 128)
        dim = (0.72 * self.petals[0], 0.72 * self.petals[1], 0.72 * self.petals[2])
        for k in range(17):
            leaf(
                card,
                (64, 64),
                k * 2 * np.pi / 17 + 0.1,
                60 - 4 * (k % 3),
                LeafShape(0.3, 0.62, 0.7, veins=0),
                dim,
                self.petals,
            )
        y, x = np.mgrid[0:128, 0:128] - 63.5
        away = np.hypot(x, y)
        disc = np.clip(15 - away, 0, 1).astype(np.float32)
        card[..., :3] += disc[..., None] * (
            np.asarray(self.heart) * (0.65 + 0.5 * (15 - away[..., None]) / 15) - card[..., :3]
        )
        card[..., 3] = np.maximum(card[..., 3], disc)
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((8 + variant % 3, 6, 4)[detail]):
            turn, tall = dice.one(0, 2 * np.pi), dice.one(0.16, 0.4)
            t = np.linspace(0, 1, (4, 3, 2)[detail])
            path = along_y(turn) * dice.one(0, 0.06) + along_y(turn) * (0.22 * tall * t**2)[:, None]
            path[:, 1] += tall * t
            green = blend((0.05, 0.085, 0.02), (0.10, 0.14, 0.04), t)
            out.append(
                ribbon(path, np.full(len(t), 0.0035 * (1, 1.3, 2)[detail]), along_y(turn + 1.57), green, "stalk")
            )
            tilt = np.array([0, 1.0, 0]) + along_y(dice.one(0, 6.28)) * dice.one(0.5, 1.3)
            a = np.cross(tilt, along_y(turn))
            a /= np.linalg.norm(a)
            b = np.cross(tilt / np.linalg.norm(tilt), a)
            wide = dice.one(0.034, 0.05)
            corners = path[-1] + wide / 2 * np.array([-a - b, a - b, -a + b, a + b])
            out.append(
                Mesh.of(corners, [[0, 1, 2], [1, 3, 2]], CARD, np.ones((4, 3)), [(0, 0), (1, 0), (0, 1), (1, 1)])
            )
        for _ in range((9, 5, 2)[detail]):
            way, reach = along_y(dice.one(0, 6.28)), dice.one(0.06, 0.14)
            u = np.linspace(0, 1, 3)
            foot = way * (reach * u)[:, None] + [0, 1, 0] * (reach * (0.7 * u - 0.4 * u**2))[:, None]
            green = blend((0.035, 0.065, 0.015), (0.085, 0.13, 0.032), u) * dice.one(0.8, 1.2)
            out.append(ribbon(foot, np.array([0.006, 0.02, 0]), np.array([-way[2], 0, way[0]]), green, "leaf"))
        return join(out)
