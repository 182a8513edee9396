"""Clouds: what they look like from the ground, lit by sun or moon.

A layer of clouds lies between its base and its tops. How high a cloud rises over a place follows from periodic noise, of which
as much is taken as covers the share of the sky that is asked for, so that more clouds only add; billows eat into it. Light along
a way through it is gathered in steps, and what was scattered more than once is taken for light that was scattered less sharply
and held up less (Wrenninge, Kulla and Lundqvist, "Oz: The Great and Volumetric", SIGGRAPH 2013 talks).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numba import njit
from scipy import fft

from ..parallel import over_rows
from ..randomness import combine, key_of, keys_from, uniforms, unit_float
from .atmosphere import EARTH

Form = Literal["cumulus", "stratocumulus", "cirrus"]
# Points a side of the noise that tells how high clouds rise, and of the cube of billows.
_SIDE, _CUBE = 512, 64
# How far one sees a cloud, in times of how high it is: beyond, haze has all of it.
_FARTHEST = 40.0
# Over how many degrees clouds part before the sun, so that it shines as the share of cloud has it.
_PARTS = 7.0
# Steps along a way at most.
_STEPS = 220
# What light counts that was scattered once, twice and so on.
_ORDERS = (0.45, 0.9, 0.8, 0.6)


@dataclass(frozen=True)
class Layer:
    """What a form of cloud is like; all in metres.

    :ivar base, thick: how high its base lies, and how far its tops reach above it. :ivar size: of its larger clouds, and ``along``
        how many times longer than wide they are. :ivar billow: of the largest billows, and ``eats`` how deep they go.
    :ivar soft: over how far its edge fades. :ivar extinction: in its thick, a metre.
    """

    base: float
    thick: float
    size: float
    along: float
    billow: float
    eats: float
    soft: float
    extinction: float


FORMS: dict[Form, Layer] = {
    "cumulus": Layer(1200, 900, 1500, 1, 520, 640, 40, 0.02),
    "stratocumulus": Layer(1500, 380, 1100, 1.8, 360, 280, 60, 0.012),
    "cirrus": Layer(7800, 700, 4200, 5, 2600, 420, 500, 0.0012),
}


@dataclass(frozen=True)
class Field:
    """Where clouds of a form lie.

    :ivar rises: float32 (512, 512), periodic, a value's rank among all of them: clouds rise highest where it is 1. :ivar period: of it, metres.
    :ivar billows: float32 (64, 64, 64), periodic, in [0, 1].
    :ivar from_rank, covered: float64 (K,), the share of the sky that is covered, from the least rank that has clouds.
    """

    layer: Layer
    rises: np.ndarray
    period: float
    billows: np.ndarray
    from_rank: np.ndarray
    covered: np.ndarray

    def least_rank(self, share: float) -> float:
        """From which rank on there are clouds, if they are to cover a share of the sky."""
        return float(np.interp(share, self.covered, self.from_rank))


@njit(cache=True, nogil=True)
def _cells(key, cells, side, out, first, beyond):  # type: ignore
    """Distance to the nearest of points strewn one a cube, in cubes, on a grid whose end meets its beginning (Worley 1996)."""
    for a in range(first, beyond):
        for b in range(side):
            for c in range(side):
                x, y, z = a * cells / side, b * cells / side, c * cells / side
                i, j, k = int(x), int(y), int(z)
                best = np.inf
                for n in range(27):
                    p, q, r = i - 1 + n // 9, j - 1 + n // 3 % 3, k - 1 + n % 3
                    own = combine(combine(combine(key, p % cells), q % cells), r % cells)
                    dx = p + unit_float(combine(own, 1)) - x
                    dy = q + unit_float(combine(own, 2)) - y
                    dz = r + unit_float(combine(own, 3)) - z
                    best = min(best, dx * dx + dy * dy + dz * dz)
                out[a, b, c] = np.sqrt(best)


@lru_cache(maxsize=4)
def _billows(seed: int) -> np.ndarray:
    """Round heads with clefts between them, of three sizes: 1 in the clefts; float32 (64, 64, 64)."""
    total = np.zeros((_CUBE,) * 3, np.float32)
    for cells, weight in ((4, 0.6), (9, 0.28), (19, 0.12)):
        one = np.empty((_CUBE,) * 3)
        key = key_of("billows", seed, cells)
        over_rows(lambda a, b: _cells(key, cells, _CUBE, one, a, b), _CUBE, least=4)  # noqa: B023
        total += weight * np.clip(one, 0, 1).astype(np.float32)
    low, high = np.percentile(total, (2, 98))
    return np.clip((total - low) / (high - low), 0, 1)


@lru_cache(maxsize=8)
def field(form: Form, seed: int) -> Field:
    """Where clouds lie, by form and seed."""
    layer = FORMS[form]
    period = layer.size * 11
    waves = fft.fftfreq(_SIDE, 1 / _SIDE) * layer.size / period
    across, along = waves[:, None], waves[None, :] * layer.along
    # Blotches of one size, and what is finer the fainter.
    spectrum = 1 / (1 + (across * across + along * along) * 1.8) ** 1.5
    white = uniforms(keys_from(key_of("clouds", form, seed), _SIDE * _SIDE), 0).reshape(_SIDE, _SIDE) - 0.5
    noise = fft.ifft2(fft.fft2(white) * spectrum).real
    ranks = np.empty(_SIDE * _SIDE, np.float32)
    ranks[np.argsort(noise, axis=None, kind="stable")] = (np.arange(_SIDE * _SIDE) + 0.5) / (_SIDE * _SIDE)
    rises = ranks.reshape(_SIDE, _SIDE)
    billows = _billows(seed)
    from_rank = np.linspace(-0.6, 1, 33)
    covered = np.empty(len(from_rank))
    for row, rank in enumerate(from_rank):
        hit = np.zeros((_SIDE // 4, _SIDE // 4), np.bool_)
        _cover(_numbers(layer, period), rises, billows, rank, hit)
        covered[row] = hit.mean()
    # From none to overcast, and never falling, as interpolation wants it.
    covered = np.maximum.accumulate(covered[::-1])
    return Field(layer, rises, period, billows, from_rank[::-1], covered)


def _numbers(layer: Layer, period: float) -> np.ndarray:
    return np.array(
        [layer.base, layer.thick, layer.billow * 4, layer.eats, layer.soft, layer.extinction, period, layer.size * 0.9]
    )


@njit(inline="always", cache=True)
def _inside(numbers, rises, billows, rank, x, y, z, fine):  # type: ignore
    """How deep in a cloud a point lies, in metres; above 0 inside. :param y: above the base. :param fine: with small billows."""
    thick, cube, eats, period = numbers[1], numbers[2], numbers[3], numbers[6]
    side = rises.shape[0]
    u, v = x / period * side, z / period * side
    fu, fv = np.floor(u), np.floor(v)
    i, j, a, b = int(fu) & (side - 1), int(fv) & (side - 1), u - fu, v - fv
    m, n = (i + 1) & (side - 1), (j + 1) & (side - 1)
    found = ((rises[i, j] * (1 - a) + rises[m, j] * a) * (1 - b) + (rises[i, n] * (1 - a) + rises[m, n] * a) * b)  # fmt: skip
    above = found - rank
    if above <= 0.0:
        return max(above * numbers[7], -thick)
    # Bases are level, tops round.
    deep = min(min(thick * np.sqrt(min(above * 2.0, 1.0)) - y, y * 3.0), above * numbers[7])
    eaten = eats * (0.3 + 0.7 * y / thick)
    if deep < 0.0 or deep > eaten:
        return deep - 0.4 * min(max(deep, 0.0), eaten)
    billow = _billow(billows, cube, x, y, z)
    if not fine or deep < eaten * 0.5 * billow:
        return deep - eaten * (0.25 + 0.5 * billow)
    billow = 0.5 * billow + 0.35 * _billow(billows, cube * 0.31, y, z, x)
    return deep - eaten * (billow + 0.15 * _billow(billows, cube * 0.09, z, x, y))


@njit(inline="always", cache=True)
def _billow(billows, cube, x, y, z):  # type: ignore
    side = billows.shape[0]
    u, v, w = x / cube * side, y / cube * side, z / cube * side
    fu, fv, fw = np.floor(u), np.floor(v), np.floor(w)
    i, j, k = int(fu) & (side - 1), int(fv) & (side - 1), int(fw) & (side - 1)
    l, m, n = (i + 1) & (side - 1), (j + 1) & (side - 1), (k + 1) & (side - 1)  # noqa: E741
    a, b, c = u - fu, v - fv, w - fw
    low = (billows[i, j, k] * (1 - a) + billows[l, j, k] * a) * (1 - b) + (
        billows[i, m, k] * (1 - a) + billows[l, m, k] * a
    ) * b
    high = (billows[i, j, n] * (1 - a) + billows[l, j, n] * a) * (1 - b) + (
        billows[i, m, n] * (1 - a) + billows[l, m, n] * a
    ) * b
    return low * (1 - c) + high * c


@njit(cache=True)
def _cover(numbers, rises, billows, rank, hit):  # type: ignore
    """Which places have a cloud above them."""
    thick, period = numbers[1], numbers[6]
    rows = hit.shape[0]
    for a in range(rows):
        for b in range(rows):
            for step in range(12):
                y = (step + 0.5) / 12 * thick
                if _inside(numbers, rises, billows, rank, a * period / rows, y, b * period / rows, True) > 0:
                    hit[a, b] = True
                    break


@njit(inline="always", cache=True)
def _until(height, up):  # type: ignore
    """How far it is along a way to a height, over a round earth."""
    return np.sqrt(EARTH * EARTH * up * up + 2 * EARTH * height + height * height) - EARTH * up


@njit(inline="always", cache=True)
def _phase(ahead, cosine):  # type: ignore
    """Henyey and Greenstein, "Diffuse radiation in the galaxy" (1941)."""
    return (1 - ahead * ahead) / (4 * np.pi * (1 + ahead * ahead - 2 * ahead * cosine) ** 1.5)


@njit(cache=True, nogil=True)
def _look(
    numbers,
    rises,
    billows,
    rank,
    share,
    ways,
    to_sources,
    parts,
    apart,
    light,
    above,
    below,
    out,
    passes,
    far,
    first,
    beyond,
):  # type: ignore
    base, thick, soft, extinction = numbers[0], numbers[1], numbers[4], numbers[5]
    sources = len(to_sources)
    cosines = np.empty(sources)
    for row in range(first, beyond):
        dx, up, dz = ways[row, 0], ways[row, 1], ways[row, 2]
        left, light_at, weight = 1.0, 0.0, 0.0
        near, end = _until(base, up), _until(base + thick, up)
        if up <= 0.0 or near > _FARTHEST * base:
            # Seen so flatly, they close up; the haze has all of them.
            passes[row], far[row] = max(1 - 2 * share, 0.0) if up > 0 else 0.0, np.inf
            continue
        long = min(max((end - near) / 24, 0.05 * thick), max(0.3 * thick, 2 * soft))
        thin = 1.0
        for s in range(sources):
            cosines[s] = dx * to_sources[s, 0] + up * to_sources[s, 1] + dz * to_sources[s, 2]
            if cosines[s] > apart:
                thin = min(thin, max(1 - 1.5 * parts * (cosines[s] - apart) / (1 - apart), 0.0))
        t = near
        for _ in range(_STEPS):
            if t >= end or left < 0.004:
                break
            x, z = dx * t, dz * t
            y = np.sqrt(EARTH * EARTH + t * t + 2 * EARTH * t * up) - EARTH - base
            deep = _inside(numbers, rises, billows, rank, x, y, z, True)
            if deep <= 0:
                # As far as there is nothing, but not farther than a cloud is wide.
                t += min(max(-0.7 * deep, 0.2 * long), long)
                continue
            part = min(long * 0.3, 0.7 * soft + 0.004 * t) / max(left, 0.25)
            dense = extinction * min(deep / soft, 1.0) * thin
            lost = left * (1 - np.exp(-dense * part))
            left -= lost
            weight += lost
            light_at += lost * t
            high = y / thick
            for c in range(3):
                out[row, c] += lost * (above[c] * (0.2 + 0.8 * high * high) + below[c] * 0.5 * (1 - high)) / np.pi * 0.6
            for s in range(sources):
                way, held, at = thick * 0.02, 0.0, 0.0
                for _ in range(7):
                    at += way * 0.5
                    there = y + to_sources[s, 1] * at
                    if 0.0 < there < thick:
                        along, across = x + to_sources[s, 0] * at, z + to_sources[s, 2] * at
                        deep = _inside(numbers, rises, billows, rank, along, there, across, False)
                        held += extinction * min(max(deep / soft, 0.0), 1.0) * way
                    at += way * 0.5
                    way *= 1.6
                sent = 0.0
                for order in range(4):
                    ahead = 0.78 * 0.45**order
                    turned = 0.75 * _phase(ahead, cosines[s]) + 0.25 * _phase(-0.4 * ahead, cosines[s])
                    sent += _ORDERS[order] * turned * np.exp(-held * 0.35**order)
                for c in range(3):
                    out[row, c] += lost * sent * light[s, c]
            t += part
        passes[row] = left
        far[row] = light_at / weight if weight > 0 else 0.0


def look(
    clouds: Field,
    share: float,
    ways: np.ndarray,
    to_sources: np.ndarray,
    light: np.ndarray,
    above: np.ndarray,
    below: np.ndarray,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Look at clouds from the ground.

    :param share: of the sky that they cover, 0 to 1. :param ways: unit float64 (N, 3).
    :param to_sources: unit float64 (S, 3), towards what shines on them. :param light: float64 (S, 3), of it on what faces it up there.
    :param above, below: float64 (3,), light on what is level from the sky, and from the ground.
    :returns: the light that they send, float64 (N, 3), radiance; what they let pass of what is behind, float64 (N,); and how far they are,
        float64 (N,), metres: 0 where there are none, infinite where haze hides them, and below the horizon.
    """
    out, passes, far = np.zeros((len(ways), 3)), np.ones(len(ways)), np.zeros(len(ways))
    if share <= 0:
        return out, passes, far
    given = (
        _numbers(clouds.layer, clouds.period),
        clouds.rises,
        clouds.billows,
        clouds.least_rank(share),
        share,
        np.ascontiguousarray(ways, np.float64),
        np.ascontiguousarray(to_sources, np.float64),
        1 - share**3,
        np.cos(np.radians(_PARTS)),
        np.ascontiguousarray(light, np.float64),
        np.asarray(above, np.float64),
        np.asarray(below, np.float64),
    )
    over_rows(lambda a, b: _look(*given, out, passes, far, a, b), len(ways), least=256)
    return out, passes, far
