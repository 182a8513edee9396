"""Lime plaster."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, layer, ship, value

ship(
    "plaster",
    "Plaster",
    "Walls",
    "plaster",
    "Old lime plaster, trowelled, cracked, and stained by damp.",
    layer(
        "Trowelled",
        Clouds(size=(0.5, 0.3), octaves=6, fade=0.55),
        colour=colour((0.46, 0.42, 0.34), (0.60, 0.565, 0.48)),
        relief=value(0.45, 0.8),
        rough=value(0.95, 0.86),
        warp=0.06,
        warp_size=0.3,
    ),
    layer(
        "Sand",
        Clouds(size=(0.008, 0.008), octaves=3, fade=0.85),
        colour=colour((0.76, 0.74, 0.71), (1, 1, 1), "multiply"),
        relief=value(0.42, 0.58, "soft light"),
        seed=2,
    ),
    layer(
        "Coarse sand",
        Flakes(spread=0.007, size=(0.08, 0.3), share=0.4, slim=0.25, reads="tone"),
        colour=colour((0.26, 0.22, 0.16), (0.62, 0.58, 0.50)),
        relief=value(0.5, 0.66, "soft light"),
        seed=7,
        opacity=0.5,
    ),
    layer(
        "Hair and lime lumps",
        Scratches(spread=0.045, width=0.0012, share=0.35),
        colour=colour((0.30, 0.25, 0.18)),
        relief=value(0.42),
        seed=8,
        warp=0.012,
        warp_size=0.02,
        opacity=0.6,
    ),
    layer(
        "Damp",
        Clouds(size=(0.9, 1.4), octaves=5),
        colour=colour((0.30, 0.265, 0.20)),
        levels=(0.52, 0.86),
        seed=3,
        opacity=0.55,
    ),
    layer(
        "Cracks",
        Cells(size=0.55, irregular=1, gap=0.002, reads="edge"),
        colour=colour((0.10, 0.085, 0.065)),
        relief=value(0.25),
        levels=(0.012, 0.0),
        seed=4,
        warp=0.1,
        warp_size=0.16,
        opacity=0.8,
        mask=drawn(Clouds(size=(0.8, 0.8), octaves=3), levels=(0.5, 0.6), seed=9),
    ),
    layer(
        "Fallen off",
        Clouds(size=(0.9, 0.9), octaves=6, fade=0.6),
        colour=colour((0.29, 0.235, 0.17), (0.36, 0.30, 0.22)),
        relief=value(0.1, 0.2),
        rough=value(0.98),
        levels=(0.70, 0.715),
        seed=6,
        warp=0.04,
        warp_size=0.1,
    ),
    size=2.4,
    laying="turned",
    depth=0.008,
    uneven=0.12,
)
