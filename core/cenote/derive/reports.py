"""What masks come to, measured on cells: histograms, m² and shares."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..masks.where import Where, ramp
from ..signals.base import Signal
from ..site.document import CoverLayer
from .cache import key
from .surface import Surface

if TYPE_CHECKING:
    from .workshop import Workshop

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


class Reports:
    """Reports on the masks of one document."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop

    def covered(self, layer: CoverLayer) -> tuple[float, float]:
        """What a cover takes in the site's climate, and what the surfaces that share it come to; m² each."""
        workshop = self._workshop
        shown = set(workshop.document.surface_ids())
        surfaces = [workshop.surface(id) for id in layer.surfaces if id in shown]
        strength = layer.cover.look(workshop.document.climate).strength

        def of(surface: Surface) -> float:
            mask = np.minimum(workshop.layer_mask(layer, surface, 0) * strength, 1)
            return float((mask * workshop.cells(surface).areas).sum(dtype=np.float64))

        def made(surface: Surface) -> float:
            # Most edits change one layer of many: what the others take is as it was.
            signals = [workshop.signal_name(surface, card.signal) for card in layer.where.active]
            holds, wanted = workshop.holds(layer, surface).tolist(), layer.strengths.get(surface.id, 1.0)
            recipe = layer.where.model_dump_json()
            name = key("covered", surface.digest, signals, recipe, holds, wanted, strength)
            return workshop.cache.get(name, lambda: of(surface))

        taken = sum(made(surface) for surface in surfaces) if strength > 0 else 0.0
        return taken, sum(workshop.cells(surface).area for surface in surfaces)

    def histogram(self, surface: Surface, signal: Signal) -> np.ndarray:
        """How much of a surface has which value of a signal, over its reading's range: float64 (FINE_BINS,), m²."""

        def make() -> np.ndarray:
            low, high = signal.reading.low, signal.reading.high
            values = np.clip(self._workshop.signal_on_cells(surface, signal), low, high)
            return np.histogram(values, FINE_BINS, (low, high), weights=self._workshop.cells(surface).areas)[0]

        return self._workshop.cache.get(f"histogram {self._workshop.signal_name(surface, signal)}", make)

    def report(self, where: Where, surface_ids: Sequence[str], cover: CoverLayer | None = None) -> WhereReport:
        """Histograms and coverage of a mask over surfaces, measured on their cells.

        :param cover: the cover whose mask it is: what it holds to and its strengths then count in the whole.
        """
        surfaces = [self._workshop.surface(id) for id in surface_ids]
        area = sum(self._workshop.cells(surface).area for surface in surfaces)
        cards = []
        for card in where.cards:
            low, high = card.signal.reading.low, card.signal.reading.high
            fine = np.sum([self.histogram(surface, card.signal) for surface in surfaces], axis=0) + np.zeros(FINE_BINS)
            middles = low + (np.arange(FINE_BINS) + 0.5) * (high - low) / FINE_BINS
            covered = float(ramp(middles, card) @ fine)
            cards.append(CardReport(fine.reshape(BINS, -1).sum(1), low, high, covered / area if area else 0.0))
        masks = {surface.id: self._workshop.layer_mask(cover or where, surface, 0) for surface in surfaces}
        total = sum(
            float((masks[surface.id] * self._workshop.cells(surface).areas).sum(dtype=np.float64))
            for surface in surfaces
        )
        return WhereReport(cards, total, area, masks)
