"""Clay roof tiles."""

from __future__ import annotations

from typing import Any

from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..writing import colour, drawn, fine, grade, layer, ship, value

_LAID = {"width": 0.165, "height": 0.1, "joint": 0.003, "bevel": 0.006, "uneven": 0.05}
_BENT: dict[str, Any] = {"warp": 0.004, "warp_size": 0.2}

ship(
    "roof_tile",
    "Roof tile",
    "Roofs",
    "masonry",
    "Plain clay tiles that overlap downwards, uneven in colour and lie.",
    layer(
        "Under the laps",
        Clouds(size=(0.1, 0.1)),
        colour=colour((0.035, 0.02, 0.015)),
        relief=value(0.0),
        rough=value(0.95),
    ),
    layer(
        "Tiles",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.165, 0.058, 0.034), (0.36, 0.15, 0.082)),
        rough=value(0.88, 0.78),
        mask=drawn(Courses(**_LAID), **_BENT),
        **_BENT,
    ),
    layer(
        "Dark tiles",
        Courses(**_LAID, reads="tone"),
        colour=colour((0.075, 0.04, 0.034)),
        levels=(0.86, 0.88),
        mask=drawn(Courses(**_LAID), **_BENT),
        opacity=0.7,
        **_BENT,
    ),
    layer("Laps", Courses(**_LAID, reads="overlap"), relief=value(0.12, 0.95, "max"), **_BENT),
    layer("Each a little askew", Courses(**_LAID, reads="tilt"), relief=value(0.40, 0.60, "soft light"), **_BENT),
    layer(
        "Clay",
        Clouds(size=(0.06, 0.06), octaves=5, fade=0.65),
        colour=colour((0.5, 0.46, 0.43), (1, 1, 1), "multiply", 0.8),
        relief=value(0.47, 0.53, "soft light"),
        seed=3,
    ),
    layer(
        "Shaded heads",
        Courses(**_LAID, reads="overlap"),
        colour=colour((0.4, 0.38, 0.36), (1, 1, 1), "multiply", 0.75),
        levels=(0.0, 0.45),
        **_BENT,
    ),
    layer(
        "Lichen",
        Clouds(size=(0.16, 0.16), octaves=6, fade=0.65),
        colour=colour((0.34, 0.31, 0.20)),
        levels=(0.68, 0.74),
        seed=5,
        opacity=0.5,
    ),
    layer(
        "Soot and rain",
        Clouds(size=(0.3, 1.2), octaves=5),
        colour=colour((0.5, 0.47, 0.45), (1, 1, 1), "multiply", 0.6),
        seed=6,
    ),
    fine("Sand", 0.003, 0.24, 21, relief=0.06),
    grade("Worn edges", edge_brightening=0.25, edge_width=0.006),
    size=2.0,
    laying="by piece",
    depth=0.03,
    uneven=0.22,
)
