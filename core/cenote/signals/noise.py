"""Noise at world scale."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit

from ..parallel import over_rows
from ..parameters import count, quantity
from ..randomness import key_of, layered_noise
from .base import SIGNALS, MeasuredScene, Reading, Samples, Signal


@njit(cache=True, nogil=True)
def _fill(positions, scale, octaves, seed, out, a, b):  # type: ignore
    for i in range(a, b):
        out[i] = layered_noise(positions[i, 0] * scale, positions[i, 1] * scale, positions[i, 2] * scale, octaves, seed)


def world_noise(positions: np.ndarray, size: float, octaves: int, seed: int) -> np.ndarray:
    """Layered gradient noise at points.

    :param positions: float32 (N, 3), metres.
    :param size: the size of the largest blotches in metres.
    :returns: float32 (N,) in [0, 1], 0.5 on average.
    """
    out = np.empty(len(positions), np.float32)
    key = np.uint32(int(key_of("noise", seed)) & 0xFFFFFFFF)
    over_rows(lambda a, b: _fill(positions, 1.0 / size, octaves, key, out, a, b), len(positions), least=4096)
    return out


@SIGNALS.register
class Noise(Signal):
    """Blotches of random strength, the same wherever a surface lies in the world."""

    kind: Literal["noise"] = "noise"
    size: float = quantity(1.5, low=0.05, high=200, unit="m", step=0.05, help="The size of the largest blotches.")
    octaves: int = count(4, low=1, high=7, help="How many finer layers are added, each half the size.")
    seed: int = count(1, low=0, high=9999, help="Another number gives another pattern.")
    reading = Reading("Noise", "", 0, 1)
    suggested = (0.35, 0.65)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return world_noise(samples.positions, self.size, self.octaves, self.seed)
