"""What is left of felled trees: logs and stumps."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, along_y


def _sawn(middle: np.ndarray, way: np.ndarray, radius: float, sides: int, dice: Dice) -> Mesh:
    """A sawn end that faces a way: its rings about a heart that is seldom in the middle, paler than bark."""
    way = way / np.linalg.norm(way)
    side = np.cross(way, [0.3, 1.0, 0.2] if abs(way[1]) < 0.9 else [1.0, 0, 0.2])
    side /= np.linalg.norm(side)
    other = np.cross(way, side)
    turns = np.arange(sides) * 2 * np.pi / sides
    rim = middle + radius * (np.cos(turns)[:, None] * side + np.sin(turns)[:, None] * other)
    heart = middle + radius * dice.one(0, 0.18) * side
    faces = [[sides, k, (k + 1) % sides] for k in range(sides)]
    shades = np.concatenate([np.full((sides, 3), 0.78), np.full((1, 3), 1.05)]) * [1.0, 0.93, 0.8]
    return Mesh.of(np.concatenate([rim, heart[None]]), faces, "planed_timber", shades)


@KIT.register
class Log(KitItem):
    """A length of a felled trunk, with its bark, stubs of branches, and sawn ends."""

    kind: Literal["log"] = "log"
    title: ClassVar[str] = "Log"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("wood", "woodland", "waterside", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        long, radius = dice.one(1.1, 2.8), dice.one(0.11, 0.2)
        sides, steps = ((14, 8), (8, 4), (6, 2))[detail]
        t = np.linspace(-0.5, 0.5, steps + 1)
        bend = dice.one(-0.12, 0.12)
        path = np.column_stack([t * long, np.full(len(t), radius), bend * long * (t**2 - 0.25)])
        radii = radius * (1 - 0.16 * (t + 0.5))
        # It lies on its lower side all along.
        path[:, 1] = radii
        out = [limb(path, radii, sides)]
        for end, way in ((0, path[0] - path[1]), (-1, path[-1] - path[-2])):
            out.append(_sawn(path[end], way, float(radii[end]), sides, dice))
        for _ in range((1 + variant % 3, 1, 0)[detail]):
            k, turn = int(dice.one(1, steps - 1)), dice.one(0.2, np.pi - 0.2)
            way = np.array([0.45, np.sin(turn), np.cos(turn)])
            way /= np.linalg.norm(way)
            stub = path[k] + way * np.array([0.5 * radius, 1.0 * radius, radius + dice.one(0.05, 0.16)])[:, None]
            out.append(limb(stub, np.array([0.34, 0.28, 0.24]) * radius, 6))
            out.append(_sawn(stub[-1], way, 0.24 * radius, 6, dice))
        return join(out)


@KIT.register
class Stump(KitItem):
    """What stands of a felled tree: a foot that spreads into roots, sawn off, with the hinge that broke."""

    kind: Literal["stump"] = "stump"
    title: ClassVar[str] = "Stump"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("wood", "woodland", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        tall, radius = dice.one(0.22, 0.55), dice.one(0.14, 0.28)
        sides = (16, 9, 6)[detail]
        t = np.linspace(0, 1, (5, 3, 2)[detail])
        path = np.column_stack([np.zeros(len(t)), -0.06 + (tall + 0.06) * t, np.zeros(len(t))])
        radii = radius * (1 + 0.6 * (1 - t) ** 2.2)
        out = [
            limb(path, radii, sides),
            _sawn(path[-1], np.array([0, 1.0, 0]), float(radii[-1]), sides, dice),
        ]
        for k in range((6, 4, 3)[detail]):
            way = along_y(k * 2 * np.pi / (6, 4, 3)[detail] + dice.one(-0.3, 0.3))
            u = np.linspace(0, 1, (5, 3, 2)[detail])
            root = way * (radius * (0.6 + dice.one(1.2, 2.2) * u))[:, None]
            root[:, 1] = radius * (0.75 * (1 - u) ** 2.2 - 0.4 * u)
            out.append(limb(root, radius * (0.5 - 0.36 * u), (6, 5, 4)[detail]))
        for _ in range((5, 0, 0)[detail]):
            # Splinters where the last of it tore.
            at = along_y(dice.one(-0.6, 0.6)) * radius * dice.one(0.3, 0.85) + [0, tall, 0]
            spike = at + np.array([[0, -0.02, 0], [0, dice.one(0.02, 0.09), 0]])
            out.append(limb(spike, np.array([0.018, 0.003]), 4, "planed_timber"))
        return join(out)
