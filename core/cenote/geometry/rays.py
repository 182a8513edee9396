"""Ray queries against triangles: Embree through embreex, spread over all cores."""

from __future__ import annotations

from collections.abc import Callable

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
def _aim(positions, normals, pattern, lowest, origins, directions, shares):  # type: ignore
    """Write the rays of each point, and the share of the pattern's weight that they stand for."""
    used = 0
    flattest = np.sqrt(1 - lowest * lowest)
    for i in range(len(positions)):
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        ox, oy, oz = positions[i, 0] + nx * LIFT, positions[i, 1] + ny * LIFT, positions[i, 2] + nz * LIFT
        turn = _own_turn(ox, oy, oz)
        cos, sin = np.cos(turn), np.sin(turn)
        u, v = _frame(nx, ny, nz)
        up = 1.0
        if lowest >= 0:
            # Seen along the normal, what lies above the horizon is the disc less half an ellipse: where u is level and v
            # rises, a place (x, y) of the disc is moved along v so that the disc fills just that, evenly.
            up = 0.5 + 0.5 * min(max(ny, -1.0), 1.0)
            flat = np.sqrt(nx * nx + nz * nz)
            if flat > 1e-6:
                u = (-nz / flat, 0.0, nx / flat)
                v = (u[1] * nz - u[2] * ny, u[2] * nx - u[0] * nz, u[0] * ny - u[1] * nx)
                if v[1] < 0:
                    v = (-v[0], -v[1], -v[2])
        shares[i] = up
        for k in range(len(pattern)):
            px, py, pz = pattern[k, 0], pattern[k, 1], pattern[k, 2]
            qx, qy = px * cos - py * sin, px * sin + py * cos
            if up < 1:
                qy = up * qy + (1 - up) * np.sqrt(max(1 - qx * qx, 0.0))
                pz = np.sqrt(max(1 - qx * qx - qy * qy, 0.0))
            dx = qx * u[0] + qy * v[0] + pz * nx
            dy = qx * u[1] + qy * v[1] + pz * ny
            dz = qx * u[2] + qy * v[2] + pz * nz
            if dy < lowest:
                shrink = flattest / max(np.sqrt(dx * dx + dz * dz), 1e-9)
                dx, dy, dz = dx * shrink, lowest, dz * shrink
            origins[used, 0], origins[used, 1], origins[used, 2] = ox, oy, oz
            directions[used, 0], directions[used, 1], directions[used, 2] = dx, dy, dz
            used += 1


def open_share(
    scene: RayScene,
    positions: np.ndarray,
    normals: np.ndarray,
    pattern: np.ndarray,
    reach: float = np.inf,
    lowest: float = -1.0,
) -> np.ndarray:
    """The share of the hemisphere about each normal, weighed by the cosine, in which nothing stands within ``reach`` metres.

    :param positions, normals: float32 (N, 3).
    :param pattern: float32 (K, 3), as :func:`hemisphere` gives it: turned about each normal by an angle of the point's own.
    :param lowest: from 0 up: only what lies above the horizon is open, and rays lower than this (the sine of their
        elevation) look as high as this, so that what is low and far away need not be known. -1 for all around.
    :returns: float32 (N,) in [0, 1].
    """
    out, count = np.zeros(len(positions), np.float32), len(pattern)

    def look(part: slice, origins: np.ndarray, directions: np.ndarray, shares: np.ndarray) -> None:
        blocked = scene.occluded_here(origins, directions, reach)
        out[part] = (1 - blocked.reshape(-1, count).mean(1, dtype=np.float32)) * shares

    _about(positions, normals, pattern, lowest, look)
    return out


def _about(positions: np.ndarray, normals: np.ndarray, pattern: np.ndarray, lowest: float,
           look: Callable[[slice, np.ndarray, np.ndarray, np.ndarray], None]) -> None:  # fmt: skip
    """Give the rays of all points to ``look``, some thousand points at a time: which points, origins and directions
    float32 (K N, 3), and what share each pattern stands for, float32 (N,)."""
    chunk, count = 4096, len(pattern)

    def run(first: int, beyond: int) -> None:
        origins, directions = np.empty((chunk * count, 3), np.float32), np.empty((chunk * count, 3), np.float32)
        shares = np.empty(chunk, np.float32)
        for start in range(first, beyond, chunk):
            part = slice(start, min(start + chunk, beyond))
            used = part.stop - start
            _aim(positions[part], normals[part], pattern, lowest, origins, directions, shares)
            look(part, origins[: used * count], directions[: used * count], shares[:used])

    over_rows(run, len(positions), least=1024)


@njit(cache=True, nogil=True)
def _any_meets(origins, directions, count, low, high, reach, out):  # type: ignore
    for i in range(len(out)):
        met = False
        for k in range(i * count, (i + 1) * count):
            for b in range(len(low)):
                first, last = 0.0, reach
                for axis in range(3):
                    o, d = origins[k, axis], directions[k, axis]
                    if abs(d) < 1e-9:
                        if o < low[b, axis] or o > high[b, axis]:
                            last = -1.0
                    else:
                        near, far = (low[b, axis] - o) / d, (high[b, axis] - o) / d
                        first, last = max(first, min(near, far)), min(last, max(near, far))
                if first <= last:
                    met = True
                    break
            if met:
                break
        out[i] = met


def looks_into(
    low: np.ndarray,
    high: np.ndarray,
    positions: np.ndarray,
    normals: np.ndarray,
    pattern: np.ndarray,
    reach: float = np.inf,
    lowest: float = -1.0,
) -> np.ndarray:
    """Whether any of the rays with which :func:`open_share` looks about a point meets any of some boxes, bool (N,).

    What stands in the boxes decides nothing for the other points. It costs some hundredth of looking.

    :param low, high: float64 (B, 3), metres; whoever asks leaves some room about what is in the boxes.
    """
    out = np.zeros(len(positions), np.bool_)

    def look(part: slice, origins: np.ndarray, directions: np.ndarray, _: np.ndarray) -> None:
        _any_meets(origins, directions, len(pattern), low, high, float(reach), out[part])

    _about(positions, normals, pattern, lowest, look)
    return out
