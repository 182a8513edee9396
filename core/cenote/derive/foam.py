"""Foam where water meets what stands in it: a line along all of it, more of it where the wind drives it to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..geometry.compass import blown_from
from ..geometry.waterline import away_from, crossings
from ..signals.noise import world_noise
from ..signals.scene import MeasuredScene
from ..site.document import SiteDocument
from .scene import WholeScene
from .site import Site
from .target import Read, Target

# The finest squares, metres, and at most so many.
_FINEST, _MOST = 0.012, 3_000_000
# How far foam reaches: where it is least, where it is most, and as much more where a strong wind drives it, metres.
_LEAST, _WIDE, _DRIVEN = 0.012, 0.06, 0.14
_STRONG = 6.0
# Bubbles hold together in rafts of this size, and are so large, metres.
_RAFTS, _BUBBLES = 0.45, 0.035
# On squares larger than this it is thinner than can be told.
_TOLD = 0.06


# Its reflectance: not quite clean.
FOAM_COLOUR = (0.62, 0.6, 0.53)


@dataclass(frozen=True)
class Foamed:
    """Foam on a level of water.

    :ivar cover: uint8 (rows, columns), how much of the water is hidden, 255 for all: rows along z, columns along x. Nothing where no foam is at all.
    :ivar low: float64 (2,), x and z of its corner. :ivar cell: side of a square, metres.
    """

    cover: np.ndarray
    low: np.ndarray
    cell: float


@dataclass(frozen=True)
class Foam(Target):
    """Foam on one of a site's waters: :class:`Foamed`.

    :ivar level: metres. :ivar outline: x and z of the corners of a hollow's water; empty where it stands over the whole site.
    """

    level: float
    outline: tuple[tuple[float, float], ...]
    bearing: float
    wind: float

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"scene": WholeScene(), "level": self.level, "outline": self.outline, "bearing": self.bearing, "wind": self.wind}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Foamed:
        scene: MeasuredScene = read.scene
        lines = [crossings(one.corners, read.level) for one in scene.objects.values()]
        found = np.concatenate(lines) if lines else np.zeros((0, 2, 2))
        if read.outline:
            corners = np.asarray(read.outline, float)
            low, high = corners.min(0) - _WIDE, corners.max(0) + _WIDE
            found = found[((found.max(1) > low) & (found.min(1) < high)).all(1)]
        return foamed(found, blown_from(read.bearing), read.wind)


def foam_of(document: SiteDocument, level: float, outline: np.ndarray) -> Foam | None:
    """Foam on one of a site's waters; None where it is to have none. :param outline: float (N, 2), as :class:`Foam` has it."""
    wind = document.wind
    if not document.water.foam:
        return None
    return Foam(float(level), tuple((float(x), float(z)) for x, z in outline), wind.bearing, wind.strength)


def foamed(segments: np.ndarray, way: np.ndarray, wind: float) -> Foamed:
    """Foam along where a level meets what stands in it.

    :param segments: float64 (N, 2, 2), metres along x and z. :param way: unit float (2,), the way that the wind blows. :param wind: m/s.
    """
    if not len(segments):
        return Foamed(np.zeros((0, 0), np.uint8), np.zeros(2), 1.0)
    reach = _WIDE + _DRIVEN
    low, high = segments.min((0, 1)) - reach, segments.max((0, 1)) + reach
    cell = max(_FINEST, float(np.sqrt(np.prod(high - low) / _MOST)))
    columns, rows = (np.ceil((high - low) / cell).astype(int)).tolist()
    far, towards = away_from(segments, low, cell, (rows, columns))
    out = np.zeros((rows, columns), np.float32)
    near = far < reach
    line, column = np.nonzero(near)
    places = np.zeros((len(line), 3), np.float32)
    places[:, 0], places[:, 2] = low[0] + (column + 0.5) * cell, low[1] + (line + 0.5) * cell
    rafts = world_noise(places, _RAFTS, octaves=4, seed=71)
    driven = np.clip(towards[near] @ np.asarray(way, np.float32), 0, 1) * min(wind / _STRONG, 1.5)
    wide = _LEAST + (_WIDE + _DRIVEN * driven) * np.clip((rafts - 0.42) * 4, 0, 1)
    edge = np.clip((wide - far[near]) / (0.4 * wide + 0.5 * cell) + 0.15, 0, 1)
    # Single bubbles are told from each other where foam is thin, and where squares are fine enough.
    bubbles = world_noise(places, _BUBBLES, octaves=2, seed=72, look="cells")
    pierced = np.clip(edge * 1.7 - bubbles * min(0.02 / cell, 1.0), 0, 1)
    out[near] = pierced * min(1.0, _TOLD / cell)
    return Foamed(np.round(out * 255).astype(np.uint8), low, cell)
