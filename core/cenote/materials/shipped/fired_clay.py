"""Fired clay."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, fine, grade, layer, ship, value

ship(
    "fired_clay",
    "Fired clay",
    "Stone",
    "masonry",
    "The body of a single brick or pot: fire skin, pores, chips and lime.",
    layer(
        "Clay",
        Clouds(size=(0.12, 0.12), octaves=6, fade=0.6),
        colour=colour((0.20, 0.062, 0.036), (0.42, 0.17, 0.09)),
        relief=value(0.5, 0.7),
        rough=value(0.9),
    ),
    layer(
        "Creases",
        Clouds(size=(0.08, 0.012), octaves=4, fade=0.65),
        colour=colour((0.62, 0.58, 0.55), (1, 1, 1), "multiply", 0.7),
        relief=value(0.42, 0.58, "soft light"),
        seed=2,
    ),
    layer(
        "Pores",
        Flakes(spread=0.008, size=(0.1, 0.4), share=0.55, slim=0.2),
        colour=colour((0.10, 0.042, 0.03)),
        relief=value(0.5, 0.3),
        seed=3,
        opacity=0.6,
    ),
    layer(
        "Burnt",
        Clouds(size=(0.2, 0.2), octaves=4),
        colour=colour((0.07, 0.036, 0.034)),
        levels=(0.62, 0.82),
        seed=4,
        opacity=0.6,
    ),
    layer(
        "Mortar left on it",
        Clouds(size=(0.09, 0.09), octaves=6, fade=0.6),
        colour=colour((0.36, 0.33, 0.27)),
        relief=value(0.8),
        levels=(0.66, 0.70),
        seed=5,
        opacity=0.85,
    ),
    fine("Sand", 0.0025, 0.2, 21, relief=0.06),
    grade("Worn edges", edge_brightening=0.4, edge_width=0.004),
    size=0.5,
    laying="mixed",
    depth=0.004,
    uneven=0.1,
)
