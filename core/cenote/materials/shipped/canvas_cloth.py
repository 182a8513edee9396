"""Cloth."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.ridges import Ridges
from ..writing import colour, layer, ship, value

ship(
    "canvas_cloth",
    "Canvas",
    "Timber and metal",
    "cloth",
    "Coarse woven cloth, sun-bleached and stained.",
    layer(
        "Warp threads",
        Ridges(spread=0.006),
        colour=colour((0.20, 0.17, 0.125), (0.40, 0.36, 0.285)),
        relief=value(0.1, 0.7),
        rough=value(0.95),
        warp=0.0012,
        warp_size=0.03,
    ),
    layer(
        "Weft threads",
        Ridges(spread=0.006, lies="along"),
        colour=colour((0.6, 0.58, 0.55), (1, 1, 1), "multiply", 0.8),
        relief=value(0.3, 0.7, "overlay"),
        seed=2,
        warp=0.0012,
        warp_size=0.03,
    ),
    layer(
        "Stains",
        Clouds(size=(0.2, 0.2), octaves=5),
        colour=colour((0.5, 0.46, 0.4), (1, 1, 1), "multiply", 0.7),
        levels=(0.2, 0.7),
        seed=3,
    ),
    size=0.4,
    depth=0.0012,
    uneven=0.1,
)
