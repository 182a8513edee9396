"""Sun hours."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT
from ..light.sun import declination, moment_of
from ..parameters import count, quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# Times of the day at which the sun is looked for.
MOMENTS = 48


def day_length(latitude: float, day: int) -> float:
    """Hours from sunrise to sunset on level ground. :param latitude: degrees."""
    cosine = -np.tan(np.radians(latitude)) * np.tan(declination(moment_of(day, 12)))
    return float(24 / np.pi * np.arccos(np.clip(cosine, -1, 1)))


def sun_directions(latitude: float, day: int, moments: int) -> np.ndarray:
    """Unit directions to the sun at the middles of ``moments`` equal parts of a day, float32 (moments, 3).

    North is −Z, east +X; by the sunrise equation (Duffie and Beckman, Solar Engineering of Thermal Processes, 1.6).
    """
    half = day_length(latitude, day) * np.pi / 24
    hour = -half + 2 * half * (np.arange(moments) + 0.5) / moments
    lat, dec = np.radians(latitude), declination(moment_of(day, 12))
    east = -np.cos(dec) * np.sin(hour)
    up = np.sin(lat) * np.sin(dec) + np.cos(lat) * np.cos(dec) * np.cos(hour)
    north = np.cos(lat) * np.sin(dec) - np.sin(lat) * np.cos(dec) * np.cos(hour)
    return np.column_stack([east, up, -north]).astype(np.float32)


@SIGNALS.register
class SunHours(Signal):
    """How many hours of a clear day the sun shines on a point."""

    kind: Literal["sun"] = "sun"
    latitude: float = quantity(
        52, low=-90, high=90, unit="°", step=1, help="Latitude of the site; above 0° is north of the equator."
    )
    day: int = count(172, low=1, high=365, help="Day of the year: 80 is the start of spring, 172 midsummer.")
    reading = Reading("Sun hours", "h", 0, 16)
    on_cells = True
    suggested = (6, 2)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        each = day_length(self.latitude, self.day) / MOMENTS
        origins = samples.positions + samples.normals * np.float32(LIFT)
        out = np.zeros(len(samples), np.float32)
        for way in sun_directions(self.latitude, self.day, MOMENTS):
            rows = np.flatnonzero(samples.normals @ way > 0)
            out[rows] += ~scene.rays.occluded(origins[rows], np.broadcast_to(way, (len(rows), 3)).copy())
        return out * np.float32(each)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        lift = 2 * LIFT
        ways = sun_directions(self.latitude, self.day, MOMENTS)
        return around.all_of("object") & around.along(low - lift, high + lift, ways)
