"""Grass floor: what lies under the blades."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.flakes import Flakes
from ..writing import colour, drawn, fine, layer, ship, value

_BLADES = {"spread": 0.03, "size": (0.6, 1.0), "slim": 0.9, "pointed": 0.9}
_DRY = {"spread": 0.05, "size": (0.5, 1.0), "share": 0.6, "slim": 0.93, "pointed": 0.7}

ship(
    "meadow",
    "Grass floor",
    "Grounds",
    "earth",
    "Short turf, thatch and bits of bare earth.",
    layer(
        "Earth",
        Clouds(size=(0.2, 0.2), octaves=6, fade=0.65),
        colour=colour((0.050, 0.055, 0.022), (0.115, 0.115, 0.048)),
        relief=value(0.0, 0.3),
        rough=value(0.97),
    ),
    layer(
        "Thatch",
        Flakes(**_DRY, reads="tone"),
        colour=colour((0.11, 0.088, 0.045), (0.27, 0.225, 0.12)),
        relief=value(0.15, 0.4),
        rough=value(0.92),
        seed=2,
        mask=drawn(Flakes(**_DRY, reads="shape"), seed=2),
    ),
    layer(
        "Deep blades",
        Flakes(**(_BLADES | {"spread": 0.024}), reads="tone"),
        colour=colour((0.040, 0.064, 0.016), (0.095, 0.130, 0.036)),
        relief=value(0.25, 0.6),
        rough=value(0.86),
        seed=3,
        mask=drawn(Flakes(**(_BLADES | {"spread": 0.024}), reads="shape"), seed=3),
        opacity=0.95,
    ),
    layer(
        "Blades",
        Flakes(**_BLADES, reads="tone"),
        colour=colour((0.075, 0.115, 0.028), (0.185, 0.235, 0.068)),
        relief=value(0.5, 0.95),
        rough=value(0.74),
        seed=4,
        mask=drawn(Flakes(**_BLADES, reads="rib"), seed=4),
    ),
    layer(
        "Drifts",
        Clouds(size=(0.9, 0.9), octaves=5),
        colour=colour((0.55, 0.62, 0.45), (1, 1, 1), "multiply", 0.8),
        seed=5,
    ),
    layer(
        "Bare places",
        Clouds(size=(0.7, 0.7), octaves=7, fade=0.65),
        colour=colour((0.052, 0.039, 0.024), (0.10, 0.078, 0.05)),
        relief=value(0.12),
        rough=value(0.97),
        levels=(0.70, 0.80),
        seed=6,
        opacity=0.7,
    ),
    fine("Thatch dust", 0.004, 0.34, 21, relief=0.05),
    size=1.6,
    laying="turned",
    depth=0.03,
    uneven=0.3,
)
