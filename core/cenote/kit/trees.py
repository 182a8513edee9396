"""How trees grow: limbs that fork, and sprays of leaves on cards at their ends."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import CARD, Dice, along_y

CELLS = [(0.0, 0.0, 0.5, 0.5), (0.5, 0.0, 1.0, 0.5), (0.0, 0.5, 0.5, 1.0), (0.5, 0.5, 1.0, 1.0)]


@dataclass(frozen=True)
class Habit:
    """How a kind of tree grows.

    :ivar height: least and greatest, metres. :ivar trunk: radius at the foot, against the height.
    :ivar first: where the lowest branches are, as a share of the height. :ivar branches: how many leave the trunk.
    :ivar spread: length of the lowest branches, against the height. :ivar rise: how steeply they rise, radians.
    :ivar droop: how far twigs hang, 0 to 1. :ivar wander: how crooked limbs are.
    :ivar spray: side of a spray of leaves, metres. :ivar sprays: how many at each end of a twig.
    :ivar stems: how many trunks leave the ground.
    """

    height: tuple[float, float]
    trunk: float
    first: float
    branches: int
    spread: float
    rise: float
    droop: float
    wander: float
    spray: float
    sprays: int
    stems: int = 1
    bark: str = "bark"


def _path(dice: Dice, start: np.ndarray, way: np.ndarray, length: float, steps: int, wander: float, lift: float):  # type: ignore
    path, at, heading = [start], start, way
    for _ in range(steps):
        heading = heading + dice.many(3, low=-wander, high=wander) + [0, lift, 0]
        heading = heading / np.linalg.norm(heading)
        at = at + heading * length / steps
        path.append(at)
    return np.array(path), heading


def tree(habit: Habit, dice: Dice, detail: int) -> Mesh:
    """A tree, its limbs of bark and its leaves on cards.

    :param detail: 1 has fewer and larger sprays and no twigs, 2 only a trunk and a few very large ones.
    """
    limbs: list[Mesh] = []
    ends: list[tuple[np.ndarray, np.ndarray]] = []
    tall = dice.one(*habit.height)
    sides = (8, 6, 4)[detail]

    def point_on(path: np.ndarray, share: float) -> np.ndarray:
        at = share * (len(path) - 1)
        k = min(int(at), len(path) - 2)
        return path[k] + (path[k + 1] - path[k]) * (at - k)

    for trunk in range(habit.stems):
        lean = along_y(trunk * 2.5 + dice.one(0, 1)) * (0.0 if habit.stems == 1 else 0.22)
        foot = along_y(trunk * 2.5) * (0.0 if habit.stems == 1 else 0.16) - [0, 0.12, 0]
        height = tall * (1 - 0.12 * trunk)
        spine, _ = _path(dice, foot, np.array([0, 1.0, 0]) + lean, height, 9, habit.wander * 0.35, 0.12)
        share = np.linspace(0, 1, 10)
        radius = habit.trunk * height * ((1 - share) ** 0.85 * 0.92 + 0.06)
        radius[0] *= 1.45
        limbs.append(limb(spine, radius, sides, habit.bark))
        count = habit.branches // habit.stems
        for k in range(count):
            share_up = habit.first + (0.98 - habit.first) * (k + dice.one(0.1, 0.9)) / count
            turn = k * 2.39996 + dice.one(-0.4, 0.4)
            up = habit.rise * (0.75 + 0.6 * share_up)
            way = along_y(turn) * np.cos(up) + np.array([0, np.sin(up), 0])
            crown = np.sin(np.pi * np.clip((share_up - habit.first) / (1.02 - habit.first) * 0.8 + 0.28, 0, 1))
            reach = habit.spread * height * (0.35 + 0.65 * crown) * dice.one(0.75, 1.15)
            base = point_on(spine, share_up)
            branch, heading = _path(dice, base, way, reach, 5, habit.wander, 0.05)
            thick = habit.trunk * height * (1 - share_up) * 0.5 + 0.012
            if detail < 2:
                limbs.append(limb(branch, np.linspace(thick, 0.006, 6), max(3, sides - 3), habit.bark))
            twigs = max(2, round(reach / 0.42))
            for j in range(twigs):
                along = 0.25 + 0.75 * (j + 1) / twigs
                at = point_on(branch, along)
                side = along_y(turn + (1.1 if j % 2 else -1.1) + dice.one(-0.5, 0.5))
                out = heading * 0.6 + side * 0.8 + [0, 0.25 - habit.droop * 0.9, 0]
                out /= np.linalg.norm(out)
                if along == 1:
                    out = heading
                twig, end = _path(dice, at, out, reach * 0.3 * dice.one(0.7, 1.2), 3, habit.wander, -habit.droop * 0.3)
                if detail == 0:
                    limbs.append(limb(twig, np.linspace(0.009, 0.003, 4), 3, habit.bark))
                ends += [(twig[1], end), (twig[2], end), (twig[3], end)]
    return join([*limbs, sprays(ends, habit, dice, detail)])


def sprays(ends: list[tuple[np.ndarray, np.ndarray]], habit: Habit, dice: Dice, detail: int) -> Mesh:
    """Cards of leaves about the ends of twigs. Fewer of them are larger, so that the crown keeps its closeness.

    :param ends: of each twig its end and its unit direction, float (3,), metres.
    """
    step = (1, 3, 9)[detail]
    size = habit.spray * (1.0, 1.55, 2.5)[detail]
    chosen = ends[::step]
    centre = np.mean([at for at, _ in ends], axis=0)
    extent = np.std([at for at, _ in ends], axis=0).mean() * 2.2
    positions: list[list[np.ndarray]] = []
    faces: list[list[int]] = []
    colours: list[np.ndarray] = []
    uv: list[list[tuple[float, float]]] = []
    normals: list[np.ndarray] = []
    each = habit.sprays if detail == 0 else 1
    for at, way in chosen:
        for _ in range(each):
            out = way * 0.7 + dice.many(3, low=-0.9, high=0.9) + [0, -habit.droop * 0.8, 0]
            out /= np.linalg.norm(out)
            side = np.cross(out, dice.many(3, low=-1, high=1))
            side /= max(np.linalg.norm(side), 1e-3)
            fold = np.cross(side, out)
            wide = size * dice.one(0.75, 1.2)
            root = at - out * wide * 0.25
            left, top, right, bottom = CELLS[int(dice.one(0, 4))]
            base = len(positions) * 6
            # Two halves folded along the twig, so that no view finds the whole spray edge on.
            bent = fold * wide * 0.16
            corners = [root - side * wide / 2 + bent, root, root + side * wide / 2 + bent]
            positions.append(corners + [c + out * wide for c in corners])
            middle = (left + right) / 2
            uv.append([(left, bottom), (middle, bottom), (right, bottom), (left, top), (middle, top), (right, top)])
            for a in (0, 1):
                faces += [[base + a, base + a + 1, base + a + 3], [base + a + 1, base + a + 4, base + a + 3]]
            here = np.array(positions[-1])
            # Lit as the crown is round, not as each card lies.
            round_ = (here - centre) * [1, 1.0, 1] + fold * 0.35 + [0, 0.45 * extent, 0]
            normals.append(round_ / np.linalg.norm(round_, axis=1)[:, None])
            deep = np.clip(np.linalg.norm(at - centre) / extent, 0.42, 1.0)
            shade = dice.one(0.82, 1.18) * (0.45 + 0.55 * deep)
            colours.append(np.tile(shade * np.array([1.0, 1.0, 0.96 + 0.08 * dice.one()]), (6, 1)))
    # Leaves fall in this order, last ones first.
    order = np.argsort(dice.many(len(positions)))
    hung = np.array(faces).reshape(len(positions), 4, 3)[order].reshape(-1, 3)
    return Mesh.of(
        np.concatenate(positions), hung, CARD, np.concatenate(colours), np.concatenate(uv), np.concatenate(normals)
    )
