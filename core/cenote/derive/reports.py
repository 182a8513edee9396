"""What masks come to, measured on cells: histograms, m² and shares."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..geometry.mesh import Mesh
from ..masks.where import Where, ramp
from ..signals.base import Signal
from ..weather.blend import SHALLOW
from ..weather.tiles import LaidTile
from .fields import CellField, Field, MeasuredField
from .maps import cover_looks, layers_on, standing_in, sunk
from .masks import HeldMask, Mask, PartFactors, holds, part_natures
from .meshes import ObjectMesh
from .site import Site
from .surfaces import Cells, ObjectCells, part_materials
from .target import Read, Target
from .tiles import MaterialTile

if TYPE_CHECKING:
    from ..site.document import CoverLayer
    from .graph import Graph

BINS = 48
FINE_BINS = 20 * BINS


@dataclass(frozen=True)
class CardReport:
    """One card over the surfaces of a layer.

    :ivar histogram: float64 (BINS,), m² by the signal's value from ``low`` to ``high``; what lies beyond counts there.
    :ivar coverage: share that the card alone would cover, from a histogram of :data:`FINE_BINS`.
    """

    histogram: np.ndarray
    low: float
    high: float
    coverage: float


@dataclass(frozen=True)
class WhereReport:
    """A mask over surfaces: its cards, what it covers in m² of the total area, and itself on their cells by id."""

    cards: list[CardReport]
    covered: float
    area: float
    masks: dict[str, np.ndarray]


def held_mask(site: Site, layer: CoverLayer, id: str, level: int) -> HeldMask:
    """A cover's mask on a surface, with what it holds to and how strongly it is wanted there."""
    factors = holds(layer.cover.sits_on, part_natures(site, id)) * np.float32(layer.strengths.get(id, 1.0))
    return HeldMask(id, layer.where.plain, tuple(factors.tolist()), level)


@dataclass(frozen=True)
class CoverShare(Target):
    """How much of each cell of a surface a cover takes in the site's climate, float32 (h, w) in [0, 1]; None where it is not there at all."""

    layer: str
    id: str
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        id = self.id
        layer = next(one for one in site.weather if one.id == self.layer)
        look = layer.cover.look(site.conditions)
        waits = tuple(float(look.bared.get(nature, 0.0)) for nature in part_natures(site, id))
        # What waits for bare places comes where the shown covers below it take a coat away.
        bares = [(held_mask(site, below, id, 0), float(cover_looks(site)[below.id].strength))
                 for below in layers_on(site, id)[: _place_of(layer, layers_on(site, id))]
                 if cover_looks(site)[below.id].thickness < 0] if any(waits) else []  # fmt: skip
        standing = standing_in(look, layer.where.plain)
        water = {"depth": MeasuredField(id, standing), "sunk": sunk(look, standing), "soft": look.softness / 2, "mesh": ObjectMesh(id),
                 "tiles": [MaterialTile(one) for one in part_materials(site, id)]} if standing else None  # fmt: skip
        return {"mask": held_mask(site, layer, id, 0), "cells": ObjectCells(id), "strength": float(look.strength), "water": water,
                "waits": PartFactors(id, waits, 0) if any(waits) else None,
                "bares": [{"mask": mask, "strength": strength} for mask, strength in bares]}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray | None:
        if read.strength <= 0:
            return None
        if read.water is not None:
            taken = np.minimum(read.mask * np.float32(max(read.strength, 1)), _drowned(**read.water, cells=read.cells))
            return np.minimum(taken, 1)
        taken = read.mask * np.float32(read.strength)
        if read.waits is not None:
            bared = np.zeros_like(taken)
            for one in read.bares:
                bared = np.maximum(bared, np.clip(one["mask"] * np.float32(one["strength"]), 0, 1))
            taken *= 1 - read.waits * (1 - bared)
        return np.minimum(taken, 1)


@dataclass(frozen=True)
class CoveredOn(Target):
    """What a cover takes of one surface in the site's climate, m².

    Most edits change one layer of many, and one surface of many: what the others take is as it was.
    """

    layer: str
    id: str
    # A number, for which all cells of a surface are looked at: of wide sites it takes minutes to tell them all.
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"share": CoverShare(self.layer, self.id), "cells": ObjectCells(self.id)}

    @staticmethod
    def make(read: Read) -> float:
        share = read.share
        return 0.0 if share is None else float((share * read.cells.areas).sum(dtype=np.float64))

    @staticmethod
    def pack(value: float) -> dict[str, np.ndarray]:
        return {"area": np.array([value])}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> float:
        return float(arrays["area"][0])


def _drowned(depth: Field, sunk: float, soft: float, mesh: Mesh, tiles: Sequence[LaidTile], cells: Cells) -> np.ndarray:
    """The share of each cell's relief that lies under water, float32 (h, w)."""
    out = np.zeros(depth.values.shape, np.float32)
    faces = cells.grid.faces
    deep = depth.values / 100 - sunk
    under = (faces >= 0) & (depth.values > 0) & (deep > 0)
    parts = mesh.parts[np.maximum(faces, 0)]
    for part, tile in enumerate(tiles):
        here = under & (parts == part)
        # Half covered is what lies half an edge below the water.
        edge = soft * max(tile.relief, float(SHALLOW))
        low, count = tile.heights * tile.relief + edge, len(tile.heights)
        out[here] = np.interp(deep[here], low, (np.arange(count) + 0.5) / count, 0, 1)
    return out


def _place_of(layer: CoverLayer, shown: Sequence[CoverLayer]) -> int:
    """How many of the shown layers lie below one, which may be hidden itself."""
    return next((row for row, one in enumerate(shown) if one.id == layer.id), len(shown))


def covered(graph: Graph, layer: CoverLayer) -> tuple[float, float]:
    """What a cover takes in the site's climate, and what the surfaces that share it come to; m² each."""
    shown = set(graph.document.surface_ids())
    surfaces = [id for id in layer.surfaces if id in shown]
    taken = sum(graph.get(CoveredOn(layer.id, id)) for id in surfaces)
    return taken, sum(graph.get(ObjectCells(id)).area for id in surfaces)


@dataclass(frozen=True)
class Histogram(Target):
    """How much of a surface has which value of a signal, over its reading's range: float64 (FINE_BINS,), m²."""

    id: str
    signal: Signal

    def inputs(self, site: Site) -> Mapping[str, Any]:
        reading = self.signal.reading
        return {"values": CellField(self.id, self.signal, 0), "cells": ObjectCells(self.id),
                "range": (float(reading.low), float(reading.high))}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        values = np.clip(read.values, *read.range)
        return np.histogram(values, FINE_BINS, read.range, weights=read.cells.areas)[0]


def report(graph: Graph, where: Where, surfaces: Sequence[str], cover: CoverLayer | None = None) -> WhereReport:
    """Histograms and coverage of a mask over surfaces, measured on their cells.

    :param cover: the cover whose mask it is: what it holds to and its strengths then count in the whole.
    """
    area = sum(graph.get(ObjectCells(id)).area for id in surfaces)
    cards = []
    for card in where.cards:
        low, high = card.signal.reading.low, card.signal.reading.high
        fine = np.sum([graph.get(Histogram(id, card.signal)) for id in surfaces], axis=0) + np.zeros(FINE_BINS)
        middles = low + (np.arange(FINE_BINS) + 0.5) * (high - low) / FINE_BINS
        share = float(ramp(middles, card) @ fine)
        cards.append(CardReport(fine.reshape(BINS, -1).sum(1), low, high, share / area if area else 0.0))
    plain, site = where.plain, Site(graph)
    wanted = {id: held_mask(site, cover, id, 0) if cover else Mask(id, plain, 0) for id in surfaces}
    masks = {id: graph.get(target) for id, target in wanted.items()}
    total = sum(float((masks[id] * graph.get(ObjectCells(id)).areas).sum(dtype=np.float64)) for id in surfaces)
    return WhereReport(cards, total, area, masks)
