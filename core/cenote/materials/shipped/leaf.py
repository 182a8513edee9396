"""The face of a leaf."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.ridges import Ridges
from ..writing import colour, layer, ship, value

ship(
    "leaf",
    "Leaf",
    "Growth",
    "growth",
    "The face of a broad leaf: ribs, net of veins, a waxy sheen.",
    layer(
        "Blade",
        Clouds(size=(0.03, 0.03), octaves=5),
        colour=colour((0.028, 0.062, 0.012), (0.062, 0.115, 0.026)),
        relief=value(0.45, 0.6),
        rough=value(0.48, 0.62),
    ),
    layer(
        "Net",
        Cells(size=0.004, irregular=0.9, gap=0.0004, reads="edge"),
        colour=colour((0.10, 0.15, 0.045)),
        relief=value(0.36),
        levels=(0.28, 0.05),
        seed=2,
        opacity=0.6,
    ),
    layer(
        "Ribs",
        Ridges(spread=0.015),
        colour=colour((0.13, 0.18, 0.062)),
        relief=value(0.3),
        levels=(0.90, 0.98),
        seed=3,
        warp=0.004,
        warp_size=0.04,
    ),
    layer(
        "Blight",
        Clouds(size=(0.015, 0.015), octaves=5, fade=0.6),
        colour=colour((0.15, 0.10, 0.032)),
        levels=(0.72, 0.80),
        seed=4,
        opacity=0.6,
    ),
    size=0.09,
    depth=0.0006,
    uneven=0.1,
)
