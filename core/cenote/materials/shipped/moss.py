"""Moss."""

from __future__ import annotations

from typing import Any

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, layer, ship, value

_CUSHIONS = {"size": 0.045, "irregular": 0.95, "gap": 0.0005, "rounded": 0.5}
_BENT: dict[str, Any] = {"warp": 0.035, "warp_size": 0.05}

ship(
    "moss",
    "Moss",
    "Growth",
    "growth",
    "Cushions of moss, yellow-green at their tops and dark between.",
    layer(
        "Cushions",
        Cells(**_CUSHIONS, reads="dome"),
        colour=colour((0.022, 0.036, 0.008), (0.095, 0.135, 0.022)),
        relief=value(0.08, 0.72),
        rough=value(0.98),
        **_BENT,
    ),
    layer(
        "Each its tone",
        Cells(**_CUSHIONS, reads="tone"),
        colour=colour((0.66, 0.7, 0.6), (1, 1, 1), "multiply", 0.8),
        relief=value(0.40, 0.60, "soft light"),
        **_BENT,
    ),
    layer(
        "Fronds",
        Flakes(spread=0.007, size=(0.4, 0.95), slim=0.75, pointed=0.6, reads="tone"),
        colour=colour((0.03, 0.052, 0.010), (0.21, 0.245, 0.050)),
        relief=value(0.40, 0.66, "soft light"),
        seed=3,
        mask=drawn(Flakes(spread=0.007, size=(0.4, 0.95), slim=0.75, pointed=0.6, reads="rib"), seed=3),
        opacity=0.75,
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
    depth=0.022,
    uneven=0.3,
)
