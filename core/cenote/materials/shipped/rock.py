"""Rock."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..writing import colour, drawn, fine, grade, layer, ship, value

ship(
    "rock",
    "Rock",
    "Stone",
    "stone",
    "Weathered grey rock with ledges, cracks, veins and pits.",
    layer(
        "Mass",
        Clouds(size=(0.5, 0.35), octaves=7, fade=0.55),
        colour=colour((0.105, 0.102, 0.096), (0.29, 0.275, 0.245)),
        relief=value(0.15, 0.85),
        rough=value(0.92, 0.82),
        warp=0.12,
        warp_size=0.4,
    ),
    layer(
        "Ledges",
        Clouds(size=(0.8, 0.1), octaves=5, fade=0.6, shape="billowed"),
        relief=value(0.34, 0.66, "soft light"),
        colour=colour((0.66, 0.65, 0.63), (1, 1, 1), "multiply", 0.7),
        seed=2,
        warp=0.12,
        warp_size=0.4,
    ),
    layer(
        "Cracks",
        Cells(size=0.34, irregular=1, gap=0.003, reads="edge"),
        colour=colour((0.035, 0.033, 0.03)),
        relief=value(0.05),
        levels=(0.035, 0.0),
        seed=3,
        warp=0.14,
        warp_size=0.2,
        opacity=0.75,
        mask=drawn(Clouds(size=(0.6, 0.6), octaves=3), levels=(0.45, 0.58), seed=8),
    ),
    layer(
        "Crystals",
        Clouds(size=(0.007, 0.007), octaves=3, fade=0.9),
        colour=colour((0.5, 0.5, 0.5), (1, 1, 1), "multiply", 0.8),
        relief=value(0.45, 0.55, "soft light"),
        seed=4,
    ),
    layer(
        "Iron stain",
        Clouds(size=(0.4, 0.6), octaves=5),
        colour=colour((0.21, 0.14, 0.085)),
        levels=(0.58, 0.88),
        seed=5,
        opacity=0.5,
    ),
    layer(
        "Lichen",
        Clouds(size=(0.10, 0.10), octaves=7, fade=0.66),
        colour=colour((0.30, 0.305, 0.25), (0.38, 0.375, 0.30)),
        levels=(0.68, 0.73),
        seed=6,
        opacity=0.6,
    ),
    fine("Grains", 0.003, 0.28, 21, relief=0.05),
    grade("Worn edges", edge_brightening=0.5, edge_width=0.012),
    size=1.5,
    laying="turned",
    depth=0.03,
    uneven=0.18,
)
