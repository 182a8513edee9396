"""A single slab of slate."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.scratches import Scratches
from ..writing import colour, grade, layer, ship, value

ship(
    "slab_slate",
    "Slate slab",
    "Stone",
    "stone",
    "The split face of one slab of slate: ledges, fine lines, a wet sheen.",
    layer(
        "Slate",
        Clouds(size=(0.4, 0.3), octaves=6),
        colour=colour((0.035, 0.042, 0.052), (0.095, 0.102, 0.115)),
        relief=value(0.4, 0.6),
        rough=value(0.55, 0.42),
    ),
    layer(
        "Ledges",
        Clouds(size=(0.5, 0.25), octaves=5, fade=0.6, shape="ridged"),
        relief=value(0.40, 0.60, "soft light"),
        colour=colour((0.7, 0.7, 0.7), (1, 1, 1), "multiply", 0.7),
        seed=2,
        warp=0.06,
        warp_size=0.2,
    ),
    layer(
        "Lines",
        Scratches(spread=0.06, width=0.001, share=0.5, aligned=0.6),
        colour=colour((0.16, 0.165, 0.175)),
        seed=3,
        opacity=0.4,
    ),
    layer(
        "Rust bloom",
        Clouds(size=(0.15, 0.15), octaves=6, fade=0.62),
        colour=colour((0.15, 0.085, 0.045)),
        levels=(0.68, 0.85),
        seed=4,
        opacity=0.5,
    ),
    grade("Worn edges", edge_brightening=0.3, edge_width=0.006),
    size=0.8,
    depth=0.004,
    uneven=0.12,
)
