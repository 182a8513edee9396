"""What a lamp is.

To add one, add a file to this package with a class that derives from :class:`Lamp` and is registered with ``@LAMPS.register``. A lamp
in its own frame hangs at the origin and shines downwards, towards −Y.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from ...colour import LUMINANCE
from ...parameters import Declared, choice, colour, only, quantity
from ...registry import Family
from ..flames import Flame
from ..spectrum import blackbody

# Illuminance of the sun outside the air: what all light is measured against.
SUN_LUX = 128_000.0
_AWAY = 12.0


@dataclass(frozen=True)
class Beam:
    """How a lamp shines, for whoever draws it with few means.

    :ivar intensity: float64 (3,), linear sRGB: intensity along its axis in sun's light at one metre, that is candela over 128,000.
    :ivar outer, inner: half angles of its cone in degrees, beyond which nothing is lit and within which all is; 180 for all around.
    :ivar wide, long: extent of what shines, metres; 0 for a point. :ivar profile: float32 (N,), intensity against that along the axis by
        angle from 0° to ``outer``; None where it is the same all over.
    :ivar flame: what burns, if it is a fire. :ivar heart: metres above its place that the light comes from.
    """

    intensity: np.ndarray
    outer: float
    inner: float
    wide: float = 0.0
    long: float = 0.0
    profile: np.ndarray | None = None
    flame: Flame | None = None
    heart: float = 0.0


class Lamp(Declared):
    """Sends light.

    :cvar title: its name for people. :cvar help: what it is, in one sentence.
    """

    kind: str
    title: ClassVar[str]
    help: ClassVar[str]
    measure: Literal["lumens", "watts"] = choice(
        "lumens", help="Whether its light is told by itself, or by the power it takes."
    )
    lumens: float = only(
        "measure",
        "lumens",
        quantity(900, low=0, high=500_000, unit="lm", step=50, help="Light that it sends in all; a candle has 12."),
    )
    watts: float = only(
        "measure", "watts", quantity(60, low=0, high=20_000, unit="W", step=5, help="Power that it takes.")
    )
    efficacy: float = only(
        "measure",
        "watts",
        quantity(
            14,
            low=0.1,
            high=220,
            unit="lm/W",
            step=1,
            help="Light for each watt: a filament gives 14, a diode 90 and more.",
        ),
    )
    kelvin: float = quantity(
        2700,
        low=1000,
        high=15000,
        unit="K",
        step=50,
        help="Colour by temperature: a candle has 1900, a filament 2700, daylight 6500.",
    )
    tint: tuple[float, float, float] = colour((1, 1, 1), help="What a coloured glass before it lets through.")

    @property
    def flux(self) -> float:
        """Light that it sends in all, lumens, before any glass."""
        return self.lumens if self.measure == "lumens" else self.watts * self.efficacy

    @property
    def colour(self) -> np.ndarray:
        """Linear sRGB of its light, float64 (3,), of luminance 1 before any glass."""
        own = blackbody(self.kelvin)
        return np.asarray(own / (own @ LUMINANCE) * np.array(self.tint))

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """How strongly it shines along ways, float64 (N,), candela before any glass.

        :param ways: unit float64 (N, 3), in its own frame. :param profile: of its file, where it takes its shape from one.
        """
        raise NotImplementedError

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """How it is drawn with few means. :param profile: as for :meth:`candela`."""
        raise NotImplementedError

    def _along(self, candela: float) -> np.ndarray:
        return self.colour * (candela / SUN_LUX)


def adapts_to(beams: Iterable[Beam]) -> float:
    """Light, against the sun's, that an eye is used to among lamps: what the strongest of them sends over twelve metres."""
    return max((float(one.intensity @ LUMINANCE) / _AWAY**2 for one in beams), default=0.0)


LAMPS: Family[type[Lamp]] = Family("cenote.light.lamps", "lamp")
