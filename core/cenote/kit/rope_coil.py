"""Coils of rope."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem


@KIT.register
class RopeCoil(KitItem):
    """A coil of mooring rope, laid down in layers, with a loose end."""

    kind: Literal["rope_coil"] = "rope_coil"
    title: ClassVar[str] = "Rope coil"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("rope", "coil", "prop", "small")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        thick, turns = 0.014, 7.5
        steps = int(turns * (26, 14, 8)[detail])
        t = np.linspace(0, turns, steps + 1)
        layer = np.floor(t / 2.5)
        radius = 0.24 - 0.045 * layer + 0.027 * (t % 2.5) + 0.008 * np.sin(t * 9.1 + variant)
        y = thick * (0.95 + 1.55 * layer + 0.35 * np.sin(t * 5.3 + dice.one(0, 6)))
        path = np.column_stack([radius * np.cos(t * 2 * np.pi), y, radius * np.sin(t * 2 * np.pi)])
        end = (
            path[0]
            + np.outer(np.linspace(1, 0.12, 6), [0.05, 0, -0.42])
            + [0.06, 0, 0] * np.sin(np.linspace(0, 3, 6))[:, None]
        )
        end[:, 1] = thick
        path = np.concatenate([end, path])
        mesh = limb(path, np.full(len(path), thick), (8, 5, 4)[detail], "rope")
        # The laid strands wind round: shear the texture along the rope.
        uv = np.array(mesh.uv)
        uv[:, 0] = uv[:, 0] * 0.9 + uv[:, 1] * 0.55
        return Mesh.of(mesh.positions, mesh.faces, "rope", uv=uv, normals=mesh.normals).coloured(1.0)
