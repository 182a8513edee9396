"""Barrels."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import turned
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem


@KIT.register
class Barrel(KitItem):
    """An oak barrel of separate staves, with iron hoops and a sunk head."""

    kind: Literal["barrel"] = "barrel"
    title: ClassVar[str] = "Barrel"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("barrel", "cask", "wood", "prop", "medium")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        tall, wide, bulge = dice.one(0.82, 0.95), dice.one(0.25, 0.29), dice.one(1.18, 1.26)
        levels = np.linspace(0, 1, (9, 5, 3)[detail])
        staves = (20, 12, 8)[detail]
        radii = wide * (1 + (bulge - 1) * np.sin(np.pi * levels))
        out = []
        for k in range(staves):
            angle = np.array([k, k + (0.965 if detail == 0 else 1.0)]) * 2 * np.pi / staves
            proud = dice.one(-0.002, 0.003)
            ring = np.stack([np.cos(angle), np.sin(angle)], -1)
            flat = (radii + proud)[:, None, None] * ring[None]
            positions = np.stack(
                [flat[..., 0], np.broadcast_to((levels * tall)[:, None], flat.shape[:2]), flat[..., 1]], -1
            )
            faces = [
                f for i in range(len(levels) - 1) for a in [2 * i] for f in ([a, a + 2, a + 1], [a + 1, a + 2, a + 3])
            ]
            u, v = np.meshgrid(levels * tall, [0, 2 * np.pi * wide / staves], indexing="ij")
            uv = np.stack([u, v], -1).reshape(-1, 2) + dice.many(2, high=5.0)
            out.append(Mesh.of(positions.reshape(-1, 3), faces, "planed_timber", uv=uv).coloured(dice.one(0.72, 1.15)))
        inner = wide * 0.985
        core = turned(
            [(inner * 0.97, 0.03), (wide * bulge * 0.975, tall / 2), (inner * 0.97, tall - 0.035)],
            staves,
            "planed_timber",
        )
        out.append(core.coloured(0.6))
        for level in (0.04, 0.24, 0.76, 0.96) if detail < 2 else (0.24, 0.76):
            r = wide * (1 + (bulge - 1) * np.sin(np.pi * level)) + 0.004
            slope = 0.6 * (1 if level > 0.5 else -1) * (bulge - 1) * 0.04 / 2
            y = level * tall
            hoop = turned(
                [(r - 0.02, y - 0.02), (r + slope, y - 0.02), (r - slope, y + 0.02), (r - 0.02, y + 0.02)],
                staves,
                "iron",
            )
            out.append(hoop)
        return join(out)
