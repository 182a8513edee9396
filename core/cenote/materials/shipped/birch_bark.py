"""Birch bark."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, layer, ship, value

ship(
    "birch_bark",
    "Birch bark",
    "Growth",
    "growth",
    "White papery bark with dark pores across and black rifts; the trunk runs up the tile.",
    layer(
        "Paper",
        Clouds(size=(0.3, 0.05), octaves=5, fade=0.55),
        colour=colour((0.46, 0.42, 0.36), (0.70, 0.68, 0.63)),
        relief=value(0.6, 0.75),
        rough=value(0.7),
    ),
    layer(
        "Curls",
        Clouds(size=(0.25, 0.012), octaves=4, fade=0.65),
        colour=colour((0.74, 0.66, 0.58), (1, 1, 1), "multiply", 0.7),
        relief=value(0.42, 0.58, "soft light"),
        seed=2,
    ),
    layer(
        "Pores",
        Flakes(spread=0.05, size=(0.25, 0.7), share=0.75, slim=0.93, pointed=0.6, aligned=1),
        colour=colour((0.055, 0.04, 0.03)),
        relief=value(0.5),
        levels=(0, 0.4),
        seed=3,
    ),
    layer(
        "Rifts",
        Clouds(size=(0.16, 0.10), octaves=6, fade=0.62),
        colour=colour((0.018, 0.015, 0.013), (0.07, 0.058, 0.048)),
        relief=value(0.2, 0.9),
        rough=value(0.95),
        levels=(0.66, 0.72),
        seed=4,
    ),
    layer(
        "Green",
        Clouds(size=(0.3, 0.4), octaves=5),
        colour=colour((0.20, 0.21, 0.12)),
        levels=(0.55, 0.9),
        seed=5,
        opacity=0.3,
    ),
    size=0.6,
    laying="mixed",
    depth=0.006,
    uneven=0.08,
)
