"""Cutting a mesh into flat charts and packing them: a texture layout for meshes that bring none.

A chart is a connected group of faces that all lean less than :data:`LEAN_DEGREES` away from the chart's plane, laid
flat on that plane at true scale. Linear in the number of faces, so that a dense scan takes as long as its size says.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
from numba import njit

from .borders import joining_shifts
from .mesh import Mesh, face_normals, welded

LEAN_DEGREES = 50.0
# Cells kept free around each chart, so that interpolation never reads a neighbour's.
GUTTER = 2
CELL_RANGE = (0.025, 3.2)
# Sides of the texture plane are whole multiples of this, so that it can be halved a few times exactly.
EVEN = 8


@dataclass(frozen=True)
class Atlas:
    """Where each face lies in the texture plane.

    :ivar cell: the side of one cell in metres.
    :ivar width, height: the size of the plane in cells.
    :ivar corners: float32 (M, 3, 2), position of each face's corners in cells, from the upper left.
    :ivar flat: float32 (M, 3, 2), position of each face's corners on its chart's plane in metres; materials use it. Charts side by side are moved
        there so that what is laid on them goes on from one to the next (:mod:`.borders`).
    :ivar charts: int32 (M,), the chart of each face.
    :ivar axes: float32 (C, 2, 3), the directions of increasing ``flat`` of each chart.
    """

    cell: float
    width: int
    height: int
    corners: np.ndarray
    flat: np.ndarray
    charts: np.ndarray
    axes: np.ndarray

    @property
    def corner(self) -> np.ndarray:
        """Where a layout of one chart begins on that chart's plane, float64 (2,), metres."""
        return np.asarray(self.flat[0, 0].astype(float) - self.corners[0, 0].astype(float) * self.cell)

    def uv(self) -> np.ndarray:
        """Texture coordinates in [0, 1] with v downwards (as in glTF), float32 (M, 3, 2)."""
        return (self.corners / np.array([self.width, self.height], np.float32)).astype(np.float32)


def _neighbours(mesh: Mesh) -> np.ndarray:
    """For each face the faces across its three edges, int32 (M, 3); -1 where an edge is open or shared by more."""
    place = welded(mesh.positions)[mesh.faces]
    edges = np.sort(np.stack([place, np.roll(place, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    keys = edges[:, 0] * (int(place.max()) + 1) + edges[:, 1]
    order = np.argsort(keys, kind="stable")
    sorted_keys = keys[order]
    starts = np.flatnonzero(np.r_[True, sorted_keys[1:] != sorted_keys[:-1]])
    sizes = np.diff(np.r_[starts, len(keys)])
    pairs = starts[sizes == 2]
    out = np.full(len(keys), -1, np.int32)
    a, b = order[pairs], order[pairs + 1]
    out[a], out[b] = b // 3, a // 3
    return out.reshape(-1, 3)


@njit(cache=True)
def _grow(normals, areas, parts, neighbours, order, cosine):  # type: ignore
    charts = np.full(len(normals), -1, np.int32)
    queue = np.empty(len(normals), np.int64)
    count = 0
    for seed in order:
        if charts[seed] >= 0:
            continue
        charts[seed] = count
        queue[0], head, tail = seed, 0, 1
        while head < tail:
            face = queue[head]
            head += 1
            for side in range(3):
                other = neighbours[face, side]
                if other < 0 or charts[other] >= 0 or parts[other] != parts[seed]:
                    continue
                na, nb = normals[other], normals[seed]
                if na[0] * nb[0] + na[1] * nb[1] + na[2] * nb[2] < cosine:
                    continue
                charts[other] = count
                queue[tail] = other
                tail += 1
        count += 1
    return charts, count


@njit(cache=True)
def _overlaps(flat, charts, origin, sizes, offsets, cell, spill, marks):  # type: ignore
    """Mark in ``spill`` the faces that would cover cell centres which an earlier face of their chart covers."""
    shrink = 1e-4
    for face in range(len(flat)):
        chart = charts[face]
        x0, y0, w, h = origin[chart, 0], origin[chart, 1], sizes[chart, 0], sizes[chart, 1]
        ax, ay = (flat[face, 0, 0] - x0) / cell, (flat[face, 0, 1] - y0) / cell
        bx, by = (flat[face, 1, 0] - x0) / cell, (flat[face, 1, 1] - y0) / cell
        cx, cy = (flat[face, 2, 0] - x0) / cell, (flat[face, 2, 1] - y0) / cell
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        if area <= 1e-9:
            continue
        for y in range(max(0, int(min(ay, by, cy))), min(h, int(max(ay, by, cy)) + 1)):
            for x in range(max(0, int(min(ax, bx, cx))), min(w, int(max(ax, bx, cx)) + 1)):
                px, py = x + 0.5, y + 0.5
                u = ((bx - px) * (cy - py) - (cx - px) * (by - py)) / area
                v = ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / area
                if u > shrink and v > shrink and 1 - u - v > shrink:
                    at = offsets[chart] + y * w + x
                    if marks[at]:
                        spill[face] = True
                    marks[at] = True


def _is_level(normals: np.ndarray) -> np.ndarray:
    return np.abs(normals[:, 1]) > 0.95


def _long_legs(seeds: np.ndarray) -> np.ndarray:
    """The longer leg of each triangle, float64 (C, 3): the middle one of its edges by length."""
    edges = np.roll(seeds, -1, axis=1) - seeds
    leg = np.argsort(np.linalg.norm(edges, axis=2), axis=1)[:, 1]
    return edges[np.arange(len(seeds)), leg]


def _tight_right(normals: np.ndarray, seeds: np.ndarray, corners: np.ndarray, charts: np.ndarray) -> np.ndarray:
    """For level charts the direction to the right that makes their rectangle smaller: along x, or along the longer leg
    of their first face.

    :param seeds: float64 (C, 3, 3), corners of each chart's first face. :returns: float64 (C, 3).
    """
    options = [np.tile([1.0, 0.0, 0.0], (len(seeds), 1)), _long_legs(seeds)]
    sizes = []
    for right in options:
        axes = _plane_axes(normals, right)
        flat = np.einsum("mck,mak->mca", corners, axes[charts].astype(np.float64))
        low, high = np.full((len(seeds), 2), np.inf), np.full((len(seeds), 2), -np.inf)
        np.minimum.at(low, charts, flat.min(1))
        np.maximum.at(high, charts, flat.max(1))
        sizes.append((high - low).prod(1))
    return np.where((sizes[0] <= sizes[1])[:, None], options[0], options[1])


def _plane_axes(normals: np.ndarray, given: np.ndarray, free: np.ndarray | None = None) -> np.ndarray:
    """Right and down directions of planes seen from outside, float32 (C, 2, 3).

    On leaning planes down follows gravity, so that courses lie level; on level ones the direction to the right is given.

    :param normals, given: float64 (C, 3). :param free: bool (C,), leaning planes too whose right is given.
    """
    chosen = _is_level(normals) if free is None else _is_level(normals) | free
    right = np.cross([0.0, 1.0, 0.0], normals)
    right[chosen] = given[chosen]
    right /= np.maximum(np.linalg.norm(right, axis=1), 1e-12)[:, None]
    down = -np.cross(normals, right)
    return np.stack([right, down / np.linalg.norm(down, axis=1)[:, None]], axis=1).astype(np.float32)


def _pack(sizes: np.ndarray) -> tuple[np.ndarray, int, int]:
    """Lay rectangles on shelves, tallest first.

    :param sizes: int (C, 2), width and height in cells with their gutters.
    :returns: upper left corners int64 (C, 2), and the width and height used.
    """
    width = int(max(sizes[:, 0].max(), np.ceil(np.sqrt((sizes[:, 0] * sizes[:, 1]).sum() * 1.1))))
    corners = np.zeros_like(sizes)
    x = y = shelf = 0
    for chart in np.lexsort((-sizes[:, 0], -sizes[:, 1])):
        w, h = sizes[chart]
        if x + w > width:
            x, y, shelf = 0, y + shelf, 0
        corners[chart] = x, y
        x, shelf = x + w, max(shelf, h)
    return corners, width, y + shelf


def cell_for(area: float, cells: int = 110_000) -> float:
    """The side of a cell in metres, of 2.5, 5, 10 … cm, at which a surface of ``area`` m² takes at least ``cells`` cells.

    Small surfaces take fewer: no cell is smaller than 2.5 cm.
    """
    exact = np.sqrt(max(area, 1e-6) / cells)
    step = CELL_RANGE[0] * 2 ** np.floor(np.log2(exact / CELL_RANGE[0]))
    return float(np.clip(step, *CELL_RANGE))


def from_above(mesh: Mesh, cell: float, low: np.ndarray, high: np.ndarray) -> Atlas:
    """One chart seen straight from above, for ground: its layout stays the same however its heights change.

    :param low, high: float (2,), the corners of what is laid out along x and z, metres.
    """
    flat = mesh.corners[:, :, [0, 2]].astype(np.float64)
    sizes = np.maximum(1, np.ceil((high - low) / cell - 1e-6)).astype(np.int64)
    width, height = (-(-int(side + 2 * GUTTER) // EVEN) * EVEN for side in sizes)
    margin = (sizes * cell - (high - low)) / 2
    at = (flat - low + margin) / cell + GUTTER
    axes = np.array([[[1, 0, 0], [0, 0, 1]]], np.float32)
    charts = np.zeros(len(mesh.faces), np.int32)
    return Atlas(cell, width, height, at.astype(np.float32), flat.astype(np.float32), charts, axes)


def charted(mesh: Mesh, cell: float, grained: Collection[str] = ()) -> Atlas:
    """Cut and pack a mesh.

    :param mesh: as :func:`..mesh.checked` returns it.
    :param cell: the side of a cell in metres, above 0.
    :param grained: names of parts whose texture runs along each piece, as the grain of a board does, and not level.
    """
    corners = mesh.corners.astype(np.float64)
    normals, areas = face_normals(corners)
    order = np.argsort(-areas, kind="stable")
    neighbours = _neighbours(mesh)
    charts, count = _grow(normals, areas, mesh.parts, neighbours, order, np.float32(np.cos(np.radians(LEAN_DEGREES))))
    seeds = order[np.sort(np.unique(charts[order], return_index=True)[1])]
    planes = normals[seeds].astype(np.float64)
    rights = _tight_right(planes, corners[seeds], corners, charts)
    free = np.isin(mesh.parts[seeds], [row for row, name in enumerate(mesh.part_names) if name in grained])
    rights[free] = _long_legs(corners[seeds])[free]
    while True:
        axes = _plane_axes(planes, rights, free)
        flat = np.einsum("mck,mak->mca", corners, axes[charts].astype(np.float64))
        low, high = np.full((count, 2), np.inf), np.full((count, 2), -np.inf)
        np.minimum.at(low, charts, flat.min(1))
        np.maximum.at(high, charts, flat.max(1))
        sizes = np.maximum(1, np.ceil((high - low) / cell - 1e-6)).astype(np.int64)
        offsets = np.concatenate([[0], np.cumsum(sizes[:, 0] * sizes[:, 1])])
        spill = np.zeros(len(charts), np.bool_)
        # The plane is seen from outside with y downwards, so the winding on it is clockwise: swap two corners.
        _overlaps(flat[:, ::-1], charts, low, sizes, offsets[:-1], cell, spill, np.zeros(offsets[-1], np.bool_))
        if not spill.any():
            break
        # What folds over its own chart gets a chart of its own, on the same plane.
        used, fresh = np.unique(charts[spill], return_inverse=True)
        charts[spill] = count + fresh.astype(np.int32)
        planes, rights = np.concatenate([planes, planes[used]]), np.concatenate([rights, rights[used]])
        free = np.concatenate([free, free[used]])
        count += len(used)
    places, width, height = _pack(sizes + 2 * GUTTER)
    width, height = -(-width // EVEN) * EVEN, -(-height // EVEN) * EVEN
    # Charts sit in the middle of their whole-number rectangle.
    margin = (sizes * cell - (high - low)) / 2
    at = (flat - low[charts][:, None] + margin[charts][:, None]) / cell + GUTTER + places[charts][:, None]
    flat += joining_shifts(flat, charts, axes[:, 1].astype(np.float64), neighbours)[charts][:, None]
    return Atlas(cell, width, height, at.astype(np.float32), flat.astype(np.float32), charts, axes)
