"""What falls and floats through the air, as view and stills show it: rain, snow, leaves, embers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .air import Air
from .daylight import GLOW, Daylight
from .precipitation import RAIN_FALLS, falling

# How far about an eye single ones are told from the haze that they make, the side of a cube, metres: of drops and flakes, of what is larger.
_NEAR, _FAR = 16.0, 40.0
# How long an eye or a shutter sees one, seconds: it is a streak as long as it moves meanwhile.
_SHUTTER = 1 / 45
# Reflectances of leaves that have come off, and how bright an ember of some 1100 K is against what glows with a strength of 1.
_LEAVES = np.array([[0.30, 0.15, 0.035], [0.42, 0.27, 0.05], [0.20, 0.19, 0.05]])
_EMBER, _EMBER_COLOURS = 120.0, np.array([[1.0, 0.30, 0.05], [1.0, 0.42, 0.10], [0.8, 0.18, 0.03]])
# Of the sun's light, what a leaf that turns gets on the mean (a quarter of what faces it).
_TURNING = 0.25
# What is light goes along with half of the wind, m/s sideways where rain comes at 45°.
_WITH_IT = RAIN_FALLS / 2
# The R4 sequence (Roberts, "The unreasonable effectiveness of quasirandom sequences", 2018).
_STEPS = 1 / 1.1673039782614187 ** np.arange(1, 5)


@dataclass(frozen=True)
class Drift:
    """One kind of what falls or floats.

    :ivar number: of those that are seen, a cubic metre. :ivar wide: their usual width, metres. :ivar long: how much longer they are.
    :ivar falls: m/s downwards. :ivar carried: m/s sideways in a wind that has rain come at 45°.
    :ivar shutter: seconds for which one is seen, as a streak. :ivar sways: how far it strays, metres. :ivar turns: times a second that it tumbles.
    :ivar hides: of what is behind it, in [0, 1]. :ivar about: the side of the cube about an eye that single ones are shown in, metres.
    :ivar sheltered: whether there is none under what keeps rain off. :ivar colours: radiance, as shown, of three of them.
    """

    kind: str
    number: float
    wide: float
    long: float
    falls: float
    carried: float
    shutter: float
    sways: float
    turns: float
    hides: float
    about: float
    sheltered: bool
    colours: list[list[float]]

    def velocity(self, source: np.ndarray) -> np.ndarray:
        """Metres a second, float64 (3,). :param source: unit float (3,), where rain comes from."""
        x, y, z = np.asarray(source, float)
        return np.array([-x / y * self.carried, -self.falls, -z / y * self.carried])

    def seeds(self, most: int) -> np.ndarray:
        """Places in a cube of side 1 and a number of their own, float32 (N, 4), of all that are about an eye, or of ``most``."""
        return seeds_of(int(min(most, round(self.number * self.about**3))))


def seeds_of(count: int) -> np.ndarray:
    """Points that fill a cube of four sides of 1 evenly, float32 (count, 4)."""
    return ((0.5 + np.arange(1, count + 1)[:, None] * _STEPS) % 1).astype(np.float32)


def drifting(air: Air, sky: Daylight) -> list[Drift]:
    """What falls and floats in an air, by its light."""
    bright = (0.7 * sky.horizon + 0.3 * sky.zenith).tolist()
    out: list[Drift] = []
    for one in falling(air.rain, air.snowfall):
        snow = one.kind == "snow"
        shutter, sways, hides = (1e-3, 0.12, 0.7) if snow else (_SHUTTER, 0.0, 0.3)
        # Drops and flakes come the way that the signal of rain has them.
        out.append(Drift(one.kind, one.number, one.wide, 1.0, one.speed, one.speed, shutter, sways, 0.0, hides, _NEAR,
                         True, [bright] * 3))  # fmt: skip
    if air.leaves:
        lit = (0.5 * (sky.above + sky.below) + _TURNING * sky.direct) / np.pi
        out.append(Drift("leaves", air.leaves / 1000, 0.03, 1.8, 1.1, _WITH_IT, 1e-3, 0.3, 0.7, 1.0, _FAR, True,
                         (_LEAVES * lit).tolist()))  # fmt: skip
    if air.embers:
        glow = (_EMBER_COLOURS * (_EMBER * sky.scale * GLOW)).tolist()
        out.append(
            Drift("embers", air.embers / 1000, 0.003, 1.0, -1.2, _WITH_IT, _SHUTTER, 0.25, 0.0, 1.0, _FAR, False, glow)
        )
    return out
