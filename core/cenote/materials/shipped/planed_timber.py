"""A single piece of wood."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.grain import Grain
from ..patterns.scratches import Scratches
from ..writing import colour, layer, ship, value

ship(
    "planed_timber",
    "Weathered wood",
    "Timber and metal",
    "timber",
    "A single piece of wood left outdoors, for beams and things made of boards.",
    layer(
        "Wood",
        Clouds(size=(1.2, 0.2), octaves=4),
        colour=colour((0.15, 0.112, 0.075), (0.27, 0.225, 0.17)),
        relief=value(0.6, 0.7),
        rough=value(0.84),
    ),
    layer(
        "Rings",
        Grain(rings=0.02, wander=0.035, length=1.4),
        colour=colour((1, 1, 1), (0.45, 0.38, 0.30), "multiply", 0.8),
        relief=value(0.53, 0.42, "soft light"),
        seed=2,
    ),
    layer(
        "Fibres",
        Grain(rings=0.005, length=0.35, reads="fibres"),
        colour=colour((0.5, 0.46, 0.41), (1, 1, 1), "multiply", 0.85),
        relief=value(0.38, 0.62, "soft light"),
        rough=value(0.92, 0.74),
        seed=3,
    ),
    layer(
        "Lifted fibres",
        Clouds(size=(0.09, 0.0022), octaves=2, fade=0.8),
        colour=colour((0.64, 0.62, 0.58), (1, 1, 1), "multiply"),
        relief=value(0.40, 0.60, "soft light"),
        seed=7,
    ),
    layer(
        "Silvered",
        Clouds(size=(0.7, 0.1), octaves=5),
        colour=colour((0.28, 0.265, 0.245)),
        levels=(0.36, 0.74),
        seed=4,
        opacity=0.6,
    ),
    layer(
        "Checks",
        Scratches(spread=0.13, width=0.0025, share=0.65, aligned=0.985),
        colour=colour((0.025, 0.018, 0.013)),
        relief=value(0.2),
        seed=5,
        opacity=0.9,
    ),
    size=1.2,
    laying="mixed",
    depth=0.005,
    uneven=0.15,
)
