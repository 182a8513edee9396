"""Uneven ground as a height field."""

from __future__ import annotations

import numpy as np

from .mesh import Mesh


def height_field(size: tuple[float, float], spacing: float) -> tuple[np.ndarray, np.ndarray]:
    """Coordinates of the grid points, each float64 (rows, columns), centred on the origin, metres."""
    columns, rows = (max(1, round(length / spacing)) + 1 for length in size)
    return np.meshgrid(np.linspace(-size[0] / 2, size[0] / 2, columns), np.linspace(-size[1] / 2, size[1] / 2, rows))


def levelled(
    x: np.ndarray, z: np.ndarray, heights: np.ndarray, centre: tuple[float, float], size: tuple[float, float],
    level: float, edge: float, turn: float = 0.0,
) -> np.ndarray:  # fmt: skip
    """Bring a rectangle of the ground to a level, with a smooth band of ``edge`` metres about it.

    :param x, z, heights: float (h, w), metres; places as :func:`height_field` gives them.
    :param turn: of the rectangle about the upright axis, degrees, as placements turn.
    :returns: heights of the same shape, metres.
    """
    cos, sin = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    u = (x - centre[0]) * cos - (z - centre[1]) * sin
    v = (x - centre[0]) * sin + (z - centre[1]) * cos
    beyond = np.hypot(np.maximum(np.abs(u) - size[0] / 2, 0), np.maximum(np.abs(v) - size[1] / 2, 0))
    t = np.clip(beyond / max(edge, 1e-6), 0, 1)
    return level + (heights - level) * t * t * (3 - 2 * t)


def ground_mesh(x: np.ndarray, z: np.ndarray, heights: np.ndarray, part: str) -> Mesh:
    """Triangles of a height field, facing up.

    :param x, z, heights: float (h, w), metres; places as :func:`height_field` gives them.
    :param part: the name of its one part.
    """
    rows, columns = heights.shape
    index = np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = index[:-1, :-1], index[:-1, 1:], index[1:, :-1], index[1:, 1:]
    faces = np.concatenate([np.stack([a, c, b], -1).reshape(-1, 3), np.stack([b, c, d], -1).reshape(-1, 3)])
    return Mesh.of(np.column_stack([x.ravel(), heights.ravel(), z.ravel()]), faces, part)
