"""Noise at world scale."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit

from ..parallel import over_rows
from ..parameters import choice, count, quantity
from ..randomness import combine, gradient_noise, key_of, layered_noise, unit_float
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# What interpolation may make of the noise's whole range.
_MISSED = 0.005
LOOKS = ("clouds", "cells", "veins", "patches")


@njit(cache=True, nogil=True)
def _nearest_cell(x, y, z, key):  # type: ignore
    """Distance to the nearest of points strewn one a cube, and that point's key (Worley, "A Cellular Texture Basis
    Function", SIGGRAPH 1996)."""
    best, found = np.inf, key
    i, j, k = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
    for a in range(i - 1, i + 2):
        for b in range(j - 1, j + 2):
            for c in range(k - 1, k + 2):
                own = combine(combine(combine(key, a), b), c)
                dx = a + unit_float(combine(own, 1)) - x
                dy = b + unit_float(combine(own, 2)) - y
                dz = c + unit_float(combine(own, 3)) - z
                away = dx * dx + dy * dy + dz * dz
                if away < best:
                    best, found = away, own
    return np.sqrt(best), found


@njit(cache=True, nogil=True)
def _fill(positions, scale, rise, octaves, seed, key, look, out, a, b):  # type: ignore
    for i in range(a, b):
        x, y, z = positions[i, 0] * scale, positions[i, 1] * rise, positions[i, 2] * scale
        if look == 0:
            out[i] = layered_noise(x, y, z, octaves, seed)
        elif look == 2:
            total, amplitude, norm = 0.0, 1.0, 0.0
            for octave in range(octaves):
                # Turned each time: the noise is zero all along its lattice, which no ground or wall should lie in.
                x, y, z = 0.8 * y + 0.6 * z, 0.36 * y - 0.8 * x - 0.48 * z, 0.64 * z - 0.6 * x - 0.48 * y
                # Ridges stand where gradient noise crosses zero (Musgrave, Texturing and Modeling, 2003, chapter 16).
                ridge = 1.0 - abs(gradient_noise(x, y, z, seed + np.uint32(octave * 1013))) * 1.6
                total += amplitude * max(ridge, 0.0) ** 2
                norm += amplitude
                amplitude *= 0.5
                x, y, z = x * 2.0 + 17.3, y * 2.0 + 5.9, z * 2.0 + 11.1
            out[i] = min(1.0, total / norm)
        else:
            away, own = _nearest_cell(x, y, z, key)
            out[i] = max(0.0, 1.0 - away) if look == 1 else unit_float(combine(own, 4))


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
    given = (1.0 / size, 1.0 / (size * upright), octaves, np.uint32(int(key) & 0xFFFFFFFF), key, LOOKS.index(look))
    over_rows(lambda a, b: _fill(positions, *given, out, a, b), len(positions), least=4096)
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
