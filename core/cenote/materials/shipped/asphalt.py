"""Asphalt."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, fine, layer, ship, value

ship(
    "asphalt",
    "Asphalt",
    "Floors",
    "stone",
    "Old asphalt: chips of stone in tar, worn pale, with cracks and a patch.",
    layer(
        "Tar",
        Clouds(size=(0.4, 0.4), octaves=6),
        colour=colour((0.026, 0.026, 0.027), (0.055, 0.054, 0.053)),
        relief=value(0.3, 0.5),
        rough=value(0.9),
    ),
    layer(
        "Chips",
        Flakes(spread=0.014, size=(0.3, 0.62), slim=0.25, reads="tone"),
        colour=colour((0.06, 0.06, 0.06), (0.20, 0.195, 0.185)),
        rough=value(0.8),
        seed=2,
        mask=drawn(Flakes(spread=0.014, size=(0.3, 0.62), slim=0.25, reads="shape"), seed=2),
    ),
    layer("Chips stand up", Flakes(spread=0.014, size=(0.3, 0.62), slim=0.25), relief=value(0.35, 0.85, "max"), seed=2),
    layer(
        "Worn pale",
        Clouds(size=(1.2, 0.6), octaves=4),
        colour=colour((0.6, 0.6, 0.6), (1, 1, 1), "multiply", 0.7),
        seed=3,
    ),
    layer(
        "Cracks",
        Cells(size=0.45, irregular=1, gap=0.002, reads="edge"),
        colour=colour((0.012, 0.012, 0.012)),
        relief=value(0.05),
        levels=(0.02, 0.006),
        seed=4,
        warp=0.05,
        warp_size=0.1,
        mask=drawn(Clouds(size=(1.2, 1.2), octaves=3), levels=(0.50, 0.58), seed=5),
    ),
    layer(
        "Patch",
        Clouds(size=(1.5, 1.2), octaves=2, fade=0.3),
        colour=colour((0.022, 0.022, 0.023)),
        relief=value(0.62, 0.66),
        rough=value(0.72),
        levels=(0.72, 0.725),
        seed=8,
        opacity=0.75,
    ),
    fine("Bitumen", 0.003, 0.25, 21, relief=0.06),
    size=2.4,
    laying="turned",
    depth=0.007,
    uneven=0.14,
)
