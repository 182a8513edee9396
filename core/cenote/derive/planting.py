"""What scatter layers place: spots, plots and whole layers, each kept under what decides it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from scipy.ndimage import map_coordinates

from ..kit.seasons import litter_lying
from ..scatter.clear import ClearOfPlanting
from ..scatter.climbing import BACK, REACH
from ..scatter.fill import Carried, Filling, bodies_of, fill_spots
from ..scatter.hand import with_hand
from ..scatter.layer import Match, Scatter
from ..scatter.placements import Placements
from ..scatter.spots import FillSurface, Spots, spots_of
from ..scatter.tints import match_factor
from ..signals.around import PARTS, Around
from ..signals.base import Signal
from ..signals.scene import Bodies, MeasuredScene
from .colours import AverageColour
from .fields import Field, MeasuredField
from .scene import Scenery, around_site, bits_of
from .shelves import ItemFacts, ItemsOnShelf, whole_shelf
from .site import Site
from .surfaces import BLOCK, ObjectAtlas, ObjectCells, ObjectShape, Shape, blocks_across, part_names
from .target import Read, Target, Unkeyed

if TYPE_CHECKING:
    from ..geometry.charts import Atlas

# What of a layer lays out its spots.
_SPACING = ("id", "seed", "density", "spacing", "evenness", "sides")


def layer_of(site: Site, id: str) -> Scatter:
    """A scatter layer, with the layers below it named where it keeps clear of all of them.

    :raises KeyError: if there is none of that id.
    """
    return site.once("scatters", _resolved)[id]


def _resolved(site: Site) -> dict[str, Scatter]:
    out: dict[str, Scatter] = {}
    for layer in site.planting:
        below = tuple(out)
        if any(isinstance(clear, ClearOfPlanting) and not clear.layers for clear in layer.keep_clear):
            clears = tuple(
                clear.model_copy(update={"layers": below})
                if isinstance(clear, ClearOfPlanting) and not clear.layers
                else clear
                for clear in layer.keep_clear
            )
            layer = layer.model_copy(update={"keep_clear": clears})
        out[layer.id] = layer
    return out


def rules_of(site: Site, id: str) -> Scatter:
    """A layer as far as it decides what rules place; see :meth:`cenote.scatter.layer.Scatter.rules`."""
    return site.once(("rules", id), lambda at: layer_of(at, id).rules())


def surfaces_of(site: Site, id: str) -> list[str]:
    """The surfaces that a layer fills, as far as they are shown."""
    shown = set(site.surface_ids())
    return [one for one in layer_of(site, id).surfaces if one in shown]


def signals_of(layer: Scatter) -> list[Signal]:
    """The signals that a layer's masks ask for, each once."""
    return list(dict.fromkeys(card.signal for chain in layer.chains() for card in chain.active))


def _clears(layer: Scatter) -> list[Any]:
    return [clear for clear in layer.keep_clear if clear.enabled]


@dataclass(frozen=True)
class SurfaceToFill(Target):
    """An object as something to place items on: :class:`cenote.scatter.spots.FillSurface`.

    :ivar named: whether the names of its parts are asked for; the ground's changes with its material.
    """

    id: str
    named: bool = False

    def inputs(self, site: Site) -> Mapping[str, Any]:
        names = part_names(site, self.id) if self.named else ()
        return {"id": self.id, "shape": ObjectShape(self.id), "parts": names}

    @staticmethod
    def make(read: Read) -> FillSurface:
        shape: Shape = read.shape
        return FillSurface(shape.corners, shape.normals, read.id, shape.mesh.parts, read.parts)


@dataclass(frozen=True)
class LayerSpots(Target):
    """Where a layer's items might stand: :class:`cenote.scatter.spots.Spots`."""

    layer: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        rules = rules_of(site, self.layer)
        return {"spacing": {name: getattr(rules, name) for name in _SPACING},
                "mix": [(entry.share, entry.room) for entry in rules.mix], "rules": Unkeyed(rules),
                "surfaces": [SurfaceToFill(id) for id in surfaces_of(site, self.layer)]}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Spots:
        return spots_of(read.rules, read.surfaces)


@dataclass(frozen=True)
class PlotTable:
    """A layer's spots plot by plot, as far as what decides a plot is asked by it.

    :ivar low, high: float64 (T, 3), boxes about the spots, metres.
    :ivar blocks: int32 (K, 3), for each plot the row of the surface and the block of its cells that its spots read.
    """

    low: np.ndarray
    high: np.ndarray
    blocks: np.ndarray


@dataclass(frozen=True)
class LayerPlots(Target):
    """How a layer's spots lie in plots: :class:`PlotTable`."""

    layer: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"spots": LayerSpots(self.layer),
                "atlases": [ObjectAtlas(id) for id in surfaces_of(site, self.layer)]}  # fmt: skip

    @staticmethod
    def make(read: Read) -> PlotTable:
        spots: Spots = read.spots
        plots = spots.plots
        owner = np.zeros(len(spots), np.int64)
        owner[plots.order] = np.repeat(np.arange(len(plots.index)), np.diff(plots.first))
        found = [np.zeros((0, 3), np.int64)]
        for row, atlas in enumerate(read.atlases):
            mine = np.flatnonzero(spots.surfaces == row)
            at = _cells_at(atlas, spots.faces[mine], spots.weights[mine])
            across = blocks_across(atlas.width)
            # A value between two cells is read from both.
            for corner in ((0, 0), (0, 1), (1, 0), (1, 1)):
                y = np.clip(np.floor(at[1]).astype(np.int64) + corner[0], 0, atlas.height - 1) // BLOCK
                x = np.clip(np.floor(at[0]).astype(np.int64) + corner[1], 0, atlas.width - 1) // BLOCK
                found.append(np.unique(np.column_stack([owner[mine], np.full(len(mine), row), y * across + x]), axis=0))
        return PlotTable(plots.low, plots.high, np.unique(np.concatenate(found), axis=0).astype(np.int32))

    @staticmethod
    def pack(value: PlotTable) -> dict[str, np.ndarray]:
        return {"low": value.low, "high": value.high, "blocks": value.blocks}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> PlotTable:
        return PlotTable(arrays["low"], arrays["high"], arrays["blocks"])


def _cells_at(atlas: Atlas, faces: np.ndarray, weights: np.ndarray) -> np.ndarray:
    """Where points on faces lie among cells' middles, float64 (2, N), to the right and down."""
    return np.asarray(np.einsum("nk,nki->in", weights, atlas.corners[faces].astype(float)) - 0.5)


def _shared_inputs(site: Site, id: str) -> dict[str, Any]:
    """What all plots of a layer have in common."""

    def made(at: Site) -> dict[str, Any]:
        layer = layer_of(at, id)
        names = tuple(entry.item for entry in layer.mix)
        shelf, matched = whole_shelf(at), [entry.match if entry.match != Match() else None for entry in layer.mix]
        lying = [litter_lying(shelf.item(name), at.climate.season) for name in names]
        surfaces, around = surfaces_of(at, id), around_site(at)
        anywhere = np.full((1, 3), -np.inf), np.full((1, 3), np.inf)
        named = any((one.reaches(around, *anywhere) & around.only(PARTS)).any() for one in signals_of(layer))
        return {
            "rules": rules_of(at, id),
            "shelf": ItemsOnShelf(tuple(sorted(set(names)))),
            "matched": matched,
            "colours": [AverageColour(name) if match else None for name, match in zip(names, matched, strict=True)],
            "lying": lying,
            "surfaces": [SurfaceToFill(one, named) for one in surfaces],
            "atlases": [ObjectAtlas(one) for one in surfaces],
            "signals": [signal for signal in signals_of(layer) if signal.on_cells],
        }

    return site.once(("shared inputs", id), made)


def _filling(read: Read, scene: MeasuredScene, fields: Sequence[Sequence[Field]]) -> Filling:
    """What a layer, or a plot of it, is filled into.

    :param fields: for each surface those of the signals that are measured on cells.
    """
    tint = np.ones((len(read.matched), 3))
    for row, (match, colour) in enumerate(zip(read.matched, read.colours, strict=True)):
        if match is not None:
            tint[row] *= match_factor(match, colour)
    carried = carried_from(read.signals, read.atlases, fields)
    return Filling(read.surfaces, scene, carried, read.shelf, tint, np.array(read.lying))


def carried_from(signals: Sequence[Signal], atlases: Sequence[Atlas], fields: Sequence[Sequence[Field]]) -> Carried:
    """Gives signals that are measured on cells, between these.

    :param atlases: layouts of the surfaces. :param fields: for each surface those of the signals, in their order.
    """

    def carried(row: int, signal: Signal, faces: np.ndarray, weights: np.ndarray) -> np.ndarray:
        values = fields[row][signals.index(signal)].values
        at = _cells_at(atlases[row], faces, weights)
        return map_coordinates(values, at[::-1], order=1, mode="nearest").astype(np.float32)

    return carried


def widest_of(site: Site, layer: Scatter) -> np.ndarray:
    """The most that an item of a layer reaches beyond its foot, float64 (3,), metres."""
    bounds = [np.abs(site.get(ItemFacts(entry.item)).bounds).max((0, 1)) for entry in layer.mix]
    reach = np.max(bounds, axis=0) * max(entry.size[1] for entry in layer.mix)
    return np.array([max(reach[0], reach[2]), reach[1], max(reach[0], reach[2])])


@dataclass(frozen=True)
class _PlotPlan:
    """What decides each plot of a layer.

    :ivar bits: which things around it each plot looks at. :ivar strokes: which strokes reach it.
    :ivar marks: uint8 (T, …), digests of the blocks of cells that it reads.
    """

    bits: list[bytes]
    strokes: list[tuple[int, ...]]
    marks: list[bytes]


def _plot_plan(site: Site, id: str) -> _PlotPlan:
    return site.once(("plot plan", id), lambda at: _planned(at, id))


def _planned(site: Site, id: str) -> _PlotPlan:
    layer, shared = layer_of(site, id), _shared_inputs(site, id)
    plots: PlotTable = site.get(LayerPlots(id))
    around: Around = around_site(site)
    low, high = plots.low, plots.high
    count = len(low)
    widest = widest_of(site, layer)
    reached = np.zeros((count, len(around)), bool)
    for signal in signals_of(layer):
        if not signal.on_cells:
            reached |= signal.reaches(around, low, high)
    for clear in _clears(layer):
        reached |= clear.reaches(around, low - widest, high + widest)
    objects = around.all_of("object")
    if layer.sides == "from above":
        # What may be solid around an item stands over it; climbers look for walls about them.
        climbs = any(whole_shelf(site).item(entry.item).climbs for entry in layer.mix)
        aside = REACH + 2 * BACK if climbs else 0.1
        reached |= objects & around.near(
            low - [0, aside, 0], high + np.array([0, np.inf, 0]), np.array([aside, 0, aside])
        )
    else:
        reached |= objects
    strokes: list[list[int]] = [[] for _ in range(count)]
    for row, stroke in enumerate(layer.strokes):
        path = np.array(stroke.path)
        first, last = path.min(0) - stroke.radius, path.max(0) + stroke.radius
        for plot in np.flatnonzero(((first <= high) & (last >= low)).all(1)):
            strokes[plot].append(row)
    marks = [b""] * count
    if shared["signals"]:
        tables = [[site.mark(MeasuredField(one, signal)).reshape(-1, 16) for signal in shared["signals"]]
                  for one in surfaces_of(site, id)]  # fmt: skip
        rows = [_block_rows(site, one) for one in surfaces_of(site, id)]
        which, surfaces, blocks = plots.blocks.T
        for plot, surface, block in zip(which.tolist(), surfaces.tolist(), blocks.tolist(), strict=True):
            at = rows[surface].get(block)
            if at is not None:
                marks[plot] += b"".join(table[at].tobytes() for table in tables[surface])
    return _PlotPlan([bits_of(row) for row in reached], [tuple(one) for one in strokes], marks)


def _block_rows(site: Site, id: str) -> dict[int, int]:
    """For each block of an object's cells its row in marks."""
    return {int(at): row for row, at in enumerate(site.get(ObjectCells(id)).blocks.at)}


@dataclass(frozen=True)
class Plot(Target):
    """What a layer's rules place on one plot: :class:`cenote.scatter.placements.Placements`.

    :ivar row: of :class:`PlotTable`.
    """

    layer: str
    row: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        plan, layer = _plot_plan(site, self.layer), layer_of(site, self.layer)
        shared = _shared_inputs(site, self.layer)
        planted = {name for signal in signals_of(layer) for name in signal.looks_at() if not signal.on_cells}
        planted |= {name for clear in _clears(layer) for name in clear.looks_at()}
        fields = [[MeasuredField(one, signal) for signal in shared["signals"]] for one in surfaces_of(site, self.layer)]
        return shared | {
            "spots": LayerSpots(self.layer), "row": self.row,
            "scene": Scenery(plan.bits[self.row], tuple(sorted(planted))),
            "strokes": tuple(layer.strokes[k] for k in plan.strokes[self.row]),
            "marks": plan.marks[self.row], "fields": Unkeyed(fields),
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> Placements:
        layer: Scatter = read.rules.model_copy(update={"strokes": read.strokes})
        spots: Spots = read.spots
        return fill_spots(layer, spots.of_plot(read.row), _filling(read, read.scene, read.fields))


@dataclass(frozen=True)
class LayerPlacements(Target):
    """What a layer places, in parts plot by plot: :class:`cenote.scatter.placements.Placements`."""

    layer: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        layer, shared = layer_of(site, self.layer), _shared_inputs(site, self.layer)
        plots: PlotTable = site.get(LayerPlots(self.layer))
        by_hand = {name: getattr(layer, name) for name in ("rows", "planted", "removed")}
        extra = {one.item for one in layer.planted} | {entry.item for entry in layer.mix}
        return shared | {
            "plots": [Plot(self.layer, row) for row in range(len(plots.low))], "hand": by_hand,
            "names": tuple(entry.item for entry in layer.mix), "shelf": ItemsOnShelf(tuple(sorted(extra))),
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> Placements:
        layer: Scatter = read.rules.model_copy(update=read.hand)
        return with_hand(layer, read.plots, _filling(read, MeasuredScene({}), ())).in_parts(read.plots)

    @staticmethod
    def pack(value: Placements) -> dict[str, np.ndarray]:
        return value.as_arrays()

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Placements:
        return Placements.from_arrays(arrays)


@dataclass(frozen=True)
class PlantedBodies(Target):
    """The items of a layer as upright bodies; none where there is no such layer, or it is hidden."""

    layer: str
    # A process that only measures need not build the items first.
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        found = next((one for one in site.planting if one.id == self.layer and one.shown), None)
        if found is None:
            return {"placements": None, "shelf": None}
        return {"placements": LayerPlacements(self.layer), "shelf": ItemsOnShelf(tuple(sorted(set(found.kinds()))))}

    @staticmethod
    def make(read: Read) -> Bodies:
        return Bodies.none() if read.placements is None else bodies_of(read.placements, read.shelf)

    @staticmethod
    def pack(value: Bodies) -> dict[str, np.ndarray]:
        return dict(vars(value))

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Bodies:
        return Bodies(**arrays)
