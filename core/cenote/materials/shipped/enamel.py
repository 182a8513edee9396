"""White enamel."""

from __future__ import annotations

from ..patterns.clouds import Clouds
from ..patterns.scratches import Scratches
from ..writing import colour, layer, ship, value

ship(
    "enamel",
    "White enamel",
    "Timber and metal",
    "painted metal",
    "Glossy white stove enamel on sheet metal, a little crazed and scratched; takes any tint.",
    layer(
        "Enamel",
        Clouds(size=(0.3, 0.3), octaves=4),
        colour=colour((0.80, 0.79, 0.76), (0.86, 0.855, 0.83)),
        relief=value(0.5, 0.56),
        rough=value(0.16, 0.28),
    ),
    layer(
        "Scratches",
        Scratches(spread=0.07, width=0.0008, share=0.5),
        colour=colour((0.62, 0.60, 0.56)),
        relief=value(0.4),
        rough=value(0.5),
        seed=2,
        opacity=0.4,
    ),
    layer(
        "Grime",
        Clouds(size=(0.14, 0.2), octaves=6),
        colour=colour((0.70, 0.66, 0.58), (1, 1, 1), "multiply"),
        rough=value(0.55, 0.25, opacity=0.6),
        levels=(0.5, 0.9),
        seed=3,
        opacity=0.6,
    ),
    size=0.6,
    depth=0.0008,
    uneven=0.03,
)
