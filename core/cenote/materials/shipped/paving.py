"""Paving slabs."""

from __future__ import annotations

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..writing import colour, drawn, fine, grade, layer, ship, value

_LAID = {"width": 0.75, "height": 0.5, "joint": 0.012, "bevel": 0.01, "uneven": 0.5}
_FACE = drawn(Courses(**_LAID), seed=1, warp=0.006, warp_size=0.2)

ship(
    "paving",
    "Paving",
    "Floors",
    "stone",
    "Split stone flags of several lengths, some of them cracked.",
    layer(
        "Joints",
        Clouds(size=(0.05, 0.05), octaves=4),
        colour=colour((0.05, 0.04, 0.028), (0.12, 0.10, 0.072)),
        relief=value(0.0, 0.2),
        rough=value(0.97),
    ),
    layer(
        "Flags",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.19, 0.18, 0.165), (0.34, 0.315, 0.27)),
        relief=value(0.6, 0.74),
        rough=value(0.84),
        mask=_FACE,
        seed=1,
    ),
    layer(
        "Each a little askew",
        Courses(**_LAID, reads="tilt"),
        relief=value(0.36, 0.64, "soft light"),
        seed=1,
        mask=_FACE,
    ),
    layer(
        "Riven face",
        Clouds(size=(0.5, 0.2), octaves=6, fade=0.6, shape="billowed"),
        colour=colour((0.62, 0.6, 0.56), (1, 1, 1), "multiply", 0.8),
        relief=value(0.42, 0.58, "soft light"),
        seed=3,
        warp=0.05,
    ),
    layer(
        "Cracks",
        Cells(size=0.8, irregular=1, gap=0.001, reads="edge"),
        colour=colour((0.06, 0.05, 0.04)),
        relief=value(0.3),
        levels=(0.009, 0.003),
        seed=5,
        warp=0.06,
        warp_size=0.2,
        opacity=0.85,
        mask=drawn(Courses(**_LAID, reads="tone"), seed=1, levels=(0.70, 0.72)),
    ),
    layer(
        "Trodden",
        Clouds(size=(0.8, 0.8), octaves=5),
        rough=value(0.66, 0.9),
        colour=colour((0.7, 0.68, 0.64), (1, 1, 1), "multiply", 0.6),
        seed=7,
    ),
    fine("Sand", 0.004, 0.26, 21, relief=0.07),
    grade("Worn edges", edge_brightening=0.3, edge_width=0.012),
    size=3.0,
    laying="by piece",
    depth=0.02,
    uneven=0.16,
)
