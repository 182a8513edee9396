"""Alders: a first tree."""

from __future__ import annotations

import numpy as np

from ..geometry.build import tube
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, KitItem


@KIT.register
class Alder(KitItem):
    """A young alder, six to eight metres high: forked branches, and leaves as folded leaf sprays."""

    kind = "alder"
    name = "Alder"
    tags = ("tree", "broadleaf", "large")

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        limbs: list[Mesh] = []
        tips: list[tuple[np.ndarray, np.ndarray]] = []

        def grow(start: np.ndarray, way: np.ndarray, length: float, radius: float, order: int) -> None:
            steps = 4 if order < 2 else 3
            path, at, heading = [start], start, way
            for _ in range(steps):
                heading = heading + dice.many(3, low=-0.16, high=0.16) + [0, 0.05 if order else 0.0, 0]
                heading = heading / np.linalg.norm(heading)
                at = at + heading * length / steps
                path.append(at)
            taper = np.linspace(1, 0.45 if order < 2 else 0.25, steps + 1) * radius
            if order < 2 or not detail:
                limbs.append(tube(np.array(path), list(taper), (6, 4)[detail] - (order if not detail else 0), "bark"))
            if order >= 1:
                tips.extend((p, heading) for p in path[1 if order == 2 else 2 :])
            if order == 2:
                return
            children = 9 if order == 0 else 4
            for k in range(children):
                share = (0.28 + 0.72 * (k + dice.one()) / children) if order == 0 else dice.one(0.3, 1)
                index = min(int(share * steps), steps - 1)
                base = path[index] + (path[index + 1] - path[index]) * (share * steps - index)
                turn = k * 2.4 + dice.one(-0.4, 0.4)
                outward = np.array([np.cos(turn), dice.one(0.25, 0.6), np.sin(turn)])
                if order:
                    outward = heading * 0.8 + outward * 0.7
                outward /= np.linalg.norm(outward)
                shrink = 0.46 * (1.15 - 0.75 * share) if order == 0 else 0.45
                grow(base, outward, length * shrink + 0.2, radius * 0.42, order + 1)

        tall = dice.one(6.0, 8.0)
        grow(np.zeros(3) - [0, 0.1, 0], np.array([0, 1.0, 0]), tall, 0.14, 0)
        wood = join(limbs)
        tone = (0.085 + 0.05 * dice.many(len(wood.positions)))[:, None] * np.array([1.0, 0.9, 0.75])
        return join(
            [
                Mesh.of(wood.positions, wood.faces, "bark", tone),
                self._leaves(dice, tips, (9, 1)[detail], (1.0, 2.6)[detail]),
            ]
        )

    def _leaves(self, dice: Dice, tips: list[tuple[np.ndarray, np.ndarray]], each: int, large: float) -> Mesh:
        """Sprays of leaves about the tips of branches: pairs of triangles folded along a rib."""
        positions: list[np.ndarray] = []
        faces: list[list[int]] = []
        colours: list[list[float]] = []
        centre = np.mean([tip for tip, _ in tips], axis=0)
        for tip, _ in tips:
            for _ in range(each):
                at = tip + dice.many(3, low=-0.36, high=0.36) * [1, 0.8, 1]
                way = at - centre + dice.many(3, low=-1, high=1) + [0, -0.15, 0]
                way /= np.linalg.norm(way)
                side = np.cross(way, dice.many(3, low=-1, high=1))
                side /= max(np.linalg.norm(side), 1e-3)
                size = dice.one(0.10, 0.19) * large
                base = len(positions)
                fold = np.cross(side, way) * size * 0.22
                positions += [at, at + way * size * 0.55 + side * size * 0.48 + fold, at + way * size * 1.1,
                              at + way * size * 0.55 - side * size * 0.48 + fold]  # fmt: skip
                faces += [[base, base + 1, base + 2], [base, base + 2, base + 3]]
                # Leaves deep in the crown are darker: light reaches them through others.
                deep = np.clip(np.linalg.norm(at - centre) / 2.2, 0.35, 1.1)
                shade = dice.one(0.75, 1.25) * deep
                colours += [[0.055 * shade, 0.10 * shade, 0.022 * shade]] * 4
        return Mesh.of(positions, faces, "leaf", colours)
