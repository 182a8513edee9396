"""Stars: made up, as many and as bright as those that an eye sees, and turning as the earth does."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from ..randomness import key_of, keys_from, uniforms

# The faintest that is seen, magnitudes, and how many there are up to it: their number grows tenfold by two magnitudes (Allen,
# "Astrophysical Quantities", 4th edition, 2000, chapter 19).
FAINTEST, COUNT, _GROWS = 6.0, 4800, 0.51
# Light of a star of magnitude 0 against the sun's, whose magnitude is −26.74; both outside the air.
_OF_FIRST = 10 ** (-0.4 * 26.74)


@lru_cache(maxsize=2)
def stars(seed: int = 0) -> tuple[np.ndarray, np.ndarray]:
    """All stars of the whole sky.

    :returns: unit float64 (N, 3), where they stand: X towards the spring point, Y towards the north pole, Z a quarter day before the first;
        and float64 (N, 3), their light on what faces them, linear sRGB, against the sun's.
    """
    keys = keys_from(key_of("stars", seed), COUNT)
    up, round_, rank, hue = (
        2 * uniforms(keys, 0) - 1,
        2 * np.pi * uniforms(keys, 1),
        uniforms(keys, 2),
        uniforms(keys, 3),
    )
    side = np.sqrt(1 - up * up)
    ways = np.column_stack([side * np.cos(round_), up, -side * np.sin(round_)])
    magnitude = FAINTEST + np.log10(np.maximum(rank, 1.0 / COUNT)) / _GROWS
    # From the bluish of hot ones to the orange of cool ones; most look white.
    tint = (hue[:, None] - 0.5) ** 3 * 4 * np.array([1.0, 0.0, -1.2])
    return ways, _OF_FIRST * 10 ** (-0.4 * magnitude)[:, None] * (1 + tint)
