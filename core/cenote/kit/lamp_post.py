"""Lamp posts."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import tube, turned
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem


@KIT.register
class LampPost(KitItem):
    """A cast-iron lamp post with a fluted foot and a glazed lantern under a cap."""

    kind: Literal["lamp_post"] = "lamp_post"
    title: ClassVar[str] = "Lamp post"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("lamp", "light", "iron", "street", "tall")
    grows: ClassVar[bool] = False
    roughness: ClassVar[float] = 0.3

    def build(self, variant: int, detail: int = 0) -> Mesh:
        tall = Dice(self.kind, variant).one(2.9, 3.5)
        sides = (20, 12, 6)[detail]
        post = [(0.17, -0.3), (0.17, 0.03), (0.15, 0.08), (0.12, 0.14), (0.105, 0.5), (0.12, 0.56), (0.12, 0.6), (0.07, 0.66), (0.045, 0.9), (0.036, tall - 0.3), (0.06, tall - 0.26),
                (0.06, tall - 0.22), (0.03, tall - 0.18), (0.03, tall - 0.05), (0.09, tall), (0.10, tall + 0.02)]  # fmt: skip
        parts = [turned(post, sides, "iron")]
        bar = np.array([[-0.32, tall - 0.34, 0], [0.32, tall - 0.34, 0]])
        parts.append(tube(bar, [0.013, 0.013], 6, "iron"))
        four = np.arange(4) * np.pi / 2 + np.pi / 4
        low, high, y0, y1 = 0.105, 0.17, tall + 0.02, tall + 0.40
        for k in range(4):
            a, b = four[k], four[(k + 1) % 4]
            corner = [
                np.array([r * np.cos(w), y, r * np.sin(w)])
                for w, r, y in ((a, low, y0), (b, low, y0), (b, high, y1), (a, high, y1))
            ]
            parts.append(Mesh.of(corner, [[0, 2, 1], [0, 3, 2]], "glass").coloured((0.30, 0.29, 0.24)))
            parts.append(tube(np.array([corner[0], corner[3]]), [0.009, 0.009], 5, "iron"))
        parts.append(
            turned(
                [
                    (high * 1.05, y1),
                    (high * 1.12, y1 + 0.02),
                    (0.12, y1 + 0.10),
                    (0.055, y1 + 0.15),
                    (0.05, y1 + 0.20),
                    (0.065, y1 + 0.22),
                    (0.012, y1 + 0.30),
                ],
                sides,
                "iron",
            )
        )
        return join([p if p.colours is not None else p.coloured(1.0) for p in parts])
