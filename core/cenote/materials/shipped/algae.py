"""Algae."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..writing import colour, layer, ship, value

ship(
    "algae",
    "Algae",
    "Growth",
    "growth",
    "A film of green slime, darker where it is thick.",
    layer(
        "Slime",
        Clouds(size=(0.18, 0.18), octaves=6, fade=0.62),
        colour=colour((0.010, 0.018, 0.006), (0.050, 0.075, 0.020)),
        relief=value(0.3, 0.7),
        rough=value(0.42, 0.62),
    ),
    layer(
        "Threads",
        Clouds(size=(0.012, 0.11), octaves=4, fade=0.7),
        colour=colour((0.5, 0.6, 0.4), (1, 1, 1), "multiply", 0.7),
        relief=value(0.36, 0.64, "soft light"),
        seed=2,
    ),
    layer(
        "Bare spots",
        Clouds(size=(0.09, 0.09), octaves=4),
        colour=colour((0.09, 0.08, 0.045)),
        levels=(0.68, 0.85),
        seed=3,
        opacity=0.6,
    ),
    size=0.8,
    laying="turned",
    depth=0.004,
    uneven=0.25,
)
