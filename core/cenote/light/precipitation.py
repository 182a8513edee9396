"""Rain and falling snow: how much of it is in the air, how fast it falls, and how far one sees through it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# Metres a second at which a drop of two millimetres falls (Gunn and Kinzer, J. Meteorology 6, 1949), and a flake.
RAIN_FALLS, SNOW_FALLS = 6.5, 1.1
# What is smaller is not seen falling, millimetres across, as water.
_SEEN = 0.9, 0.45


@dataclass(frozen=True)
class Falling:
    """One kind of what falls.

    :ivar kind: ``rain`` or ``snow``. :ivar number: of those that are large enough to be seen, a cubic metre. :ivar speed: at which they fall, m/s.
    :ivar wide: their usual width, metres.
    """

    kind: str
    number: float
    speed: float
    wide: float


def _number(rate: float, intercept: float, slope: float, seen: float) -> float:
    """How many are wider than that in a cubic metre, where their number falls exponentially with their width (mm)."""
    return float(intercept / slope * np.exp(-slope * seen)) if rate > 0 else 0.0


def falling(rain: float, snowfall: float) -> list[Falling]:
    """What falls. Drops as Marshall and Palmer have them (J. Meteorology 5, 1948), flakes as Gunn and Marshall (J. Meteorology 15, 1958).

    :param rain, snowfall: millimetres of water an hour.
    """
    out = []
    if rain > 0:
        slope = 4.1 * rain**-0.21
        out.append(Falling("rain", _number(rain, 8000, slope, _SEEN[0]), RAIN_FALLS, (_SEEN[0] + 1 / slope) / 1000))
    if snowfall > 0:
        slope = 2.55 * snowfall**-0.48
        number = _number(snowfall, 3800 * snowfall**-0.87, slope, _SEEN[1])
        # Melted they are as wide as that; as flakes several times.
        out.append(Falling("snow", number, SNOW_FALLS, (_SEEN[1] + 1 / slope) * 5 / 1000))
    return out


def extinction(rain: float, snowfall: float) -> float:
    """How much of the light along a way is held up by what falls, a metre.

    Rain by Atlas ("Optical extinction by rainfall", J. Meteorology 10, 1953); snow, of which a millimetre an hour leaves a visibility of about a
    kilometre, by Rasmussen and others ("The estimation of snowfall rate using visibility", J. Appl. Meteorology 38, 1999).

    :param rain, snowfall: millimetres of water an hour.
    """
    return float(0.312e-3 * rain**0.67 + 3.0e-3 * snowfall)
