"""The shapes of blades: a table of curves, each blade is one of them, turned and scaled."""

from __future__ import annotations

import numpy as np

from .layer import Grass

# How many ways of leaning there are, from upright to the most bent; points along a blade, from root to tip.
LEANS, POINTS = 8, 5
PLAIN, KINKED, TRODDEN = range(3)
KINDS = 3
# Where along a blade it is broken, and by how much, radians.
_BREAK, _BROKEN = 0.55, 1.5
_FINE = 64


def shape_row(kind: np.ndarray, lean: np.ndarray, cut: np.ndarray) -> np.ndarray:
    """Rows of the table: uint8 (N,).

    :param kind: of :data:`KINDS`, integers (N,). :param lean: float (N,) in [0, 1). :param cut: bool (N,), whether mown off.
    """
    level = np.clip(np.asarray(lean) * LEANS, 0, LEANS - 1).astype(np.int64)
    return ((np.asarray(cut, np.int64) * KINDS + kind) * LEANS + level).astype(np.uint8)


def blade_shapes(layer: Grass) -> np.ndarray:
    """Curves of all shapes, float32 (2·KINDS·LEANS, POINTS, 3): how far it leans forwards and how high it rises, as shares of
    the blade's length, and half its width, metres; the upper half of the rows are cut off at the tip."""
    t = (np.arange(_FINE) + 0.5) / _FINE
    lean = ((np.arange(LEANS) + 0.5) / LEANS)[:, None]
    bend, curl = np.radians(layer.bend), layer.curl / 100
    # The angle from upright along the blade: evenly bent, more towards the tip the more it curls.
    plain = lean * bend * ((1 - curl) * (0.25 + 0.75 * t) + curl * t**3 * 1.6)
    kinked = plain + np.where(t > _BREAK, _BROKEN * (0.6 + 0.4 * lean), 0)
    trodden = np.minimum(np.radians(52 + 36 * lean) + 0.12 * np.sin(9 * t + 5 * lean), np.radians(89))
    angles = np.concatenate([plain, kinked, trodden])
    steps = np.stack([np.sin(angles), np.cos(angles)], axis=-1) / _FINE
    path = np.concatenate([np.zeros((len(angles), 1, 2)), np.cumsum(steps, axis=1)], axis=1)
    at = np.linspace(0, _FINE, POINTS).round().astype(int)
    s = np.linspace(0, 1, POINTS)
    whole = (layer.root_width + (layer.tip_width - layer.root_width) * s**1.5) / 2
    whole[-1] = min(whole[-1], layer.root_width / 2) * 0.25
    # What is mown off was longer: it is still wide where it ends.
    short = (layer.root_width + (layer.tip_width - layer.root_width) * (0.55 * s) ** 1.5) / 2
    curves = [np.concatenate([path[:, at], np.broadcast_to(widths[:, None], (len(angles), POINTS, 1))], axis=2)
              for widths in (whole, short)]  # fmt: skip
    return np.concatenate(curves).astype(np.float32)


def tips(layer: Grass) -> np.ndarray:
    """How far each shape's tip leans forwards and rises, as shares of the blade's length, float32 (rows, 2)."""
    return blade_shapes(layer)[:, -1, :2]
