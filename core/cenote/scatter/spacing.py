"""Points with a guaranteed minimum distance, stable under change.

Candidates arrive over a notional time as a Poisson process whose randomness is counter-based, cell by cell. In order of
arrival each is kept unless a kept one lies nearer than the minimum distance: random sequential adsorption (Evans,
"Random and cooperative sequential adsorption", Rev. Mod. Phys. 65, 1993). A higher density only lets the process run
longer. What was kept before therefore stays: raising the density only adds points.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy.spatial import cKDTree

from ..randomness import combine, unit_float

# Kept points against arrived candidates, both times the squared minimum distance. Random sequential adsorption on the
# plane has this one curve; it ends at 0.6965 (jamming). Measured by tests/test_spacing.py's `adsorption_curve`.
_ARRIVED = np.array([0, 0.05, 0.1, 0.2, 0.3, 0.45, 0.6, 0.8, 1.0, 1.3, 1.7, 2.2, 3, 4, 5.5, 7.5, 10, 14, 20])
_KEPT = np.array(
    [
        0.0,
        0.0465,
        0.0868,
        0.1526,
        0.2029,
        0.2618,
        0.3058,
        0.3491,
        0.3819,
        0.4175,
        0.4508,
        0.4807,
        0.5105,
        0.535,
        0.5578,
        0.5769,
        0.5922,
        0.6077,
        0.6214,
    ]
)

# Arrival is simulated in squares of a fixed size, so that neither density nor spacing moves a candidate.
_CELL = 1.0


def greatest_density(spacing: float) -> float:
    """The most points per m² that a minimum distance of ``spacing`` metres allows here."""
    return float(_KEPT[-1] / spacing**2) if spacing > 0 else np.inf


def arrivals_for(density: float, spacing: float) -> float:
    """How many candidates per m² must arrive for ``density`` points per m² to be kept, on average."""
    if spacing <= 0 or density <= 0:
        return max(0.0, density)
    kept = min(density * spacing**2, _KEPT[-1])
    return float(np.interp(kept, _KEPT, _ARRIVED) / spacing**2)


@dataclass(frozen=True)
class Points:
    """Points on the plane.

    :ivar places: float64 (N, 2), metres.
    :ivar ids: uint64 (N,), each point's own number for ever.
    """

    places: np.ndarray
    ids: np.ndarray


@njit(cache=True, nogil=True)
def _arrive(key, x0, z0, columns, rows, until, places, times, ids):  # type: ignore
    """Write what has arrived by ``until``; return how many that are, which may exceed the room given."""
    used, room = 0, len(times)
    for j in range(rows):
        row_key = combine(key, z0 + j)
        for i in range(columns):
            cell_key = combine(row_key, x0 + i)
            time, k = 0.0, 0
            while True:
                point = combine(cell_key, k)
                time -= np.log(1.0 - unit_float(point)) / (_CELL * _CELL)
                if time > until:
                    break
                if used < room:
                    places[used, 0] = (x0 + i + unit_float(combine(point, 1))) * _CELL
                    places[used, 1] = (z0 + j + unit_float(combine(point, 2))) * _CELL
                    times[used], ids[used] = time, point
                used += 1
                k += 1
    return used


@njit(cache=True, nogil=True)
def _keep(places, order, low_x, low_z, columns, rows, spacing, kept):  # type: ignore
    """Keep points in order unless a kept one is nearer than the spacing; one kept point a square of side r/√2."""
    side = spacing / np.sqrt(2.0)
    grid = np.full((rows, columns), -1, np.int32)
    limit = spacing * spacing
    for index in order:
        x, z = places[index, 0], places[index, 1]
        i, j = int((x - low_x) / side), int((z - low_z) / side)
        free = grid[j, i] < 0
        for b in range(max(0, j - 2), min(rows, j + 3)):
            if not free:
                break
            for a in range(max(0, i - 2), min(columns, i + 3)):
                other = grid[b, a]
                if other >= 0:
                    dx, dz = places[other, 0] - x, places[other, 1] - z
                    if dx * dx + dz * dz < limit:
                        free = False
                        break
        if free:
            grid[j, i] = index
            kept[index] = True


def spaced_points(
    low: tuple[float, float],
    high: tuple[float, float],
    density: float,
    spacing: float,
    key: np.uint64,
    free: Callable[[np.ndarray], np.ndarray] | None = None,
) -> Points:
    """Fill a rectangle with points.

    :param low, high: corners of the rectangle (x, z), metres.
    :param density: wanted points per m²; what the spacing does not allow is not placed.
    :param spacing: minimum distance between any two points, metres; 0 for none.
    :param key: decides everything random.
    :param free: says of places (N, 2) which may be taken at all, bool (N,).
    :returns: the points in order of arrival. For one key and spacing, those of a lower density come first.
    """
    until = arrivals_for(density, spacing)
    x0, z0 = int(np.floor(low[0] / _CELL)), int(np.floor(low[1] / _CELL))
    columns, rows = int(np.ceil(high[0] / _CELL)) - x0, int(np.ceil(high[1] / _CELL)) - z0
    expected = until * columns * rows * _CELL**2
    room = int(expected + 6 * np.sqrt(expected) + 64)
    while True:
        places, times, ids = np.empty((room, 2)), np.empty(room), np.empty(room, np.uint64)
        used = _arrive(key, x0, z0, columns, rows, until, places, times, ids)
        if used <= room:
            break
        room = used
    places, times, ids = places[:used], times[:used], ids[:used]
    inside = ((places >= low) & (places < high)).all(1)
    places, times, ids = places[inside], times[inside], ids[inside]
    order = np.argsort(times, kind="stable")
    if spacing > 0:
        side = spacing / np.sqrt(2)
        size = [int((high[a] - low[a]) / side) + 2 for a in (0, 1)]
        kept = np.zeros(len(times), np.bool_)
        _keep(places, order, low[0], low[1], size[0], size[1], spacing, kept)
        order = order[kept[order]]
    if free is not None:
        # After the spacing, so that what takes a place away moves nothing else.
        order = order[free(places[order])]
    return Points(places[order], ids[order])


@dataclass(frozen=True)
class SurfacePoints:
    """Points on triangles, in order of arrival.

    :ivar ids: uint64 (N,). :ivar times: float64 (N,), of arrival.
    :ivar faces: int64 (N,). :ivar weights: float64 (N, 3), barycentric coordinates.
    """

    ids: np.ndarray
    times: np.ndarray
    faces: np.ndarray
    weights: np.ndarray


@njit(cache=True, nogil=True)
def _arrive_on(key, areas, until, ids, times, faces, weights):  # type: ignore
    used, room = 0, len(ids)
    for face in range(len(areas)):
        if areas[face] <= 0:
            continue
        own = combine(key, face)
        time, k = 0.0, 0
        while True:
            point = combine(own, k)
            time -= np.log(1.0 - unit_float(point)) / areas[face]
            if time > until:
                break
            if used < room:
                # Even over the triangle (Turk, "Generating Random Points in Triangles", Graphics Gems, 1990).
                root, v = np.sqrt(unit_float(combine(point, 1))), unit_float(combine(point, 2))
                weights[used, 0], weights[used, 1], weights[used, 2] = 1 - root, root * (1 - v), root * v
                ids[used], times[used], faces[used] = point, time, face
            used += 1
            k += 1
    return used


def arrivals_on(areas: np.ndarray, density: float, spacing: float, key: np.uint64) -> SurfacePoints:
    """Candidates that arrive on triangles, before any spacing.

    :param areas: float64 (M,), m². :param density: points per m² that are wanted after :func:`kept_apart`.
    """
    until = arrivals_for(density, spacing)
    expected = until * float(areas.sum())
    room = int(expected + 6 * np.sqrt(expected) + 64)
    while True:
        ids, times, faces = np.empty(room, np.uint64), np.empty(room), np.empty(room, np.int64)
        weights = np.empty((room, 3))
        used = _arrive_on(key, np.ascontiguousarray(areas, np.float64), until, ids, times, faces, weights)
        if used <= room:
            break
        room = used
    order = np.argsort(times[:used], kind="stable")
    return SurfacePoints(ids[order], times[order], faces[order], weights[order])


@njit(cache=True, nogil=True)
def _keep_apart(starts, others, kept):  # type: ignore
    for i in range(len(kept)):
        free = True
        for k in range(starts[i], starts[i + 1]):
            if kept[others[k]]:
                free = False
                break
        kept[i] = free


def kept_apart(positions: np.ndarray, spacing: float) -> np.ndarray:
    """Which of points in order of arrival are kept, each unless a kept one is nearer than the spacing: bool (N,).

    :param positions: float64 (N, 3), metres.
    """
    kept = np.ones(len(positions), np.bool_)
    if spacing <= 0 or len(positions) < 2:
        return kept
    pairs = cKDTree(positions).query_pairs(np.nextafter(spacing, 0), output_type="ndarray")
    # For each point the earlier ones that are near it.
    late, early = pairs.max(1), pairs.min(1)
    order = np.argsort(late, kind="stable")
    starts = np.searchsorted(late[order], np.arange(len(positions) + 1))
    kept[:] = False
    _keep_apart(starts, early[order], kept)
    return kept


def far_from(positions: np.ndarray, others: np.ndarray, distance: float) -> np.ndarray:
    """Which of points (N, D) are at least ``distance`` metres from all others (M, D): bool (N,)."""
    if not len(others) or not len(positions) or distance <= 0:
        return np.ones(len(positions), bool)
    away, _ = cKDTree(others).query(positions, distance_upper_bound=distance)
    return np.asarray(away >= distance)
