"""Lichen."""

from __future__ import annotations

from typing import Any

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..writing import colour, fine, layer, ship, value

_CRUSTS = {"size": 0.07, "irregular": 0.95, "gap": 0.004, "rounded": 0.7}
_BENT: dict[str, Any] = {"warp": 0.04, "warp_size": 0.05}

ship(
    "lichen",
    "Lichen",
    "Growth",
    "growth",
    "Flat crusts, grey-green and here and there ochre.",
    layer(
        "Crusts",
        Cells(**_CRUSTS, reads="dome"),
        colour=colour((0.15, 0.16, 0.12), (0.37, 0.385, 0.31)),
        relief=value(0.15, 0.62),
        rough=value(0.95),
        **_BENT,
    ),
    layer(
        "Each its tone",
        Cells(**_CRUSTS, reads="tone"),
        colour=colour((0.62, 0.64, 0.58), (1, 1, 1), "multiply", 0.85),
        **_BENT,
    ),
    layer(
        "Ochre crusts",
        Clouds(size=(0.24, 0.24), octaves=5),
        colour=colour((0.43, 0.25, 0.04)),
        levels=(0.62, 0.72),
        seed=4,
        opacity=0.8,
    ),
    layer(
        "Warts",
        Clouds(size=(0.008, 0.008), octaves=3, fade=0.8),
        colour=colour((0.7, 0.7, 0.66), (1, 1, 1), "multiply", 0.7),
        relief=value(0.38, 0.62, "soft light"),
        seed=5,
    ),
    fine("Crust", 0.003, 0.28, 21, relief=0.08),
    size=0.9,
    laying="turned",
    depth=0.002,
    uneven=0.25,
)
