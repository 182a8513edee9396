"""A baked material."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

PIXELS = 512


@dataclass(frozen=True)
class Tile:
    """A baked material, which wraps round at its edges.

    :ivar albedo: float32 (n, n, 3), linear, in [0, 1].
    :ivar height: float32 (n, n) in [0, 1]: 1 is the highest point of the relief.
    :ivar roughness: float32 (n, n) in [0, 1].
    :ivar metalness: float32 (n, n) in [0, 1].
    :ivar occlusion: float32 (n, n) in [0, 1]: 1 is open.
    """

    albedo: np.ndarray
    height: np.ndarray
    roughness: np.ndarray
    metalness: np.ndarray
    occlusion: np.ndarray

    def packed(self) -> np.ndarray:
        """What the compositor reads, float32 (n, n, 6): red, green, blue, height, roughness, metalness."""
        return np.dstack([self.albedo, self.height, self.roughness, self.metalness]).astype(np.float32)

    def normal(self, size: float, depth: float) -> np.ndarray:
        """Tangent-space normals of the relief, float32 (n, n, 3); see :func:`relief_normals`."""
        return relief_normals(self.height, size, depth)


def relief_normals(height: np.ndarray, size: float, depth: float) -> np.ndarray:
    """Tangent-space normals of a relief that wraps round, float32 (n, n, 3): x to the right, y up in the picture.

    :param height: float32 (n, n) in [0, 1]. :param size: side of the tile, metres.
    :param depth: from the lowest to the highest point, metres.
    """
    step = np.float32(depth * len(height) / size / 2)
    dx = (np.roll(height, -1, 1) - np.roll(height, 1, 1)) * step
    dy = (np.roll(height, -1, 0) - np.roll(height, 1, 0)) * step
    length = 1 / np.sqrt(dx * dx + dy * dy + 1)
    return np.dstack([-dx * length, dy * length, length])
