"""Fog along ways that are looked along: in its banks, and only in part in the sun."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from ..parallel import over_rows
from .air import BANKS_A_SIDE, Medium, bank_map

# Steps along a way; as far as so many sides of the map of banks they are told apart, beyond fog is as even as their mean.
_STEPS, _SEEN = 64, 3.0
# Banks lean by so much a metre of height, along x and z; a second, finer sheet of them is this much smaller, and its part of both.
_LEAN, _FINER, _PART = (0.7, 0.4), (2.7, 0.37), 0.35
# Fog thins out to a fiftieth over so many times the height that it fades over.
_THIN = 4.0


@dataclass(frozen=True)
class SunlitAir:
    """Where in a box the sun shines through the air. Outside of it nothing keeps it off.

    :ivar lit: float32 (X, Y, Z) in [0, 1], the share of the sun's light that comes to the middles of cells. :ivar low: float64 (3,), the least corner
        of the box, metres. :ivar cell: side of a cell, metres.
    """

    lit: np.ndarray
    low: np.ndarray
    cell: float


EVERYWHERE = SunlitAir(np.ones((1, 1, 1), np.float32), np.zeros(3), 1.0)


@dataclass(frozen=True)
class Fogged:
    """What fog does along ways.

    :ivar depth: float64 (N,), its optical depth. :ivar lit: float64 (N,) in [0, 1], of the sun's light that it sends on the share that it gets.
    """

    depth: np.ndarray
    lit: np.ndarray


def fogged(
    medium: Medium,
    eyes: np.ndarray,
    ways: np.ndarray,
    distances: np.ndarray,
    sunlit: SunlitAir = EVERYWHERE,
    drift: tuple[float, float] = (0.0, 0.0),
) -> Fogged:
    """Step along ways through a fog.

    :param eyes, ways, distances: as for :meth:`Medium.held_up`. :param drift: how far the wind has carried the banks, along x and z, metres.
    """
    _, even = medium.held_up(eyes, ways, distances)
    depth, lit = np.zeros(len(even)), np.ones(len(even))
    eyes, ways, far = (np.ascontiguousarray(one, np.float64) for one in (eyes, ways, distances))
    eyes = np.ascontiguousarray(np.broadcast_to(eyes, ways.shape))
    of_fog = np.array([medium.fog, medium.top, medium.fade, medium.banks, medium.size * BANKS_A_SIDE, *drift])
    if medium.fog > 0:
        banks = bank_map().astype(np.float64)
        over_rows(
            lambda first, beyond: _march(eyes[first:beyond], ways[first:beyond], far[first:beyond], even[first:beyond], of_fog, banks, sunlit.lit,
                                         sunlit.low, sunlit.cell, depth[first:beyond], lit[first:beyond]),
            len(even), least=2048,
        )  # fmt: skip
    return Fogged(depth, lit)


@njit(cache=True, nogil=True)
def _bank(banks, x, z):  # type: ignore
    """The map of banks at a place, in sides of it, between its points as textures are."""
    side = banks.shape[0]
    u, v = x * side - 0.5, z * side - 0.5
    i, j = int(np.floor(u)), int(np.floor(v))
    a, b = u - i, v - j
    i, j, k, m = i % side, j % side, (i + 1) % side, (j + 1) % side
    return (banks[j, i] * (1 - a) + banks[j, k] * a) * (1 - b) + (banks[m, i] * (1 - a) + banks[m, k] * a) * b


@njit(cache=True, nogil=True)
def _share(lit, low, cell, x, y, z):  # type: ignore
    """The share of the sun's light that comes to a place, between the middles of cells."""
    u, v, w = (x - low[0]) / cell - 0.5, (y - low[1]) / cell - 0.5, (z - low[2]) / cell - 0.5
    if u < -1 or v < -1 or w < -1 or u >= lit.shape[0] or v >= lit.shape[1] or w >= lit.shape[2]:
        return 1.0
    i, j, k = int(np.floor(u)), int(np.floor(v)), int(np.floor(w))
    a, b, c = u - i, v - j, w - k
    total = 0.0
    for di in range(2):
        for dj in range(2):
            for dk in range(2):
                p, q, r = i + di, j + dj, k + dk
                inside = 0 <= p < lit.shape[0] and 0 <= q < lit.shape[1] and 0 <= r < lit.shape[2]
                here = lit[p, q, r] if inside else 1.0
                total += here * (a if di else 1 - a) * (b if dj else 1 - b) * (c if dk else 1 - c)
    return total


@njit(cache=True, nogil=True)
def _march(eyes, ways, far, even, of_fog, banks, lit, low, cell, depth, share):  # type: ignore
    thick, top, fade, strength, side, east, south = of_fog
    for row in range(len(far)):
        y0, rise = eyes[row, 1], ways[row, 1]
        near = min(far[row], _SEEN * side)
        # Where fog is thin, far up, there is nothing to step through.
        if rise > 1e-3:
            near = min(near, max((top + _THIN * fade - y0) / rise, 0.0))
        if rise < -1e-3 and y0 > top + _THIN * fade:
            near = min(far[row], 1e4)
        passed, stepped, weight, sunny = 0.0, 0.0, 0.0, 0.0
        for step in range(_STEPS):
            start, end = near * (step / _STEPS) ** 2, near * ((step + 1) / _STEPS) ** 2
            at = (start + end) / 2
            x, y, z = eyes[row, 0] + ways[row, 0] * at, y0 + rise * at, eyes[row, 2] + ways[row, 2] * at
            dense = np.exp(-max(y - top, 0.0) / fade) * (end - start)
            bank = 1.0
            if strength > 0:
                u, v = (x - east + y * _LEAN[0]) / side, (z - south + y * _LEAN[1]) / side
                found = (1 - _PART) * _bank(banks, u, v) + _PART * _bank(
                    banks, u * _FINER[0] + _FINER[1], v * _FINER[0] + _FINER[1]
                )
                bank = 1 + (found - 1) * strength
            sent = np.exp(-thick * stepped) * (1 - np.exp(-thick * dense * bank))
            passed += dense
            stepped += dense * bank
            weight += sent
            sunny += sent * _share(lit, low, cell, x, y, z)
        rest = max(even[row] - thick * passed, 0.0)
        sent = np.exp(-thick * stepped) * (1 - np.exp(-rest))
        depth[row] = thick * stepped + rest
        if weight + sent > 1e-9:
            share[row] = (sunny + sent) / (weight + sent)
