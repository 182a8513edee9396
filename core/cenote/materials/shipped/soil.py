"""Soil."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, fine, layer, ship, value

ship(
    "soil",
    "Soil",
    "Grounds",
    "earth",
    "Loose dark soil with clods, crumbs, roots and a few pebbles.",
    layer(
        "Soil",
        Clouds(size=(0.5, 0.5), octaves=7, fade=0.62),
        colour=colour((0.030, 0.020, 0.012), (0.095, 0.066, 0.042)),
        relief=value(0.1, 0.62),
        rough=value(0.97),
    ),
    layer(
        "Clods",
        Cells(size=0.075, irregular=1, gap=0.004, reads="dome"),
        colour=colour((0.6, 0.58, 0.55), (1, 1, 1), "multiply", 0.7),
        relief=value(0.40, 0.62, "soft light"),
        seed=2,
        warp=0.03,
        warp_size=0.06,
    ),
    layer(
        "Crumbs",
        Flakes(spread=0.016, size=(0.25, 0.8), slim=0.25),
        colour=colour((0.06, 0.041, 0.026), (0.115, 0.082, 0.054)),
        relief=value(0.40, 0.64, "soft light"),
        levels=(0.1, 1),
        seed=3,
        opacity=0.7,
    ),
    layer(
        "Fine",
        Clouds(size=(0.01, 0.01), octaves=3, fade=0.85),
        colour=colour((0.5, 0.48, 0.45), (1, 1, 1), "multiply", 0.7),
        relief=value(0.44, 0.56, "soft light"),
        seed=4,
    ),
    layer(
        "Pebbles",
        Flakes(spread=0.13, size=(0.05, 0.16), share=0.45, slim=0.35),
        colour=colour((0.13, 0.115, 0.09), (0.26, 0.235, 0.19)),
        relief=value(0.45, 0.9, "max"),
        rough=value(0.8),
        levels=(0.05, 0.7),
        seed=5,
    ),
    layer(
        "Roots",
        Flakes(spread=0.12, size=(0.4, 0.95), share=0.5, slim=0.98, pointed=0.6),
        colour=colour((0.12, 0.085, 0.052)),
        relief=value(0.62),
        seed=6,
        levels=(0, 0.4),
        warp=0.03,
        warp_size=0.1,
    ),
    layer(
        "Bits of stalk",
        Flakes(spread=0.045, size=(0.1, 0.4), share=0.3, slim=0.93, pointed=0.2, reads="tone"),
        colour=colour((0.10, 0.075, 0.045), (0.25, 0.205, 0.125)),
        relief=value(0.55, 0.7, "max"),
        seed=7,
        warp=0.006,
        warp_size=0.03,
    ),
    layer(
        "Grit",
        Flakes(spread=0.009, size=(0.08, 0.3), share=0.35, slim=0.3, reads="tone"),
        colour=colour((0.07, 0.055, 0.04), (0.26, 0.24, 0.20)),
        relief=value(0.5, 0.62, "soft light"),
        seed=8,
        opacity=0.75,
    ),
    fine("Dust", 0.004, 0.42, 9, relief=0.1),
    size=2.0,
    laying="turned",
    depth=0.03,
    uneven=0.25,
)
