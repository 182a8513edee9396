"""Layers of grass to begin with."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..masks.where import Where, suggested_card
from ..scatter.clear import ClearOfObjects
from ..signals.base import SIGNALS
from .layer import Grass


@dataclass(frozen=True)
class GrassPreset:
    """A layer of grass as it begins. :ivar kind: tells it from others. :ivar title: its name. :ivar help: one sentence about it."""

    kind: str
    title: str
    help: str
    values: dict[str, Any]

    def layer(self, id: str) -> Grass:
        """The layer: off what is steep, and up to the edges of whatever stands in it; on no surface yet."""
        steep = suggested_card("slope", SIGNALS["slope"].model_validate({"kind": "slope"}))
        off_steep = Where(cards=(steep.model_copy(update={"starts_at": 48.0, "full_at": 36.0}),))
        clear = ClearOfObjects(id="objects", distance=0.0, fade=0.03)
        values = {"where": off_steep, "keep_clear": (clear,)} | self.values
        return Grass(id=id, name=self.title, surfaces=(), **values)


PRESETS = (
    GrassPreset(
        "lawn",
        "Lawn",
        "Short, fine and dense, cut to one height.",
        {"density": 2600, "height": (0.05, 0.09), "mown": True, "cut_at": 0.035, "root_width": 0.0028, "tip_width": 0.0008,
         "bend": 28, "kinked": 2, "clumps": 20, "clump_size": 0.08, "dead": 5, "variety": 25},
    ),
    GrassPreset(
        "meadow",
        "Meadow",
        "Knee-high, leaning every way, with dead blades at its foot.",
        {"density": 1200, "height": (0.1, 0.42), "root_width": 0.0042, "tip_width": 0.0007, "bend": 75, "curl": 55,
         "kinked": 8, "clumps": 60, "clump_size": 0.22, "dead": 14, "variety": 35},
    ),
    GrassPreset(
        "rough",
        "Rough grass",
        "What nobody mows: tussocks that hang over, many of them broken or dead.",
        {"density": 1500, "height": (0.08, 0.32), "root_width": 0.0038, "tip_width": 0.0006, "bend": 110, "curl": 45,
         "kinked": 16, "clumps": 80, "clump_size": 0.3, "dead": 28, "variety": 40,
         "tip_colour": (0.165, 0.19, 0.055)},
    ),
    GrassPreset(
        "short_turf",
        "Grazed turf",
        "Short and uneven, as beasts or feet leave it.",
        {"density": 1900, "height": (0.015, 0.07), "root_width": 0.003, "tip_width": 0.0008, "bend": 60, "kinked": 10,
         "clumps": 55, "clump_size": 0.1, "dead": 16, "variety": 30, "tip_colour": (0.15, 0.185, 0.052)},
    ),
)  # fmt: skip
