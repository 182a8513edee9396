"""Gravel."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, fine, layer, ship, value

_LARGE = {"spread": 0.046, "size": (0.42, 0.66), "slim": 0.28}
_SMALL = {"spread": 0.02, "size": (0.3, 0.7), "slim": 0.3}

ship(
    "gravel",
    "Gravel",
    "Grounds",
    "earth",
    "River gravel of mixed sizes and colours, with sand between.",
    layer(
        "Sand between",
        Clouds(size=(0.02, 0.02), octaves=3, fade=0.8),
        colour=colour((0.085, 0.07, 0.05), (0.17, 0.145, 0.11)),
        relief=value(0.0, 0.12),
        rough=value(0.95),
    ),
    layer(
        "Small",
        Flakes(**_SMALL, reads="tone"),
        colour=colour((0.11, 0.10, 0.088), (0.34, 0.315, 0.275)),
        rough=value(0.78),
        mask=drawn(Flakes(**_SMALL, reads="shape"), seed=2),
        seed=2,
    ),
    layer("Small stand up", Flakes(**_SMALL), relief=value(0.08, 0.5, "max"), seed=2),
    layer(
        "Large",
        Flakes(**_LARGE, reads="tone"),
        colour=colour((0.12, 0.115, 0.11), (0.42, 0.395, 0.35)),
        rough=value(0.72),
        mask=drawn(Flakes(**_LARGE, reads="shape"), seed=3),
        seed=3,
    ),
    layer(
        "Rusty ones",
        Flakes(**_LARGE, reads="tone"),
        colour=colour((0.27, 0.165, 0.09)),
        levels=(0.80, 0.83),
        mask=drawn(Flakes(**_LARGE, reads="shape"), seed=3),
        seed=3,
        opacity=0.8,
    ),
    layer("Large stand up", Flakes(**_LARGE), relief=value(0.1, 0.95, "max"), seed=3),
    layer(
        "Shaded feet",
        Flakes(**_LARGE),
        colour=colour((0.4, 0.38, 0.36), (1, 1, 1), "multiply", 0.7),
        levels=(0, 0.6),
        seed=3,
        mask=drawn(Flakes(**_LARGE, reads="shape"), seed=3),
    ),
    layer(
        "Speckle",
        Clouds(size=(0.008, 0.008), octaves=3, fade=0.8),
        colour=colour((0.66, 0.66, 0.66), (1, 1, 1), "multiply", 0.8),
        seed=5,
    ),
    fine("Grain", 0.003, 0.26, 21, relief=0.04),
    size=1.4,
    laying="turned",
    depth=0.03,
    uneven=0.12,
)
