"""The sky over a site: what it sends from every side, and the sun and the moon in it, under more or less cloud."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..colour import LUMINANCE
from .atmosphere import Air, air, sphere
from .sun import Moon, Placed

# Illuminance of a full moon, and radiance of stars and airglow, against the sun's: 0.27 lx and 0.001 lx of 128,000 lx.
FULL_MOON, STARLIGHT = 2.1e-6, 2.5e-9
# Degrees: the height of the sun from which the moon is left out.
_MOONLESS = 0.0


@dataclass(frozen=True)
class Lit:
    """Light from one place in the sky. :ivar direction: unit float64 (3,), towards it. :ivar light: linear sRGB, float64 (3,), on what
    faces it."""

    direction: np.ndarray
    light: np.ndarray


@dataclass(frozen=True)
class Sky:
    """A sky. All light is linear sRGB, against the sun's luminance outside the air.

    :ivar haze: how much haze there is, against a clear day. :ivar clouds: share of the sky that they cover, 0 to 1.
    """

    sun: Placed
    moon: Moon | None = None
    haze: float = 1.0
    clouds: float = 0.0

    @property
    def _air(self) -> Air:
        return air(self.haze)

    @cached_property
    def _sources(self) -> list[tuple[Placed, float]]:
        """What shines through the air, and how strongly outside of it."""
        # Beside the sun the moon adds nothing that could be seen.
        seen = self.moon is not None and self.sun.height < _MOONLESS
        return [(self.sun, 1.0), *([(self.moon, FULL_MOON * self.moon.lit)] if seen and self.moon is not None else [])]

    @cached_property
    def _clouded(self) -> tuple[float, float, np.ndarray]:
        """How much of direct light and of the clear sky is left, and what an overcast sky adds at its zenith, float64 (3,).

        Light on level ground falls to 1 − 0.75 n^3.4 of a clear day's at a share n of cloud, and the sky's part of it grows with n²
        (Kasten and Czeplak, "Solar and terrestrial radiation dependent on the amount and type of cloud", Solar Energy 24, 1980).
        """
        n = self.clouds
        direct = sum((one.light * max(one.direction[1], 0.0) for one in self._direct(1.0)), np.zeros(3))
        diffuse = self._from_above(self._clear)
        whole = float((direct + diffuse) @ LUMINANCE)
        shaded = float(diffuse @ LUMINANCE)
        if n <= 0 or whole <= 0:
            return 1.0, 1.0, np.zeros(3)
        left = whole * (1 - 0.75 * n**3.4)
        scattered = left * (shaded / whole + (1 - shaded / whole) * n * n)
        sunny = (left - scattered) / max(whole - shaded, 1e-30) if whole > shaded else 0.0
        # Clouds are as grey as all the light that comes to them is, to the eye a little less coloured.
        hue = (direct + diffuse) / whole
        hue = 0.35 * hue + 0.65
        overcast = max(scattered - (1 - n) * shaded, 0.0)
        return float(np.clip(sunny, 0, 1)), 1 - n, hue * overcast * 9 / (7 * np.pi)

    def _direct(self, left: float) -> list[Lit]:
        out = []
        for one, strength in self._sources:
            light = self._air.sunlight(float(one.direction[1])) * strength * left
            out.append(Lit(one.direction, light))
        return out

    @property
    def direct(self) -> list[Lit]:
        """What comes straight from the sun, and from the moon where there is one."""
        return self._direct(self._clouded[0])

    def _clear(self, ways: np.ndarray) -> np.ndarray:
        out = np.full((len(ways), 3), STARLIGHT)
        for one, strength in self._sources:
            out += strength * self._air.sky(ways, one.direction)
        return out

    def _from_above(self, radiance: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
        ways = sphere(256)
        ways = ways[ways[:, 1] > 0]
        return np.asarray(2 * np.pi * (radiance(ways) * ways[:, 1:2]).mean(0))

    def radiance(self, ways: np.ndarray) -> np.ndarray:
        """What the sky sends, and the ground below it, without the discs of sun and moon: float64 (N, 3).

        :param ways: unit float64 (N, 3).
        """
        _, clear, overcast = self._clouded
        out = clear * self._clear(ways)
        if overcast.any():
            # An overcast sky is three times as bright overhead as at the horizon (CIE S 011, type 1); the ground below it is dull.
            up = np.maximum(ways[:, 1:2], 0)
            below = np.clip(1 + 12 * ways[:, 1:2], 0.35, 1)
            out += overcast * (1 + 2 * up) / 3 * below
        return out

    @cached_property
    def on_ground(self) -> np.ndarray:
        """Light on level ground in the open, float64 (3,)."""
        direct = sum((one.light * max(float(one.direction[1]), 0.0) for one in self.direct), np.zeros(3))
        return np.asarray(direct + self._from_above(self.radiance))


def panorama(sky: Sky, rows: int = 64) -> np.ndarray:
    """A sky all around: from the zenith down, and from north over east round to north.

    :param rows: how many; the radiance in the middle of each pixel is given.
    :returns: float64 (rows, 2 × rows, 3).
    """
    up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
    round_ = (np.arange(2 * rows) + 0.5) / rows * np.pi
    side = np.cos(up)[:, None]
    ways = np.stack(
        [side * np.sin(round_), np.broadcast_to(np.sin(up)[:, None], (rows, 2 * rows)), -side * np.cos(round_)], axis=2
    )
    return sky.radiance(ways.reshape(-1, 3)).reshape(rows, 2 * rows, 3)
