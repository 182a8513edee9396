"""Sand."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..patterns.ridges import Ridges
from ..writing import colour, drawn, fine, layer, ship, value

ship(
    "sand",
    "Sand",
    "Grounds",
    "earth",
    "Pale river sand with wind ripples and a few grains of shell.",
    layer(
        "Sand",
        Clouds(size=(0.9, 0.9), octaves=5),
        colour=colour((0.36, 0.285, 0.19), (0.50, 0.41, 0.285)),
        relief=value(0.3, 0.6),
        rough=value(0.93),
    ),
    layer(
        "Ripples",
        Ridges(spread=0.11),
        relief=value(0.36, 0.64, "soft light"),
        colour=colour((0.82, 0.8, 0.77), (1, 1, 1), "multiply", 0.8),
        warp=0.16,
        warp_size=0.5,
        seed=2,
        mask=drawn(Clouds(size=(1.2, 1.2), octaves=3), levels=(0.3, 0.6), seed=7),
    ),
    layer(
        "Grains",
        Clouds(size=(0.005, 0.005), octaves=2, fade=0.9),
        colour=colour((0.66, 0.64, 0.6), (1, 1, 1), "multiply"),
        relief=value(0.44, 0.56, "soft light"),
        seed=3,
    ),
    layer(
        "Dark grains",
        Flakes(spread=0.02, size=(0.05, 0.15), share=0.5, slim=0.2),
        colour=colour((0.12, 0.09, 0.06)),
        seed=4,
        levels=(0, 0.3),
        opacity=0.7,
    ),
    layer(
        "Shell",
        Flakes(spread=0.15, size=(0.02, 0.06), share=0.4, slim=0.4),
        colour=colour((0.66, 0.60, 0.52)),
        relief=value(0.5, 0.75, "max"),
        rough=value(0.5),
        seed=5,
        levels=(0, 0.4),
    ),
    fine("Grains", 0.0025, 0.3, 21, relief=0.05),
    size=2.2,
    laying="turned",
    depth=0.02,
    uneven=0.12,
)
