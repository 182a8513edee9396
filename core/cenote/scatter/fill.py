"""Filling surfaces with a mix of kit items: rules thin out what the spacing allows, then each is given its pose."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..geometry.strokes import stroked
from ..kit.shelf import SHIPPED, Shelf
from ..masks.where import Where, chain
from ..randomness import uniforms
from ..signals.base import Signal
from ..signals.noise import world_noise
from ..signals.scene import Bodies, MeasuredScene, Samples
from .climbing import onto_walls
from .layer import Scatter
from .placements import BY_RULE, Placements, none_of
from .rotations import leaning, multiplied
from .spots import FillSurface, Spots, densest, size_groups

# Gives a signal that is measured by rays from the cells of a surface: the surface's row, the signal, faces int64 (N,) and
# barycentric coordinates (N, 3).
Carried = Callable[[int, Signal, np.ndarray, np.ndarray], np.ndarray]
# Size of what stands right at the edge of what is kept clear, against what stands beyond the band.
_AT_EDGE = 0.4


@dataclass(frozen=True)
class Filling:
    """What a layer is filled into.

    :ivar surfaces: those of the layer, in its order. :ivar scene: everything around.
    :ivar carried: gives signals measured by rays from cells; where it is None they are measured at each point.
    :ivar shelf: where the mix's items are found.
    :ivar tint: float (rows of the mix, 3), a colour factor for each kind.
    :ivar lying: float (rows of the mix,) in [0, 1], the share that there is of each kind, for instance of litter by season.
    """

    surfaces: Sequence[FillSurface]
    scene: MeasuredScene
    carried: Carried | None = None
    shelf: Shelf = field(default=SHIPPED)
    tint: np.ndarray | None = None
    lying: np.ndarray | None = None


def extents(
    shelf: Shelf, names: Sequence[str], items: np.ndarray, variants: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Radius and height of items at size 1, each float64 (N,), metres.

    :param names: kinds of items. :param items: rows of ``names`` (N,). :param variants: (N,).
    """
    most = max((shelf.item(name).variants for name in names), default=1)
    table = np.array([[shelf.extent(name, variant % shelf.item(name).variants) for variant in range(most)]
                      for name in names]).reshape(-1, most, 2)  # fmt: skip
    found = table[items, variants % most]
    return found[:, 0], found[:, 1]


def mask_at(where: Where, filling: Filling, spots: Spots) -> np.ndarray:
    """A mask at spots, float32 (N,) in [0, 1]."""
    cards = where.active
    out = np.ones(len(spots), np.float32)
    if not cards:
        return out
    for row, surface in enumerate(filling.surfaces):
        mine = slice(None) if len(filling.surfaces) == 1 else np.flatnonzero(spots.surfaces == row)
        faces, weights = spots.faces[mine], spots.weights[mine]
        if not len(faces):
            continue
        parts = None if surface.parts is None else surface.parts[faces]
        samples = Samples(
            spots.positions[mine].astype(np.float32), spots.normals[mine], parts, surface.part_names, surface.id
        )
        values = [
            filling.carried(row, card.signal, faces, weights)
            if card.signal.on_cells and filling.carried
            else card.signal.measure(samples, filling.scene)
            for card in cards
        ]
        out[mine] = chain(cards, values)
    return out


def _chances(layer: Scatter, filling: Filling, spots: Spots) -> np.ndarray:
    """How likely each kind of the mix stands at each spot, float32 (N, rows of the mix) in [0, 1]."""
    wanted = _wanted(layer, filling, spots)
    return wanted if filling.lying is None else (wanted * filling.lying).astype(np.float32)


def _wanted(layer: Scatter, filling: Filling, spots: Spots) -> np.ndarray:
    """What the layer's masks and strokes say, float32 (N, rows of the mix) in [0, 1]."""
    common = mask_at(layer.where, filling, spots)
    if layer.clumps > 0:
        seed = int(layer.seed * 31 + 7) % 10_000
        near = world_noise(spots.positions.astype(np.float32), layer.clump_size, 1, seed, "cells")
        bump = np.clip((near - 0.35) / 0.4, 0, 1)
        common = common * (1 - np.float32(layer.clumps / 100) * (1 - bump * bump * (3 - 2 * bump)))
    out = np.repeat(common[:, None], len(layer.mix), axis=1).astype(np.float32)
    for row, entry in enumerate(layer.mix):
        if entry.where.active:
            out[:, row] *= mask_at(entry.where, filling, spots)
    if not any(stroke.items for stroke in layer.strokes):
        if layer.strokes and all(not entry.where.active for entry in layer.mix):
            return np.repeat(stroked(spots.positions, layer.strokes, common)[:, None], len(layer.mix), axis=1)
    if layer.strokes:
        for row in range(len(layer.mix)):
            strokes = [stroke for stroke in layer.strokes if not stroke.items or row in stroke.items]
            out[:, row] = stroked(spots.positions, strokes, out[:, row])
    return out


def _chosen(layer: Scatter, spots: Spots, chances: np.ndarray) -> np.ndarray:
    """The kind that stands at each spot, int64 (N,): by shares among those that keep as much room.

    A race of exponential clocks (the exponential-sampling form of weighted choice: Efraimidis and Spirakis, 2006), so that
    a change of one kind's chance alters nothing but spots of that kind.
    """
    shares = np.array([entry.share for entry in layer.mix])
    out = np.zeros(len(spots), np.int64)
    for group, (_, rows) in enumerate(size_groups(layer)):
        mine = np.flatnonzero(spots.groups == group)
        if len(rows) == 1:
            out[mine] = rows[0]
            continue
        best = np.full(len(mine), np.inf)
        for row in rows:
            clock = -np.log1p(-uniforms(spots.ids[mine], 40 + int(row)))
            time = clock / np.maximum(shares[row] * chances[mine, row], 1e-12)
            sooner = time < best
            out[mine[sooner]], best[sooner] = row, time[sooner]
    return out


def fill_spots(layer: Scatter, spots: Spots, filling: Filling) -> Placements:
    """Place a layer on spots.

    Everything about an item follows from its id, and rules thin out what the spacing has kept: so a higher density only
    adds items, and one more rule (by multiply, min or subtract) only takes some away.
    """
    mix, shelf, scene = layer.mix, filling.shelf, filling.scene
    names = tuple(entry.item for entry in mix)
    most = densest(layer)
    if not len(spots):
        return none_of(names, most)
    chances = _chances(layer, filling, spots)
    items = _chosen(layer, spots, chances)
    rows = np.arange(len(spots))
    # Where several kinds compete, the spot is taken as readily as its likeliest kind would.
    taken = np.zeros(len(spots), np.float32)
    for group, (_, kinds) in enumerate(size_groups(layer)):
        mine = spots.groups == group
        taken[mine] = chances[mine][:, kinds].max(1)
    keep = np.flatnonzero(uniforms(spots.ids, 10) < taken)
    spots, items, taken, rows = spots.only(keep), items[keep], taken[keep], rows[keep]
    ids = spots.ids

    def between(channel: int, spans: list[tuple[float, float]]) -> np.ndarray:
        table = np.array(spans, float)[items]
        return table[:, 0] + (table[:, 1] - table[:, 0]) * uniforms(ids, channel)

    variants = (uniforms(ids, 12) * np.array([shelf.item(name).variants for name in names])[items]).astype(np.int16)
    sizes = between(13, [entry.size for entry in mix])
    if layer.size_where.active:
        least = layer.smallest / 100
        sizes = sizes * (least + (1 - least) * mask_at(layer.size_where, filling, spots))
    edge = layer.edge_size / 100
    sizes = sizes * (edge + (1 - edge) * np.clip(taken, 0, 1))
    free = np.ones(len(spots))
    clears = [clear for clear in layer.keep_clear if clear.enabled]
    if clears and len(spots):
        radii, heights = extents(shelf, names, items, variants)
        bodies = Bodies(spots.positions, radii * sizes, heights * sizes)
        for clear in clears:
            free = np.minimum(free, clear.weight(bodies, scene))
        sizes = sizes * (_AT_EDGE + (1 - _AT_EDGE) * free)
    up = np.broadcast_to(np.array([0, 1, 0], np.float32), (len(spots), 3))
    ways = up if layer.sides == "from above" else spots.normals
    stands = uniforms(ids, 10) < taken * free
    stands[stands] = ~scene.inside_solids(
        (spots.positions[stands] + 0.02 * ways[stands]).astype(np.float32), np.ascontiguousarray(ways[stands])
    )
    spots, items, variants, sizes = spots.only(stands), items[stands], variants[stands], sizes[stands]
    ids, normals = spots.ids, spots.normals
    ways = normals if layer.sides == "all sides" else np.array([[0.0, 1.0, 0.0]])

    turns = np.radians(between(14, [(0, entry.turn) for entry in mix]))
    # From above things sink straight down, so that they stay as far apart as they are.
    positions = spots.positions - ways * between(15, [entry.sink for entry in mix])[:, None]
    # On all sides things grow out of the surface; from above they stand upright as far as their lean lets them.
    lean = np.array([entry.lean / 100 for entry in mix])[items] if layer.sides == "from above" else np.ones(len(ids))
    upright = np.column_stack([np.zeros(len(ids)), np.sin(turns / 2), np.zeros(len(ids)), np.cos(turns / 2)])
    rotations = multiplied(leaning(normals, lean), upright)
    climbs = np.array([shelf.item(name).climbs for name in names], bool)[items]
    if climbs.any() and layer.sides == "from above":
        walls = onto_walls(scene, positions[climbs], sizes[climbs])
        half = walls.turns / 2
        still = np.zeros(len(half))
        positions[climbs], sizes[climbs] = walls.positions, walls.sizes
        rotations[climbs] = np.column_stack([still, np.sin(half), still, np.cos(half)])
        # Where there is nothing to climb, nothing climbs.
        stands = ~climbs
        stands[climbs] = walls.found
        ids, items, variants, positions, rotations, sizes = (
            column[stands] for column in (ids, items, variants, positions, rotations, sizes)
        )
    columns = {"ids": ids, "items": items, "variants": variants, "positions": positions, "rotations": rotations,
               "sizes": sizes, "tints": tints_of(ids, items, filling.tint)}  # fmt: skip
    return Placements.of(names, BY_RULE, columns, most)


def tints_of(ids: np.ndarray, items: np.ndarray, tint: np.ndarray | None) -> np.ndarray:
    """Colour factors of copies, float64 (N, 3): they differ a little in brightness and warmth, so that no two read as
    the same; times each kind's own ``tint`` (kinds, 3)."""
    bright = 0.82 + 0.36 * uniforms(ids, 16)
    warm = (uniforms(ids, 17) - 0.5) * 0.22
    out = bright[:, None] * np.column_stack([1 + warm, np.ones(len(ids)), 1 - warm])
    return out if tint is None else out * tint[items]


def bodies_of(placements: Placements, shelf: Shelf) -> Bodies:
    """What a table's items take up."""
    radii, heights = extents(shelf, placements.names, placements.items, placements.variants)
    return Bodies(placements.positions.astype(np.float64), radii * placements.sizes, heights * placements.sizes)
