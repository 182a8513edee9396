"""Wind: how fast it blows where and when, and how far what stands in it is bent."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..geometry.compass import blown_from
from ..parameters import Declared, quantity

# Gusts are a few waves that travel with the wind: length against the gust size, turn against the wind's way (radians), and
# strength. Shorter ones are weaker, as the cube root of their length (Kolmogorov's inertial range, 1941).
_WAVES = [(1.0, 0.0), (0.61, 0.45), (0.38, -0.62), (0.21, 0.95), (0.12, -0.3)]
# No item is bent further than this, however hard it blows, radians.
MOST = 1.4


class Wind(Declared):
    """The wind over a site."""

    bearing: float = quantity(
        240, low=0, high=360, unit="°", step=5, help="Compass bearing that it comes from; 270° is west."
    )
    strength: float = quantity(0, low=0, high=30, unit="m/s", step=0.5, help="Its mean speed; 0 is still air.")
    gusts: float = quantity(
        60, low=0, high=100, unit="%", step=5, help="How far it swells and slackens about the mean."
    )
    gust_size: float = quantity(9, low=0.5, high=100, unit="m", step=0.5, help="From one gust to the next.")
    moment: float = quantity(
        0, low=0, high=600, unit="s", step=0.1, help="The moment of the wind that stills and files are taken at."
    )

    @property
    def way(self) -> np.ndarray:
        """The level direction that it blows to along x and z, float64 (2,); north is -z."""
        return blown_from(self.bearing)


def waves(wind: Wind) -> np.ndarray:
    """The waves whose sum the gusts are, float64 (K, 5).

    Each row has the wave vector along x and z (radians a metre), radians a second, phase, and the share of the mean speed
    that it adds at its crest. The pattern travels with the wind (Taylor's frozen turbulence, 1938).
    """
    strengths = np.array([length for length, _ in _WAVES]) ** (1 / 3)
    strengths *= wind.gusts / 100 / strengths.sum()
    rows = []
    for k, (length, turn) in enumerate(_WAVES):
        number = 2 * np.pi / (length * wind.gust_size)
        cos, sin = np.cos(turn), np.sin(turn)
        x, z = wind.way @ [[cos, sin], [-sin, cos]] * number
        rows.append([x, z, number * cos * wind.strength, 2.4 * k, strengths[k]])
    return np.array(rows)


def speeds(wind: Wind, positions: np.ndarray, moment: float | None = None) -> np.ndarray:
    """How fast it blows at some places, float64 (N,), m/s.

    :param positions: float (N, 3), metres. :param moment: seconds; the wind's own where it is None.
    """
    time = wind.moment if moment is None else moment
    x, z, rate, phase, share = waves(wind).T
    angle = positions[:, :1] * x + positions[:, 2:] * z - rate * time + phase
    return np.asarray(wind.strength * (1 + (np.sin(angle) * share).sum(1)))


def bend(speed: np.ndarray, stiffness: float) -> np.ndarray:
    """How far the top of something leans from its foot's direction, float64 (N,), radians.

    Where the drag of the air, which grows with the square of its speed, balances a weight that rights it, the tangent of the
    lean is the ratio of both.

    :param stiffness: the speed in m/s at which it leans by 45°; infinite for what does not move.
    """
    return np.minimum(np.arctan((speed / stiffness) ** 2), MOST)


def bent(offsets: np.ndarray, angles: np.ndarray, height: np.ndarray, way: np.ndarray) -> np.ndarray:
    """Points of upright things, bent over as a rod of even curvature: no length along it changes.

    What lies below the foot stays; what lies above the height goes on straight.

    :param offsets: float (R, N, 3), from each thing's foot. :param angles: of the tops (R,), radians.
    :param height: of the things (R,), metres. :param way: level direction along x and z (2,).
    :returns: float64 (R, N, 3).
    """
    x, y, z = np.moveaxis(np.asarray(offsets, float), -1, 0)
    height = np.maximum(np.asarray(height, float), 1e-6)[:, None]
    low = np.clip(y, 0, height)
    turn = np.asarray(angles, float)[:, None] * low / height
    # The middle line is an arc; sinc keeps it exact where it is hardly bent.
    up = low * np.sinc(turn / np.pi)
    out = low * np.sin(turn / 2) * np.sinc(turn / 2 / np.pi)
    along = x * way[0] + z * way[1]
    beyond = y - low
    across = out + beyond * np.sin(turn) + along * (np.cos(turn) - 1)
    return np.stack([x + way[0] * across, up + beyond * np.cos(turn) - along * np.sin(turn), z + way[1] * across], -1)


@dataclass(frozen=True)
class Sway:
    """The wind as placed items meet it at its moment.

    :ivar stiffness: of the item, m/s. :ivar height: of the item at size 1, metres.
    """

    wind: Wind
    stiffness: float
    height: float

    @property
    def still(self) -> bool:
        """Whether nothing moves."""
        return self.wind.strength == 0 or not np.isfinite(self.stiffness)

    def angles(self, positions: np.ndarray) -> np.ndarray:
        """How far items at places (N, 3) lean at their tops, float64 (N,), radians."""
        return bend(speeds(self.wind, positions), self.stiffness)

    def vertices(self, offsets: np.ndarray, positions: np.ndarray, sizes: np.ndarray) -> np.ndarray:
        """Offsets (R, N, 3) of items at places (R, 3) of some sizes (R,), as the wind bends them."""
        if self.still:
            return offsets
        return bent(offsets, self.angles(positions), self.height * sizes, self.wind.way)

    def leaning(self, positions: np.ndarray) -> np.ndarray:
        """Turns that stand for the bend where an item cannot be bent, float64 (R, 4), quaternions x, y, z, w.

        The whole item leans as the straight line from its foot to its top does: by half the angle at its top.
        """
        half = np.zeros(len(positions)) if self.still else self.angles(positions) / 4
        x, z = self.wind.way
        # About the level axis across the wind.
        return np.column_stack([z * np.sin(half), np.zeros(len(half)), -x * np.sin(half), np.cos(half)])
