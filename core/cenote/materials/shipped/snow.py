"""Snow."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, fine, layer, ship, value

ship(
    "snow",
    "Snow",
    "Growth",
    "ice",
    "Settled snow: soft swells, grains that glitter, and a little dust.",
    layer(
        "Swells",
        Clouds(size=(0.8, 0.8), octaves=4, fade=0.45),
        colour=colour((0.72, 0.77, 0.85), (0.88, 0.895, 0.91)),
        relief=value(0.3, 0.7),
        rough=value(0.72, 0.6),
    ),
    layer(
        "Grains",
        Clouds(size=(0.006, 0.006), octaves=2, fade=0.9),
        colour=colour((0.88, 0.89, 0.9), (1, 1, 1), "multiply"),
        relief=value(0.44, 0.56, "soft light"),
        rough=value(0.36, 0.64, "soft light"),
        seed=2,
    ),
    layer(
        "Crust",
        Clouds(size=(0.12, 0.12), octaves=5, shape="billowed"),
        relief=value(0.46, 0.54, "soft light"),
        rough=value(0.35),
        levels=(0.6, 0.9),
        seed=3,
        opacity=0.6,
    ),
    layer(
        "Dust",
        Flakes(spread=0.05, size=(0.02, 0.08), share=0.4, slim=0.3),
        colour=colour((0.42, 0.40, 0.36)),
        levels=(0, 0.4),
        seed=4,
        opacity=0.4,
    ),
    fine("Crystals", 0.0025, 0.06, 21, relief=0.08),
    size=2.0,
    laying="turned",
    depth=0.02,
    uneven=0.04,
)
