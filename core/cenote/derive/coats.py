"""Covers on placed items: each item has its share of snow, frost, moss or wetness by what its own place is exposed to."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ..masks.where import chain
from ..scatter.fill import bodies_of
from ..scatter.layer import Scatter
from ..signals.base import Samples
from ..site.document import CoverLayer
from ..weather.base import Film
from ..weather.coats import Coat, amounts
from .cache import key

if TYPE_CHECKING:
    from .workshop import Workshop

# At most so many covers coat an item: the uppermost ones.
MOST = 4
# Up to so many items of a layer are measured each by itself; more take what the open ground has.
_MEASURED = 150_000
# What bends holds only some of what lies on it: leaves and blades let the rest slip off.
_LEAVES_HOLD = 0.55
# Where an item is measured, against its height.
_AT = 0.7


class Coats:
    """What covers lie on the placed items of one document."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop

    def layers(self) -> list[CoverLayer]:
        """The covers that coat items, lowest first."""
        return [one for one in self._workshop.document.weather if one.shown and one.on_items and one.cover.coats][
            -MOST:
        ]

    def all(self) -> list[Coat]:
        """How they look in the site's climate."""
        return [self._coat(layer) for layer in self.layers()]

    def _coat(self, layer: CoverLayer) -> Coat:
        look = layer.cover.look(self._workshop.document.climate)
        if isinstance(look.of, Film):
            colour = np.minimum(np.array(look.of.colour) * look.brightness, 1)
        else:
            colour, _ = self._workshop.mean_of(look.of, look)
        return Coat(layer.id, look.strength, tuple(colour.tolist()), look.opacity, look.soak, layer.cover.coats_above)

    def name(self, layer: Scatter) -> str:
        """The key of what coats a layer's items, but for its strength."""
        workshop = self._workshop
        masks = [
            [
                one.where.model_dump(mode="json"),
                [card.signal.depends_on(workshop.scene, "") for card in one.where.active],
            ]
            for one in self.layers()
        ]
        return key("coats", workshop.placements_name(layer), masks)

    def masks(self, layer: Scatter) -> np.ndarray:
        """The masks of these covers at the items of a layer, uint8 (N, :data:`MOST`); 255 is full, unused ones are 0."""

        def make() -> dict[str, np.ndarray]:
            placed = self._workshop.placements(layer)
            out = np.zeros((len(placed), MOST), np.uint8)
            if len(placed):
                bodies = bodies_of(placed, self._workshop.shelf)
                at = bodies.positions + np.outer(bodies.heights * _AT, [0, 1, 0])
                grows = np.array([self._workshop.shelf.item(name).grows for name in placed.names])[placed.items]
                for row, one in enumerate(self.layers()):
                    holds = np.where(grows, 1 - one.cover.coats_above * (1 - _LEAVES_HOLD), 1)
                    out[:, row] = np.round(self._mask(one, at.astype(np.float32)) * holds * 255)
            return {"masks": out}

        return self._workshop.cache.arrays(self.name(layer), make)["masks"]

    def amounts(self, layer: Scatter) -> np.ndarray:
        """How much of each of these covers the items of a layer have, float32 (N, K) in [0, 1]."""
        return amounts(self.masks(layer), self.all())

    def _mask(self, layer: CoverLayer, positions: np.ndarray) -> np.ndarray:
        cards = layer.where.active
        if not cards or len(positions) > _MEASURED:
            return np.ones(len(positions), np.float32)
        up = np.broadcast_to(np.array([0, 1, 0], np.float32), positions.shape)
        samples = Samples(positions, np.ascontiguousarray(up))
        return chain(cards, [card.signal.measure(samples, self._workshop.scene) for card in cards])
