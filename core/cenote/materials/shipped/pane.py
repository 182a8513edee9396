"""Window panes."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.courses import Courses
from ..writing import colour, layer, ship, value

ship(
    "pane",
    "Window pane",
    "Walls",
    "glass",
    "Old glass seen from outside, dark and wavy, in white-painted glazing bars 30 cm apart.",
    layer(
        "Glass",
        Clouds(size=(0.25, 0.25), octaves=3),
        colour=colour((0.010, 0.014, 0.016), (0.030, 0.038, 0.042)),
        relief=value(0.1, 0.16),
        rough=value(0.05, 0.12),
    ),
    layer(
        "Dust",
        Clouds(size=(0.12, 0.2), octaves=5),
        colour=colour((0.12, 0.115, 0.10)),
        rough=value(0.5),
        levels=(0.55, 1.0),
        seed=2,
        opacity=0.35,
    ),
    layer(
        "Bars",
        Courses(width=0.3, height=0.3, joint=0.03, bevel=0.004, shift=0),
        colour=colour((0.50, 0.49, 0.45)),
        relief=value(0.9),
        rough=value(0.55),
        inverted=True,
        seed=3,
    ),
    size=0.6,
    depth=0.012,
    uneven=0.0,
)
