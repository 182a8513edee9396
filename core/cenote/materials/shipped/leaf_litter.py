"""Fallen leaves."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, fine, layer, ship, value

_UNDER = {"spread": 0.055, "size": (0.5, 0.9), "slim": 0.45, "pointed": 0.75}
_OVER = {"spread": 0.065, "size": (0.45, 0.85), "slim": 0.4, "pointed": 0.8, "share": 0.85}

ship(
    "leaf_litter",
    "Leaf litter",
    "Grounds",
    "growth",
    "Last year's leaves over dark mould, curled and broken, with twigs.",
    layer(
        "Mould",
        Clouds(size=(0.1, 0.1), octaves=6, fade=0.7),
        colour=colour((0.016, 0.011, 0.007), (0.055, 0.038, 0.023)),
        relief=value(0.0, 0.25),
        rough=value(0.97),
    ),
    layer(
        "Old leaves",
        Flakes(**_UNDER, reads="tone"),
        colour=colour((0.045, 0.027, 0.014), (0.15, 0.092, 0.045)),
        relief=value(0.25, 0.5),
        rough=value(0.88),
        seed=2,
        mask=drawn(Flakes(**_UNDER, reads="shape"), seed=2),
    ),
    layer(
        "Their folds",
        Flakes(**_UNDER, reads="rib"),
        relief=value(0.4, 0.6, "soft light"),
        colour=colour((0.6, 0.58, 0.55), (1, 1, 1), "multiply", 0.8),
        seed=2,
        mask=drawn(Flakes(**_UNDER, reads="shape"), seed=2),
    ),
    layer(
        "New leaves",
        Flakes(**_OVER, reads="tone"),
        colour=colour((0.14, 0.070, 0.024), (0.36, 0.21, 0.075)),
        relief=value(0.5, 0.8),
        rough=value(0.7),
        seed=3,
        mask=drawn(Flakes(**_OVER, reads="shape"), seed=3),
    ),
    layer(
        "New folds",
        Flakes(**_OVER, reads="rib"),
        relief=value(0.34, 0.66, "soft light"),
        colour=colour((0.55, 0.52, 0.48), (1, 1, 1), "multiply", 0.8),
        seed=3,
        mask=drawn(Flakes(**_OVER, reads="shape"), seed=3),
    ),
    layer(
        "Spots",
        Clouds(size=(0.02, 0.02), octaves=4, fade=0.75),
        colour=colour((0.5, 0.45, 0.4), (1, 1, 1), "multiply", 0.7),
        seed=4,
    ),
    layer(
        "Twigs",
        Flakes(spread=0.2, size=(0.5, 0.95), share=0.6, slim=0.97, pointed=0.3),
        colour=colour((0.085, 0.064, 0.045)),
        relief=value(0.9),
        levels=(0, 0.4),
        seed=5,
        warp=0.02,
        warp_size=0.1,
    ),
    fine("Crumbs", 0.003, 0.24, 21, relief=0.05),
    size=1.2,
    laying="turned",
    depth=0.03,
    uneven=0.2,
)
