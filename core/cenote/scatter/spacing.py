"""Points with a guaranteed minimum distance, stable under change.

Candidates arrive over a notional time as a Poisson process whose randomness is counter-based, cell by cell. In order of
arrival each is kept unless a kept one lies nearer than the minimum distance: random sequential adsorption (Evans,
"Random and cooperative sequential adsorption", Rev. Mod. Phys. 65, 1993). A higher density only lets the process run
longer. What was kept before therefore stays: raising the density only adds points.

Where points shall be even, the distance that is kept is large at first and shrinks as they get denser, with the root of the
time, so that at every density they are as even as at any other (a progressive Poisson-disk pattern; McCool and Fiume,
"Hierarchical Poisson Disk Sampling Distributions", 1992).
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


# The squared distance that is kept times the candidates per m² that have arrived, at full evenness; and the farthest distance
# that evenness alone keeps, metres.
_EVENEST, _FARTHEST = 2.0, 3.0
# Of candidates that arrive while that product is constant, the share that is kept is constant, too. Measured likewise.
_EVEN = np.array([0, 0.05, 0.125, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0])
_TAKEN = np.array([1.0, 0.869, 0.736, 0.578, 0.416, 0.334, 0.276, 0.211, 0.168])


def distances(times: np.ndarray, spacing: float, evenness: float) -> np.ndarray:
    """How far candidates must be from what was kept before them, float64 (N,), metres.

    :param times: float64 (N,), when they arrive: candidates per m² until then. :param spacing: metres, at least this far.
    :param evenness: in [0, 1].
    """
    even = evenness**2 * _EVENEST
    return np.maximum(np.minimum(np.sqrt(even / np.maximum(times, 1e-12)), _FARTHEST), spacing)


def arrivals_for(density: float, spacing: float, evenness: float = 0.0) -> float:
    """How many candidates per m² must arrive for ``density`` points per m² to be kept, on average."""
    even = evenness**2 * _EVENEST
    if density <= 0 or even <= 0 or spacing >= _FARTHEST:
        return _adsorbed(max(0.0, density), spacing)
    taken = float(np.interp(even, _EVEN, _TAKEN))
    # At first all keep the farthest distance; then, as long as evenness asks for more than the spacing, the same share of
    # all that arrives is kept, and what was kept at first is soon forgotten; at last the spacing alone counts.
    begins = even / _FARTHEST**2
    first = float(np.interp(even, _ARRIVED, _KEPT)) / _FARTHEST**2
    if density <= first:
        return _adsorbed(density, _FARTHEST)
    if density * spacing**2 <= taken * even:
        more = (first - taken * begins) * begins
        return float(density + np.sqrt(max(density**2 - 4 * taken * more, 0.0))) / (2 * taken)
    return even / spacing**2 + _adsorbed(density, spacing) - _adsorbed(taken * even / spacing**2, spacing)


def _adsorbed(density: float, spacing: float) -> float:
    """As :func:`arrivals_for`, where the spacing alone counts."""
    if spacing <= 0:
        return density
    return float(np.interp(min(density * spacing**2, _KEPT[-1]), _KEPT, _ARRIVED) / spacing**2)


def left_free(density: float, larger: float, smaller: float) -> float:
    """The share of the plane that is at least half of both rooms away from all of some larger things.

    Scaled particle theory (Helfand, Frisch and Lebowitz, J. Chem. Phys. 34, 1961): how likely a disc of one diameter finds room
    among discs of another.

    :param density: of the larger ones, per m². :param larger, smaller: rooms, metres.
    :returns: in (0, 1].
    """
    if density <= 0 or larger <= 0:
        return 1.0
    filled = min(density * np.pi * larger**2 / 4, 0.9)
    ratio, open_ = smaller / larger, 1 - filled
    return float(open_ * np.exp(-2 * filled * ratio / open_ - filled * ratio**2 / open_**2))


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
def _keep(places, order, low_x, low_z, columns, rows, least, apart, kept):  # type: ignore
    """Keep points in order unless a kept one is nearer than ``apart`` of each says; one kept point a square whose diagonal is
    the least of these distances."""
    side = least / np.sqrt(2.0)
    grid = np.full((rows, columns), -1, np.int32)
    for index in order:
        x, z = places[index, 0], places[index, 1]
        i, j = int((x - low_x) / side), int((z - low_z) / side)
        free = grid[j, i] < 0
        limit, reach = apart[index] * apart[index], int(np.ceil(apart[index] / side))
        for b in range(max(0, j - reach), min(rows, j + reach + 1)):
            if not free:
                break
            for a in range(max(0, i - reach), min(columns, i + reach + 1)):
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
    evenness: float = 0.0,
) -> Points:
    """Fill a rectangle with points.

    :param low, high: corners of the rectangle (x, z), metres.
    :param density: wanted points per m²; what the spacing does not allow is not placed.
    :param spacing: minimum distance between any two points, metres; 0 for none.
    :param key: decides everything random.
    :param free: says of places (N, 2) which may be taken at all, bool (N,).
    :param evenness: in [0, 1], from as chance and the spacing have it to as even as can be.
    :returns: the points in order of arrival. For one key and spacing, those of a lower density come first.
    """
    until = arrivals_for(density, spacing, evenness)
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
    apart = distances(times, spacing, evenness)
    least = float(apart.min(initial=np.inf))
    if 0 < least < np.inf:
        side = least / np.sqrt(2)
        size = [int((high[a] - low[a]) / side) + 2 for a in (0, 1)]
        kept = np.zeros(len(times), np.bool_)
        _keep(places, order, low[0], low[1], size[0], size[1], least, apart, kept)
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


def arrivals_on(
    areas: np.ndarray, density: float, spacing: float, key: np.uint64, evenness: float = 0.0
) -> SurfacePoints:
    """Candidates that arrive on triangles, before any spacing.

    :param areas: float64 (M,), m². :param density: points per m² that are wanted after :func:`kept_apart`.
    :param spacing, evenness: as :func:`distances` takes them.
    """
    until = arrivals_for(density, spacing, evenness)
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


def kept_apart(positions: np.ndarray, apart: np.ndarray) -> np.ndarray:
    """Which of points in order of arrival are kept, each unless a kept one is nearer than it must be: bool (N,).

    :param positions: float64 (N, 3), metres. :param apart: float64 (N,), metres, each at most the one before.
    """
    kept = np.zeros(len(positions), np.bool_)
    first = 0
    # Some at a time, those whose distances are within a half of one another, so that few pairs need be looked at.
    while first < len(positions):
        beyond = int(np.searchsorted(-apart, -apart[first] / 1.5, "right"))
        some = np.arange(first, len(positions) if apart[first] <= 0 else max(beyond, first + 1))
        before = np.flatnonzero(kept[:first])
        if len(before):
            near, _ = cKDTree(positions[before]).query(positions[some], distance_upper_bound=apart[first])
            some = some[near >= apart[some]]
        free = np.ones(len(some), np.bool_)
        if apart[first] > 0 and len(some) > 1:
            pairs = cKDTree(positions[some]).query_pairs(np.nextafter(apart[first], 0), output_type="ndarray")
            # For each point the earlier ones that are near it.
            late, early = pairs.max(1), pairs.min(1)
            near = np.linalg.norm(positions[some[late]] - positions[some[early]], axis=1) < apart[some[late]]
            late, early = late[near], early[near]
            order = np.argsort(late, kind="stable")
            starts = np.searchsorted(late[order], np.arange(len(some) + 1))
            _keep_apart(starts, early[order], free)
        kept[some] = free
        first = (
            int(beyond) if apart[first] > 0 and beyond > first else len(positions) if apart[first] <= 0 else first + 1
        )
    return kept


def far_from(positions: np.ndarray, others: np.ndarray, distance: float) -> np.ndarray:
    """Which of points (N, D) are at least ``distance`` metres from all others (M, D): bool (N,)."""
    if not len(others) or not len(positions) or distance <= 0:
        return np.ones(len(positions), bool)
    away, _ = cKDTree(others).query(positions, distance_upper_bound=distance)
    return np.asarray(away >= distance)
