"""Moss."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, layer, ship, value

_LEAVES = {"spread": 0.0065, "size": (0.35, 0.9), "slim": 0.8, "pointed": 0.9}
_TIPS = {"spread": 0.0045, "size": (0.3, 0.8), "share": 0.8, "slim": 0.72, "pointed": 1.0}

ship(
    "moss",
    "Moss",
    "Growth",
    "growth",
    "Cushions of moss, yellow-green at their tops and dark between.",
    layer(
        "Cushions",
        Clouds(size=(0.07, 0.07), octaves=3, fade=0.5),
        colour=colour((0.012, 0.021, 0.005), (0.055, 0.085, 0.016)),
        relief=value(0.0, 0.85),
        rough=value(0.98),
    ),
    layer(
        "Fronds",
        Flakes(**_LEAVES, reads="tone"),
        colour=colour((0.030, 0.050, 0.010), (0.115, 0.150, 0.030)),
        relief=value(0.36, 0.64, "soft light"),
        seed=3,
        mask=drawn(Flakes(**_LEAVES, reads="rib"), seed=3),
        opacity=0.95,
    ),
    layer(
        "Bright tips",
        Flakes(**_TIPS, reads="tone"),
        colour=colour((0.080, 0.115, 0.020), (0.255, 0.290, 0.070)),
        relief=value(0.46, 0.72, "soft light"),
        seed=6,
        mask=drawn(Flakes(**_TIPS, reads="rib"), seed=6),
        opacity=0.85,
    ),
    layer(
        "Yellow drifts",
        Clouds(size=(0.3, 0.3), octaves=5),
        colour=colour((0.19, 0.175, 0.035)),
        levels=(0.55, 0.85),
        seed=4,
        opacity=0.45,
    ),
    layer(
        "Dry",
        Clouds(size=(0.2, 0.2), octaves=6, fade=0.65),
        colour=colour((0.17, 0.115, 0.045)),
        levels=(0.66, 0.78),
        seed=5,
        opacity=0.5,
    ),
    size=0.9,
    laying="turned",
    depth=0.022,
    uneven=0.3,
)
