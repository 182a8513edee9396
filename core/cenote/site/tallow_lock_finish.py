"""The finish of Tallow Lock's stills."""

from __future__ import annotations

from ..finish.steps.bloom import Bloom
from ..finish.steps.colour_balance import ColourBalance
from ..finish.steps.curves import Curves
from ..finish.steps.exposure import Exposure
from ..finish.steps.film_grain import FilmGrain
from ..finish.steps.vignette import Vignette
from .finish import Finish

# Brighter and warmer than it was taken, with air in the darks.
LATE_SUMMER = Finish(
    id="late-summer",
    name="Late summer",
    steps=(
        Exposure(stops=0.4),
        Bloom(spread=6, width=0.8),
        Curves(black=0.015, middle=0.52, light=0.78, white=0.99),
        ColourBalance(slope=(0.55, 0.5, 0.43), offset=(0.49, 0.5, 0.53), strength=25),
        Vignette(angle=20),
        FilmGrain(strength=1, size=1),
    ),
)
