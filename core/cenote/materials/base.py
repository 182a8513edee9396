"""What a material is, and the patterns that materials are made of. Everything here wraps round at the tile's edges."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from scipy.spatial import cKDTree

from ..randomness import key_of, uniforms
from ..registry import Family

PIXELS = 512


@dataclass(frozen=True)
class Tile:
    """A baked material.

    :ivar albedo: float32 (n, n, 3), linear, in [0, 1].
    :ivar height: float32 (n, n) in [0, 1]: 1 is the highest point of the relief.
    :ivar roughness: float32 (n, n) in [0, 1].
    :ivar metalness: float32 (n, n) in [0, 1].
    """

    albedo: np.ndarray
    height: np.ndarray
    roughness: np.ndarray
    metalness: np.ndarray

    def packed(self) -> np.ndarray:
        """All channels together, float32 (n, n, 6): red, green, blue, height, roughness, metalness."""
        return np.dstack([self.albedo, self.height, self.roughness, self.metalness]).astype(np.float32)


class Material:
    """A material that tiles without a seam.

    :cvar kind: its name in documents.
    :cvar name: its name for people.
    :cvar size: the side of one tile in metres.
    :cvar relief: metres between the lowest and the highest point.
    :cvar uneven: how much brightness drifts over metres, as a share; it hides that the tile repeats.
    """

    kind: ClassVar[str]
    name: ClassVar[str]
    size: ClassVar[float] = 2.0
    relief: ClassVar[float] = 0.01
    uneven: ClassVar[float] = 0.18

    def bake(self, pixels: int = PIXELS, seed: int = 0) -> Tile:
        """Make the tile; any seed is a new variant."""
        raise NotImplementedError


MATERIALS: Family[type[Material]] = Family("cenote.materials", "material")


def tile_of(
    albedo: np.ndarray, height: np.ndarray, roughness: np.ndarray | float, metalness: np.ndarray | float = 0.0
) -> Tile:
    """A tile from arrays and plain numbers, clipped to what materials can have."""
    shape = height.shape

    def plane(value: np.ndarray | float) -> np.ndarray:
        return np.clip(np.broadcast_to(value, shape), 0, 1).astype(np.float32)

    return Tile(np.clip(albedo, 0.004, 0.92).astype(np.float32), plane(height), plane(roughness), plane(metalness))


def grid(pixels: int) -> tuple[np.ndarray, np.ndarray]:
    """Coordinates of pixel centres in [0, 1), each float64 (n, n): x to the right, y downwards."""
    centres = (np.arange(pixels) + 0.5) / pixels
    return np.meshgrid(centres, centres)


def lattice(shape: tuple[int, ...], *seed: int | str) -> np.ndarray:
    """Uniform random numbers in [0, 1), float64 of a shape; the same for the same seed."""
    with np.errstate(over="ignore"):
        keys = np.arange(int(np.prod(shape)), dtype=np.uint64) + key_of(*seed)
    return uniforms(keys, 0).reshape(shape)


def wrapped_noise(
    x: np.ndarray, y: np.ndarray, cells: int | tuple[int, int], octaves: int, *seed: int | str
) -> np.ndarray:
    """Layered gradient noise that repeats after 1 in x and y.

    :param x, y: coordinates, any shape.
    :param cells: lattice cells across the tile, of the coarsest layer.
    :returns: float64 about in [0, 1], 0.5 on average.
    """
    columns, rows = (cells, cells) if isinstance(cells, int) else cells
    total, weight, norm = np.zeros_like(x), 1.0, 0.0
    for octave in range(octaves):
        angle = lattice((rows, columns), *seed, octave) * 2 * np.pi
        gx, gy = np.cos(angle), np.sin(angle)
        px, py = x * columns, y * rows
        ix, iy = np.floor(px).astype(int), np.floor(py).astype(int)
        fx, fy = px - ix, py - iy

        corner = [
            gx.ravel()[at] * (fx - a) + gy.ravel()[at] * (fy - b)
            for a, b in ((0, 0), (1, 0), (0, 1), (1, 1))
            for at in [(iy + b) % rows * columns + (ix + a) % columns]
        ]
        sx, sy = (f * f * f * (f * (f * 6 - 15) + 10) for f in (fx, fy))
        top = corner[0] + sx * (corner[1] - corner[0])
        low = corner[2] + sx * (corner[3] - corner[2])
        total += weight * (top + sy * (low - top))
        norm += weight
        weight *= 0.55
        columns, rows = columns * 2, rows * 2
    return np.clip(0.5 + 0.9 * total / norm, 0, 1)


@dataclass(frozen=True)
class Pieces:
    """A tile cut into pieces. All arrays are (n, n).

    :ivar ids: the piece at each pixel, int.
    :ivar edge: distance to the nearest edge of the piece, in tiles.
    """

    ids: np.ndarray
    edge: np.ndarray

    def each(self, *seed: int | str) -> np.ndarray:
        """A random number in [0, 1) for each piece, spread over its pixels."""
        return lattice((int(self.ids.max()) + 1,), *seed)[self.ids]


def courses(x: np.ndarray, y: np.ndarray, columns: int, rows: int, shift: float = 0.5) -> Pieces:
    """Rows of equal rectangles, every other row shifted by a share of a rectangle. ``rows`` must be even."""
    row = np.floor(y * rows).astype(int) % rows
    along = x * columns + (row % 2) * shift
    column = np.floor(along).astype(int) % columns
    fx, fy = along % 1, (y * rows) % 1
    edge = np.minimum(np.minimum(fx, 1 - fx) / columns, np.minimum(fy, 1 - fy) / rows)
    return Pieces(row * columns + column, edge)


def cells_of(x: np.ndarray, y: np.ndarray, count: int, jitter: float, *seed: int | str) -> Pieces:
    """Voronoi cells about ``count``² points of a jittered, staggered lattice."""
    i, j = np.meshgrid(np.arange(count), np.arange(count))
    offset = (lattice((2, count, count), *seed) - 0.5) * jitter
    points = (
        np.stack([(i + 0.5 + 0.5 * (j % 2) + offset[0]) / count, (j + 0.5 + offset[1]) / count], axis=2).reshape(-1, 2)
        % 1
    )
    tree = cKDTree(points, boxsize=1)
    where = np.stack([x, y], axis=-1).reshape(-1, 2) % 1
    near, which = tree.query(where, k=2)
    # Distance to the edge between the two nearest points, exact for straight bisectors.
    apart = points[which[:, 1]] - points[which[:, 0]]
    apart -= np.round(apart)
    gap = np.maximum(np.linalg.norm(apart, axis=1), 1e-9)
    edge = (near[:, 1] ** 2 - near[:, 0] ** 2) / (2 * gap)
    return Pieces(which[:, 0].reshape(x.shape), edge.reshape(x.shape))


def eased(value: np.ndarray, low: float, high: float) -> np.ndarray:
    """Smooth step from 0 at ``low`` to 1 at ``high``."""
    t = np.clip((value - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def mixed(a, b, amount: np.ndarray) -> np.ndarray:
    """Colours between two, float64 (n, n, 3)."""
    amount = amount[..., None]
    return np.asarray(a) * (1 - amount) + np.asarray(b) * amount
