"""The shape of a single drop: how wide and high it is, and what holds it on a slope.

A small drop is the cap of a sphere that meets its surface at the contact angle. Gravity flattens large ones, and drags them down a slope. Lengths are metres, volumes
cubic metres, angles radians.
"""

from __future__ import annotations

import numpy as np

# Of water at 15 °C: N/m, kg/m³; and gravity, m/s².
TENSION, DENSITY, GRAVITY = 0.0735, 999.0, 9.81
# What surface tension and weight weigh up at, metres.
CAPILLARY = float(np.sqrt(TENSION / (DENSITY * GRAVITY)))
# How strongly what holds a drop depends on the angles round its edge (ElSherbini and Jacobi, "Retention forces and contact angles for critical liquid drops on
# non-horizontal surfaces", J. Colloid Interface Sci. 299, 2006).
_HOLDS = 24 / np.pi**3
# Of what surface tension could carry, what falls.
_FALLS = 0.62


def volume_of(diameter: np.ndarray) -> np.ndarray:
    """The volume of free drops of some diameter, float64 (N,)."""
    return np.asarray(np.pi / 6 * np.asarray(diameter, float) ** 3)


def sphere_radius(volume: np.ndarray, angle: np.ndarray) -> np.ndarray:
    """The radius of the sphere that a cap of some volume and contact angle is cut from, float64 (N,)."""
    cos = np.cos(angle)
    return np.asarray(np.cbrt(3 * volume / (np.pi * (2 + cos) * (1 - cos) ** 2)))


def flattened(volume: np.ndarray, angle: np.ndarray, upward: np.ndarray) -> np.ndarray:
    """By what gravity makes the height of drops less than a cap's, or more where they hang: float64 (N,), above 0.

    A wide drop is a puddle whose height is 2·κ·sin(θ/2), with κ the capillary length (de Gennes, Brochard-Wyart and Quéré, 2004, section 2.2).

    :param upward: float (N,), how far the surface looks up: the cosine of its slope.
    """
    upward = np.asarray(upward, float)
    cap = sphere_radius(volume, angle) * (1 - np.cos(angle))
    puddle = 2 * CAPILLARY * np.sin(angle / 2) / np.sqrt(np.maximum(np.abs(upward), 0.05))
    ratio = np.square(cap / np.maximum(puddle, 1e-12))
    # To the power of four, and its root: a growing drop stops to rise that sharply, at about the height of a puddle.
    lower = 1 / np.sqrt(np.sqrt(1 + ratio * ratio))
    # One that hangs is drawn out by as much, until it would fall.
    return np.where(upward >= 0, lower, np.minimum(1 / lower, 1.6))


def base_radius(volume: np.ndarray, angle: np.ndarray, flat: np.ndarray) -> np.ndarray:
    """The radius of the ground that drops cover, float64 (N,), metres. :param flat: as :func:`flattened` gives it."""
    return np.asarray(sphere_radius(volume, angle) * np.sin(np.minimum(angle, np.pi)) / np.sqrt(flat))


def widest_radius(volume: np.ndarray, angle: np.ndarray, flat: np.ndarray) -> np.ndarray:
    """The radius of drops where they are widest, float64 (N,), metres: above the ground where they meet it at more than 90°."""
    return np.asarray(sphere_radius(volume, angle) * np.sin(np.minimum(angle, np.pi / 2)) / np.sqrt(flat))


def held(radius: np.ndarray, advancing: np.ndarray, receding: np.ndarray) -> np.ndarray:
    """How much of its weight along a slope a drop's edge can bear, float64 (N,), newton. :param radius: float (N,), of the ground that it covers."""
    return np.asarray(_HOLDS * TENSION * 2 * radius * (np.cos(receding) - np.cos(advancing)))


def weight_along(volume: np.ndarray, upward: np.ndarray) -> np.ndarray:
    """How much of their weight pulls drops down their slope, float64 (N,), newton. :param upward: float (N,), the cosine of the slope."""
    return np.asarray(DENSITY * GRAVITY * volume * np.sqrt(np.clip(1 - np.asarray(upward, float) ** 2, 0, 1)))


def heaviest_hanging(radius: np.ndarray) -> np.ndarray:
    """The largest volumes, float64 (N,), that hang from an edge that a drop clings to with some radius (Tate, 1864), less what stays behind as it breaks off (Harkins and Brown, "The
    determination of surface tension … by the weight of falling drops", J. Am. Chem. Soc. 41, 1919)."""
    return np.asarray(_FALLS * 2 * np.pi * radius * TENSION / (DENSITY * GRAVITY))
