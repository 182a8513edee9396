"""How far surfaces bend within a radius: the signed mean curvature of meshes, which is all in their edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from ..parallel import over_rows
from .mesh import face_normals, welded

# Edges that bend less than this, radians, count as flat.
_FLAT = 0.005
# Edges are cut into bits of this share of the radius, and bits within cells of such a share are counted together.
_BIT = 1 / 6


@dataclass(frozen=True)
class Bends:
    """Bits of a mesh's edges within reach of one another, sorted by the cells of a grid whose side is the radius.

    :ivar radius: metres. :ivar low: float64 (3,), the corner of the grid. :ivar keys: int64 (N,), sorted, of cells.
    :ivar places: float32 (N, 3), metres. :ivar amounts: float32 (N,), angle times length, radians times metres; below 0 where
        the surface is hollow. :ivar normals: float32 (N, 2, 3), of the faces on either side.
    """

    radius: float
    low: np.ndarray
    keys: np.ndarray
    places: np.ndarray
    amounts: np.ndarray
    normals: np.ndarray


def _edges(corners: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Edges that two faces share and bend at: ends float32 (E, 2, 3), signed angles float64 (E,), normals float32 (E, 2, 3)."""
    normals, areas = face_normals(corners)
    corners, normals = corners[areas > 0], normals[areas > 0]
    place = welded(corners.reshape(-1, 3)).reshape(-1, 3)
    pairs = np.stack([place, np.roll(place, -1, axis=1)], axis=2).reshape(-1, 2)
    keys = pairs.min(1) * (len(corners) * 3 + 1) + pairs.max(1)
    order = np.argsort(keys, kind="stable")
    first = np.flatnonzero(np.diff(keys[order], prepend=-1))
    # Open rims, and edges of more than two faces, belong to no one bend.
    first = first[np.diff(first, append=len(order)) == 2]
    one, two = order[first], order[first + 1]
    ends = np.stack([corners.reshape(-1, 3)[one], np.roll(corners, -1, axis=1).reshape(-1, 3)[one]], axis=1)
    a, b = normals[one // 3].astype(np.float64), normals[two // 3].astype(np.float64)
    angle = np.arctan2(np.linalg.norm(np.cross(a, b), axis=1), (a * b).sum(1))
    opposite = corners[two // 3, (two % 3 + 2) % 3] - ends[:, 0]
    angle = np.where((opposite * a).sum(1) > 0, -angle, angle)
    bent = np.abs(angle) > _FLAT
    return ends[bent], angle[bent], np.stack([a, b], axis=1).astype(np.float32)[bent]


def bends(corners: np.ndarray, radius: float) -> Bends:
    """The bits of a mesh's edges.

    :param corners: float32 (M, 3, 3), metres. :param radius: metres, above 0.
    """
    ends, angles, normals = _edges(corners)
    lengths = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    counts = np.ceil(lengths / (_BIT * radius)).clip(1, 100_000).astype(np.int64)
    rows = np.repeat(np.arange(len(ends)), counts)
    along = (np.arange(len(rows)) - np.repeat(np.cumsum(counts) - counts, counts) + 0.5) / counts[rows]
    places = ends[rows, 0] + (ends[rows, 1] - ends[rows, 0]) * along[:, None]
    amounts, sides = (angles * lengths / counts)[rows], normals[rows]
    low = places.min(0).astype(np.float64) - radius if len(places) else np.zeros(3)
    places, amounts, sides = _together(places, amounts, sides, low, _BIT * radius)
    keys = _keys_of(places, low, radius)
    order = np.argsort(keys, kind="stable")
    return Bends(radius, low, keys[order], places[order].astype(np.float32), amounts[order].astype(np.float32),
                 sides[order].astype(np.float32))  # fmt: skip


def _keys_of(places: np.ndarray, low: np.ndarray, cell: float) -> np.ndarray:
    at = np.floor((places - low) / cell).astype(np.int64)
    return np.asarray((at[:, 0] << 42) | (at[:, 1] << 21) | at[:, 2])


def _together(
    places: np.ndarray, amounts: np.ndarray, sides: np.ndarray, low: np.ndarray, cell: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Bits of one cell that lie between faces that look the same ways, as one: meshes may be as fine as they like."""
    if not len(places):
        return places, amounts, sides
    # Either face may come first: the one that looks farther along a slanting axis does.
    slant = sides @ np.array([0.8, 0.5, 0.33], np.float32)
    sides = np.where((slant[:, 0] < slant[:, 1])[:, None, None], sides[:, ::-1], sides)
    looks = np.round(sides * 1.49).astype(np.int64).reshape(len(sides), 6) + 1
    way = looks @ 3 ** np.arange(6)
    # One number after the other, since sorting pairs takes many times as long.
    _, cells = np.unique(_keys_of(places, low, cell), return_inverse=True)
    _, group = np.unique(cells * 3**6 + way, return_inverse=True)
    count = int(group.max()) + 1
    weights = np.abs(amounts) + 1e-12
    total = np.bincount(group, weights, count)

    def mean(values: np.ndarray) -> np.ndarray:
        return np.bincount(group, values * weights, count) / total

    middles = np.stack([mean(places[:, k]) for k in range(3)], axis=1)
    faces = np.stack([mean(sides[:, i, k]) for i in range(2) for k in range(3)], axis=1).reshape(-1, 2, 3)
    faces /= np.maximum(np.linalg.norm(faces, axis=2, keepdims=True), 1e-9)
    return middles, np.bincount(group, amounts, count), faces


@njit(cache=True, nogil=True, fastmath=True)
def _measure(keys, places, amounts, sides, low, radius, points, normals, out, first, beyond):  # type: ignore
    scale = 1 / radius
    for i in range(first, beyond):
        p = points[i]
        x, y, z = (
            np.int64(np.floor((p[0] - low[0]) * scale)),
            np.int64(np.floor((p[1] - low[1]) * scale)),
            np.int64(np.floor((p[2] - low[2]) * scale)),
        )
        total = 0.0
        for a in range(x - 1, x + 2):
            for b in range(y - 1, y + 2):
                if a < 0 or b < 0 or z < -1:
                    continue
                column = (a << 42) | (b << 21)
                k = np.searchsorted(keys, column + (z - 1 if z > 0 else 0))
                last = column + z + 1
                while k < len(keys) and keys[k] <= last:
                    q = places[k]
                    dx, dy, dz = q[0] - p[0], q[1] - p[1], q[2] - p[2]
                    far = np.sqrt(dx * dx + dy * dy + dz * dz) * scale
                    if far < 1:
                        one = (
                            sides[k, 0, 0] * normals[i, 0]
                            + sides[k, 0, 1] * normals[i, 1]
                            + sides[k, 0, 2] * normals[i, 2]
                        )
                        two = (
                            sides[k, 1, 0] * normals[i, 0]
                            + sides[k, 1, 1] * normals[i, 1]
                            + sides[k, 1, 2] * normals[i, 2]
                        )
                        faces = min(2 * max(one, two), 1.0)
                        if faces > 0:
                            total += amounts[k] * faces * (1 - far)
                    k += 1
        # On a straight edge of a right angle the sum is the angle times the radius.
        share = min(max(total * scale / (0.5 * np.pi), 0.0), 1.0)
        out[i] = share * share


def bent_about(found: Bends, points: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """How far a surface bends away about points on it: its curvature measure in a ball about each (Cohen-Steiner and Morvan,
    "Restricted Delaunay triangulations and normal cycle", 2003), what is nearer counting more, and each edge as far as a face
    beside it looks about the way that the point does, so that the far side of a thin board does not count. Squared, so that what is
    gently round counts little.

    :param points: float32 (N, 3), metres. :param normals: unit float32 (N, 3).
    :returns: float32 (N,) in [0, 1]: 0 flat or hollow, 1 on an edge of a right angle, or sharper.
    """
    out = np.zeros(len(points), np.float32)
    if len(found.keys):
        given = (found.keys, found.places, found.amounts, found.normals, found.low, found.radius, points, normals, out)
        over_rows(lambda a, b: _measure(*given, a, b), len(points), least=4096)
    return out
