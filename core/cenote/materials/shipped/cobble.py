"""Cobbles."""

from __future__ import annotations

from typing import Any

from ..patterns.cells import Cells
from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..patterns.scratches import Scratches
from ..writing import colour, drawn, fine, grade, layer, ship, value

_STONES = {"size": 0.135, "irregular": 0.7, "gap": 0.012, "rounded": 0.72}
_BENT: dict[str, Any] = {"warp": 0.016, "warp_size": 0.14}

ship(
    "cobble",
    "Cobble",
    "Floors",
    "stone",
    "Rounded river cobbles, worn on top, bedded unevenly in earth.",
    layer(
        "Earth",
        Clouds(size=(0.08, 0.08), octaves=5, fade=0.65),
        colour=colour((0.045, 0.034, 0.023), (0.12, 0.095, 0.066)),
        relief=value(0.0, 0.16),
        rough=value(0.97),
    ),
    layer(
        "Grit",
        Flakes(spread=0.016, size=(0.2, 0.6), share=0.5, slim=0.3),
        colour=colour((0.10, 0.088, 0.07), (0.24, 0.215, 0.18)),
        relief=value(0.05, 0.2, "max"),
        levels=(0.2, 0.9),
        seed=9,
        opacity=0.8,
    ),
    layer(
        "Stones",
        Cells(**_STONES, reads="tone"),
        colour=colour((0.098, 0.097, 0.096), (0.30, 0.29, 0.275)),
        rough=value(0.8),
        mask=drawn(Cells(**_STONES), **_BENT),
        **_BENT,
    ),
    layer(
        "Warm stones",
        Cells(**_STONES, reads="tone"),
        colour=colour((0.26, 0.185, 0.125)),
        levels=(0.70, 0.74),
        mask=drawn(Cells(**_STONES), **_BENT),
        opacity=0.75,
        **_BENT,
    ),
    layer(
        "Blue stones",
        Cells(**_STONES, reads="tone"),
        colour=colour((0.105, 0.115, 0.13)),
        levels=(0.16, 0.12),
        mask=drawn(Cells(**_STONES), **_BENT),
        opacity=0.8,
        **_BENT,
    ),
    layer(
        "Domes",
        Cells(**_STONES, reads="dome"),
        relief=value(0.12, 0.92, "max"),
        rough=value(0.92, 0.62),
        mask=drawn(Cells(**_STONES), **_BENT),
        **_BENT,
    ),
    layer("Some sunk", Cells(**_STONES, reads="tone"), relief=value(0.34, 0.62, "soft light"), **_BENT),
    layer(
        "Speckle",
        Clouds(size=(0.02, 0.02), octaves=4, fade=0.8),
        colour=colour((0.5, 0.5, 0.5), (1, 1, 1), "multiply", 0.8),
        relief=value(0.47, 0.53, "soft light"),
        seed=4,
    ),
    layer(
        "Shaded feet",
        Cells(**_STONES, reads="dome"),
        colour=colour((0.35, 0.33, 0.31), (1, 1, 1), "multiply", 0.75),
        **_BENT,
    ),
    layer(
        "Crystals",
        Flakes(spread=0.007, size=(0.1, 0.35), share=0.4, slim=0.4, pointed=0.4, reads="tone"),
        colour=colour((0.07, 0.07, 0.07), (0.42, 0.41, 0.39)),
        shows="by shape",
        seed=12,
        mask=drawn(Cells(**_STONES), **_BENT),
        opacity=0.3,
    ),
    layer(
        "Bruises",
        Scratches(spread=0.04, width=0.0015, share=0.5),
        colour=colour((0.40, 0.39, 0.37)),
        relief=value(0.5, 0.44, "soft light"),
        seed=13,
        mask=drawn(Cells(**_STONES), **_BENT),
        opacity=0.3,
    ),
    fine("Grain", 0.003, 0.3, 14, relief=0.035),
    grade("Polished tops", edge_brightening=0.15, edge_width=0.03),
    size=2.2,
    laying="turned",
    depth=0.042,
    uneven=0.2,
)
