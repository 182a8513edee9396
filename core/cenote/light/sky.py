"""The sky over a site: what it sends from every side, and the sun and the moon in it, under more or less cloud."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Protocol

import numpy as np
from scipy import ndimage

from ..colour import LUMINANCE
from . import clouds as above_us
from .atmosphere import Air, air, sphere
from .spectrum import OUTSIDE
from .stars import stars
from .sun import Moon, Placed

# Illuminance of a full moon, and radiance of stars and airglow, against the sun's: 0.27 lx and 0.001 lx of 128,000 lx.
FULL_MOON, STARLIGHT = 2.1e-6, 2.5e-9
# Half of how wide they look, degrees.
SUN_RADIUS, MOON_RADIUS = 0.2665, 0.2585
# Degrees: the height of the sun from which the moon is left out.
_MOONLESS = 0.0
# Degrees: the height of the sun below which stars come out.
_STARS_BELOW = -4.0
# Rows and columns of a picture of the sky for which the air is worked out; between them it changes little.
_AIR_ROWS, _AIR_COLUMNS = 96, 192
# How far one sees through clear air, in times of how high what is seen lies: over that far, haze takes all but a third of what it sends.
_SEEN = 25.0
# By how much clouds are made brighter or darker at most so that they send what was measured.
_MENDED = 4.0


@dataclass(frozen=True)
class Lit:
    """Light from one place in the sky. :ivar direction: unit float64 (3,), towards it. :ivar light: linear sRGB, float64 (3,), on what
    faces it."""

    direction: np.ndarray
    light: np.ndarray


@dataclass(frozen=True)
class Disc:
    """Sun or moon, as it is seen. :ivar direction: unit float64 (3,), towards it. :ivar radius: radians that it looks wide, halved.
    :ivar radiance: of what of it is lit, linear sRGB, float64 (3,). :ivar lit_from: unit float64 (3,), whence it is lit; None for the sun."""

    direction: np.ndarray
    radius: float
    radiance: np.ndarray
    lit_from: np.ndarray | None


@dataclass(frozen=True)
class Sky:
    """A sky. All light is linear sRGB, against the sun's luminance outside the air.

    :ivar haze: how much haze there is, against a clear day. :ivar clouds: share of the sky that they cover, 0 to 1; of what ``form`` they
        are, and which of endlessly many skies of it this is. :ivar turned: how the sky of stars stands, see
        :func:`cenote.light.sun.turned_sky`.
    """

    sun: Placed
    moon: Moon | None = None
    haze: float = 1.0
    clouds: float = 0.0
    form: above_us.Form = "cumulus"
    seed: int = 0
    turned: np.ndarray = field(default_factory=lambda: np.eye(3), compare=False)

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
        diffuse = self._from_above(self.clear)
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

    @property
    def discs(self) -> list[Disc]:
        """Sun and moon where they are above the horizon; clouds, if there are any, hide them."""
        out = []
        for one, (placed, _) in zip(self._direct(1.0), self._sources, strict=True):
            moon = isinstance(placed, Moon)
            radius = np.radians(MOON_RADIUS if moon else SUN_RADIUS)
            lit = max(placed.lit, 0.01) if isinstance(placed, Moon) else 1.0
            if placed.height > -1:
                radiance = one.light / (np.pi * radius**2 * lit)
                out.append(Disc(one.direction, float(radius), radiance, self.sun.direction if moon else None))
        return out

    def stars(self) -> tuple[np.ndarray, np.ndarray]:
        """The stars that are out: unit float64 (N, 3), towards them, and float64 (N, 3), their light on what faces them."""
        if self.sun.height > _STARS_BELOW:
            return np.empty((0, 3)), np.empty((0, 3))
        ways, light = stars()
        ways = ways @ self.turned.T
        up = ways[:, 1] > 0.01
        ways, light = ways[up], light[up]
        heights = np.linspace(0, 1, 33)
        through = np.array([self._air.sunlight(height) for height in heights]) / OUTSIDE
        left = np.stack([np.interp(ways[:, 1], heights, through[:, c]) for c in range(3)], axis=1)
        return ways, light * left

    def clear(self, ways: np.ndarray) -> np.ndarray:
        """What the sky would send without a cloud, float64 (N, 3). :param ways: unit float64 (N, 3)."""
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
        return self.veil(ways, self.clear(ways))

    def veil(self, ways: np.ndarray, clear: np.ndarray) -> np.ndarray:
        """As :meth:`radiance`, of what a clear sky sends: float64 (N, 3). :param ways: unit float64 (N, 3). :param clear: float64 (N, 3)."""
        _, left, overcast = self._clouded
        out = left * clear
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

    def seen(self, ways: np.ndarray, clear: np.ndarray, veiled: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """What comes along ways, clouds being seen as such; on the whole they send as much as in :meth:`radiance`.

        :param ways: unit float64 (N, 3). :param clear: float64 (N, 3), what a clear sky sends along them.
        :param veiled: float64 (N, 3), what :meth:`veil` makes of it.
        :returns: float64 (N, 3), radiance; and float64 (N,), what clouds let pass of what lies behind them.
        """
        if self.clouds <= 0:
            return veiled, np.ones(len(ways))
        lit, passes, far = self._clouds_along(ways)
        hidden, sent = self._hazed(lit, passes, far, self.hazy(clear, veiled))
        return clear * passes[:, None] + hidden + sent * self._mended, passes

    def hazy(self, clear: np.ndarray, veiled: np.ndarray) -> np.ndarray:
        """What the haze sends before far clouds and land, float64 (N, 3): the sun shines on it until the sky is nearly overcast.

        :param clear, veiled: float64 (N, 3), what a clear sky sends there, and what :meth:`veil` makes of it.
        """
        return np.asarray(clear + (veiled - clear) * np.clip((self.clouds - 0.4) / 0.6, 0, 1))

    def at_horizon(self, ways: np.ndarray) -> np.ndarray:
        """What :meth:`hazy` tells along ways: float64 (N, 3). :param ways: unit float64 (N, 3)."""
        clear = self.clear(ways)
        return self.hazy(clear, self.veil(ways, clear))

    def _hazed(
        self, lit: np.ndarray, passes: np.ndarray, far: np.ndarray, veiled: np.ndarray
    ) -> tuple[np.ndarray, np.ndarray]:
        """What comes from the haze before clouds, and what of their light comes through it: float64 (N, 3) each."""
        left = np.exp(-far / (_SEEN * self._field.layer.base / max(self.haze, 0.2)))[:, None]
        return veiled * (1 - passes[:, None]) * (1 - left), lit * left

    def picture(self, height: Ways, rows: int, columns: int, seen: bool) -> np.ndarray:
        """A picture of it, whose columns go once around from north over east.

        :param height: of rows over the horizon, radians, by where they lie among all of them, 0 to 1. :param seen: whether it is for the eye,
            and not for what is lit; sun and moon are in neither.
        :returns: float64 (rows, columns, 4), radiance, and what clouds let pass of what is behind them.
        """
        few = min(rows, _AIR_ROWS), min(columns, _AIR_COLUMNS)
        coarse = ways_of(height, *few)
        clear = self.clear(coarse)
        veiled = self.veil(coarse, clear)
        given = (_finer(one.reshape(*few, 3), rows, columns).reshape(-1, 3) for one in (clear, veiled))
        light, passes = self.seen(ways_of(height, rows, columns), *given)
        return np.column_stack([light, passes]).reshape(rows, columns, 4)

    @property
    def _field(self) -> above_us.Field:
        return above_us.field(self.form, self.seed)

    def _clouds_along(self, ways: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        high = self._field.layer.base
        to_sources = np.array([one.direction for one, _ in self._sources])
        light = np.array(
            [self._air.sunlight(float(one.direction[1]), high) * strength for one, strength in self._sources]
        )
        sky = self._from_above(self.clear)
        ground = 0.2 * (sky + sum((one.light * max(one.direction[1], 0.0) for one in self._direct(1.0)), np.zeros(3)))
        return above_us.look(self._field, self.clouds, ways, to_sources, light, sky, ground)

    @cached_property
    def _mended(self) -> np.ndarray:
        """By how much clouds have to send more than was worked out for them, so that the ground gets what was measured: float64 (3,)."""
        ways = sphere(2048)
        ways = ways[ways[:, 1] > 0]
        lit, passes, far = self._clouds_along(ways)
        clear = self.clear(ways)
        hidden, sent = self._hazed(lit, passes, far, self.hazy(clear, self.veil(ways, clear)))
        down = 2 * np.pi * ways[:, 1:2] / len(ways)
        already = ((clear * passes[:, None] + hidden) * down).sum(0)
        wanted, sent = self._from_above(self.radiance) - already, np.maximum((sent * down).sum(0), 1e-30)
        # An overcast sky is grey; the fewer clouds there are, the more of their own colour they keep.
        alike, grey = (wanted @ LUMINANCE) / (sent @ LUMINANCE), float(np.clip(5 * self.clouds - 4, 0, 1))
        return np.asarray(np.clip(alike + grey * (wanted / sent - alike), 1 / _MENDED, _MENDED))


Ways = Callable[[np.ndarray], np.ndarray]


class Pictures(Protocol):
    """What a sky can be a picture of."""

    def picture(self, height: Ways, rows: int, columns: int, seen: bool) -> np.ndarray:
        """See :meth:`Sky.picture`."""


def panorama(sky: Pictures, rows: int = 64) -> np.ndarray:
    """The light of a sky all around, with its clouds: from the zenith down, and from north over east round to north.

    :param rows: how many, even; the radiance in the middle of each pixel is given.
    :returns: float64 (rows, 2 × rows, 3).
    """
    return sky.picture(lambda share: (0.5 - share) * np.pi, rows, 2 * rows, False)[..., :3]


def dome(sky: Pictures, rows: int = 320, columns: int = 2048) -> np.ndarray:
    """A sky above the horizon, finer where one looks: the height of a row over the horizon goes with the square of its number.

    :returns: float32 (rows, columns, 4), radiance in the middle of each pixel, and what clouds let pass there: from the horizon up, and from
        north over east round to north.
    """
    return _worked_out(sky, rows, columns) if isinstance(sky, Sky) else _domed(sky, rows, columns)


@lru_cache(maxsize=4)
def _worked_out(sky: Sky, rows: int, columns: int) -> np.ndarray:
    return _domed(sky, rows, columns)


def _domed(sky: Pictures, rows: int, columns: int) -> np.ndarray:
    return sky.picture(lambda share: share * share * np.pi / 2, rows, columns, True).astype(np.float32)


def ways_of(height: Ways, rows: int, columns: int) -> np.ndarray:
    """Ways to the middles of the pixels of a picture of the sky, unit float64 (rows × columns, 3); see :meth:`Sky.picture`."""
    up = height((np.arange(rows) + 0.5) / rows)
    round_ = (np.arange(columns) + 0.5) / columns * 2 * np.pi
    side = np.cos(up)[:, None]
    level = np.broadcast_to(np.sin(up)[:, None], (rows, columns))
    return np.stack([side * np.sin(round_), level, -side * np.cos(round_)], axis=2).reshape(-1, 3)


def _finer(picture: np.ndarray, rows: int, columns: int) -> np.ndarray:
    """A picture of the sky with more pixels, read between those that it has."""
    have, wide = picture.shape[:2]
    if (have, wide) == (rows, columns):
        return picture
    y = np.clip((np.arange(rows) + 0.5) * have / rows - 0.5, 0, have - 1)
    x = (np.arange(columns) + 0.5) * wide / columns - 0.5
    places = np.meshgrid(y, x, indexing="ij")
    return np.stack(
        [ndimage.map_coordinates(picture[..., c], places, order=1, mode="grid-wrap") for c in range(3)], axis=2
    )
