"""Bare steel."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.scratches import Scratches
from ..writing import colour, layer, ship, value

ship(
    "bare_metal",
    "Bare steel",
    "Timber and metal",
    "metal",
    "Steel without paint: mill marks, scratches, stains and the first rust.",
    layer(
        "Steel",
        Clouds(size=(0.5, 0.4), octaves=5),
        colour=colour((0.40, 0.39, 0.375), (0.52, 0.515, 0.50)),
        relief=value(0.5, 0.55),
        rough=value(0.24, 0.46),
        metal=value(1),
    ),
    layer(
        "Mill marks",
        Clouds(size=(0.6, 0.002), octaves=2, fade=0.7),
        colour=colour((0.8, 0.8, 0.8), (1, 1, 1), "multiply"),
        relief=value(0.47, 0.53, "soft light"),
        rough=value(0.40, 0.60, "soft light"),
        seed=2,
    ),
    layer(
        "Scratches",
        Scratches(spread=0.05, width=0.0008, share=0.8),
        colour=colour((0.62, 0.61, 0.6)),
        relief=value(0.4),
        rough=value(0.55),
        seed=3,
        opacity=0.5,
    ),
    layer(
        "Stains",
        Clouds(size=(0.16, 0.2), octaves=5),
        colour=colour((0.55, 0.5, 0.45), (1, 1, 1), "multiply", 0.7),
        rough=value(0.62, 0.3, opacity=0.6),
        seed=4,
    ),
    layer(
        "First rust",
        Clouds(size=(0.12, 0.12), octaves=7, fade=0.68),
        colour=colour((0.10, 0.035, 0.014), (0.27, 0.10, 0.034)),
        relief=value(0.6),
        rough=value(0.9),
        metal=value(0.1),
        levels=(0.70, 0.80),
        seed=5,
        opacity=0.9,
    ),
    size=0.8,
    laying="mixed",
    depth=0.001,
    uneven=0.05,
)
