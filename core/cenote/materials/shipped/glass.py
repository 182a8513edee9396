"""Glass."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..writing import colour, layer, ship, value

ship(
    "glass",
    "Glass",
    "Stone",
    "glass",
    "Old dark glass, wavy and dusty; it is not seen through.",
    layer(
        "Glass",
        Clouds(size=(0.2, 0.2), octaves=3),
        colour=colour((0.05, 0.06, 0.055), (0.12, 0.13, 0.115)),
        relief=value(0.4, 0.6),
        rough=value(0.05, 0.12),
    ),
    layer(
        "Dust",
        Clouds(size=(0.12, 0.2), octaves=5),
        colour=colour((0.26, 0.25, 0.22)),
        rough=value(0.5),
        levels=(0.45, 1.0),
        seed=2,
        opacity=0.6,
    ),
    size=0.5,
    depth=0.002,
    uneven=0.0,
)
