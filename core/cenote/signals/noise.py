"""Noise at world scale."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit

from ..parallel import over_rows
from ..parameters import choice, count, quantity
from ..randomness import combine, gradient_noise, key_of, unit_float
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# What interpolation may make of the noise's whole range.
_MISSED = 0.005
LOOKS = ("clouds", "cells", "veins", "patches")


# Points at a time: so many stay in the nearest cache, and their loops become wide instructions.
_CHUNK = 256


@njit(inline="always", cache=True)
def _begin(positions, begin, count, scale, rise, xs, ys, zs):  # type: ignore
    """Where some points lie in the noise."""
    for i in range(count):
        xs[i], ys[i], zs[i] = (
            positions[begin + i, 0] * scale,
            positions[begin + i, 1] * rise,
            positions[begin + i, 2] * scale,
        )


@njit(cache=True, nogil=True)
def _clouds(positions, scale, rise, octaves, seed, out, first, beyond):  # type: ignore
    """As :func:`cenote.randomness.layered_noise`, octave by octave."""
    xs, ys, zs, total = np.empty(_CHUNK), np.empty(_CHUNK), np.empty(_CHUNK), np.empty(_CHUNK)
    for begin in range(first, beyond, _CHUNK):
        count = min(_CHUNK, beyond - begin)
        _begin(positions, begin, count, scale, rise, xs, ys, zs)
        total[:] = 0.0
        amplitude, norm = 1.0, 0.0
        for octave in range(octaves):
            own = seed + np.uint32(octave * 1013)
            for i in range(count):
                total[i] += amplitude * gradient_noise(xs[i], ys[i], zs[i], own)
            norm += amplitude
            amplitude *= 0.5
            for i in range(count):
                xs[i], ys[i], zs[i] = xs[i] * 2.0 + 17.3, ys[i] * 2.0 + 5.9, zs[i] * 2.0 + 11.1
        for i in range(count):
            out[begin + i] = min(1.0, max(0.0, 0.5 + 0.72 * total[i] / norm))


@njit(cache=True, nogil=True)
def _veins(positions, scale, rise, octaves, seed, out, first, beyond):  # type: ignore
    """Ridges where gradient noise crosses zero (Musgrave, Texturing and Modeling, 2003, chapter 16), octave by octave."""
    xs, ys, zs, total = np.empty(_CHUNK), np.empty(_CHUNK), np.empty(_CHUNK), np.empty(_CHUNK)
    for begin in range(first, beyond, _CHUNK):
        count = min(_CHUNK, beyond - begin)
        _begin(positions, begin, count, scale, rise, xs, ys, zs)
        total[:] = 0.0
        amplitude, norm = 1.0, 0.0
        for octave in range(octaves):
            own = seed + np.uint32(octave * 1013)
            for i in range(count):
                x, y, z = xs[i], ys[i], zs[i]
                # Turned each time: the noise is zero all along its lattice, which no ground or wall should lie in.
                x, y, z = 0.8 * y + 0.6 * z, 0.36 * y - 0.8 * x - 0.48 * z, 0.64 * z - 0.6 * x - 0.48 * y
                ridge = max(1.0 - abs(gradient_noise(x, y, z, own)) * 1.6, 0.0)
                total[i] += amplitude * ridge * ridge
                xs[i], ys[i], zs[i] = x * 2.0 + 17.3, y * 2.0 + 5.9, z * 2.0 + 11.1
            norm += amplitude
            amplitude *= 0.5
        for i in range(count):
            out[begin + i] = min(1.0, total[i] / norm)


@njit(cache=True, nogil=True)
def _cells(positions, scale, rise, key, spots, out, first, beyond):  # type: ignore
    """One less the distance to the nearest of points strewn one a cube, or a number of that point's own (Worley, "A Cellular
    Texture Basis Function", SIGGRAPH 1996)."""
    places, owns = np.empty((3, 27)), np.empty(27, np.uint64)
    i, j, k, known = 0, 0, 0, False
    for row in range(first, beyond):
        x, y, z = positions[row, 0] * scale, positions[row, 1] * rise, positions[row, 2] * scale
        at, up, on = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
        if not known or at != i or up != j or on != k:
            # Most points lie in the cube of the one before.
            i, j, k, known = at, up, on, True
            for c in range(27):
                a, b, d = i - 1 + c // 9, j - 1 + c // 3 % 3, k - 1 + c % 3
                own = combine(combine(combine(key, a), b), d)
                owns[c] = own
                places[0, c] = a + unit_float(combine(own, 1))
                places[1, c] = b + unit_float(combine(own, 2))
                places[2, c] = d + unit_float(combine(own, 3))
        best, nearest = np.inf, 0
        for c in range(27):
            dx, dy, dz = places[0, c] - x, places[1, c] - y, places[2, c] - z
            away = dx * dx + dy * dy + dz * dz
            if away < best:
                best, nearest = away, c
        out[row] = max(0.0, 1.0 - np.sqrt(best)) if spots else unit_float(combine(owns[nearest], 4))


def world_noise(
    positions: np.ndarray, size: float, octaves: int, seed: int, look: str = "clouds", upright: float = 1
) -> np.ndarray:
    """Noise at points.

    :param positions: float32 (N, 3), metres.
    :param size: the size of the largest blotches in metres.
    :param look: one of :data:`LOOKS`. :param upright: how much taller than wide blotches are.
    :returns: float32 (N,) in [0, 1]; clouds are 0.5 on average.
    """
    out = np.empty(len(positions), np.float32)
    key = key_of("noise", seed)
    lies = (positions, 1.0 / size, 1.0 / (size * upright))
    if look in ("cells", "patches"):
        over_rows(lambda a, b: _cells(*lies, key, look == "cells", out, a, b), len(positions), least=4096)
    else:
        fill, given = _clouds if look == "clouds" else _veins, (octaves, np.uint32(int(key) & 0xFFFFFFFF), out)
        over_rows(lambda a, b: fill(*lies, *given, a, b), len(positions), least=4096)
    return out


@SIGNALS.register
class Noise(Signal):
    """Random blotches, the same wherever a surface lies in the world."""

    kind: Literal["noise"] = "noise"
    look: Literal["clouds", "cells", "veins", "patches"] = choice(
        "clouds", help="Clouds drift softly, cells are round spots, veins are thin lines, patches are even areas."
    )
    size: float = quantity(1.5, low=0.05, high=200, unit="m", step=0.05, help="The size of the largest blotches.")
    upright: float = quantity(
        1, low=0.1, high=20, unit="×", step=0.1, help="How much taller than wide blotches are: above 1 they hang."
    )
    octaves: int = count(
        4, low=1, high=7, help="How many finer layers clouds and veins have, each half the size of the last."
    )
    seed: int = count(1, low=0, high=9999, help="Another number gives another pattern.")
    reading = Reading("Noise", "", 0, 1)
    suggested = (0.35, 0.65)

    def smooth_over(self) -> float:
        if self.look != "clouds":
            # The other looks have edges.
            return 0.0
        # Between n samples a wave lines miss its crest by (2π / n)² / 8 of its height, and the finest of all layers has but
        # one part in 2^octaves − 1 of the whole.
        finest = self.size * min(1.0, self.upright) / 2 ** (self.octaves - 1)
        return finest * (8 * _MISSED * (2**self.octaves - 1)) ** 0.5 / (2 * np.pi)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return world_noise(samples.positions, self.size, self.octaves, self.seed, self.look, self.upright)
