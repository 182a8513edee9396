"""Timber boards."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..patterns.flakes import Flakes
from ..patterns.grain import Grain
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, grade, layer, ship, value

_BOARDS = {"width": 1.6, "height": 0.2, "joint": 0.006, "bevel": 0.005, "uneven": 0.5}
_FACE = drawn(Courses(**_BOARDS), seed=1)

ship(
    "timber",
    "Timber",
    "Timber and metal",
    "timber",
    "Grey-brown oak boards with grain, checks, nails and dark gaps; they run across the tile.",
    layer(
        "Gaps", Clouds(size=(0.05, 0.05)), colour=colour((0.012, 0.009, 0.007)), relief=value(0.0), rough=value(0.95)
    ),
    layer(
        "Boards",
        Courses(**_BOARDS, reads="tone"),
        colour=colour((0.115, 0.078, 0.048), (0.25, 0.20, 0.145)),
        relief=value(0.62, 0.74),
        rough=value(0.84),
        mask=_FACE,
        seed=1,
    ),
    layer(
        "Rings",
        Grain(rings=0.024, wander=0.05, length=1.6, board=0.2),
        colour=colour((1, 1, 1), (0.42, 0.34, 0.27), "multiply", 0.85),
        relief=value(0.53, 0.43, "soft light"),
        seed=2,
        mask=_FACE,
        warp=0.008,
        warp_size=0.12,
    ),
    layer(
        "Fibres",
        Grain(rings=0.006, length=0.4, board=0.2, reads="fibres"),
        colour=colour((0.5, 0.46, 0.41), (1, 1, 1), "multiply", 0.8),
        relief=value(0.40, 0.60, "soft light"),
        rough=value(0.9, 0.74),
        seed=3,
        mask=_FACE,
    ),
    layer(
        "Lifted fibres",
        Clouds(size=(0.1, 0.0022), octaves=2, fade=0.8),
        colour=colour((0.66, 0.64, 0.6), (1, 1, 1), "multiply"),
        relief=value(0.42, 0.58, "soft light"),
        seed=7,
        mask=_FACE,
    ),
    layer(
        "Silvered",
        Clouds(size=(0.9, 0.12), octaves=5),
        colour=colour((0.27, 0.255, 0.235)),
        levels=(0.38, 0.78),
        seed=4,
        mask=_FACE,
        opacity=0.55,
    ),
    layer(
        "Checks",
        Scratches(spread=0.16, width=0.003, share=0.6, aligned=0.985),
        colour=colour((0.022, 0.016, 0.012)),
        relief=value(0.2),
        seed=5,
        mask=_FACE,
        opacity=0.9,
    ),
    layer(
        "Knots",
        Flakes(spread=0.42, size=(0.03, 0.06), share=0.55, slim=0.2),
        colour=colour((0.045, 0.028, 0.017)),
        levels=(0.0, 0.5),
        relief=value(0.62, 0.5),
        seed=6,
        mask=_FACE,
        opacity=0.85,
    ),
    grade("Worn edges", edge_brightening=0.3, edge_width=0.006),
    size=1.6,
    laying="by piece",
    depth=0.009,
    uneven=0.2,
)
