"""Layers of placed items for tests: a hilly ground, what is filled over it, and whether two tables hold the same."""

from __future__ import annotations

from typing import Any

import numpy as np
from shapes import scene, square

from cenote.geometry.mesh import corner_normals
from cenote.scatter.layer import MixItem, Scatter
from cenote.scatter.placements import Placements
from cenote.scatter.spots import FillSurface
from cenote.scatter.whole import fill
from cenote.site.ground import Ground

GROUND = Ground(size=(30, 30), relief=3, swell=9).build()
FLAT = square(30)
GRASS, STONE, TREE = MixItem(item="grass_tuft"), MixItem(item="stone"), MixItem(item="birch", room=4)


def surface(corners: np.ndarray | None = None, id: str = "ground") -> FillSurface:
    """A surface to fill, the hilly ground where none is given."""
    if corners is None:
        return FillSurface(GROUND.corners, corner_normals(GROUND), id)
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    flat /= np.linalg.norm(flat, axis=1, keepdims=True)
    return FillSurface(corners, np.repeat(flat[:, None], 3, axis=1).astype(np.float32), id)


def placed(around: Any = None, on: Any = None, **values: Any) -> Placements:
    """A layer over the hilly ground."""
    layer = Scatter(**({"id": "test", "density": 3, "spacing": 0.25, "mix": (GRASS, STONE)} | values))
    return fill(layer, on or surface(), around or scene(ground=GROUND.corners))


def same(a: Placements, b: Placements) -> bool:
    """Whether two tables hold the same items, in whatever order."""
    order, other = np.argsort(a.ids), np.argsort(b.ids)
    return len(a) == len(b) and all(
        np.array_equal(getattr(a, name)[order], getattr(b, name)[other])
        for name in ("ids", "items", "positions", "rotations", "sizes", "tints")
    )
