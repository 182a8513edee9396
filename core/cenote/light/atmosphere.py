"""The air over a place, and the light that it scatters: a sky for any sun, worked out rather than painted.

Air, haze and ozone as of Bruneton, "Precomputed Atmospheric Scattering: a New Implementation" (2017), and light that is scattered
more than once as of Hillaire, "A Scalable and Production Ready Sky and Atmosphere Rendering Technique" (EGSR 2020): each place of
the air is lit by the sun through the air above it, and by all that is scattered before, which is taken to come from everywhere
alike and sums to a geometric series. It is worked out at eight wavelengths, for three make a dusk purple that is blue.

All light counts against the sun's outside the air, whose luminance is 1.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numba import njit

from ..parallel import over_rows
from .spectrum import WAVELENGTHS, rgb

# Metres: the earth's radius, how far up the air goes, and where the eye is.
EARTH, TOP, EYE = 6_360e3, 60e3, 2.0
# Scattering by air and by haze at the ground, and what haze and ozone swallow, a metre; heights over which they thin out.
_AIR = 1.24062e-6 * (WAVELENGTHS / 1000) ** -4
_HAZE, _HAZE_SWALLOWS = 3.996e-6, 0.444e-6
# Cross sections of Serdyuchenko and others, "High spectral resolution ozone absorption cross-sections" (2014), m², times how many
# molecules a cubic metre has where 300 Dobson units are spread over 15 km.
_OZONE = np.array([1.527e-27, 1.582e-26, 7.752e-26, 2.139e-25, 4.266e-25, 5.019e-25, 2.662e-25, 1.209e-25]) * (
    300 * 2.687e20 / 15e3
)
_WAVES = len(WAVELENGTHS)
_AIR_THINS, _HAZE_THINS, _OZONE_AT, _OZONE_WIDE = 8_000.0, 1_200.0, 25_000.0, 15_000.0
# How much haze scatters ahead (Henyey and Greenstein), and how much light the ground gives back.
_AHEAD, GROUND_GIVES = 0.8, 0.25
# Sides of the tables by height and by the sun's height; steps along a ray.
_HEIGHTS, _SUNS, _STEPS = 24, 96, 48


@njit(inline="always", cache=True)
def _to_edge(height, up):  # type: ignore
    """How far it is from a height to the ground, or else out of the air, and whether it is the ground. :param up: sine."""
    r = EARTH + height
    below = r * r * (up * up - 1.0) + EARTH * EARTH
    if up < 0 and below >= 0:
        return max(-r * up - np.sqrt(below), 0.0), True
    return -r * up + np.sqrt(max(r * r * (up * up - 1.0) + (EARTH + TOP) ** 2, 0.0)), False


@njit(inline="always", cache=True)
def _thick(height):  # type: ignore
    """How much air, haze and ozone there is at a height, against the ground or the thickest."""
    return (np.exp(-height / _AIR_THINS), np.exp(-height / _HAZE_THINS),
            max(0.0, 1.0 - abs(height - _OZONE_AT) / _OZONE_WIDE))  # fmt: skip


@njit(inline="always", cache=True)
def _passed(step, steps, far, r, up, sun, cosine):  # type: ignore
    """One of some steps along a way, shorter where the air is thicker: how long it is, how high its middle lies, and the sine of the
    sun's height over the horizon of that place."""
    a, b = (step / steps) ** 2 * far, ((step + 1) / steps) ** 2 * far
    t = (a + b) / 2
    here = np.sqrt(r * r + t * t + 2 * r * t * up)
    return b - a, here - EARTH, (r * sun + t * cosine) / here


@njit(cache=True, nogil=True)
def _depth(height, up, out):  # type: ignore
    """How much air, haze and ozone, in metres of the thickest, lies between a height and the outside, along a way."""
    far, _ = _to_edge(height, up)
    out[:] = 0.0
    r = EARTH + height
    for step in range(2 * _STEPS):
        long, here, _ = _passed(step, 2 * _STEPS, far, r, up, 0.0, 0.0)
        thin, mist, ozone = _thick(here)
        out[0] += thin * long
        out[1] += mist * long
        out[2] += ozone * long


@njit(inline="always", cache=True)
def _row(height):  # type: ignore
    return np.sqrt(min(max(height / TOP, 0.0), 1.0)) * (_HEIGHTS - 1)


@njit(inline="always", cache=True)
def _column(up):  # type: ignore
    """Where a sine of the sun's height lies in the tables: finer about the horizon."""
    s = np.sqrt(abs(up))
    return (0.5 + 0.5 * (s if up > 0 else -s)) * (_SUNS - 1)


@njit(inline="always", cache=True)
def _read(table, height, up, c):  # type: ignore
    y, x = _row(height), _column(up)
    j, i = min(int(y), _HEIGHTS - 2), min(int(x), _SUNS - 2)
    v, u = y - j, x - i
    upper = table[j, i, c] + u * (table[j, i + 1, c] - table[j, i, c])
    lower = table[j + 1, i, c] + u * (table[j + 1, i + 1, c] - table[j + 1, i, c])
    return upper + v * (lower - upper)


@njit(cache=True, nogil=True)
def _fill_passes(haze, out, first, beyond):  # type: ignore
    depth = np.empty(3)
    for j in range(first, beyond):
        height = (j / (_HEIGHTS - 1)) ** 2 * TOP
        for i in range(_SUNS):
            s = 2 * i / (_SUNS - 1) - 1
            up = s * abs(s)
            _, ground = _to_edge(height, up)
            if ground:
                out[j, i] = 0.0
                continue
            _depth(height, up, depth)
            for c in range(_WAVES):
                total = _AIR[c] * depth[0] + (_HAZE + _HAZE_SWALLOWS) * haze * depth[1] + _OZONE[c] * depth[2]
                out[j, i, c] = np.exp(-total)


@njit(cache=True, nogil=True)
def _along(passes, again, haze, up, sun, cosine, light, ground_light):  # type: ignore
    """What comes to the eye along a way.

    :param up: sine of the way's height. :param sun: of the sun's. :param cosine: of the angle between them.
    :param light: is given the light, (8,). :param ground_light: is given how much of what the ground sends comes through, (8,).
    """
    far, ground = _to_edge(EYE, up)
    r = EARTH + EYE
    light[:] = 0.0
    ground_light[:] = 1.0
    square = _AHEAD * _AHEAD
    by_air = 3 / (16 * np.pi) * (1 + cosine * cosine)
    # Cornette and Shanks, "Physically reasonable analytic expression for the single-scattering phase function", 1992.
    by_haze = (3 / (8 * np.pi) * (1 - square) / (2 + square) * (1 + cosine * cosine)
               / (1 + square - 2 * _AHEAD * cosine) ** 1.5)  # fmt: skip
    for step in range(_STEPS):
        long, h, over = _passed(step, _STEPS, far, r, up, sun, cosine)
        thin, mist, ozone = _thick(h)
        for c in range(_WAVES):
            scatters, hazes = _AIR[c] * thin, _HAZE * haze * mist
            takes = scatters + hazes + _HAZE_SWALLOWS * haze * mist + _OZONE[c] * ozone
            lost = np.exp(-takes * long)
            share = ground_light[c] * (1 - lost) / max(takes, 1e-20)
            once = _read(passes, h, over, c) * (scatters * by_air + hazes * by_haze)
            light[c] += share * (once + _read(again, h, over, c) * (scatters + hazes))
            ground_light[c] *= lost
    if not ground:
        ground_light[:] = 0.0


@njit(cache=True, nogil=True)
def _evenly(passes, haze, height, up, sun, cosine, light, share_again):  # type: ignore
    """What comes to a height along a way, if light is scattered to all sides alike, and the share of light that is scattered again
    on that way; parameters as of :func:`_along`."""
    far, ground = _to_edge(height, up)
    r = EARTH + height
    before = np.ones(_WAVES)
    light[:] = 0.0
    share_again[:] = 0.0
    for step in range(_STEPS // 2):
        long, h, over = _passed(step, _STEPS // 2, far, r, up, sun, cosine)
        thin, mist, ozone = _thick(h)
        for c in range(_WAVES):
            scatters = _AIR[c] * thin + _HAZE * haze * mist
            takes = scatters + _HAZE_SWALLOWS * haze * mist + _OZONE[c] * ozone
            lost = np.exp(-takes * long)
            share = before[c] * (1 - lost) / max(takes, 1e-20) * scatters
            light[c] += share * _read(passes, h, over, c) * 0.25 / np.pi
            share_again[c] += share
            before[c] *= lost
    if ground:
        end = np.sqrt(r * r + far * far + 2 * r * far * up)
        over = (r * sun + far * cosine) / end
        for c in range(_WAVES):
            light[c] += before[c] * max(over, 0.0) * _read(passes, 0.0, over, c) * GROUND_GIVES / np.pi


@njit(cache=True, nogil=True)
def _fill_again(passes, haze, ways, out, first, beyond):  # type: ignore
    one, all_ = np.empty(_WAVES), np.empty(_WAVES)
    for j in range(first, beyond):
        height = (j / (_HEIGHTS - 1)) ** 2 * TOP
        for i in range(_SUNS):
            s = 2 * i / (_SUNS - 1) - 1
            sun = s * abs(s)
            light, share = np.zeros(_WAVES), np.zeros(_WAVES)
            level = np.sqrt(max(1 - sun * sun, 0.0))
            for k in range(len(ways)):
                _evenly(passes, haze, height, ways[k, 1], sun, ways[k, 0] * level + ways[k, 1] * sun, one, all_)
                light += one / len(ways)
                share += all_ / len(ways)
            for c in range(_WAVES):
                out[j, i, c] = light[c] / (1 - min(share[c], 0.999))


@njit(cache=True, nogil=True)
def _fill_sky(passes, again, haze, sun, ways, out, ground, first, beyond):  # type: ignore
    for k in range(first, beyond):
        cosine = ways[k, 0] * sun[0] + ways[k, 1] * sun[1] + ways[k, 2] * sun[2]
        _along(passes, again, haze, ways[k, 1], sun[1], cosine, out[k], ground[k])


@dataclass(frozen=True)
class Air:
    """The air with some haze in it.

    :ivar haze: how much, against a clear day.
    :ivar passes: float64 (h, s, 8), how much of the sun's light comes through, by height and the sun's height.
    :ivar again: float64 (h, s, 8), light that was scattered before, from each side alike.
    """

    haze: float
    passes: np.ndarray
    again: np.ndarray

    def sunlight(self, up: float, height: float = EYE) -> np.ndarray:
        """What of the sun comes to a height, on what faces it: linear sRGB, float64 (3,).

        :param up: sine of the sun's height. :param height: over the ground, metres.
        """
        return rgb(self._through(up, height))

    def _through(self, up: float, height: float = EYE) -> np.ndarray:
        return np.array([_read(self.passes, height, up, c) for c in range(_WAVES)])

    def sky(self, ways: np.ndarray, sun: np.ndarray) -> np.ndarray:
        """The light of the sky, without the sun's own disc, and of the ground below it: linear sRGB, float64 (N, 3), radiance.

        :param ways: unit float64 (N, 3). :param sun: unit float64 (3,), towards it.
        """
        light, passes = self._looked(ways, sun)
        if passes.any():
            light += passes * GROUND_GIVES / np.pi * self._fallen(sun)
        return rgb(light)

    def on_ground(self, sun: np.ndarray) -> np.ndarray:
        """Light on level ground, of the sun and of the sky: linear sRGB, float64 (3,), illuminance. :param sun: unit float64 (3,)."""
        return rgb(self._fallen(sun))

    def _fallen(self, sun: np.ndarray) -> np.ndarray:
        ways = sphere(256)
        ways = ways[ways[:, 1] > 0]
        light, _ = self._looked(ways, sun)
        diffuse = 2 * np.pi * (light * ways[:, 1:2]).mean(0)
        return np.asarray(diffuse + self._through(float(sun[1])) * max(float(sun[1]), 0.0))

    def _looked(self, ways: np.ndarray, sun: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """What the air sends along ways, and how much of what the ground sends comes through it: float64 (N, 8) each."""
        out, ground = np.zeros((len(ways), _WAVES)), np.zeros((len(ways), _WAVES))
        given = (
            self.passes,
            self.again,
            self.haze,
            np.asarray(sun, np.float64),
            np.ascontiguousarray(ways, np.float64),
        )
        over_rows(lambda a, b: _fill_sky(*given, out, ground, a, b), len(ways), least=256)
        return out, ground


@lru_cache(maxsize=16)
def air(haze: float) -> Air:
    """The air of a day. :param haze: how much haze it has, against a clear day: 1; 0 none, 10 a murky one."""
    passes, again = (np.zeros((_HEIGHTS, _SUNS, _WAVES)) for _ in range(2))
    over_rows(lambda a, b: _fill_passes(haze, passes, a, b), _HEIGHTS, least=2)
    ways = sphere(96)
    over_rows(lambda a, b: _fill_again(passes, haze, ways, again, a, b), _HEIGHTS, least=2)
    return Air(haze, passes, again)


def sphere(count: int) -> np.ndarray:
    """Ways spread evenly over a sphere, unit float64 (N, 3): a spiral (Vogel, Mathematical Biosciences 44, 1979)."""
    at = np.arange(count) + 0.5
    up, round_ = 1 - 2 * at / count, at * np.pi * (3 - np.sqrt(5))
    side = np.sqrt(1 - up * up)
    return np.column_stack([np.cos(round_) * side, up, np.sin(round_) * side])
