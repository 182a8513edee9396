"""Ferns."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, ribbon
from .cards import LeafShape, blank, finished, leaf, stem


@KIT.register
class Fern(KitItem):
    """A fern: a shuttlecock of arching fronds, each cut into leaflets that are cut again."""

    kind: Literal["fern"] = "fern"
    title: ClassVar[str] = "Fern"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("fern", "shade", "medium")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 13.0
    seasons: ClassVar[Seasons] = ((1.0, 1.25, 0.8), (1.0, 1.0, 1.0), (2.4, 1.15, 0.65), (3.4, 1.15, 0.8))

    def card(self) -> np.ndarray:
        card = blank(512, 192)
        # Leaflets stand apart, so that one sees through the frond, and are cut nearly to their own rib.
        shape = LeafShape(0.15, 0.2, 1.2, teeth=9, depth=0.6, veins=9)
        for k, share in enumerate(np.linspace(0.08, 0.985, 27)):
            long = 92 * np.sin(np.pi * np.clip(share * 0.83 + 0.15, 0, 1)) ** 0.85 + 4
            tone = 0.8 + 0.4 * ((k * 7919) % 13) / 13
            for side in (0.28 + 0.5 * share, np.pi - 0.28 - 0.5 * share):
                leaf(
                    card,
                    (96, 511 - 500 * share),
                    side,
                    long,
                    shape,
                    (0.022, 0.056, 0.010),
                    (0.095, 0.170, 0.032),
                    tone,
                )
        stem(card, [(96, 511), (96, 6)], (5, 1), (0.13, 0.13, 0.04))
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        count, steps = ((13 + variant, 7), (11, 3), (7, 2))[detail]
        out = []
        for k, turn in enumerate(np.arange(count) * 2 * np.pi / count + dice.many(count, low=-0.3, high=0.3)):
            # Every third frond is a young one, which stands up in the middle.
            young = k % 3 == 0
            length, rise = dice.one(0.35, 0.5) if young else dice.one(0.6, 0.95), dice.one(0.85, 1.2)
            out_by, sag = (0.4, 0.25) if young else (0.78, 0.66)
            t = np.linspace(0.0, 1, steps + 1)
            way = along_y(turn)
            path = way * (0.02 + length * out_by * t)[:, None]
            path[:, 1] += length * (rise * t - (rise * sag + 0.1) * t**2.4)
            side = np.array([-way[2], dice.one(-0.3, 0.3), way[0]])
            shade = np.tile(np.ones(3) * dice.one(0.75, 1.2), (len(t), 1)) * (0.6 + 0.4 * t)[:, None]
            out.append(ribbon(path, np.full(len(t), length * 0.36), side, shade, CARD, (0, 0, 1, 1)))
        return join(out)
