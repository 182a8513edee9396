"""Rust."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, fine, layer, ship, value

ship(
    "rust",
    "Rust",
    "Timber and metal",
    "metal",
    "Iron rusted through: scales, pits, and powder from dark brown to orange.",
    layer(
        "Deep rust",
        Clouds(size=(0.25, 0.25), octaves=6, fade=0.62),
        colour=colour((0.050, 0.018, 0.010), (0.155, 0.056, 0.024)),
        relief=value(0.3, 0.55),
        rough=value(0.94),
    ),
    layer(
        "Scales",
        Cells(size=0.06, irregular=1, gap=0.002, reads="tone"),
        colour=colour((0.045, 0.02, 0.014), (0.12, 0.045, 0.022)),
        relief=value(0.5, 0.75),
        seed=2,
        warp=0.03,
        warp_size=0.05,
        mask=drawn(Clouds(size=(0.2, 0.2), octaves=5), levels=(0.50, 0.58), seed=6),
        opacity=0.9,
    ),
    layer(
        "Powder",
        Clouds(size=(0.10, 0.10), octaves=7, fade=0.7),
        colour=colour((0.22, 0.082, 0.026), (0.42, 0.19, 0.062)),
        rough=value(1),
        levels=(0.50, 0.80),
        seed=3,
        opacity=0.8,
    ),
    layer(
        "Pits",
        Flakes(spread=0.012, size=(0.15, 0.5), share=0.6, slim=0.1),
        colour=colour((0.025, 0.011, 0.008)),
        relief=value(0.5, 0.2),
        levels=(0.1, 0.9),
        seed=4,
        opacity=0.7,
    ),
    layer(
        "Grain",
        Clouds(size=(0.006, 0.006), octaves=3, fade=0.8),
        colour=colour((0.55, 0.5, 0.47), (1, 1, 1), "multiply", 0.8),
        relief=value(0.44, 0.56, "soft light"),
        seed=5,
    ),
    fine("Scale", 0.003, 0.3, 21, relief=0.08),
    size=0.8,
    laying="turned",
    depth=0.004,
    uneven=0.12,
)
