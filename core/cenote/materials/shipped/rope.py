"""Rope."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.ridges import Ridges
from ..writing import colour, layer, ship, value

ship(
    "rope",
    "Rope",
    "Timber and metal",
    "cloth",
    "Laid hemp rope, unrolled: its strands run slanting across the tile.",
    layer(
        "Strands",
        Ridges(spread=0.03),
        colour=colour((0.075, 0.052, 0.028), (0.33, 0.26, 0.165)),
        relief=value(0.0, 0.9),
        rough=value(0.95),
    ),
    layer(
        "Yarns",
        Clouds(size=(0.03, 0.003), octaves=3, fade=0.8),
        colour=colour((0.55, 0.52, 0.47), (1, 1, 1), "multiply", 0.85),
        relief=value(0.38, 0.62, "soft light"),
        seed=2,
    ),
    layer(
        "Tarred",
        Clouds(size=(0.2, 0.2), octaves=4),
        colour=colour((0.5, 0.45, 0.4), (1, 1, 1), "multiply", 0.7),
        seed=3,
    ),
    size=0.24,
    depth=0.008,
    uneven=0.1,
)
