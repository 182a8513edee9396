"""Rough bark."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..writing import colour, fine, grade, layer, ship, value

ship(
    "bark",
    "Bark",
    "Growth",
    "growth",
    "Deeply furrowed bark; the trunk runs up the tile.",
    layer(
        "Furrows",
        Clouds(size=(0.045, 0.22), octaves=5, fade=0.6, shape="ridged"),
        colour=colour((0.022, 0.017, 0.012), (0.165, 0.135, 0.10)),
        relief=value(0.02, 0.95),
        rough=value(0.95),
        warp=0.02,
        warp_size=0.12,
    ),
    layer(
        "Plates",
        Clouds(size=(0.09, 0.05), octaves=5),
        colour=colour((0.55, 0.52, 0.48), (1, 1, 1), "multiply", 0.8),
        relief=value(0.42, 0.58, "soft light"),
        seed=2,
    ),
    layer(
        "Fibre",
        Clouds(size=(0.006, 0.06), octaves=3, fade=0.8),
        colour=colour((0.6, 0.57, 0.53), (1, 1, 1), "multiply", 0.8),
        relief=value(0.44, 0.56, "soft light"),
        seed=3,
    ),
    layer(
        "Algae",
        Clouds(size=(0.3, 0.5), octaves=5),
        colour=colour((0.075, 0.088, 0.032)),
        levels=(0.5, 0.85),
        seed=4,
        opacity=0.45,
    ),
    layer(
        "Lichen",
        Clouds(size=(0.06, 0.06), octaves=6, fade=0.65),
        colour=colour((0.27, 0.28, 0.225)),
        levels=(0.68, 0.74),
        seed=5,
        opacity=0.55,
    ),
    fine("Cork", 0.003, 0.26, 21, relief=0.05),
    grade("Pale crests", edge_brightening=0.6, edge_width=0.008),
    size=0.6,
    laying="mixed",
    depth=0.018,
    uneven=0.15,
)
