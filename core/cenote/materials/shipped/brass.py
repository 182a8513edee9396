"""Brass."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.scratches import Scratches
from ..writing import colour, layer, ship, value

ship(
    "brass",
    "Brass",
    "Timber and metal",
    "metal",
    "Cast brass handled for years: bright where hands reach, brown and green elsewhere.",
    layer(
        "Brass",
        Clouds(size=(0.2, 0.2), octaves=4),
        colour=colour((0.60, 0.40, 0.16), (0.74, 0.52, 0.23)),
        relief=value(0.5, 0.55),
        rough=value(0.18, 0.34),
        metal=value(1),
    ),
    layer(
        "Tarnish",
        Clouds(size=(0.18, 0.18), octaves=6, fade=0.6),
        colour=colour((0.20, 0.105, 0.035), (0.42, 0.26, 0.10)),
        rough=value(0.5, 0.36),
        levels=(0.42, 0.72),
        seed=2,
        opacity=0.85,
    ),
    layer(
        "Verdigris",
        Clouds(size=(0.08, 0.08), octaves=7, fade=0.65),
        colour=colour((0.09, 0.24, 0.18), (0.20, 0.38, 0.30)),
        relief=value(0.6),
        rough=value(0.9),
        metal=value(0.05),
        levels=(0.72, 0.80),
        seed=3,
        opacity=0.8,
    ),
    layer(
        "Scratches",
        Scratches(spread=0.05, width=0.0006, share=0.7),
        colour=colour((0.8, 0.6, 0.3)),
        rough=value(0.4),
        relief=value(0.45),
        seed=4,
        opacity=0.45,
    ),
    size=0.5,
    depth=0.0008,
    uneven=0.05,
)
