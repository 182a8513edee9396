"""Laying blades: candidates in a grid of small cells, thinned out by masks and by what is kept clear."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numba import njit

from ..randomness import combine, key_of, uniforms, unit_float
from ..scatter.fill import Filling, mask_at
from ..scatter.spots import FillSurface, Spots
from ..signals.noise import world_noise
from ..signals.scene import Bodies
from .layer import Grass
from .shapes import KINKED, PLAIN, TRODDEN, shape_row, tips

# Side of a cell, metres.
CELL = 0.25
# The low-discrepancy sequence R₂: powers of the inverse plastic number (Roberts, "The unreasonable effectiveness of quasirandom
# sequences", 2018). Its first points are as even as all of them, so that more density only adds.
_R2 = np.array([0.7548776662466927, 0.5698402909980532])
# How far a blade may stray from its place in the sequence, metres.
_STRAYS = 0.03
# What is trodden loses so many of its blades, where all of it lies flat.
_WORN = 0.55
# Right at the edge of what is kept clear blades are as tall as this, against the rest.
_AT_EDGE = 0.5
# From one lush place to the next, metres.
_DRIFT = 4.5


@dataclass(frozen=True)
class Blades:
    """Blades of grass.

    :ivar positions: float32 (N, 3), of their roots, metres. :ivar normals: unit float32 (N, 3), of the surface under them.
    :ivar turns: float32 (N,), about the upright axis, radians: 0 leans towards +Z, a quarter towards +X.
    :ivar lengths: float32 (N,), along the blade, metres. :ivar shapes: uint8 (N,), rows of :func:`cenote.grass.shapes.blade_shapes`.
    :ivar tones: float32 (N,), factors on their colour. :ivar dead: bool (N,). :ivar ranks: float32 (N,) in [0, 1): those below any
        share stand evenly, so that they stand for all from afar.
    """

    positions: np.ndarray
    normals: np.ndarray
    turns: np.ndarray
    lengths: np.ndarray
    shapes: np.ndarray
    tones: np.ndarray
    dead: np.ndarray
    ranks: np.ndarray

    def __len__(self) -> int:
        return len(self.positions)

    def only(self, rows: np.ndarray) -> Blades:
        """Some of them: int (K,) or bool (N,), ``rows``."""
        return Blades(*(getattr(self, one.name)[rows] for one in fields(Blades)))

    @staticmethod
    def none() -> Blades:
        """No blades at all."""
        flat, wide = np.zeros(0, np.float32), np.zeros((0, 3), np.float32)
        return Blades(wide, wide, flat, flat, np.zeros(0, np.uint8), flat, np.zeros(0, bool), flat)

    @staticmethod
    def together(parts: list[Blades]) -> Blades:
        """All blades of several tables."""
        return Blades(
            *(np.concatenate([getattr(one, name.name) for one in (Blades.none(), *parts)]) for name in fields(Blades))
        )


@dataclass(frozen=True)
class Square:
    """A square of the plan. :ivar x, z: its least corner, metres, whole numbers of cells. :ivar side: metres, likewise."""

    x: float
    z: float
    side: float


def candidates(layer: Grass, surface: str, square: Square, density: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Where blades might stand in a square of the plan.

    :param density: per m². A higher one gives the same places and some more.
    :returns: float64 (N, 2), along x and z; ids uint64 (N,), each blade's own number for ever; ranks float32 (N,) in [0, 1).
    """
    across = round(square.side / CELL)
    first = np.array([round(square.x / CELL), round(square.z / CELL)])
    each = density * CELL**2
    key = key_of("grass", layer.id, layer.seed, surface)
    cells = _cell_keys(key, int(first[0]), int(first[1]), across)
    shift = np.column_stack([uniforms(cells, channel) for channel in (1, 2)])
    # In a cell that should have 93.7 blades there are 93 or 94.
    chance = uniforms(cells, 3)
    counts = np.floor(each + chance).astype(np.int64)
    owner = np.repeat(np.arange(len(cells)), counts)
    k = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    within = (shift[owner] + (k[:, None] + 1) * _R2) % 1.0
    corner = np.column_stack([owner // across, owner % across]) + first
    ids = _blade_keys(cells[owner], k)
    # So even a sequence is seen as rows of blades: each strays a little from its place.
    within = within + (np.column_stack([uniforms(ids, channel) for channel in (1, 2)]) - 0.5) * (_STRAYS / CELL)
    return (
        (corner + within) * CELL,
        ids,
        ((k + 1 - chance[owner]).clip(0) / max(each, 1e-9)).clip(0, 0.99999).astype(np.float32),
    )


def lay(layer: Grass, surface: FillSurface, square: Square, filling: Filling, density: float) -> Blades:
    """The blades of a layer on a surface in a square of the plan; where one lies over another, on what is seen from above.

    :param filling: with that surface alone. :param density: per m², which is less than the layer's own where there would be too many.
    """
    places, ids, ranks = candidates(layer, surface.id, square, density)
    rows, faces, weights, positions, normals = surface.drop(places)
    none = np.zeros(len(rows), np.int8)
    spots = Spots(ids[rows], none, none.astype(np.int16), faces, weights, positions, normals)
    ranks = ranks[rows]
    chance = mask_at(layer.where, filling, spots)
    keep = np.flatnonzero(uniforms(spots.ids, 10) < chance)
    spots, chance, ranks = spots.only(keep), chance[keep], ranks[keep]
    if not len(spots):
        return Blades.none()
    ids = spots.ids
    tall = mask_at(layer.tall_where, filling, spots) if layer.tall_where.active else np.ones(len(ids), np.float32)
    clump = _clumps(spots.positions[:, [0, 2]], layer.clump_size, key_of("clumps", layer.id, layer.seed))
    alike = layer.clumps / 100
    own = uniforms(ids, 13)
    drift = _drift(layer, spots.positions)
    size = own * (1 - 0.6 * alike) + uniforms(clump.ids, 4) * 0.6 * alike
    lengths = layer.height[0] + (layer.height[1] - layer.height[0]) * size
    lengths *= layer.trodden_height / 100 + (1 - layer.trodden_height / 100) * tall
    lengths *= 1 + 0.6 * drift
    # Grass grows a little shorter to the edges of where it grows at all.
    lengths *= 0.6 + 0.4 * np.clip(chance, 0, 1)
    around = 2 * np.pi
    turn, shared = around * uniforms(ids, 14), around * uniforms(clump.ids, 5)
    way = np.column_stack([np.sin(turn), np.cos(turn)]) * (1.15 - alike)
    way += alike * (0.55 * np.column_stack([np.sin(shared), np.cos(shared)]) + 0.8 * clump.away)
    turns = np.arctan2(way[:, 0], way[:, 1])
    lean = np.clip(uniforms(ids, 15) * (1 - 0.5 * alike) + uniforms(clump.ids, 6) * 0.5 * alike, 0, 0.9999)
    kind = np.where(uniforms(ids, 16) < layer.kinked / 100, KINKED, PLAIN)
    kind = np.where(uniforms(ids, 17) < (1 - tall) * layer.flattened / 100, TRODDEN, kind)
    reach = tips(layer)
    cut = np.zeros(len(ids), bool)
    if layer.mown:
        rise = np.maximum(reach[shape_row(kind, lean, cut), 1], 0.05)
        cut = lengths * rise > layer.cut_at
        lengths = np.where(cut, np.minimum(lengths, layer.cut_at / rise), lengths)
    shapes = shape_row(kind, lean, cut)
    stands = np.ones(len(ids))
    if layer.clears:
        bodies = Bodies(spots.positions, np.abs(reach[shapes, 0]) * lengths, reach[shapes, 1].clip(0) * lengths)
        for clear in layer.clears:
            stands = np.minimum(stands, clear.weight(bodies, filling.scene))
        lengths = lengths * (_AT_EDGE + (1 - _AT_EDGE) * stands)
    left = chance * stands * (1 - _WORN * layer.flattened / 100 * (1 - tall))
    keep = np.flatnonzero(uniforms(ids, 10) < left)
    up = np.broadcast_to(np.array([0, 1, 0], np.float32), (len(keep), 3))
    raised = (spots.positions[keep] + [0, 0.01, 0]).astype(np.float32)
    keep = keep[~filling.scene.inside_solids(raised, np.ascontiguousarray(up))]
    ids = ids[keep]
    bright = uniforms(ids, 18) * (1 - 0.5 * alike) + uniforms(clump.ids[keep], 7) * 0.5 * alike
    return Blades(
        spots.positions[keep].astype(np.float32),
        spots.normals[keep],
        turns[keep].astype(np.float32),
        lengths[keep].astype(np.float32),
        shapes[keep],
        ((1 + layer.variety / 100 * (2 * bright - 1)) * (1 + 0.35 * drift[keep])).astype(np.float32),
        uniforms(ids, 19) < layer.dead / 100 * (1 - 0.9 * drift[keep]) + (1 - tall[keep]) * 0.15,
        ranks[keep],
    )


def _drift(layer: Grass, positions: np.ndarray) -> np.ndarray:
    """How lush it is at places (N, 3), about 0: float64 (N,), over metres, within about ±0.5."""
    if layer.uneven == 0 or not len(positions):
        return np.zeros(len(positions))
    noise = world_noise(positions.astype(np.float32), _DRIFT, 3, layer.seed * 7 + 3)
    return np.asarray(layer.uneven / 100 * 2.2 * (noise - 0.5), np.float64).clip(-0.55, 0.55)


@dataclass(frozen=True)
class _Clumps:
    """The clump that each of some places belongs to. :ivar ids: uint64 (N,). :ivar away: float64 (N, 2), from its middle, of length up to 1."""

    ids: np.ndarray
    away: np.ndarray


def _clumps(places: np.ndarray, size: float, key: np.uint64) -> _Clumps:
    """Which of scattered middles is nearest to places (N, 2) (cellular noise: Worley, 1996)."""
    ids, away = np.empty(len(places), np.uint64), np.empty((len(places), 2))
    _nearest_middles(np.ascontiguousarray(places, np.float64), size, key, ids, away)
    return _Clumps(ids, away)


@njit(cache=True)
def _nearest_middles(places, size, key, ids, away):  # type: ignore
    for row in range(len(places)):
        x, z = places[row, 0] / size, places[row, 1] / size
        cx, cz = int(np.floor(x)), int(np.floor(z))
        best = 1e9
        for i in range(cx - 1, cx + 2):
            for j in range(cz - 1, cz + 2):
                own = combine(combine(key, i), j)
                dx, dz = x - i - unit_float(combine(own, 1)), z - j - unit_float(combine(own, 2))
                if dx * dx + dz * dz < best:
                    best = dx * dx + dz * dz
                    ids[row] = own
                    away[row, 0], away[row, 1] = dx, dz


@njit(cache=True)
def _cell_keys_into(key, x, z, across, out):  # type: ignore
    for i in range(across):
        for j in range(across):
            out[i * across + j] = combine(combine(key, x + i), z + j)


def _cell_keys(key: np.uint64, x: int, z: int, across: int) -> np.ndarray:
    out = np.empty(across * across, np.uint64)
    _cell_keys_into(key, x, z, across, out)
    return out


@njit(cache=True)
def _blade_keys(cells, k):  # type: ignore
    out = np.empty(len(k), np.uint64)
    for row in range(len(k)):
        out[row] = combine(cells[row], 8 + k[row])
    return out
