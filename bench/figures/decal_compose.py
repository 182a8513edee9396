"""``decal.compose``: what a hundred decals add to composing a wall of 4 M texels."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from measuring import Figure, seconds

from cenote.decals.base import DECALS
from cenote.decals.laying import Boxed, decals_laid
from cenote.weather.compose import compose

from .weather_compose import LEVEL, SIDE, laid, wall_of

MANY = 100


def figures() -> Iterator[Figure]:
    """A hundred decals of all kinds, each as large as it usually is, over a square wall of 25 m at 12.5 mm."""
    wall = wall_of(SIDE, LEVEL)
    corners = np.array(
        [[[0, 0, 0], [SIDE, 0, 0], [SIDE, SIDE, 0]], [[0, 0, 0], [SIDE, SIDE, 0], [0, SIDE, 0]]], np.float32
    )
    normals = np.broadcast_to(np.array([0, 0, 1], np.float32), corners.shape).copy()
    dice, kinds = np.random.default_rng(1), list(DECALS)
    boxes = []
    for number in range(MANY):
        kind = kinds[number % len(kinds)]
        matrix = np.eye(4)
        matrix[:3, 0], matrix[:3, 1], matrix[:3, 2] = (1, 0, 0), (0, 0, 1), (0, -1, 0)
        matrix[:2, 3] = dice.uniform(2, SIDE - 2, 2)
        boxes.append(Boxed(kind(), matrix, (*kind.size, kind.reach), seed=number))
    found = decals_laid(boxes, wall.atlas, wall.grid, corners, normals)
    assert found is not None
    brick = [laid("brick", wall.grid.texel)]
    parts, grades = np.zeros(2, np.int32), np.tile(np.array([1, 1, 1, 1, 0], np.float32), (2, 1))
    given = (wall.atlas, wall.grid, brick, parts, grades, [], wall.on_cells[0], wall.on_cells[1])
    bare = seconds(lambda: compose(*given))
    with_them = seconds(lambda: compose(*given, decals=(found, None)))
    drawn = seconds(lambda: decals_laid(boxes, wall.atlas, wall.grid, corners, normals))
    texels = f" {len(found.values):,} texels of {(wall.grid.faces >= 0).sum():,}"
    yield Figure(
        "decal.compose", drawn + with_them - bare, "s", f" more for {MANY} decals on{texels}; the aim is at most 0.5"
    )
    yield Figure("decal.compose.drawn", drawn, "s", " of it to draw them")
    yield Figure("decal.compose.ratio", (drawn + with_them) / bare, "×", " of the time without them")
