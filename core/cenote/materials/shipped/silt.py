"""Silt: dirt that rain and wheels have thrown on walls, too fine to hold stones."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, fine, layer, ship, value

ship(
    "silt",
    "Silt",
    "Grounds",
    "earth",
    "Fine dried dirt, as it clings to walls: splashes, crumbs and dust.",
    layer(
        "Earth",
        Clouds(size=(0.35, 0.35), octaves=7, fade=0.6),
        colour=colour((0.070, 0.049, 0.031), (0.175, 0.132, 0.090)),
        relief=value(0.1, 0.7),
        rough=value(0.96),
    ),
    layer(
        "Splashes",
        Flakes(spread=0.03, size=(0.1, 0.6), share=0.6, slim=0.25, reads="dome"),
        colour=colour((0.085, 0.062, 0.041)),
        relief=value(0.4, 0.62, "soft light"),
        seed=2,
        opacity=0.5,
        warp=0.01,
        warp_size=0.02,
    ),
    layer(
        "Crumbs",
        Flakes(spread=0.008, size=(0.08, 0.35), share=0.4, slim=0.2, reads="tone"),
        colour=colour((0.075, 0.055, 0.037), (0.20, 0.165, 0.12)),
        relief=value(0.5, 0.72, "soft light"),
        seed=3,
        opacity=0.8,
    ),
    fine("Dust", 0.003, 0.26, 4, relief=0.09),
    size=1.4,
    laying="turned",
    depth=0.008,
    uneven=0.2,
)
