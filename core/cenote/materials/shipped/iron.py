"""Painted iron."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, fine, grade, layer, ship, value

_LOST = {"size": (0.22, 0.22), "octaves": 6, "fade": 0.62}

ship(
    "iron",
    "Painted iron",
    "Timber and metal",
    "painted metal",
    "Cast iron under old black-green paint, chipped to rust and rubbed bare.",
    layer(
        "Casting",
        Clouds(size=(0.02, 0.02), octaves=3, fade=0.8),
        colour=colour((0.16, 0.145, 0.13), (0.27, 0.25, 0.23)),
        relief=value(0.3, 0.42),
        rough=value(0.55, 0.38),
        metal=value(1),
    ),
    layer(
        "Rust",
        Clouds(size=(0.04, 0.04), octaves=5, fade=0.7),
        colour=colour((0.07, 0.022, 0.010), (0.28, 0.105, 0.036)),
        relief=value(0.36, 0.52),
        rough=value(0.95),
        metal=value(0.05),
        seed=2,
        mask=drawn(Clouds(**_LOST), levels=(0.86, 0.78), seed=5),
    ),
    layer(
        "Paint",
        Clouds(size=(0.3, 0.3), octaves=4),
        colour=colour((0.014, 0.022, 0.020), (0.032, 0.044, 0.040)),
        relief=value(0.66, 0.7),
        rough=value(0.34, 0.5),
        metal=value(0),
        seed=3,
        mask=drawn(Clouds(**_LOST), levels=(0.70, 0.685), seed=5),
    ),
    layer(
        "Brush marks",
        Clouds(size=(0.4, 0.006), octaves=3),
        relief=value(0.46, 0.54, "soft light"),
        rough=value(0.42, 0.58, "soft light"),
        seed=4,
    ),
    layer(
        "Blisters",
        Flakes(spread=0.03, size=(0.1, 0.4), share=0.3, slim=0.15),
        relief=value(0.5, 0.62, "soft light"),
        seed=6,
    ),
    layer(
        "Rust runs",
        Clouds(size=(0.03, 0.4), octaves=4),
        colour=colour((0.14, 0.05, 0.02)),
        rough=value(0.8),
        levels=(0.62, 0.9),
        seed=7,
        opacity=0.45,
    ),
    layer(
        "Scratches",
        Scratches(spread=0.12, width=0.0012, share=0.4),
        colour=colour((0.2, 0.18, 0.16)),
        metal=value(0.8),
        seed=8,
        opacity=0.5,
    ),
    fine("Casting grain", 0.003, 0.16, 21, relief=0.06),
    grade("Rubbed edges", edge_brightening=0.8, edge_width=0.004),
    size=0.8,
    laying="mixed",
    depth=0.003,
    uneven=0.15,
)
