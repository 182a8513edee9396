"""Spots: where items might stand for their spacing's sake, before any rule is asked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..geometry.mesh import face_normals
from ..geometry.rays import RayScene
from ..randomness import key_of
from .layer import Scatter
from .spacing import arrivals_on, distances, far_from, greatest_density, kept_apart, left_free, spaced_points


class FillSurface:
    """A surface that items can stand on.

    :param corners: float32 (M, 3, 3), its triangles, metres.
    :param normals: float32 (M, 3, 3), shading normals at their corners.
    :param id: the object's id. :param parts: int16 (M,), the part of each triangle. :param part_names: their names.
    """

    def __init__(
        self,
        corners: np.ndarray,
        normals: np.ndarray,
        id: str = "ground",
        parts: np.ndarray | None = None,
        part_names: tuple[str, ...] = (),
    ) -> None:
        self.corners, self.normals, self.id = corners, normals, id
        self.parts, self.part_names = parts, part_names
        self._rays = RayScene(corners)
        self._flat, self._areas = face_normals(corners)
        flat = corners.reshape(-1, 3)
        self.low, self.high = flat.min(0).astype(float), flat.max(0).astype(float)

    @property
    def areas(self) -> np.ndarray:
        """Area of each triangle, float64 (M,), m²."""
        return np.asarray(self._areas, np.float64)

    def drop(self, places: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Find where plan positions (N, 2) meet the surface from above.

        :returns: which of them do, int64 (K,); their faces int64 (K,); barycentric coordinates float64 (K, 3);
            positions float64 (K, 3); unit normals float32 (K, 3).
        """
        faces, _ = self._rays.from_above(places[:, 0], places[:, 1], float(self.high[1]) + 1)
        rows = np.flatnonzero(faces >= 0)
        faces = faces[rows].astype(np.int64)
        a, b, c = (self.corners[faces, k].astype(np.float64) for k in range(3))
        p = places[rows]
        area = (b[:, 0] - a[:, 0]) * (c[:, 2] - a[:, 2]) - (c[:, 0] - a[:, 0]) * (b[:, 2] - a[:, 2])
        rows, faces, p, a, b, c, area = (v[np.abs(area) > 1e-12] for v in (rows, faces, p, a, b, c, area))
        u = ((b[:, 0] - p[:, 0]) * (c[:, 2] - p[:, 1]) - (c[:, 0] - p[:, 0]) * (b[:, 2] - p[:, 1])) / area
        v = ((c[:, 0] - p[:, 0]) * (a[:, 2] - p[:, 1]) - (a[:, 0] - p[:, 0]) * (c[:, 2] - p[:, 1])) / area
        weights = np.column_stack([u, v, 1 - u - v])
        heights = (weights * self.corners[faces, :, 1]).sum(1)
        return rows, faces, weights, np.column_stack([p[:, 0], heights, p[:, 1]]), self.normals_at(faces, weights)

    def normals_at(self, faces: np.ndarray, weights: np.ndarray) -> np.ndarray:
        """Shading normals at faces (N,) and barycentric coordinates (N, 3): unit float32 (N, 3)."""
        normals = np.einsum("nk,nki->ni", weights, self.normals[faces])
        normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-9)[:, None]
        return normals.astype(np.float32)


@dataclass(frozen=True)
class Spots:
    """Places on surfaces where the spacing lets items stand.

    :ivar ids: uint64 (N,), each spot's own number for ever. :ivar groups: int8 (N,), row of :func:`size_groups`.
    :ivar surfaces: int16 (N,), row of the layer's surfaces. :ivar faces: int64 (N,), of that surface.
    :ivar weights: float64 (N, 3), barycentric coordinates. :ivar positions: float64 (N, 3), metres.
    :ivar normals: unit float32 (N, 3).
    """

    ids: np.ndarray
    groups: np.ndarray
    surfaces: np.ndarray
    faces: np.ndarray
    weights: np.ndarray
    positions: np.ndarray
    normals: np.ndarray
    _plots: list[Plots] = field(default_factory=list)

    def __len__(self) -> int:
        return len(self.ids)

    def only(self, rows: np.ndarray) -> Spots:
        """Some of them: int (K,) or bool (N,), ``rows``."""
        columns = ("ids", "groups", "surfaces", "faces", "weights", "positions", "normals")
        return Spots(**{name: getattr(self, name)[rows] for name in columns})

    @property
    def plots(self) -> Plots:
        """Spots parted into square plots of the plan; worked out once."""
        if not self._plots:
            self._plots.append(_in_plots(self.positions))
        return self._plots[0]

    def of_plot(self, row: int) -> Spots:
        """The spots of one plot."""
        plots = self.plots
        return self.only(plots.order[plots.first[row] : plots.first[row + 1]])


@dataclass(frozen=True)
class Plots:
    """Square plots of the plan that have spots.

    :ivar side: metres. :ivar index: int64 (T, 2), along x and z. :ivar order: int64 (N,), spots in the plots' order.
    :ivar first: int64 (T + 1,), where each plot begins in that order. :ivar low, high: float64 (T, 3), boxes about spots.
    """

    side: float
    index: np.ndarray
    order: np.ndarray
    first: np.ndarray
    low: np.ndarray
    high: np.ndarray


def _in_plots(positions: np.ndarray) -> Plots:
    """Plots of some thousand spots each, a few hundred of them where there are many."""
    if not len(positions):
        return Plots(8.0, np.zeros((0, 2), int), np.zeros(0, int), np.zeros(1, int), np.zeros((0, 3)), np.zeros((0, 3)))
    extent = float(np.ptp(positions[:, [0, 2]], axis=0).max())
    side = max(8.0, 2.0 ** np.ceil(np.log2(max(extent, 1) / 24)))
    at = np.floor(positions[:, [0, 2]] / side).astype(np.int64) + (1 << 20)
    flat = at[:, 0] << 21 | at[:, 1]
    order = np.argsort(flat, kind="stable")
    keys, first = np.unique(flat[order], return_index=True)
    index = np.column_stack([keys >> 21, keys & ((1 << 21) - 1)]) - (1 << 20)
    sorted_ = positions[order]
    low, high = np.minimum.reduceat(sorted_, first), np.maximum.reduceat(sorted_, first)
    return Plots(side, index, order, np.append(first, len(order)), low, high)


def size_groups(layer: Scatter) -> list[tuple[float, np.ndarray]]:
    """The layer's mix by the room that items keep, largest first: that room in metres, and rows of the mix, int (K,)."""
    rooms, shares = layer.rooms(), np.array([entry.share for entry in layer.mix])
    return [(float(room), np.flatnonzero((rooms == room) & (shares > 0)))
            for room in np.unique(rooms)[::-1] if ((rooms == room) & (shares > 0)).any()]  # fmt: skip


def spots_of(layer: Scatter, surfaces: Sequence[FillSurface]) -> Spots:
    """Where a layer's items might stand.

    Items that keep as much room as each other arrive in one process, larger ones before smaller ones; smaller ones stay
    half of both rooms away from larger ones, and arrive the more densely for it in what is left. So a higher density only
    adds items, but for smaller ones where a larger one was added.
    """
    found: list[Spots] = []
    for group, (room, dense) in enumerate(_densities(layer, layer.density)):
        name = [] if room == layer.spacing else [f"{room:g}"]
        larger = [(spots.positions, (room + before) / 2)
                  for spots, (before, _) in zip(found, size_groups(layer), strict=False)]  # fmt: skip
        make = _from_above if layer.sides == "from above" else _on_all_sides
        found.append(make(layer, surfaces, dense, room, group, name, larger))
    return _together(found)


def _densities(layer: Scatter, density: float) -> list[tuple[float, float]]:
    """For each of :func:`size_groups` its room, and how densely it must arrive, per m² of what larger ones leave free, so that
    all come in their shares of a density."""
    shares = np.array([entry.share for entry in layer.mix])
    # Of each larger group its room, how densely it stands where it may, and the share of the plane where it may.
    larger, out = list[tuple[float, float, float]](), list[tuple[float, float]]()
    for room, rows in size_groups(layer):
        wanted = density * float(shares[rows].sum() / shares.sum())
        free = 1.0
        for before, stands, may in larger:
            # Where the larger ones may not stand themselves, still larger ones keep them off, not it.
            free = max(free - may, 0) + min(may, free) * left_free(stands, before, room)
        dense = wanted / max(free, 1e-6)
        out.append((room, dense))
        larger.append((room, min(dense, greatest_density(room)), free))
    return out


def densest(layer: Scatter) -> float:
    """The most items per m² that the layer's spacing and rooms allow in the shares of its mix; infinite where it asks for
    none."""
    if all(room <= 0 for room, _ in size_groups(layer)):
        return np.inf

    def fits(density: float) -> bool:
        return all(dense <= greatest_density(room) * (1 + 1e-9) for room, dense in _densities(layer, density))

    low, high = 0.0, 1.0
    while fits(high) and high < 1e7:
        low, high = high, 2 * high
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    return low


def _together(found: Sequence[Spots]) -> Spots:
    empty = Spots(np.zeros(0, np.uint64), np.zeros(0, np.int8), np.zeros(0, np.int16), np.zeros(0, np.int64),
                  np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 3), np.float32))  # fmt: skip
    if len(found) == 1:
        return found[0]
    columns = ("ids", "groups", "surfaces", "faces", "weights", "positions", "normals")
    joined: dict[str, Any] = {name: np.concatenate([getattr(one, name) for one in (empty, *found)]) for name in columns}
    return Spots(**joined)


def _from_above(
    layer: Scatter, surfaces: Sequence[FillSurface], density: float, room: float, group: int, name: list[str],
    larger: list[tuple[np.ndarray, float]],
) -> Spots:  # fmt: skip
    if not surfaces:
        return _together([])
    low = np.min([surface.low for surface in surfaces], axis=0)
    high = np.max([surface.high for surface in surfaces], axis=0)

    def free(places: np.ndarray) -> np.ndarray:
        may = np.ones(len(places), bool)
        for positions, distance in larger:
            may &= far_from(places, positions[:, [0, 2]], distance)
        return may

    points = spaced_points(
        (low[0], low[2]), (high[0], high[2]), density, room, key_of("scatter", layer.id, layer.seed, *name),
        free if larger else None, layer.evenness / 100,
    )  # fmt: skip
    out = []
    for row, surface in enumerate(surfaces):
        rows, faces, weights, positions, normals = surface.drop(points.places)
        ids = points.ids[rows]
        if surface.id != "ground":
            # The same place over two surfaces is two spots.
            ids = ids ^ key_of("over", surface.id)
        count = len(rows)
        out.append(Spots(ids, np.full(count, group, np.int8), np.full(count, row, np.int16), faces, weights,
                         positions, normals))  # fmt: skip
    return _together(out)


def _on_all_sides(
    layer: Scatter, surfaces: Sequence[FillSurface], density: float, room: float, group: int, name: list[str],
    larger: list[tuple[np.ndarray, float]],
) -> Spots:  # fmt: skip
    out, times = [], []
    for row, surface in enumerate(surfaces):
        key = key_of("scatter", layer.id, layer.seed, *name, "all sides", surface.id)
        points = arrivals_on(surface.areas, density, room, key, layer.evenness / 100)
        positions = np.einsum("nk,nki->ni", points.weights, surface.corners[points.faces].astype(np.float64))
        count = len(points.ids)
        out.append(Spots(points.ids, np.full(count, group, np.int8), np.full(count, row, np.int16), points.faces,
                         points.weights, positions, surface.normals_at(points.faces, points.weights)))  # fmt: skip
        times.append(points.times)
    spots = _together(out)
    order = np.argsort(np.concatenate(times), kind="stable") if times else np.zeros(0, np.int64)
    spots = spots.only(order)
    apart = distances(np.concatenate(times)[order] if times else np.zeros(0), room, layer.evenness / 100)
    spots = spots.only(kept_apart(spots.positions, apart))
    may = np.ones(len(spots), bool)
    for positions, distance in larger:
        may &= far_from(spots.positions, positions, distance)
    return spots.only(may)
