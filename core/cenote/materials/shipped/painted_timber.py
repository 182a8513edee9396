"""Painted wood."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.grain import Grain
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, grade, layer, ship, value

ship(
    "painted_timber",
    "Painted wood",
    "Timber and metal",
    "painted timber",
    "Wood under old blue-green paint that cracks along the grain and peels.",
    layer(
        "Wood",
        Grain(rings=0.018, wander=0.03, length=1.2),
        colour=colour((0.25, 0.20, 0.14), (0.13, 0.10, 0.068)),
        relief=value(0.42, 0.34),
        rough=value(0.9),
    ),
    layer(
        "Paint",
        Clouds(size=(0.5, 0.4), octaves=4),
        colour=colour((0.045, 0.092, 0.094), (0.075, 0.132, 0.130)),
        relief=value(0.7, 0.74),
        rough=value(0.45, 0.6),
        seed=2,
        mask=drawn(Clouds(size=(0.35, 0.09), octaves=7, fade=0.66), levels=(0.645, 0.63), seed=5),
    ),
    layer(
        "Cracks along the grain",
        Scratches(spread=0.05, width=0.0012, share=0.7, aligned=0.98),
        colour=colour((0.02, 0.03, 0.03)),
        relief=value(0.4),
        seed=3,
        opacity=0.7,
    ),
    layer(
        "Brush marks",
        Clouds(size=(0.2, 0.004), octaves=3, fade=0.75),
        colour=colour((0.84, 0.84, 0.84), (1, 1, 1), "multiply"),
        relief=value(0.44, 0.56, "soft light"),
        seed=7,
    ),
    layer(
        "Chalking",
        Clouds(size=(0.4, 0.5), octaves=5),
        colour=colour((0.20, 0.24, 0.235)),
        rough=value(0.9),
        levels=(0.5, 0.95),
        seed=4,
        opacity=0.4,
    ),
    layer(
        "Grain shows through",
        Grain(rings=0.006, length=0.4, reads="fibres"),
        relief=value(0.44, 0.56, "soft light"),
        seed=6,
    ),
    grade("Rubbed edges", edge_brightening=0.5, edge_width=0.004),
    size=1.2,
    laying="mixed",
    depth=0.003,
    uneven=0.1,
)
