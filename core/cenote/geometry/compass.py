"""Directions by the compass: north is −Z, east is +X, up is +Y."""

from __future__ import annotations

import numpy as np


def towards(bearing: float, height: float = 0.0) -> np.ndarray:
    """The unit direction towards a bearing, float64 (3,). :param bearing, height: degrees; 90° is east."""
    round_, up = np.radians(bearing), np.radians(height)
    return np.array([np.cos(up) * np.sin(round_), np.sin(up), -np.cos(up) * np.cos(round_)])


def blown_from(bearing: float) -> np.ndarray:
    """The level direction along x and z that wind from a bearing blows to, float64 (2,)."""
    return np.asarray(-towards(bearing)[[0, 2]])
