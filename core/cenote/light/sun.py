"""Where the sun and the moon stand, by place and time.

Low-precision formulas of Meeus, "Astronomical Algorithms" (2nd edition, 1998), chapters 7, 12, 13, 25, 47 and 48: the sun is right to
0.01°, the moon to a third of a degree, from 1950 to 2050.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

import numpy as np

from ..geometry.compass import towards

# A year like others: which one tells the moon's phase, and nothing else that can be seen.
YEAR = 2025


@dataclass(frozen=True)
class Placed:
    """Where something stands in the sky.

    :ivar bearing: degrees clockwise from north. :ivar height: degrees above the horizon, as the air bends its light.
    """

    bearing: float
    height: float

    @property
    def direction(self) -> np.ndarray:
        """Unit vector towards it, float64 (3,)."""
        return towards(self.bearing, self.height)


@dataclass(frozen=True)
class Moon(Placed):
    """The moon. :ivar lit: how much of its face the sun lights, 0 new to 1 full."""

    lit: float


def centuries(moment: datetime) -> float:
    """Julian centuries since noon of the first day of 2000. :param moment: with a time zone."""
    return (moment.astimezone(UTC) - datetime(2000, 1, 1, 12, tzinfo=UTC)).total_seconds() / (86_400 * 36_525)


def moment_of(day: int, hour: float) -> datetime:
    """A time of the year. :param day: of the year, from 1. :param hour: at Greenwich; it may lie on the day before or after."""
    return datetime(YEAR, 1, 1, tzinfo=UTC) + timedelta(days=day - 1, hours=hour)


def declination(moment: datetime) -> float:
    """How far north of the equator the sun stands, radians."""
    t = centuries(moment)
    return float(np.arcsin(np.sin(_tilt(t)) * np.sin(np.radians(_sun_ecliptic(t)))))


def sun_at(moment: datetime, latitude: float, longitude: float) -> Placed:
    """The sun.

    :param moment: with a time zone. :param latitude, longitude: degrees, above 0 north and east.
    """
    t = centuries(moment)
    return Placed(*_seen(t, _sun_ecliptic(t), 0.0, latitude, longitude))


def moon_at(moment: datetime, latitude: float, longitude: float) -> Moon:
    """The moon; parameters as of :func:`sun_at`."""
    t = centuries(moment)
    along, across, parallax = _moon_ecliptic(t)
    apart = np.arccos(np.clip(np.cos(np.radians(across)) * np.cos(np.radians(along - _sun_ecliptic(t))), -1, 1))
    bearing, height = _seen(t, along, across, latitude, longitude, parallax)
    return Moon(bearing, height, float((1 - np.cos(apart)) / 2))


def turned_sky(moment: datetime, latitude: float, longitude: float) -> np.ndarray:
    """How the sky of stars stands, float64 (3, 3): what turns a way from X towards the spring point, Y towards the north pole, into one with
    north at −Z, east at +X and Y up; parameters as of :func:`sun_at`."""
    angle, lat = _sidereal(centuries(moment), longitude), np.radians(latitude)
    # First around the pole, until what is due south lies at X; then the pole down to its height, north.
    around = np.array([[np.cos(angle), 0, -np.sin(angle)], [0, 1, 0], [np.sin(angle), 0, np.cos(angle)]])
    south, up, east = (
        np.array([np.sin(lat), -np.cos(lat), 0]),
        np.array([np.cos(lat), np.sin(lat), 0]),
        np.array([0, 0, -1]),
    )
    return np.asarray(np.array([east, up, south]) @ around)


def _sidereal(t: float, longitude: float) -> float:
    """Local sidereal time, radians (chapter 12)."""
    return float(np.radians(280.46061837 + 360.98564736629 * t * 36_525 + 0.000387933 * t * t + longitude))


def _tilt(t: float) -> float:
    """How far the earth's axis leans, radians (chapters 22 and 25)."""
    return float(np.radians(23.439291 - 0.0130042 * t + 0.00256 * np.cos(np.radians(125.04 - 1934.136 * t))))


def _sun_ecliptic(t: float) -> float:
    """The sun's apparent longitude, degrees (chapter 25)."""
    mean = 280.46646 + t * (36000.76983 + 0.0003032 * t)
    anomaly = np.radians(357.52911 + t * (35999.05029 - 0.0001537 * t))
    centre = (
        (1.914602 - t * (0.004817 + 0.000014 * t)) * np.sin(anomaly)
        + (0.019993 - 0.000101 * t) * np.sin(2 * anomaly)
        + 0.000289 * np.sin(3 * anomaly)
    )
    node = np.radians(125.04 - 1934.136 * t)
    return float(mean + centre - 0.00569 - 0.00478 * np.sin(node))


def _moon_ecliptic(t: float) -> tuple[float, float, float]:
    """The moon's longitude, latitude and horizontal parallax, degrees: the largest terms (chapter 47)."""
    mean = 218.3164477 + 481267.88123421 * t
    d, m, n, f = np.radians([
        297.8501921 + 445267.1114034 * t,
        357.5291092 + 35999.0502909 * t,
        134.9633964 + 477198.8675055 * t,
        93.2720950 + 483202.0175233 * t,
    ])  # fmt: skip
    along = (
        6.288774 * np.sin(n) + 1.274027 * np.sin(2 * d - n) + 0.658314 * np.sin(2 * d) + 0.213618 * np.sin(2 * n)
        - 0.185116 * np.sin(m) - 0.114332 * np.sin(2 * f) + 0.058793 * np.sin(2 * d - 2 * n)
        + 0.057066 * np.sin(2 * d - m - n) + 0.053322 * np.sin(2 * d + n) + 0.045758 * np.sin(2 * d - m)
    )  # fmt: skip
    across = (
        5.128122 * np.sin(f) + 0.280602 * np.sin(n + f) + 0.277693 * np.sin(n - f) + 0.173237 * np.sin(2 * d - f)
        + 0.055413 * np.sin(2 * d - n + f) + 0.046271 * np.sin(2 * d - n - f)
    )  # fmt: skip
    parallax = (
        0.9508 + 0.0518 * np.cos(n) + 0.0095 * np.cos(2 * d - n) + 0.0078 * np.cos(2 * d) + 0.0028 * np.cos(2 * n)
    )
    return float(mean + along), float(across), float(parallax)


def _seen(
    t: float, along: float, across: float, latitude: float, longitude: float, parallax: float = 0.0
) -> tuple[float, float]:
    """Bearing and height of a place on the ecliptic as seen from one on the earth, degrees (chapters 12, 13, 16 and 40)."""
    tilt = _tilt(t)
    lam, beta = np.radians([along, across])
    ascension = np.arctan2(np.sin(lam) * np.cos(tilt) - np.tan(beta) * np.sin(tilt), np.cos(lam))
    north = np.arcsin(np.sin(beta) * np.cos(tilt) + np.cos(beta) * np.sin(tilt) * np.sin(lam))
    hour, lat = _sidereal(t, longitude) - ascension, np.radians(latitude)
    height = np.arcsin(np.sin(lat) * np.sin(north) + np.cos(lat) * np.cos(north) * np.cos(hour))
    bearing = np.arctan2(-np.sin(hour) * np.cos(north),
                         np.cos(lat) * np.sin(north) - np.sin(lat) * np.cos(north) * np.cos(hour))  # fmt: skip
    # What is near stands lower, seen from the ground than from the middle of the earth.
    lowered = float(np.degrees(height) - parallax * np.cos(height))
    return float(np.degrees(bearing) % 360), lowered + refraction(lowered)


def refraction(height: float) -> float:
    """How much the air lifts what stands at a true height, degrees (Sæmundsson, Sky and Telescope 72, 1986); none far below the
    horizon, where nothing is seen."""
    if height < -2:
        return 0.0
    return float(1.02 / 60 / np.tan(np.radians(height + 10.3 / (height + 5.11))))
