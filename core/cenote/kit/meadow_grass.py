"""Tall grass with seed heads."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, Seasons, along_y, ribbon
from .grass_tuft import GrassTuft


@KIT.register
class MeadowGrass(KitItem):
    """Grass gone to seed, knee-high: a leafy foot and thin stalks with feathery heads."""

    kind: Literal["meadow_grass"] = "meadow_grass"
    title: ClassVar[str] = "Seeding grass"
    group: ClassVar[Group] = "grasses"
    tags: ClassVar[tuple[str, ...]] = ("grass", "meadow", "medium")
    variants: ClassVar[int] = 4
    roughness: ClassVar[float] = 0.75
    stiffness: ClassVar[float] = 9.0
    seasons: ClassVar[Seasons] = ((0.95, 1.15, 0.8), (1.0, 1.0, 1.0), (1.4, 1.08, 0.75), (1.8, 1.25, 0.9))

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        foot = GrassTuft(blades=18, height=(0.15, 0.45), clump=0.1, bend=0.9, dry=0.25).build(variant, detail)
        out = [foot]
        for _ in range((9, 5, 2)[detail]):
            turn, tall = dice.one(0, 2 * np.pi), dice.one(0.45, 0.78)
            way, side = along_y(turn), along_y(turn + 1.6)
            t = np.linspace(0, 1, (5, 3, 2)[detail])
            path = way * dice.one(0, 0.07) + way * (0.22 * tall * t**2)[:, None] + [0, 1, 0] * (tall * t)[:, None]
            tone = dice.one(0.8, 1.2)
            stalk = np.outer(np.linspace(1, 1.5, len(t)), [0.16, 0.16, 0.062]) * tone
            out.append(ribbon(path, np.full(len(t), 0.0025 * (1, 1.6, 3)[detail]), side, stalk, "blade"))
            top, down = path[-1], (path[-1] - path[-2]) / np.linalg.norm(path[-1] - path[-2])
            for k in range((7, 3, 1)[detail]):
                at = top - down * 0.016 * k
                spread = along_y(k * 2.4) * 0.02
                grain = np.array([at, at + down * 0.02 + spread * 0.6, at + down * 0.035 + spread])
                colour = np.tile(np.array([0.34, 0.27, 0.15]) * tone, (3, 1))
                out.append(ribbon(grain, np.array([0.002, 0.006, 0]) * (1, 1.6, 5)[detail], side, colour, "blade"))
        return join(out)
