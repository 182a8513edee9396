"""Trodden earth."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, fine, layer, ship, value

ship(
    "mud",
    "Trodden earth",
    "Grounds",
    "earth",
    "Earth of a path, trodden smooth, with grit and small stones pressed in.",
    layer(
        "Earth",
        Clouds(size=(0.7, 0.7), octaves=7, fade=0.55),
        colour=colour((0.070, 0.049, 0.031), (0.175, 0.132, 0.090)),
        relief=value(0.15, 0.6),
        rough=value(0.95),
    ),
    layer(
        "Fine",
        Clouds(size=(0.012, 0.012), octaves=3, fade=0.85),
        colour=colour((0.62, 0.6, 0.57), (1, 1, 1), "multiply", 0.7),
        relief=value(0.46, 0.54, "soft light"),
        seed=2,
    ),
    layer(
        "Grit",
        Flakes(spread=0.02, size=(0.15, 0.5), share=0.45, slim=0.3),
        colour=colour((0.13, 0.105, 0.075), (0.29, 0.255, 0.205)),
        relief=value(0.3, 0.6, "max"),
        levels=(0.05, 0.8),
        seed=3,
        opacity=0.85,
    ),
    layer(
        "Stones",
        Flakes(spread=0.12, size=(0.06, 0.2), share=0.5, slim=0.3),
        colour=colour((0.15, 0.135, 0.115), (0.30, 0.28, 0.245)),
        relief=value(0.3, 0.95, "max"),
        rough=value(0.78),
        levels=(0.05, 0.8),
        seed=4,
    ),
    layer(
        "Damp hollows",
        Clouds(size=(0.8, 0.8), octaves=4),
        colour=colour((0.45, 0.42, 0.39), (1, 1, 1), "multiply", 0.6),
        rough=value(0.72, 0.97),
        levels=(0.3, 0.6),
        seed=5,
    ),
    fine("Silt", 0.004, 0.2, 21, relief=0.07),
    size=2.2,
    laying="turned",
    depth=0.022,
    uneven=0.2,
)
