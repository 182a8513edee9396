"""Concrete."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, fine, layer, ship, value

ship(
    "concrete",
    "Concrete",
    "Walls",
    "masonry",
    "Concrete from board shuttering, with blow holes and rain stains.",
    layer(
        "Cement",
        Clouds(size=(0.7, 0.5), octaves=6, fade=0.58),
        colour=colour((0.23, 0.225, 0.21), (0.36, 0.35, 0.325)),
        relief=value(0.55, 0.75),
        rough=value(0.92, 0.82),
    ),
    layer(
        "Shutter boards",
        Courses(width=2.4, height=0.15, joint=0.003, bevel=0.004, uneven=0.6, reads="tone"),
        colour=colour((0.72, 0.72, 0.72), (1, 1, 1), "multiply", 0.55),
        relief=value(0.38, 0.62, "soft light"),
        seed=2,
    ),
    layer(
        "Board seams",
        Courses(width=2.4, height=0.15, joint=0.003, bevel=0.004, uneven=0.6),
        colour=colour((0.42, 0.41, 0.385)),
        relief=value(0.86),
        inverted=True,
        seed=2,
        opacity=0.6,
    ),
    layer(
        "Wood print",
        Clouds(size=(0.8, 0.008), octaves=3, fade=0.7),
        relief=value(0.44, 0.56, "soft light", 0.8),
        colour=colour((0.86, 0.86, 0.86), (1, 1, 1), "multiply", 0.6),
        seed=3,
    ),
    layer(
        "Blow holes",
        Flakes(spread=0.055, size=(0.05, 0.22), share=0.5, slim=0.1, reads="dome"),
        colour=colour((0.09, 0.088, 0.083)),
        relief=value(0.5, 0.15),
        levels=(0.1, 0.9),
        seed=4,
        opacity=0.85,
    ),
    layer(
        "Pinholes",
        Flakes(spread=0.014, size=(0.03, 0.14), share=0.45, slim=0.2, reads="dome"),
        colour=colour((0.13, 0.128, 0.12)),
        relief=value(0.5, 0.25),
        levels=(0.1, 0.9),
        seed=8,
        opacity=0.7,
    ),
    layer(
        "Sand laid bare",
        Flakes(spread=0.005, size=(0.15, 0.5), share=0.5, slim=0.2, reads="tone"),
        colour=colour((0.17, 0.16, 0.14), (0.40, 0.38, 0.34)),
        relief=value(0.5, 0.62, "soft light"),
        shows="by shape",
        seed=9,
        opacity=0.5,
        mask=drawn(Clouds(size=(0.5, 0.3), octaves=5, fade=0.62), levels=(0.42, 0.72), seed=10),
    ),
    layer(
        "Hair cracks",
        Cells(size=0.3, irregular=1, gap=0.001, reads="edge"),
        colour=colour((0.14, 0.135, 0.125)),
        relief=value(0.4),
        levels=(0.006, 0.0),
        seed=11,
        warp=0.06,
        warp_size=0.1,
        opacity=0.6,
        mask=drawn(Clouds(size=(0.7, 0.7), octaves=3), levels=(0.5, 0.6), seed=12),
    ),
    fine("Cement skin", 0.006, 0.16, 13, relief=0.1),
    layer(
        "Rain stains",
        Clouds(size=(0.08, 1.6), octaves=4, fade=0.6),
        colour=colour((0.12, 0.118, 0.105)),
        levels=(0.56, 0.85),
        seed=5,
        opacity=0.5,
        mask=drawn(Clouds(size=(1.2, 1.2), octaves=3), levels=(0.4, 0.7), seed=6),
    ),
    size=2.4,
    laying="by piece",
    depth=0.006,
    uneven=0.15,
)
