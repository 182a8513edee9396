"""Counter-based randomness and lattice noise: pure functions of their arguments, the same on every machine.

No generator keeps a state, so that the order in which anything is computed cannot change a result.
"""

from __future__ import annotations

import numpy as np
from numba import njit

_GOLDEN = np.uint64(0x9E3779B97F4A7C15)
_MIX_A = np.uint64(0xBF58476D1CE4E5B9)
_MIX_B = np.uint64(0x94D049BB133111EB)


@njit(inline="always", cache=True)
def mix(value: np.uint64) -> np.uint64:
    """Scramble 64 bits so that every input bit moves every output bit.

    The finaliser of SplitMix64 (Steele, Lea and Flood, "Fast splittable pseudorandom number generators", 2014).
    """
    value = (value ^ (value >> np.uint64(30))) * _MIX_A
    value = (value ^ (value >> np.uint64(27))) * _MIX_B
    return value ^ (value >> np.uint64(31))


@njit(inline="always", cache=True)
def combine(key: np.uint64, counter: int) -> np.uint64:
    """Derive a new key from a key and a whole number."""
    return mix(key + (np.uint64(counter) + np.uint64(1)) * _GOLDEN)


@njit(inline="always", cache=True)
def unit_float(key: np.uint64) -> float:
    """Map 64 bits to [0, 1) with 53 bits of precision."""
    return np.float64(key >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@njit(cache=True)
def _uniforms(keys: np.ndarray, channel: int) -> np.ndarray:
    out = np.empty(keys.shape[0], np.float64)
    for i in range(keys.shape[0]):
        out[i] = unit_float(combine(keys[i], channel))
    return out


def uniforms(keys: np.ndarray, channel: int) -> np.ndarray:
    """Uniform numbers in [0, 1), one a key.

    :param keys: uint64 (N,), for instance the ids of placed items.
    :param channel: tells apart the numbers wanted for different uses of one key.
    :returns: float64 (N,).
    """
    return _uniforms(np.ascontiguousarray(keys, np.uint64), channel)


@njit(cache=True)
def _keys_from(key: np.uint64, out: np.ndarray) -> None:
    for k in range(len(out)):
        out[k] = combine(key, k)


def keys_from(key: np.uint64, count: int) -> np.ndarray:
    """So many keys derived from one, uint64 (count,)."""
    out = np.empty(count, np.uint64)
    _keys_from(key, out)
    return out


def key_of(*parts: int | str) -> np.uint64:
    """A 64-bit key from whole numbers and texts (FNV-1a over the texts, then mixed)."""
    key = 0xCBF29CE484222325
    for part in parts:
        for byte in str(part).encode() + b"\x1f":
            key = ((key ^ byte) * 0x100000001B3) & 0xFFFFFFFFFFFFFFFF
    with np.errstate(over="ignore"):
        return np.uint64(mix.py_func(np.uint64(key)))


@njit(inline="always", cache=True)
def _corner(hash_: np.uint32, x: float, y: float, z: float) -> float:
    hash_ = (hash_ ^ (hash_ >> np.uint32(15))) * np.uint32(0x2C1B3C6D)
    hash_ ^= hash_ >> np.uint32(12)
    side = hash_ & np.uint32(15)
    # The twelve edge directions of a cube, four of them twice, as in Perlin's 2002 paper.
    u = x if side < 8 else y
    v = y if side < 4 else (x if side == 12 or side == 14 else z)
    return (u if side & np.uint32(1) == 0 else -u) + (v if side & np.uint32(2) == 0 else -v)


@njit(inline="always", cache=True)
def gradient_noise(x: float, y: float, z: float, seed: np.uint32) -> float:
    """Gradient noise of three dimensions, about in [-1, 1], zero at whole-number points; for coordinates within ±2³¹.

    Perlin, "Improving Noise" (2002), with hashed corners in place of a permutation table.
    """
    fx, fy, fz = np.floor(x), np.floor(y), np.floor(z)
    x, y, z = x - fx, y - fy, z - fz
    ax = np.uint32(np.int32(fx)) * np.uint32(0x8DA6B343)
    ay = np.uint32(np.int32(fy)) * np.uint32(0xD8163841)
    az = np.uint32(np.int32(fz)) * np.uint32(0xCB1AB31F) + seed
    bx, by, bz = ax + np.uint32(0x8DA6B343), ay + np.uint32(0xD8163841), az + np.uint32(0xCB1AB31F)
    u = x * x * x * (x * (x * 6 - 15) + 10)
    v = y * y * y * (y * (y * 6 - 15) + 10)
    w = z * z * z * (z * (z * 6 - 15) + 10)
    low = _corner(ax ^ ay ^ az, x, y, z)
    a = low + u * (_corner(bx ^ ay ^ az, x - 1, y, z) - low)
    low = _corner(ax ^ by ^ az, x, y - 1, z)
    b = low + u * (_corner(bx ^ by ^ az, x - 1, y - 1, z) - low)
    low = _corner(ax ^ ay ^ bz, x, y, z - 1)
    c = low + u * (_corner(bx ^ ay ^ bz, x - 1, y, z - 1) - low)
    low = _corner(ax ^ by ^ bz, x, y - 1, z - 1)
    d = low + u * (_corner(bx ^ by ^ bz, x - 1, y - 1, z - 1) - low)
    near = a + v * (b - a)
    return near + w * (c + v * (d - c) - near)


@njit(cache=True)
def layered_noise(x: float, y: float, z: float, octaves: int, seed: np.uint32) -> float:
    """Gradient noise summed over octaves, each half as large and twice as fine; mapped to [0, 1]."""
    total, amplitude, norm = 0.0, 1.0, 0.0
    for octave in range(octaves):
        total += amplitude * gradient_noise(x, y, z, seed + np.uint32(octave * 1013))
        norm += amplitude
        amplitude *= 0.5
        # An offset keeps the zeros of the octaves from falling on one another.
        x, y, z = x * 2.0 + 17.3, y * 2.0 + 5.9, z * 2.0 + 11.1
    return min(1.0, max(0.0, 0.5 + 0.72 * total / norm))
