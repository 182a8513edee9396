"""Dandelions."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, blend, ribbon
from .cards import LeafShape, blank, finished, leaf, stem
from .rosette import rosette

# On the card: a leaf, an open head, a clock of seeds.
_LEAF, _HEAD, _CLOCK = (0.0, 0.0, 0.36, 1.0), (0.4, 0.0, 0.7, 0.3), (0.7, 0.0, 1.0, 0.3)


@KIT.register
class Dandelion(KitItem):
    """A dandelion: a flat rosette of leaves with teeth that point back, yellow heads on hollow stalks, and clocks."""

    kind: Literal["dandelion"] = "dandelion"
    title: ClassVar[str] = "Dandelion"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("flower", "weed", "lawn", "paving", "small")
    variants: ClassVar[int] = 5
    stiffness: ClassVar[float] = 16.0
    seasons: ClassVar[Seasons] = ((1.0, 1.2, 0.85), (1.0, 1.0, 1.0), (1.25, 1.02, 0.8), (1.5, 1.0, 0.8))

    def card(self) -> np.ndarray:
        card = blank(320, 320)
        # Lobes with tips that point back to the foot, ever larger, and one at the end.
        lobe, end = LeafShape(0.5, 0.22, 1.9, veins=0), LeafShape(0.62, 0.34, 1.5, teeth=5, depth=0.2, veins=3)
        dark, light = (0.024, 0.062, 0.010), (0.095, 0.175, 0.030)
        for share in np.linspace(0.14, 0.8, 7):
            for side in (-1, 1):
                angle = np.pi / 2 + side * (1.75 - 0.2 * share)
                tone = 0.92 + 0.16 * ((share * 37) % 1)
                leaf(card, (57, 318 - 300 * share), angle, 22 + 36 * share, lobe, dark, light, tone)
        leaf(card, (57, 96), np.pi / 2, 92, end, dark, light)
        leaf(card, (57, 318), np.pi / 2, 290, LeafShape(0.11, 0.6, 1.0, veins=0), dark, light, 0.95)
        stem(card, [(57, 319), (57, 40)], (5, 1.5), (0.17, 0.16, 0.07))
        ray = LeafShape(0.22, 0.7, 0.55, veins=0)
        for ring, count in ((46, 26), (34, 20), (20, 13)):
            for turn in np.arange(count) * 2 * np.pi / count + ring:
                leaf(card, (176, 48), turn, ring, ray, (0.55, 0.34, 0.005), (0.85, 0.62, 0.02), 1.0)
        for turn in np.arange(40) * 2.39996:
            share = np.sqrt(((turn / 2.39996) + 0.5) / 40)
            x, y = 272 + 44 * share * np.cos(turn), 48 + 44 * share * np.sin(turn)
            stem(card, [(272, 48), (x, y)], (0.9, 0.9), (0.36, 0.35, 0.31))
            for k in range(6):
                a = turn + k * np.pi / 3
                stem(card, [(x, y), (x + 7 * np.cos(a), y + 7 * np.sin(a))], (1.0, 0.7), (0.62, 0.61, 0.58))
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = rosette(dice, (12 + variant, 9, 6)[detail], (0.09, 0.18), 0.34, (0.2, 0.75), _LEAF, (5, 3, 1)[detail])
        # The tallest come first, and of their own chance: simpler forms keep these.
        stalks = Dice(self.kind, variant, "stalks")
        talls = np.sort(stalks.many(2 + variant % 3, low=0.06, high=0.2))[::-1]
        for k, tall in enumerate(talls[: (9, 2, 1)[detail]]):
            turn = stalks.one(0, 2 * np.pi)
            t = np.linspace(0, 1, (4, 3, 2)[detail])
            path = along_y(turn) * (0.01 + 0.35 * tall * t**2)[:, None] + np.array([0, tall, 0]) * t[:, None]
            tone = blend((0.12, 0.11, 0.05), (0.10, 0.13, 0.045), t)
            for across in (0.0, 1.57)[: 2 - (detail > 1)]:
                wide = np.full(len(t), 0.004 * (1, 1.3, 1.7)[detail])
                out.append(ribbon(path, wide, along_y(turn + 1.57 + across), tone, "stalk"))
            clock = (k + variant) % 3 == 2
            tilt = np.array([0, 1.0, 0]) + along_y(turn) * dice.one(0.1, 0.5)
            cell, half = (_CLOCK, 0.024) if clock else (_HEAD, dice.one(0.016, 0.021))
            # A clock is a ball: three cards that cross.
            ways = (
                (tilt, np.cross(tilt, [1.0, 0, 0.2]), np.cross(tilt, [0.2, 0, 1.0]))
                if clock and detail < 2
                else (tilt,)
            )
            for way in ways:
                out.append(_facing(path[-1], np.asarray(way, float), half, cell))
        return join(out)


def _facing(at: np.ndarray, way: np.ndarray, half: float, cell: tuple[float, float, float, float]) -> Mesh:
    """A square of a card that faces a way."""
    way = way / np.linalg.norm(way)
    a = np.cross(way, [0.3, 0.2, 1.0])
    a /= np.linalg.norm(a)
    b = np.cross(way, a)
    left, top, right, bottom = cell
    corners = at + half * np.array([-a - b, a - b, -a + b, a + b])
    uv = [(left, top), (right, top), (left, bottom), (right, bottom)]
    return Mesh.of(corners, [[0, 1, 2], [1, 3, 2]], CARD, np.ones((4, 3)), uv)
