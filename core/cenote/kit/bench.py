"""Benches."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import tube
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem
from .wood import board


@KIT.register
class Bench(KitItem):
    """A slatted bench on cast-iron legs."""

    kind: Literal["bench"] = "bench"
    title: ClassVar[str] = "Bench"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("bench", "seat", "wood", "prop", "medium")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        long = dice.one(1.4, 1.8)
        parts: list[Mesh] = []
        for k in range(5):
            z = -0.2 + k * 0.095
            parts.append(board((-long / 2, 0.43, z), (long / 2, 0.458, z + 0.078), dice, detail))
        tilt = np.radians(14)
        turn = np.array(
            [[1, 0, 0, 0], [0, np.cos(tilt), np.sin(tilt), 0], [0, -np.sin(tilt), np.cos(tilt), 0], [0, 0, 0, 1]]
        )
        for k in range(3):
            slat = board((-long / 2, 0.1 + k * 0.12, -0.012), (long / 2, 0.19 + k * 0.12, 0.012), dice, detail)
            parts.append(slat.moved(turn).at(0, 0.45, -0.23))
        for x in (-long / 2 + 0.18, long / 2 - 0.18):
            for path in ([(0.28, -0.02), (0.24, 0.2), (0.26, 0.42), (-0.22, 0.42)], [(-0.3, -0.02), (-0.22, 0.2), (-0.22, 0.42), (-0.31, 0.88)],
                         [(0.26, 0.42), (0.25, 0.62), (0.12, 0.66), (-0.26, 0.66)]):  # fmt: skip
                way = np.array([[x, y, z] for z, y in path])
                parts.append(tube(way, [0.018] * len(way), (8, 5, 4)[detail], "iron").coloured(1.0))
        return join(parts)
