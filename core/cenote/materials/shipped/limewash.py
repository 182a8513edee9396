"""Limewash."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..writing import colour, fine, layer, ship, value

ship(
    "limewash",
    "Limewash",
    "Walls",
    "plaster",
    "White limewash over a rough wall, brushed on in many coats and worn thin.",
    layer(
        "Wall beneath",
        Clouds(size=(0.35, 0.35), octaves=6, fade=0.6),
        colour=colour((0.40, 0.36, 0.29), (0.46, 0.42, 0.35)),
        relief=value(0.3, 0.75),
        rough=value(0.92),
    ),
    layer(
        "Brushed coats",
        Clouds(size=(0.3, 0.02), octaves=4, fade=0.7),
        colour=colour((0.60, 0.585, 0.54), (0.74, 0.725, 0.68)),
        relief=value(0.45, 0.58, "soft light"),
        levels=(0.2, 0.8),
        seed=2,
        opacity=0.92,
    ),
    layer(
        "Worn thin",
        Clouds(size=(0.6, 0.8), octaves=6, fade=0.62),
        colour=colour((0.38, 0.34, 0.27)),
        levels=(0.60, 0.80),
        seed=3,
        opacity=0.6,
    ),
    fine("Lime", 0.004, 0.12, 21, relief=0.08),
    size=2.0,
    laying="turned",
    depth=0.008,
    uneven=0.1,
)
