"""Ray queries against triangles: Embree through embreex, spread over all cores."""

from __future__ import annotations

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numba import njit

from ..parallel import over_rows

# How far a ray starts from the surface that it leaves, in metres: enough for float32 at a kilometre.
LIFT = 2e-3


class RayScene:
    """Triangles that rays can hit.

    :param corners: float32 (M, 3, 3), metres. No triangles at all is allowed: then nothing is ever hit.
    """

    def __init__(self, corners: np.ndarray) -> None:
        self.triangles = len(corners)
        self._scene = EmbreeScene()
        if self.triangles:
            self._mesh = TriangleMesh(self._scene, np.ascontiguousarray(corners, np.float32))
            # The first query builds the tree; doing it here keeps that out of the threads.
            self._scene.run(np.zeros((1, 3), np.float32), np.array([[0, 1, 0]], np.float32))

    def occluded(self, origins: np.ndarray, directions: np.ndarray, reach: float = np.inf) -> np.ndarray:
        """Whether each ray hits anything within ``reach`` metres.

        :param origins: float32 (N, 3), metres.
        :param directions: unit float32 (N, 3).
        :returns: bool (N,).
        """
        out = np.zeros(len(origins), np.bool_)

        def run(first: int, beyond: int) -> None:
            out[first:beyond] = self.occluded_here(origins[first:beyond], directions[first:beyond], reach)

        over_rows(run, len(origins), least=4096)
        return out

    def occluded_here(self, origins: np.ndarray, directions: np.ndarray, reach: float) -> np.ndarray:
        """As :meth:`occluded`, on the calling thread alone: bool (N,)."""
        if not self.triangles or not len(origins):
            return np.zeros(len(origins), np.bool_)
        reaches = np.full(len(origins), min(reach, 1e30), np.float32)
        return self._scene.run(origins, directions, dists=reaches, query="OCCLUDED") != -1

    def distance(self, origins: np.ndarray, directions: np.ndarray) -> np.ndarray:
        """Distance to the first hit in metres, float32 (N,); infinite where there is none."""
        found = self._spread(origins, directions, "DISTANCE")
        return np.where(found > 1e30, np.inf, found).astype(np.float32)

    def first(self, origins: np.ndarray, directions: np.ndarray) -> np.ndarray:
        """The row of the first triangle hit, int32 (N,); -1 where there is none."""
        return self._spread(origins, directions, "INTERSECT").astype(np.int32)

    def hits(self, origins: np.ndarray, directions: np.ndarray, reach: float = np.inf) -> tuple[np.ndarray, np.ndarray]:
        """The first triangle hit within ``reach`` metres: its row int32 (N,), -1 for none; its distance float32 (N,)."""
        rows, far = np.full(len(origins), -1, np.int32), np.full(len(origins), np.inf, np.float32)
        if not self.triangles or not len(origins):
            return rows, far
        origins, directions = (np.ascontiguousarray(v, np.float32) for v in (origins, directions))

        def run(first: int, beyond: int) -> None:
            dists = np.full(beyond - first, min(reach, 1e30), np.float32)
            found = self._scene.run(origins[first:beyond], directions[first:beyond], dists=dists, output=1)
            rows[first:beyond] = found["primID"]
            far[first:beyond] = np.where(found["primID"] >= 0, found["tfar"], np.inf)

        over_rows(run, len(origins), least=4096)
        return rows, far

    def from_above(self, x: np.ndarray, z: np.ndarray, top: float) -> tuple[np.ndarray, np.ndarray]:
        """What lies uppermost at places of the plan.

        :param x, z: float (N,), metres. :param top: metres, above everything.
        :returns: the row of the triangle int32 (N,), -1 for none; its height there float64 (N,), -inf for none.
        """
        origins = np.column_stack([x, np.full(len(x), top), z]).astype(np.float32)
        down = np.broadcast_to(np.array([0, -1, 0], np.float32), origins.shape)
        rows, far = self.hits(origins, down)
        return rows, np.where(rows >= 0, top - far.astype(np.float64), -np.inf)

    def _spread(self, origins: np.ndarray, directions: np.ndarray, query: str) -> np.ndarray:
        count = len(origins)
        missing = 1e37 if query == "DISTANCE" else -1
        out = np.full(count, missing, np.float32 if query == "DISTANCE" else np.int32)
        if not self.triangles or not count:
            return out
        origins = np.ascontiguousarray(origins, np.float32)
        directions = np.ascontiguousarray(directions, np.float32)

        def run(first: int, beyond: int) -> None:
            out[first:beyond] = self._scene.run(origins[first:beyond], directions[first:beyond], query=query)

        over_rows(run, count, least=4096)
        return out


def hemisphere(count: int) -> np.ndarray:
    """Directions about +Z whose density follows the cosine, float32 (N, 3) for N = ``count``.

    A Fibonacci lattice on the disc, lifted (Malley's method): evenly spread, and the same on every machine.
    """
    index = np.arange(count)
    radius = np.sqrt((index + 0.5) / count)
    angle = index * np.pi * (3 - np.sqrt(5))
    return np.column_stack([radius * np.cos(angle), radius * np.sin(angle), np.sqrt(1 - radius**2)]).astype(np.float32)


@njit(inline="always", cache=True)
def _own_turn(x, y, z):  # type: ignore
    """An angle of a place's own, so that neighbouring points do not share their errors."""
    turn = (x * 12.9898 + y * 78.233 + z * 37.719) * 43.7585
    return (turn - np.floor(turn)) * 2 * np.pi


@njit(inline="always", cache=True)
def _frame(nx, ny, nz):  # type: ignore
    """Two directions at right angles to a unit direction and to each other (Duff et al., "Building an Orthonormal
    Basis, Revisited", JCGT 6, 2017)."""
    sign = -1.0 if nz < 0 else 1.0
    a = -1.0 / (sign + nz)
    b = nx * ny * a
    return (1 + sign * nx * nx * a, sign * b, -sign * nx), (b, sign + ny * ny * a, -ny)


@njit(cache=True, nogil=True)
def _turn(axes, pattern, places, out):  # type: ignore
    for i in range(len(axes)):
        n = axes[i]
        u, v = _frame(n[0], n[1], n[2])
        turn = _own_turn(places[i, 0], places[i, 1], places[i, 2]) if len(places) else 0.0
        cos, sin = np.cos(turn), np.sin(turn)
        for k in range(len(pattern)):
            x, y = pattern[k, 0] * cos - pattern[k, 1] * sin, pattern[k, 0] * sin + pattern[k, 1] * cos
            z = pattern[k, 2]
            out[i, k, 0] = x * u[0] + y * v[0] + z * n[0]
            out[i, k, 1] = x * u[1] + y * v[1] + z * n[1]
            out[i, k, 2] = x * u[2] + y * v[2] + z * n[2]


def turned_to(axes: np.ndarray, pattern: np.ndarray, places: np.ndarray | None = None) -> np.ndarray:
    """A pattern of directions about +Z, turned about each axis.

    :param axes: unit float32 (N, 3). :param pattern: float32 (K, 3).
    :param places: float32 (N, 3), gives each copy of the pattern a turn of its own about its axis.
    :returns: float32 (N, K, 3).
    """
    out = np.empty((len(axes), len(pattern), 3), np.float32)
    _turn(axes, pattern, np.zeros((0, 3), np.float32) if places is None else places, out)
    return out


@njit(cache=True, nogil=True)
def _aim(positions, normals, pattern, turned, origins, directions, rows, weights):  # type: ignore
    """Write the rays of each point; return how many there are."""
    used = 0
    for i in range(len(positions)):
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        ox, oy, oz = positions[i, 0] + nx * LIFT, positions[i, 1] + ny * LIFT, positions[i, 2] + nz * LIFT
        turn = _own_turn(ox, oy, oz)
        cos, sin = np.cos(turn), np.sin(turn)
        u, v = _frame(nx, ny, nz)
        for k in range(len(pattern)):
            px, py, pz = pattern[k, 0], pattern[k, 1], pattern[k, 2]
            weight = 1.0
            if turned:
                qx, qy = px * cos - py * sin, px * sin + py * cos
                dx = qx * u[0] + qy * v[0] + pz * nx
                dy = qx * u[1] + qy * v[1] + pz * ny
                dz = qx * u[2] + qy * v[2] + pz * nz
            else:
                dx, dy, dz = px, py, pz
                weight = (dx * nx + dy * ny + dz * nz) / py
                if weight <= 0:
                    continue
            origins[used, 0], origins[used, 1], origins[used, 2] = ox, oy, oz
            directions[used, 0], directions[used, 1], directions[used, 2] = dx, dy, dz
            rows[used], weights[used] = i, weight
            used += 1
    return used


@njit(cache=True, nogil=True)
def _gather(blocked, rows, weights, share, out):  # type: ignore
    for k in range(len(blocked)):
        if not blocked[k]:
            out[rows[k]] += weights[k] * share


def open_share(
    scene: RayScene,
    positions: np.ndarray,
    normals: np.ndarray,
    pattern: np.ndarray,
    turned: bool,
    reach: float = np.inf,
) -> np.ndarray:
    """The share of a pattern of directions in which nothing stands within ``reach`` metres of each point.

    :param positions, normals: float32 (N, 3).
    :param pattern: float32 (K, 3), as :func:`hemisphere` gives it.
    :param turned: true to turn the pattern about each normal (+Z of the pattern becomes the normal); false to keep it
        fixed in the world (with +Y as its axis) and weigh each direction by how squarely the surface faces it.
    :returns: float32 (N,), at least 0.
    """
    out = np.zeros(len(positions), np.float32)
    chunk, count = 4096, len(pattern)

    def run(first: int, beyond: int) -> None:
        origins, directions = np.empty((chunk * count, 3), np.float32), np.empty((chunk * count, 3), np.float32)
        rows, weights = np.empty(chunk * count, np.int64), np.empty(chunk * count, np.float32)
        for start in range(first, beyond, chunk):
            part = slice(start, min(start + chunk, beyond))
            used = _aim(positions[part], normals[part], pattern, turned, origins, directions, rows, weights)
            blocked = scene.occluded_here(origins[:used], directions[:used], reach)
            _gather(blocked, rows[:used], weights, np.float32(1 / count), out[part])

    over_rows(run, len(positions), least=1024)
    return out
