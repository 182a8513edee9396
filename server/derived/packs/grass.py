"""Blades of grass as the page draws them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.grass import LaidGrass, LyingGrass
from cenote.derive.site import Site
from cenote.derive.target import Read, Target

# Factors on colours up to this are sent.
BRIGHTEST = 2.0


@dataclass(frozen=True)
class GrassPack(Target):
    """The blades of a layer on a surface, 16 bytes each, square by square; within a square those first that stand for all from afar.

    ``place`` uint16 (N, 4): x, y, z within the square's box, and the length against the longest. ``look`` uint8 (N, 4): turn, row of the table of
    shapes, tone, whether it is dead. ``lie`` uint8 (N, 4): the normal under it, and its rank in the square. ``first`` uint32 (T + 1,), ``box`` float32
    (T, 6): least and greatest corner of the roots.
    """

    layer: str
    id: str
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"laid": LyingGrass(self.layer, self.id)}

    @staticmethod
    def make(read: Read) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
        laid: LaidGrass = read.laid
        blades, first = laid.blades, laid.first
        longest = float(blades.lengths.max(initial=1e-3))
        squares = len(first) - 1
        box = np.zeros((squares, 6), np.float32)
        if squares:
            box[:, :3] = np.minimum.reduceat(blades.positions, first[:-1])
            box[:, 3:] = np.maximum.reduceat(blades.positions, first[:-1])
        owner = np.repeat(np.arange(squares), np.diff(first))
        span = np.maximum(box[:, 3:] - box[:, :3], 1e-3)
        place = np.empty((len(blades), 4), np.uint16)
        place[:, :3] = np.rint((blades.positions - box[owner, :3]) / span[owner] * 65535)
        place[:, 3] = np.rint(blades.lengths / longest * 65535)
        look = np.empty((len(blades), 4), np.uint8)
        look[:, 0] = np.floor(blades.turns / (2 * np.pi) % 1 * 256)
        look[:, 1] = blades.shapes
        look[:, 2] = np.rint(np.clip(blades.tones / BRIGHTEST, 0, 1) * 255)
        look[:, 3] = blades.dead * 255
        lie = np.empty((len(blades), 4), np.uint8)
        lie[:, :3] = np.rint((blades.normals * 0.5 + 0.5) * 255)
        lie[:, 3] = np.floor(blades.ranks * 256)
        arrays: dict[str, np.ndarray] = {
            "place": place,
            "look": look,
            "lie": lie,
            "first": first.astype(np.uint32),
            "box": box,
        }
        return arrays, {"longest": longest, "count": len(blades), "brightest": BRIGHTEST}
