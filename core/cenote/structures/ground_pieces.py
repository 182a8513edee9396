"""Pieces that lie on the ground: paths and boulders."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh, join, placement_matrix
from ..kit.base import Dice
from ..parameters import count, quantity
from ..signals.noise import world_noise
from .base import MAKERS, Maker


@MAKERS.register
class Path(Maker):
    """A cobbled path along x, cambered, with worn edges that run down into the ground."""

    kind: Literal["path"] = "path"
    title: ClassVar[str] = "Path"
    length: float = quantity(30, low=1, high=200, unit="m", step=0.5, help="Length of the path.")
    width: float = quantity(2.4, low=0.5, high=12, unit="m", step=0.1, help="Width of the path.")
    sunk: float = quantity(0.05, low=0, high=0.3, unit="m", step=0.01, help="How far ruts and edges sink.")
    hollows: float = quantity(
        0.02, low=0, high=0.3, unit="m", step=0.005, help="How deep the worn hollows are, which hold rain."
    )
    seed: int = count(1, low=0, high=9999, help="Another number gives other edges.")

    def build(self) -> Mesh:
        along, across = max(2, int(self.length / 0.35)), 12
        x = np.linspace(-self.length / 2, self.length / 2, along + 1)
        s = np.linspace(-1, 1, across + 1)
        xx, ss = np.meshgrid(x, s, indexing="ij")
        flat = np.column_stack([xx.ravel(), np.zeros(xx.size), ss.ravel() * 2]).astype(np.float32)
        rough = world_noise(flat, 1.6, 3, self.seed).reshape(xx.shape) - 0.5
        edge = 1 + 0.16 * rough * (np.abs(ss) > 0.9)
        # Worn patches of some metres, where the camber is gone and rain stands.
        worn = np.clip((world_noise(flat, 2.2, 1, self.seed + 1000).reshape(xx.shape) - 0.4) / 0.3, 0, 1)
        worn = worn**2 * (3 - 2 * worn) * np.clip(1 - (ss / 0.8) ** 2, 0, 1) * min(self.hollows / 0.02, 1)
        top = (
            0.06 * (1 - ss**2) * (1 - worn) + 0.02 + rough * self.sunk - 0.16 * np.clip(np.abs(ss) - 0.86, 0, 1) / 0.14
        )
        top = top - self.hollows * worn
        upper = np.column_stack([xx.ravel(), top.ravel(), (ss * edge * self.width / 2).ravel()])
        lower = upper * [1, 0, 1] - [0, 0.35, 0]
        n, row = len(upper), across + 1
        faces = []
        for i in range(along):
            for j in range(across):
                a, b, c, d = i * row + j, i * row + j + 1, (i + 1) * row + j, (i + 1) * row + j + 1
                faces += [[a, b, c], [b, d, c], [n + a, n + c, n + b], [n + b, n + c, n + d]]
        rim = list(range(row)) + [i * row + across for i in range(1, along + 1)]
        rim += [along * row + j for j in range(across - 1, -1, -1)] + [i * row for i in range(along - 1, 0, -1)]
        for a, b in zip(rim, rim[1:] + rim[:1], strict=True):
            faces += [[a, n + a, b], [b, n + a, n + b]]
        mesh = Mesh.of(np.concatenate([upper, lower]), faces, "cobble")
        return (
            Mesh(mesh.positions, mesh.faces[:, ::-1].copy(), mesh.parts, mesh.part_names) if _volume(mesh) < 0 else mesh
        )


def _volume(mesh: Mesh) -> float:
    corners = mesh.corners.astype(float)
    return float(np.einsum("mi,mi->m", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6)


@MAKERS.register
class Boulders(Maker):
    """A group of boulders, half sunk in the ground."""

    kind: Literal["boulders"] = "boulders"
    title: ClassVar[str] = "Boulders"
    number: int = count(9, low=1, high=120, help="How many there are.")
    spread: float = quantity(3, low=0, high=50, unit="m", step=0.1, help="Radius of the group.")
    size: float = quantity(0.55, low=0.05, high=5, unit="m", step=0.05, help="Half width of the largest.")
    seed: int = count(1, low=0, high=9999, help="Another number gives other stones.")

    def build(self) -> Mesh:
        dice = Dice("boulders", self.seed)
        out = []
        for k in range(self.number):
            big = self.size * (0.28 + 0.72 * (1 - k / max(1, self.number)) ** 1.5)
            stone = boulder(
                self.seed * 131 + k, (big, big * dice.one(0.55, 0.8), big * dice.one(0.7, 0.95)), part="rock"
            )
            # Golden angle: stones spread without clumping, the large ones in the middle.
            away, turn = self.spread * np.sqrt((k + 0.3) / self.number), k * 2.39996 + dice.one(-0.5, 0.5)
            at = (away * np.cos(turn), big * dice.one(0.08, 0.3), away * np.sin(turn))
            out.append(stone.moved(placement_matrix(at, dice.one(0, 360))))
        return join(out)
