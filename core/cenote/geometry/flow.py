"""Water that runs over surfaces: traced down them, over their edges, and dripping onto what lies below."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, fields, replace
from itertools import pairwise

import numpy as np
from numba import njit

from ..parallel import over_rows
from .mesh import face_normals
from .plan import cell_of
from .rays import RayScene

# Metres: how far from a surface water is held while it is traced.
_HOVER = 4e-3
# A surface whose normal points down more steeply than this lets go of its water.
_LETS_GO = -0.25
_MOST_STEPS = 1500
# What has not come down by this share of its way within so many steps has come to rest.
_PATIENCE, _REST = 24, 0.002
# Metres: what drips this near to something steep clings to it. Steps that water creeps over what is level, in search of an edge.
_CLINGS, _CREEPS = 0.08, 8
# Points that are spread over surfaces at a time.
_POINTS = 250_000


@dataclass(frozen=True)
class Trails:
    """A step of water over surfaces, of all drops that are still on their way.

    :ivar places: float32 (S, 3), the middle of each step, metres. :ivar normals: float32 (S, 3), of the surface there.
    :ivar flows: float32 (S,), what each step brings past, m² of rained-on plan times metres of way.
    :ivar drops: int32 (S,), which drop it is; in a valley a drop has a row for either face.
    :ivar ends: int32 (S,), the triangle that it lies on after the step.
    """

    places: np.ndarray
    normals: np.ndarray
    flows: np.ndarray
    drops: np.ndarray
    ends: np.ndarray

    def only(self, some: np.ndarray) -> Trails:
        """Some of its rows, ``some`` bool (S,)."""
        return Trails(*(getattr(self, field.name)[some] for field in fields(self)))


def rained_on(rays: RayScene, low: np.ndarray, high: np.ndarray, most: int) -> tuple[np.ndarray, np.ndarray, float]:
    """Where rain that falls straight down meets a scene.

    :param low, high: the box that it falls over, float (3,), metres. :param most: about how many drops fall.
    :returns: places float32 (N, 3); triangles int32 (N,); the side of the square of plan that each stands for, metres.
    """
    cell = cell_of(low, high, 0.04, most)
    columns, rows = (max(1, int(np.ceil((high[axis] - low[axis]) / cell))) for axis in (0, 2))
    i, j = np.meshgrid(np.arange(columns), np.arange(rows))
    # A lattice that is shifted from row to row leaves no lines between its rows.
    x = low[0] + (i + (0.5 + j * 0.618) % 1) * cell
    z = low[2] + (j + 0.5) * cell
    hit, heights = rays.from_above(x.ravel(), z.ravel(), float(high[1]) + 1)
    met = hit >= 0
    places = np.column_stack([x.ravel()[met], heights[met], z.ravel()[met]]).astype(np.float32)
    return places, hit[met], cell


def traced(rays: RayScene, normals: np.ndarray, places: np.ndarray, faces: np.ndarray, cell: float,
           within: tuple[np.ndarray, np.ndarray] | None = None) -> Iterator[Trails]:  # fmt: skip
    """Follow water down from where rain met the surfaces, all of it one step at a time.

    On a face water runs the way that is steepest. On a level one each drop creeps some way of its own, over an edge if there is
    one near. Where that leads into the face that it has come from, and from there back
    into this one, it lies in a valley and runs down the line in which the two faces meet: the steepest way that leads
    into neither. What drips off a ledge clings to a wall close behind it.

    :param normals: unit float32 (M, 3), of the triangles of ``rays``.
    :param places, faces, cell: as :func:`rained_on` gives them.
    :param within: the box, each corner float (3,), metres, beyond whose sides water is not followed; None for all of the scene.
    """
    step = max(0.05, 0.6 * cell)
    p, n = places.astype(np.float32), normals[faces]
    # The face that each has come from; its own where it came from none.
    other = n.copy()
    drops = np.arange(len(p), dtype=np.int32)
    on, turns = faces.astype(np.int32), np.zeros(len(p))
    best, since = p[:, 1].copy(), np.zeros(len(p), np.int32)
    amount = np.float32(cell * cell)
    for _ in range(_MOST_STEPS):
        if not len(p):
            break
        downhill, creased = _downhill(n, other)
        steep = np.linalg.norm(downhill, axis=1)
        falls = n[:, 1] < _LETS_GO
        level = (steep <= 1e-3) & (n[:, 1] > 0.9)
        runs = ((steep > 1e-3) | level) & ~falls
        lower = p[:, 1] < best - _REST * step
        tired = np.where(level, _PATIENCE // _CREEPS, 1)
        best, since = np.where(lower, p[:, 1], best), np.where(lower, 0, since + tired)
        alive = (runs | falls) & (since < _PATIENCE)
        if within is not None:
            alive &= ((p[:, ::2] >= within[0][::2]) & (p[:, ::2] <= within[1][::2])).all(1)
        p, n, other, drops, on, turns, best, since, downhill, creased, steep, falls, level = (
            v[alive] for v in (p, n, other, drops, on, turns, best, since, downhill, creased, steep, falls, level)
        )
        if not len(p):
            break
        creeps = 2 * np.pi * (drops * 0.6180339887 % 1) + turns
        aside = np.column_stack([np.cos(creeps), np.zeros(len(p)), np.sin(creeps)])
        way = np.where(level[:, None], aside, downhill / np.maximum(steep, 1e-6)[:, None]).astype(np.float32)
        # Over the bed of a valley both faces are below.
        up = np.where(creased[:, None], _unit(n + other), n)
        start = p + up * np.float32(_HOVER)
        hit = np.full(len(p), -1, np.int32)
        there = start.copy()

        def look(rows: np.ndarray, origins: np.ndarray, ways: np.ndarray, reach: float,
                 hit: np.ndarray = hit, there: np.ndarray = there) -> None:  # fmt: skip
            found, far = rays.hits(origins, ways, reach)
            met = found >= 0
            hit[rows[met]] = found[met]
            there[rows[met]] = origins[met] + ways[met] * far[met, None]

        def still(hit: np.ndarray = hit, falls: np.ndarray = falls) -> np.ndarray:
            return np.flatnonzero((hit < 0) & ~falls)

        # Straight on, against whatever stands in the way; else down onto the same surface as it goes on.
        rows = still()
        look(rows, start[rows], way[rows], step)
        # What creeps against something turns round.
        back = level & (hit >= 0)
        hit[back], there[back] = on[back], p[back]
        turns = turns + np.pi * back
        rows = still()
        ahead = start + way * np.float32(step)
        look(rows, ahead[rows], -up[rows], step + 2 * _HOVER)
        # Over an edge: back onto the side that begins there.
        rows = still()
        below = ahead - up * np.float32(2 * _HOVER + 0.25 * step)
        look(rows, below[rows], -way[rows], 1.5 * step)
        # Where it would drip, it clings to what is steep and close behind.
        rows = np.flatnonzero(hit < 0)
        drips = np.where(falls[:, None], start, ahead)
        behind = np.where(falls, -1.0, 0.0)[:, None] * other - np.where(falls, 0.0, 1.0)[:, None] * way
        behind = _unit(behind * np.array([1, 0, 1])).astype(np.float32)
        under = np.array([0, -2.5 * _HOVER, 0], np.float32)
        found, far = rays.hits(drips[rows] + under, behind[rows], _CLINGS)
        clings = (found >= 0) & (np.abs(normals[found][:, 1]) < 0.5)
        some = rows[clings]
        hit[some] = found[clings]
        there[some] = drips[some] + under + behind[some] * far[clings, None]
        passed = hit >= 0
        # Else it drips.
        rows = np.flatnonzero(hit < 0)
        look(rows, drips[rows], np.broadcast_to(np.array([0, -1, 0], np.float32), (len(rows), 3)).copy(), np.inf)
        went = hit >= 0
        flow = np.linalg.norm(there - p, axis=1) * amount
        # Both faces of a valley carry half of what runs between them.
        flow[creased] /= 2
        flow[level] = 0
        # A drop that lands wets a step's length about it, even where it then stays.
        lands = went & ~passed
        flow[lands] = step * amount
        places = np.where(lands[:, None], there, (p + there) / 2)
        sides = np.where(lands[:, None], normals[hit], n)
        one = Trails(places, sides, flow, drops, hit.astype(np.int32))
        two = passed & creased
        both = (one.only(went), replace(one, normals=other).only(two))
        yield Trails(*(np.concatenate([getattr(part, field.name) for part in both]) for field in fields(one)))
        came, met = n, normals[hit]
        # In a valley the face that it does not lie on now is the other one still.
        nearer = (met * other).sum(1) > (met * n).sum(1)
        came = np.where((creased & ~nearer)[:, None], other, n)
        came[~passed] = met[~passed]
        p, n, other, drops, on, turns = (
            there[went],
            met[went],
            came[went],
            drops[went],
            hit[went].astype(np.int32),
            turns[went],
        )
        best, since = best[went], since[went]


def passed_over(trails: Iterable[Trails], faces: np.ndarray, counts: np.ndarray) -> Iterator[Trails]:
    """What of some trails is left by water that has passed over certain triangles, from there on.

    :param faces: int (N,), the triangles that the drops fell on. :param counts: bool (M,), the triangles that count.
    """
    counting = counts[faces]
    for step in trails:
        yield step.only(counting[step.drops])
        counting[step.drops] |= counts[step.ends]


def _unit(vectors: np.ndarray) -> np.ndarray:
    return vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-6)


def _downhill(n: np.ndarray, other: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The steepest ways down, as long as they are steep, that lead into neither of two faces.

    :param n: unit normals of the faces that water lies on, float32 (N, 3). :param other: of those that it came from.
    :returns: ways, float32 (N, 3); whether they lie in the line where both faces meet, bool (N,).
    """
    down = np.array([0, -1, 0], np.float32)
    own, back = (down - face * face[:, 1:2] * down[1] for face in (n, other))
    into = ((own * other).sum(1) < -1e-4) & ((back * n).sum(1) < -1e-4)
    line = np.cross(n, other)
    length = np.linalg.norm(line, axis=1)
    creased = into & (length > 1e-4)
    line = line / np.maximum(length, 1e-6)[:, None]
    return np.where(creased[:, None], line * (line @ down)[:, None], own).astype(np.float32), creased


@njit(cache=True, nogil=True)
def _slot(keys, key, adds):  # type: ignore
    """Where a key stands in an open table, or -1."""
    mask = len(keys) - 1
    at = (key * 0x9E3779B97F4A7C1) >> 20 & mask
    while True:
        if keys[at] == key:
            return at
        if keys[at] == -1:
            if not adds:
                return -1
            keys[at] = key
            return at
        at = (at + 1) & mask


@njit(inline="always", cache=True)
def _node(x, y, z):  # type: ignore
    """The key of a node by its place in the grid."""
    return (x & 0x1FFFFF) | ((y & 0x1FFFFF) << 21) | ((z & 0x1FFFFF) << 42)


@njit(cache=True, nogil=True)
def _add_nodes(keys, used, places, low, cell, first):  # type: ignore
    """Put the nodes round places into a table, from one place on, until it is half full.

    :returns: the place to go on from, and how many nodes there are.
    """
    last = np.int64(-1)
    for i in range(first, len(places)):
        if used + 8 > len(keys) // 2:
            return i, used
        x = int(np.floor((places[i, 0] - low[0]) / cell))
        y = int(np.floor((places[i, 1] - low[1]) / cell))
        z = int(np.floor((places[i, 2] - low[2]) / cell))
        # Places of one triangle often lie in the cell of the one before.
        here = _node(x, y, z)
        if here == last:
            continue
        last = here
        for corner in range(8):
            key = _node(x + (corner & 1), y + ((corner >> 1) & 1), z + (corner >> 2))
            if _slot(keys, key, False) < 0:
                _slot(keys, key, True)
                used += 1
    return len(places), used


@njit(cache=True, nogil=True)
def _doubled(keys):  # type: ignore
    """The same nodes in a table of twice the size."""
    out = np.full(2 * len(keys), -1, np.int64)
    for k in range(len(keys)):
        if keys[k] != -1:
            _slot(out, keys[k], True)
    return out


def _with_nodes_round(keys: np.ndarray, used: int, places: np.ndarray, low: np.ndarray, cell: float) -> tuple[np.ndarray, int]:  # fmt: skip
    """A table with the nodes round places added, as large as they need; how many nodes it holds."""
    done = 0
    while True:
        done, used = _add_nodes(keys, used, places, low, cell, done)
        if done == len(places):
            return keys, used
        keys = _doubled(keys)


@njit(cache=True, nogil=True)
def _splat(keys, sums, places, normals, amounts, low, cell):  # type: ignore
    """Add amounts to the eight nodes round each place, parted by which way the surface looks; those that are not in the
    table get nothing."""
    last = np.int64(-1)
    slots = np.empty(8, np.int64)
    for i in range(len(places)):
        gx, gy, gz = (places[i, 0] - low[0]) / cell, (places[i, 1] - low[1]) / cell, (places[i, 2] - low[2]) / cell
        x, y, z = int(np.floor(gx)), int(np.floor(gy)), int(np.floor(gz))
        fx, fy, fz = gx - x, gy - y, gz - z
        here = _node(x, y, z)
        if here != last:
            last = here
            for corner in range(8):
                slots[corner] = _slot(keys, _node(x + (corner & 1), y + ((corner >> 1) & 1), z + (corner >> 2)), False)
        for corner in range(8):
            a, b, c = corner & 1, (corner >> 1) & 1, corner >> 2
            share = (fx if a else 1 - fx) * (fy if b else 1 - fy) * (fz if c else 1 - fz)
            slot = slots[corner]
            if share <= 0 or slot < 0:
                continue
            for axis in range(3):
                n = normals[i, axis]
                sums[slot, 2 * axis + (1 if n < 0 else 0)] += share * n * n * amounts[i]


@njit(cache=True, nogil=True)
def _read(keys, flows, areas, places, normals, low, cell, out, first, beyond):  # type: ignore
    for i in range(first, beyond):
        gx, gy, gz = (places[i, 0] - low[0]) / cell, (places[i, 1] - low[1]) / cell, (places[i, 2] - low[2]) / cell
        x, y, z = int(np.floor(gx)), int(np.floor(gy)), int(np.floor(gz))
        fx, fy, fz = gx - x, gy - y, gz - z
        flow, area = 0.0, 0.0
        for corner in range(8):
            a, b, c = corner & 1, (corner >> 1) & 1, corner >> 2
            share = (fx if a else 1 - fx) * (fy if b else 1 - fy) * (fz if c else 1 - fz)
            slot = _slot(keys, _node(x + a, y + b, z + c), False)
            if slot < 0:
                continue
            for axis in range(3):
                n = normals[i, axis]
                side = 2 * axis + (1 if n < 0 else 0)
                flow += share * n * n * flows[slot, side]
                area += share * n * n * areas[slot, side]
        out[i] = flow / area if area > 1e-9 else 0.0


class FlowNodes:
    """Nodes a few centimetres apart about surfaces, and how much surface each stands for.

    Nodes keep apart the six ways that a surface may look (weights by the squares of a normal's coordinates, which sum to
    one), so that the two sides of a thin wall do not mix.

    :param corners: float32 (M, 3, 3), the surfaces. :param cell: distance of nodes, metres.
    """

    def __init__(self, corners: np.ndarray, cell: float) -> None:
        self.cell = cell
        flat = corners.reshape(-1, 3)
        self.low = flat.min(0).astype(np.float64) - 2 * cell if len(flat) else np.zeros(3)
        self.keys, used = np.full(1 << 12, -1, np.int64), 0
        # Some at a time: what it takes follows the area of surfaces, not how finely they are divided.
        parts = _batches(corners, cell / 2)
        for part in parts:
            self.keys, used = _with_nodes_round(self.keys, used, _spread(corners[part], cell / 2)[0], self.low, cell)
        self.areas = np.zeros((len(self.keys), 6), np.float32)
        for part in parts:
            _splat(self.keys, self.areas, *_spread(corners[part], cell / 2), self.low, cell)


class FlowField:
    """How much water passes each place of surfaces, averaged over nodes a few centimetres apart.

    :param trails: what passes; each is let go of once it is added. :param nodes: of the surfaces.
    """

    def __init__(self, trails: Iterable[Trails], nodes: FlowNodes) -> None:
        self._nodes = nodes
        self._flows = np.zeros_like(nodes.areas)
        for some in trails:
            places, normals, flows = (
                np.ascontiguousarray(one, np.float32) for one in (some.places, some.normals, some.flows)
            )
            _splat(nodes.keys, self._flows, places, normals, flows, nodes.low, nodes.cell)

    def at(self, positions: np.ndarray, normals: np.ndarray) -> np.ndarray:
        """What drains past each metre of width at points, in m² of rained-on plan: float32 (N,), metres."""
        out = np.zeros(len(positions), np.float32)
        nodes = self._nodes
        given = (nodes.keys, self._flows, nodes.areas, positions, normals, nodes.low, nodes.cell, out)
        over_rows(lambda first, beyond: _read(*given, first, beyond), len(positions), least=4096)
        return out


@njit(cache=True, nogil=True)
def _scatter_over(corners, steps, starts, places):  # type: ignore
    for i in range(len(corners)):
        s, at = steps[i], starts[i]
        a, b, c = corners[i, 0], corners[i, 1], corners[i, 2]
        for j in range(s):
            for k in range(2 * j + 1):
                # Middles of the s² small triangles that an even division gives.
                up = k % 2 == 0
                v = (k // 2 + (1 / 3 if up else 2 / 3)) / s
                w = (j - k // 2 - (0 if up else 1) + (1 / 3 if up else 2 / 3)) / s
                u = 1 - v - w
                for axis in range(3):
                    places[at, axis] = u * a[axis] + v * b[axis] + w * c[axis]
                at += 1


def _divisions(corners: np.ndarray, apart: float) -> np.ndarray:
    """Into how many parts each side of triangles is divided so that points lie at most ``apart`` metres apart: int64 (N,)."""
    longest = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(1) if len(corners) else np.zeros(0)
    return np.clip(np.ceil(longest / apart), 1, 2000).astype(np.int64)


def _batches(corners: np.ndarray, apart: float) -> list[slice]:
    """Triangles in runs over which about so many points are spread as :data:`_POINTS` says."""
    counts = np.concatenate([_divisions(corners[k : k + _POINTS], apart) ** 2 for k in range(0, len(corners), _POINTS)]
                            or [np.zeros(0, np.int64)])  # fmt: skip
    bounds = np.searchsorted(np.cumsum(counts), np.arange(0, counts.sum(), _POINTS))
    edges = [*dict.fromkeys(bounds.tolist()), len(corners)]
    return [slice(a, b) for a, b in pairwise(edges) if b > a]


def _spread(corners: np.ndarray, apart: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Points spread over triangles: places and normals float32 (N, 3), and the area that each stands for, float32 (N,)."""
    normals, areas = face_normals(corners)
    steps = _divisions(corners, apart)
    counts = steps**2
    starts = np.concatenate([[0], np.cumsum(counts)])
    places = np.empty((int(starts[-1]), 3), np.float32)
    _scatter_over(corners, steps, starts[:-1], places)
    return (
        places,
        np.repeat(normals, counts, axis=0).astype(np.float32),
        np.repeat(areas / counts, counts).astype(np.float32),
    )
