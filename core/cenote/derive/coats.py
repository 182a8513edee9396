"""Covers on placed items: each item has its share of snow, frost, moss or wetness by what its own place is exposed to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..masks.where import Where, chain
from ..scatter.fill import bodies_of
from ..scatter.placements import Placements
from ..signals.scene import MeasuredScene, Samples
from ..weather.coats import Coat, amounts
from .maps import cover_looks, plain_of
from .planting import LayerPlacements, layer_of
from .scene import Scenery, around_site, bits_of
from .shelves import ItemsOnShelf
from .site import Site
from .target import Read, Target
from .tiles import TileMean, graded

if TYPE_CHECKING:
    from ..site.document import CoverLayer
    from .graph import Graph

# At most so many covers coat an item: the uppermost ones.
MOST = 4
# Up to so many items of a layer are measured each by itself; more take what the open ground has.
_MEASURED = 150_000
# What bends holds only some of what lies on it: leaves and blades let the rest slip off.
_LEAVES_HOLD = 0.55
# Where an item is measured, against its height.
_AT = 0.7


def coating_layers(site: Site) -> list[CoverLayer]:
    """The covers that coat items, lowest first."""
    return [one for one in site.weather if one.shown and one.on_items and one.cover.coats][-MOST:]


@dataclass(frozen=True)
class CoatLooks(Target):
    """How covers look that coat items, in the site's climate and in the order of their masks' columns: list of
    :class:`cenote.weather.coats.Coat`."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        layers, looks = coating_layers(site), cover_looks(site)
        return {
            "looks": [looks[layer.id] for layer in layers],
            "means": [TileMean(of) if isinstance(of := looks[one.id].of, str) else None for one in layers],
            "ids": [layer.id for layer in layers], "above": [float(layer.cover.coats_above) for layer in layers],
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> list[Coat]:
        out = []
        for id, look, mean, above in zip(read.ids, read.looks, read.means, read.above, strict=True):
            if mean is None:
                colour = np.minimum(np.array(look.of.colour) * look.brightness, 1)
            else:
                colour, _ = graded(mean, look)
            out.append(Coat(id, look.strength, tuple(colour.tolist()), look.opacity, look.soak, above))
        return out


@dataclass(frozen=True)
class CoatMasks(Target):
    """The masks of the covers that coat items, at the items of a scatter layer: uint8 (N, :data:`MOST`); 255 is full,
    unused ones are 0. Their strength, which the dials change, is not in them."""

    layer: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        around, layer = around_site(site), layer_of(site, self.layer)
        # Items stand anywhere, and their tops anywhere above.
        low, high = np.full((1, 3), -np.inf), np.full((1, 3), np.inf)
        covers = []
        for one in coating_layers(site):
            where = plain_of(site, one)
            reached = np.zeros(len(around), bool)
            planted: set[str] = set()
            for card in where.cards:
                reached |= card.signal.reaches(around, low, high)[0]
                planted.update(card.signal.looks_at())
            covers.append({"where": where, "above": float(one.cover.coats_above),
                           "scene": Scenery(bits_of(reached), tuple(sorted(planted)))})  # fmt: skip
        return {"placements": LayerPlacements(self.layer), "covers": covers,
                "shelf": ItemsOnShelf(tuple(sorted(set(layer.kinds()))))}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        placed: Placements = read.placements
        out = np.zeros((len(placed), MOST), np.uint8)
        if len(placed):
            bodies = bodies_of(placed, read.shelf)
            at = (bodies.positions + np.outer(bodies.heights * _AT, [0, 1, 0])).astype(np.float32)
            grows = np.array([read.shelf.item(name).grows for name in placed.names])[placed.items]
            for row, cover in enumerate(read.covers):
                held = np.where(grows, 1 - cover["above"] * (1 - _LEAVES_HOLD), 1)
                out[:, row] = np.round(_mask(cover["where"], cover["scene"], at) * held * 255)
        return out

    @staticmethod
    def pack(value: np.ndarray) -> dict[str, np.ndarray]:
        return {"masks": value}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> np.ndarray:
        return arrays["masks"]


def _mask(where: Where, scene: MeasuredScene, positions: np.ndarray) -> np.ndarray:
    if not where.cards or len(positions) > _MEASURED:
        return np.ones(len(positions), np.float32)
    up = np.broadcast_to(np.array([0, 1, 0], np.float32), positions.shape)
    samples = Samples(positions, np.ascontiguousarray(up))
    return chain(where.cards, [card.signal.measure(samples, scene) for card in where.cards])


def coat_amounts(graph: Graph, layer: str) -> np.ndarray:
    """How much of each coat the items of a layer have, float32 (N, K) in [0, 1]."""
    return amounts(graph.get(CoatMasks(layer)), graph.get(CoatLooks()))
