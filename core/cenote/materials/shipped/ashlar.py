"""Dressed stone."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..patterns.flakes import Flakes
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, fine, grade, layer, ship, value

_LAID = {"width": 0.75, "height": 0.375, "joint": 0.012, "bevel": 0.014, "uneven": 0.45}
_FACE = drawn(Courses(**_LAID), seed=1, warp=0.008, warp_size=0.2)

ship(
    "ashlar",
    "Dressed stone",
    "Walls",
    "stone",
    "Large worn blocks of grey-buff stone with tight joints, as lock walls are built of.",
    layer(
        "Joints",
        Clouds(size=(0.05, 0.05), octaves=4),
        colour=colour((0.085, 0.08, 0.066), (0.18, 0.165, 0.135)),
        relief=value(0.05, 0.2),
        rough=value(0.97),
    ),
    layer(
        "Blocks",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.185, 0.168, 0.138), (0.36, 0.32, 0.25)),
        relief=value(0.6, 0.76),
        rough=value(0.88),
        mask=_FACE,
        seed=1,
        warp=0.008,
        warp_size=0.2,
    ),
    layer(
        "Grey blocks",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.20, 0.20, 0.195)),
        levels=(0.70, 0.72),
        seed=1,
        mask=_FACE,
        opacity=0.6,
        warp=0.008,
        warp_size=0.2,
    ),
    layer(
        "Bedding",
        Clouds(size=(0.7, 0.06), octaves=5, fade=0.6),
        colour=colour((0.62, 0.58, 0.52), (1, 1, 1), "multiply", 0.7),
        relief=value(0.42, 0.58, "soft light"),
        seed=3,
        warp=0.03,
        warp_size=0.3,
    ),
    layer(
        "Tooling",
        Scratches(spread=0.035, width=0.004, share=0.9, aligned=0.82),
        relief=value(0.5, 0.36, "soft light"),
        colour=colour((1, 1, 1), (0.7, 0.68, 0.64), "multiply", 0.5),
        seed=4,
        mask=_FACE,
    ),
    layer(
        "Worn",
        Clouds(size=(0.4, 0.4), octaves=6, fade=0.6),
        relief=value(0.40, 0.60, "soft light"),
        colour=colour((0.55, 0.52, 0.46), (1, 1, 1), "multiply", 0.6),
        seed=5,
    ),
    layer(
        "Pits",
        Flakes(spread=0.022, size=(0.05, 0.24), share=0.4, slim=0.4, pointed=0.4),
        colour=colour((0.09, 0.08, 0.064)),
        relief=value(0.5, 0.26),
        seed=6,
        mask=_FACE,
        warp=0.006,
        warp_size=0.012,
        opacity=0.5,
    ),
    layer(
        "Shell and quartz",
        Flakes(spread=0.012, size=(0.06, 0.22), share=0.3, slim=0.5, reads="tone"),
        colour=colour((0.24, 0.22, 0.18), (0.46, 0.43, 0.37)),
        shows="by shape",
        seed=8,
        mask=_FACE,
        opacity=0.5,
    ),
    fine("Sand", 0.003, 0.24, 9, relief=0.035),
    layer(
        "Lost corners",
        Clouds(size=(0.12, 0.12), octaves=5, fade=0.6),
        colour=colour((0.33, 0.295, 0.23)),
        relief=value(0.42),
        levels=(0.58, 0.66),
        seed=7,
        mask=drawn(Courses(**(_LAID | {"bevel": 0.07})), seed=1, levels=(0.95, 0.2)),
    ),
    grade("Worn edges", edge_brightening=0.35, edge_width=0.015),
    size=3.0,
    laying="by piece",
    depth=0.026,
    uneven=0.2,
)
