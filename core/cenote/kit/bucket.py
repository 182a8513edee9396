"""Buckets."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import tube
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem


@KIT.register
class Bucket(KitItem):
    """A zinc bucket with a rolled rim, ribs and a wire handle; one is dented."""

    kind: Literal["bucket"] = "bucket"
    title: ClassVar[str] = "Bucket"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("bucket", "pail", "metal", "prop", "small")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        tall, foot, rim = 0.27, 0.095, 0.145
        sides = (28, 16, 8)[detail]
        # Outside from the foot up, over the rolled rim, and down inside.
        profile = [(foot - 0.01, 0.0), (foot, 0.0), (foot, 0.015)]
        profile += [
            (foot + (rim - foot) * t + 0.003 * (k % 2), tall * t)
            for k, t in enumerate(np.linspace(0.1, 0.97, 8 if detail == 0 else 3))
        ]
        profile += [
            (rim + 0.007, tall - 0.003),
            (rim + 0.007, tall + 0.005),
            (rim - 0.003, tall + 0.004),
            (foot - 0.004, 0.03),
            (0.0, 0.03),
        ]
        rings = np.array(profile)
        angle = np.linspace(0, 2 * np.pi, sides + 1)
        dent = 1 - 0.16 * (variant == 1) * np.exp(-(((angle - 2.2) / 0.5) ** 2))
        grid = np.stack(
            [
                rings[:, :1] * np.cos(angle) * dent,
                np.broadcast_to(rings[:, 1:], (len(rings), sides + 1)),
                rings[:, :1] * np.sin(angle) * dent,
            ],
            -1,
        )
        far = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(rings, axis=0).T))])
        uv = np.stack(np.meshgrid(angle * rim, far), -1)
        n = sides + 1
        faces = [
            f
            for i in range(len(rings) - 1)
            for k in range(sides)
            for a, b in [(i * n + k, (i + 1) * n + k)]
            for f in ([a, b, a + 1], [a + 1, b, b + 1])
        ]
        pail = Mesh.of(grid.reshape(-1, 3), faces, "bare_metal", uv=uv.reshape(-1, 2)).coloured(dice.one(0.75, 1.0))
        lean = dice.one(0.2, 2.9)
        t = np.linspace(0, np.pi, (13, 7, 4)[detail])
        arch = np.column_stack(
            [np.cos(t) * (rim + 0.008), tall - 0.02 + np.sin(t) * 0.13 * np.sin(lean), np.sin(t) * 0.13 * np.cos(lean)]
        )
        return join([pail, tube(arch, [0.003] * len(t), (6, 4, 3)[detail], "bare_metal")])
