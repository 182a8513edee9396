"""``material.bake``: all channels of a brick tile of 2048², and plain noise of as many octaves beside it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from measuring import Figure, seconds
from scipy.ndimage import zoom

from cenote.materials.base import MATERIALS

PIXELS = 2048


def plain_noise() -> np.ndarray:
    """Five octaves of value noise with NumPy and SciPy: what one layer costs by the book."""
    rng, out = np.random.default_rng(1), np.zeros((PIXELS, PIXELS), np.float32)
    for octave in range(5):
        cells = 16 << octave
        out += zoom(rng.random((cells, cells), dtype=np.float32), PIXELS // cells, order=1) * 0.5**octave
    return out


def figures() -> Iterator[Figure]:
    """The tile, and how many layers by the book would take as long."""
    recipe = MATERIALS["brick"].recipe
    taken = seconds(lambda: recipe.bake(PIXELS))
    yield Figure(
        "material.bake", taken, "s", f" for brick, {PIXELS}², {len(recipe.layers)} layers; the aim is at most 2"
    )
    yield Figure("material.bake.layers", taken / seconds(plain_noise), "", " layers of plain noise take as long")
