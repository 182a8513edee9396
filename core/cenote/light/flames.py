"""Flames, as view and stills show them: soft sprites that rise from a fire, grow thin and go out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .drifting import seeds_of

# Sprites of a flame, and how long one lasts over a fire a metre high, seconds.
MANY, _LIFE = 200, 0.6
# How many times as high as wide a sprite is, its width against the fire's, and how much it hides of what is behind it.
LONG, _WIDE, _HIDES = 1.9, 0.36, 0.42
# How far a flame licks to the sides, of the fire's width, and what of the wind it goes along with.
_LICKS, _BLOWN = 0.22, 0.15
# Brighter than so many times white no flame is shown.
MOST = 2.4


@dataclass(frozen=True)
class Flame:
    """A flame in its lamp's frame, but upright.

    :ivar wide, tall: metres. :ivar radiance: float64 (3, 3), against the sun's light: of what has just begun to burn, of its middle, and of its tips.
    """

    wide: float
    tall: float
    radiance: np.ndarray


@dataclass(frozen=True)
class Sprites:
    """Soft discs, taller than wide.

    :ivar places: float64 (N, 3), metres. :ivar wide: float64 (N,), metres. :ivar hides: float64 (N,) in [0, 1], of what is behind. :ivar colours: float64 (N, 3).
    """

    places: np.ndarray
    wide: np.ndarray
    hides: np.ndarray
    colours: np.ndarray


def sprites_of(flame: Flame, foot: np.ndarray, wind: np.ndarray, moment: float, scale: float) -> Sprites:
    """What a flame is drawn as at a moment.

    :param foot: float (3,), where it burns, metres. :param wind: float (2,), m/s along x and z. :param moment: seconds. :param scale: by how much all is made
        brighter to be shown.
    """
    one, other, third, fourth = seeds_of(MANY).astype(float).T
    life = _LIFE * np.sqrt(flame.tall) * (0.7 + 0.6 * other)
    age = (moment / life + fourth) % 1
    reach = flame.wide / 2 * np.sqrt(third) * (1 - age) ** 0.8
    licks = _LICKS * flame.wide * age
    blown = _BLOWN * life * age * age
    x = reach * np.cos(2 * np.pi * one) + licks * np.sin(moment * 5 + other * 40) + blown * wind[0]
    z = reach * np.sin(2 * np.pi * one) + licks * np.cos(moment * 4 + other * 60) + blown * wind[1]
    # What burns at the edge does not rise as high.
    y = flame.tall * (1.15 - 0.6 * third) * age
    wide = flame.wide * _WIDE * (1 - age) ** 0.7 * (0.6 + 0.8 * one) + 0.01
    hides = _HIDES * np.minimum(age * 8, 1) * np.sqrt(1 - age)
    stops = np.minimum(flame.radiance * scale, MOST * flame.radiance / flame.radiance.max())
    colours = np.column_stack([np.interp(age, (0.0, 0.45, 1.0), stops[:, c]) for c in range(3)])
    return Sprites(np.column_stack([x, y, z]) + foot, wide, hides, colours)
