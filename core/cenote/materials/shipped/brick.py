"""Brickwork."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..patterns.flakes import Flakes
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, fine, grade, layer, ship, value

_BOND = {"width": 0.225, "height": 0.075, "joint": 0.011, "bevel": 0.005, "uneven": 0.06}
_FACE = drawn(Courses(**_BOND), warp=0.003, warp_size=0.09)

ship(
    "brick",
    "Brick",
    "Walls",
    "masonry",
    "Old red stock brick in running bond with recessed lime mortar.",
    layer(
        "Mortar",
        Clouds(size=(0.03, 0.03), octaves=4, fade=0.7),
        colour=colour((0.25, 0.225, 0.18), (0.40, 0.37, 0.31)),
        relief=value(0.08, 0.26),
        rough=value(0.97),
        seed=1,
    ),
    layer(
        "Bricks",
        Courses(**_BOND, reads="tone"),
        colour=colour((0.27, 0.070, 0.036), (0.44, 0.175, 0.085)),
        relief=value(0.62, 0.8),
        rough=value(0.88, 0.8),
        mask=_FACE,
        warp=0.003,
        warp_size=0.09,
    ),
    layer(
        "Burnt bricks",
        Courses(**_BOND, reads="tone"),
        colour=colour((0.075, 0.036, 0.034)),
        levels=(0.84, 0.86),
        mask=_FACE,
        opacity=0.72,
    ),
    layer(
        "Pale bricks",
        Courses(**_BOND, reads="tone"),
        colour=colour((0.52, 0.29, 0.15)),
        levels=(0.12, 0.10),
        mask=_FACE,
        opacity=0.5,
    ),
    layer(
        "Each a little askew", Courses(**_BOND, reads="tilt"), relief=value(0.36, 0.64, "soft light", 0.9), mask=_FACE
    ),
    layer(
        "Fire skin",
        Clouds(size=(0.14, 0.09), octaves=5, fade=0.62),
        colour=colour((0.5, 0.45, 0.43), (1, 1, 1), "multiply", 0.75),
        relief=value(0.44, 0.56, "soft light", 0.7),
        seed=3,
    ),
    layer(
        "Pores",
        Flakes(spread=0.009, size=(0.06, 0.28), share=0.5, slim=0.35),
        colour=colour((0.12, 0.05, 0.035)),
        relief=value(0.45, 0.30, "soft light"),
        mask=_FACE,
        seed=5,
        opacity=0.55,
    ),
    layer(
        "Grit",
        Flakes(spread=0.006, size=(0.08, 0.3), share=0.3, slim=0.3, reads="tone"),
        colour=colour((0.36, 0.25, 0.19), (0.55, 0.45, 0.38)),
        relief=value(0.5, 0.6, "soft light"),
        mask=_FACE,
        shows="by shape",
        seed=11,
        opacity=0.45,
    ),
    layer(
        "Firing cracks",
        Scratches(spread=0.07, width=0.0012, share=0.3, aligned=0.4),
        colour=colour((0.09, 0.04, 0.03)),
        relief=value(0.3),
        mask=_FACE,
        seed=12,
        warp=0.006,
        warp_size=0.02,
        opacity=0.7,
    ),
    layer(
        "Chipped arrises",
        Clouds(size=(0.05, 0.05), octaves=4, fade=0.7),
        colour=colour((0.27, 0.118, 0.072)),
        relief=value(0.38),
        levels=(0.58, 0.74),
        seed=8,
        opacity=0.8,
        mask=drawn(Courses(**(_BOND | {"bevel": 0.02})), levels=(0.98, 0.25), warp=0.003, warp_size=0.09),
    ),
    fine("Sand", 0.003, 0.28, 13, relief=0.06),
    layer(
        "Lime bloom",
        Clouds(size=(0.5, 0.7), octaves=5),
        colour=colour((0.46, 0.42, 0.37)),
        levels=(0.60, 0.86),
        seed=4,
        opacity=0.38,
    ),
    grade("Worn edges", edge_brightening=0.5, edge_width=0.006),
    size=1.8,
    laying="by piece",
    depth=0.016,
    uneven=0.2,
)
