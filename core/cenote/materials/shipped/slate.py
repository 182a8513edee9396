"""Roof slates."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..writing import colour, drawn, fine, grade, layer, ship, value

_LAID = {"width": 0.25, "height": 0.2, "joint": 0.003, "bevel": 0.005, "uneven": 0.2}

ship(
    "slate",
    "Slate",
    "Roofs",
    "stone",
    "Blue-grey slates that overlap downwards, split thin, with a slight sheen.",
    layer(
        "Under the laps",
        Clouds(size=(0.1, 0.1)),
        colour=colour((0.012, 0.012, 0.014)),
        relief=value(0.0),
        rough=value(0.95),
    ),
    layer(
        "Slates",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.045, 0.052, 0.064), (0.115, 0.122, 0.135)),
        rough=value(0.62, 0.5),
        mask=drawn(Courses(**_LAID), seed=1),
        seed=1,
    ),
    layer(
        "Purple slates",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.085, 0.066, 0.085)),
        levels=(0.8, 0.82),
        seed=1,
        opacity=0.7,
        mask=drawn(Courses(**_LAID), seed=1),
    ),
    layer("Laps", Courses(**_LAID, reads="overlap"), relief=value(0.15, 0.9, "max"), seed=1),
    layer("Each a little askew", Courses(**_LAID, reads="tilt"), relief=value(0.42, 0.58, "soft light"), seed=1),
    layer(
        "Split face",
        Clouds(size=(0.09, 0.2), octaves=6, fade=0.6, shape="ridged"),
        relief=value(0.46, 0.54, "soft light"),
        colour=colour((0.7, 0.7, 0.7), (1, 1, 1), "multiply", 0.7),
        seed=3,
        warp=0.03,
        warp_size=0.1,
    ),
    layer(
        "Rust stains",
        Clouds(size=(0.06, 0.3), octaves=5),
        colour=colour((0.16, 0.085, 0.04)),
        levels=(0.7, 0.9),
        seed=4,
        opacity=0.5,
    ),
    layer(
        "Lichen",
        Clouds(size=(0.12, 0.12), octaves=6, fade=0.65),
        colour=colour((0.30, 0.31, 0.25)),
        levels=(0.76, 0.80),
        seed=5,
        opacity=0.5,
    ),
    fine("Cleavage", 0.003, 0.16, 21, relief=0.05),
    grade("Chipped edges", edge_brightening=0.5, edge_width=0.005),
    size=2.0,
    laying="by piece",
    depth=0.02,
    uneven=0.12,
)
