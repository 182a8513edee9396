"""Air between an eye and what it looks at: haze all over, and fog near the ground.

Light that is held up on its way is replaced by light that the air sends towards the eye. Haze sends what the sky sends just above
the horizon there, which is what one sees of it where it is thick. Fog sends what comes to it from all sides, and the sun's light
mostly onwards (Henyey and Greenstein, "Diffuse radiation in the galaxy", 1941).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from scipy import fft

from ..parameters import Declared, choice, only, quantity
from ..randomness import key_of, keys_from, uniforms
from .precipitation import extinction

# What visibility means: a twentieth of the contrast is left (meteorological optical range, WMO-No. 8, 2018), so far and no farther.
_LEFT = 0.05
# How far forward droplets scatter, the mean cosine; and what is left of that in the lobe about the sun that one sees.
_FORWARD, LOBE = 0.85, 0.76
# Of the sun's light that fog scatters, the share that was scattered so often that it comes from everywhere.
_OFTEN = 0.5
# Light from all around goes this much farther through a layer than light from overhead.
_DIFFUSE = 1.66
# How high fog reaches that has no top to be seen, and over how much it thins out there, metres.
_DEEP = (250.0, 60.0)
# The sine of the height below which a way through fog gets no longer.
_LOW = 0.03
# Points along a side of the map of banks.
_SIDE = 128
_DUST = np.array([1.0, 0.74, 0.47])


_ANY = ["low", "deep"]


class Air(Declared):
    """Haze, dust and fog, and what falls."""

    visibility: float = quantity(
        1200, low=50, high=100_000, unit="m", step=100, help="How far one sees before haze has a twentieth left of it."
    )
    dust: float = quantity(0, low=0, high=100, unit="%", step=5, help="How much of the haze is dust, which is brown.")
    fog: Literal["none", "low", "deep"] = choice(
        "none", help="Low fog lies on the ground up to a height, deep fog has no top to be seen."
    )
    fog_visibility: float = only(
        "fog",
        _ANY,
        quantity(
            90, low=5, high=2000, unit="m", step=5, label="in fog", help="How far one sees where the fog is thickest."
        ),
    )
    fog_top: float = only(
        "fog",
        ["low"],
        quantity(
            2, low=-50, high=200, unit="m", step=0.25, help="The height up to which the fog is as thick as below."
        ),
    )
    fog_fade: float = only(
        "fog",
        ["low"],
        quantity(3, low=0.2, high=100, unit="m", step=0.5, help="Over how much height it thins out to a third."),
    )
    banks: float = only(
        "fog",
        _ANY,
        quantity(40, low=0, high=100, unit="%", step=5, help="How far it gathers in banks with clearer air between."),
    )
    bank_size: float = only(
        "fog",
        _ANY,
        quantity(25, low=2, high=500, unit="m", step=1, help="From one bank to the next; the wind carries them."),
    )
    rain: float = quantity(
        0,
        low=0,
        high=100,
        unit="mm/h",
        step=0.5,
        help="How hard it rains; 2 is drizzle, 10 a shower, 50 a downpour. Covers of wetness come with it.",
    )
    snowfall: float = quantity(
        0,
        low=0,
        high=20,
        unit="mm/h",
        step=0.25,
        label="snow",
        help="How hard it snows, as water; an hour of 1 lays a centimetre.",
    )
    leaves: float = quantity(
        0,
        low=0,
        high=500,
        unit="per 1000 m³",
        step=5,
        help="How many leaves the wind carries; 20 is a breezy autumn day.",
    )
    embers: float = quantity(
        0,
        low=0,
        high=500,
        unit="per 1000 m³",
        step=5,
        help="How many embers rise through the air, as from a fire nearby.",
    )


@dataclass(frozen=True)
class Medium:
    """Air as it holds light up.

    :ivar haze, fog: extinction of the haze and of what falls, and of the fog where it is thickest, a metre. :ivar top, fade: the height below which fog is
        that thick, and over which it falls to 1/e above that, metres. :ivar banks: from 0, even, to 1. :ivar size: of a bank, metres.
    """

    haze: float
    fog: float
    top: float
    fade: float
    banks: float
    size: float

    @classmethod
    def of(cls, air: Air) -> Medium:
        """What an air is like."""
        told = -math.log(_LEFT)
        top, fade = (air.fog_top, air.fog_fade) if air.fog == "low" else _DEEP
        fog = 0.0 if air.fog == "none" else told / air.fog_visibility
        haze = told / air.visibility + extinction(air.rain, air.snowfall)
        return cls(haze, fog, top, fade, air.banks / 100 if fog else 0.0, air.bank_size)

    def density(self, height: np.ndarray) -> np.ndarray:
        """Fog's density at heights, float (N,), against that below its top."""
        return np.exp(-np.maximum(np.asarray(height, float) - self.top, 0) / self.fade)

    def _climbed(self, height: np.ndarray) -> np.ndarray:
        """The integral of the density over the height, from the top."""
        above = np.asarray(height, float) - self.top
        return np.where(above < 0, above, self.fade * -np.expm1(-np.maximum(above, 0) / self.fade))

    def held_up(self, eyes: np.ndarray, ways: np.ndarray, distances: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Optical depths of haze and of fog along ways, banks left out: float64 (N,) each.

        Along a way that ends nowhere there is no haze: that is part of the sky.

        :param eyes: float (N, 3), metres. :param ways: unit float (N, 3). :param distances: float (N,), metres, infinite for the sky.
        """
        eyes, ways = np.asarray(eyes, float), np.asarray(ways, float)
        distances = np.asarray(distances, float)
        ends = np.isfinite(distances)
        far = np.where(ends, distances, 0)
        start, rise = eyes[:, 1], ways[:, 1]
        climb = far * rise
        level = np.abs(climb) < 1e-4
        mean = np.where(
            level,
            self.density(start + climb / 2),
            (self._climbed(start + climb) - self._climbed(start)) / np.where(level, 1, climb),
        )
        sky = (self.fade - self._climbed(start)) / np.maximum(rise, _LOW)
        return self.haze * far, self.fog * np.where(ends, mean * far, sky)

    def overhead(self) -> float:
        """Fog's optical depth from height 0 straight up."""
        return float(self.fog * (self.fade - self._climbed(np.zeros(1))[0]))


def passes(depth: np.ndarray | float) -> np.ndarray | float:
    """The share of light that gets through a layer of fog, scattered or not (Bohren, "Multiple scattering of light", 1987).

    :param depth: its optical depth along the way, float (N,) or one. :returns: in (0, 1], float64 (N,) or one.
    """
    return 2 / (2 + np.asarray(depth) * (1 - _FORWARD))


def lobe(cosines: np.ndarray) -> np.ndarray:
    """The share of the sun's light that fog scatters towards an eye, per steradian, float64 (N,).

    :param cosines: float (N,), of the angle between the way that is looked along and that towards the sun.
    """
    return (1 - LOBE**2) / (4 * np.pi * (1 + LOBE**2 - 2 * LOBE * np.asarray(cosines, float)) ** 1.5)


@dataclass(frozen=True)
class Fallen:
    """Light below a fog.

    :ivar direct: float64 (3,), of the sun, on what faces it. :ivar around: float64 (H, 2H, 3), the sky as it lights what stands there.
    :ivar share: float64 (3,), of what would come to level ground without a fog, what does.
    :ivar fog: float64 (3,), what fog sends alike to all sides. :ivar fog_sun: float64 (3,), the sun's light that it scatters onwards, see
        :func:`lobe`.
    """

    direct: np.ndarray
    around: np.ndarray
    share: np.ndarray
    fog: np.ndarray
    fog_sun: np.ndarray


def below_fog(medium: Medium, sine: float, direct: np.ndarray, around: np.ndarray) -> Fallen:
    """What sun and sky send to the ground through a fog. No light is lost but what the fog sends back up.

    :param sine: of the height of the sun. :param direct: float (3,), on what faces it. :param around: float (H, 2H, 3), see
        :func:`cenote.light.sky.panorama`.
    """
    rows = around.shape[0]
    up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
    solid = (np.cos(up) * (np.pi / rows) ** 2)[:, None, None]
    half = rows // 2
    if medium.fog == 0:
        return Fallen(direct, around, np.ones(3), np.zeros(3), np.zeros(3))
    falls = (solid * np.abs(np.sin(up))[:, None, None])[:half]
    depth = medium.overhead()
    along = depth / max(sine, _LOW)
    straight = float(np.exp(-along))
    level = max(sine, 0.0) * direct
    came = (around[:half] * falls).sum((0, 1))
    # Below the thickest fog as much arrives as gets through; from where, nobody can tell.
    arrives = came * passes(depth * _DIFFUSE) + level * (passes(along) - straight)
    clear = around[:half] * np.exp(-depth / np.maximum(np.sin(up[:half]), _LOW))[:, None, None]
    seen = np.maximum(arrives - (clear * falls).sum((0, 1)), 0) / np.pi
    share = (arrives + level * straight) / np.maximum(came + level, 1e-12)
    veiled = np.concatenate([clear + seen, around[half:] * share])
    # In the midst of the fog half of it is above.
    sun = direct * float(np.exp(-along / 2))
    everywhere = ((veiled * solid).sum((0, 1)) + sun * _OFTEN) / (4 * np.pi)
    return Fallen(direct * straight, veiled, share, everywhere, sun * (1 - _OFTEN))


@lru_cache(maxsize=1)
def bank_map() -> np.ndarray:
    """How thick fog is from place to place where it gathers in banks, against its mean: float32 (128, 128), periodic, mean 1.

    Four banks come to a side. Noise of the spectrum that mixing air has (Kolmogorov, 1941), with what is less than it put to nothing.
    """
    wave = fft.fftfreq(_SIDE, 1 / _SIDE)
    length = np.hypot(wave[:, None], wave[None])
    # Longer than a bank there is nothing; shorter, the spectrum of a field in two dimensions falls with the power 8/3.
    strength = np.where(
        length < 2, 0, np.exp(-((3 / np.maximum(length, 1)) ** 4)) * np.maximum(length, 1) ** (-8 / 6 - 0.5)
    )
    turn = uniforms(keys_from(key_of("banks"), _SIDE * _SIDE), 0).reshape(_SIDE, _SIDE) * 2 * np.pi
    noise = np.real(fft.ifft2(strength * np.exp(1j * turn)))
    banks = np.maximum(noise / noise.std() + 0.7, 0) ** 1.3
    return np.asarray(banks / banks.mean(), np.float32)


# How many times the side of the map is as long as a bank.
BANKS_A_SIDE = 4


def haze_colour(air: Air) -> np.ndarray:
    """What the haze makes of the light that it sends on, float64 (3,)."""
    return np.asarray(1 + (_DUST - 1) * air.dust / 100)
