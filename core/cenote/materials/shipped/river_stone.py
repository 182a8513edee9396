"""River stone."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, fine, layer, ship, value

ship(
    "river_stone",
    "River stone",
    "Stone",
    "stone",
    "Stone rolled smooth by water: fine speckle, bands, pale scars.",
    layer(
        "Stone",
        Clouds(size=(0.3, 0.1), octaves=5),
        colour=colour((0.17, 0.165, 0.155), (0.31, 0.30, 0.275)),
        relief=value(0.45, 0.6),
        rough=value(0.8, 0.68),
        warp=0.06,
        warp_size=0.2,
    ),
    layer(
        "Speckle",
        Clouds(size=(0.006, 0.006), octaves=3, fade=0.9),
        colour=colour((0.5, 0.5, 0.5), (1, 1, 1), "multiply", 0.85),
        relief=value(0.46, 0.54, "soft light"),
        seed=2,
    ),
    layer(
        "Bands",
        Clouds(size=(0.6, 0.025), octaves=3),
        colour=colour((0.38, 0.365, 0.33)),
        levels=(0.66, 0.74),
        seed=3,
        warp=0.05,
        warp_size=0.2,
        opacity=0.5,
    ),
    layer(
        "Scars",
        Flakes(spread=0.04, size=(0.1, 0.35), share=0.3, slim=0.4),
        colour=colour((0.42, 0.40, 0.36)),
        relief=value(0.5, 0.42),
        levels=(0, 0.5),
        seed=4,
        opacity=0.35,
    ),
    fine("Grain", 0.0025, 0.22, 21, relief=0.03),
    size=0.7,
    laying="turned",
    depth=0.003,
    uneven=0.15,
)
