"""Boards and worn blocks, of which things in the yard are made."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..geometry.mesh import Mesh
from .base import Dice

# Signs of the corners of a box, and its faces as loops of corners seen from outside.
_SIGNS = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], float)
_LOOPS = {
    (0, 1): [4, 6, 7, 5], (0, -1): [0, 1, 3, 2], (1, 1): [2, 3, 7, 6], (1, -1): [0, 4, 5, 1], (2, 1): [1, 5, 7, 3],
    (2, -1): [0, 2, 6, 4],
}  # fmt: skip


def worn_box(least: Sequence[float], most: Sequence[float], wear: float, part: str = "planed_timber") -> Mesh:
    """A box whose edges and corners are cut off by ``wear`` metres; 44 triangles."""
    low, high = np.asarray(least, float), np.asarray(most, float)
    middle, half = (low + high) / 2, (high - low) / 2
    wear = min(wear, 0.45 * float(half.min()))
    positions: list[np.ndarray] = []
    place: dict[tuple[int, int], int] = {}
    for corner, signs in enumerate(_SIGNS):
        for axis in range(3):
            inset = np.full(3, wear)
            inset[axis] = 0
            place[corner, axis] = len(positions)
            positions.append(middle + signs * (half - inset))
    faces: list[list[int]] = []
    for (axis, _), loop in _LOOPS.items():
        quad = [place[corner, axis] for corner in loop]
        faces += [[quad[0], quad[1], quad[2]], [quad[0], quad[2], quad[3]]]
    for a in range(8):
        for b in range(a + 1, 8):
            differs = np.flatnonzero(_SIGNS[a] != _SIGNS[b])
            if len(differs) != 1:
                continue
            u, v = (axis for axis in range(3) if axis != differs[0])
            faces += _outward(positions, middle, [place[a, u], place[b, u], place[b, v], place[a, v]])
        faces += _outward(positions, middle, [place[a, 0], place[a, 1], place[a, 2]])
    return Mesh.of(positions, faces, part)


def _outward(positions: list[np.ndarray], middle: np.ndarray, loop: list[int]) -> list[list[int]]:
    a, b, c = (positions[k] for k in loop[:3])
    if np.dot(np.cross(b - a, c - a), (a + b + c) / 3 - middle) < 0:
        loop = loop[::-1]
    return [[loop[0], loop[k], loop[k + 1]] for k in range(1, len(loop) - 1)]


def board(
    least: Sequence[float], most: Sequence[float], dice: Dice, detail: int = 0, part: str = "planed_timber",
    wear: float = 0.004,
) -> Mesh:  # fmt: skip
    """A board between two corners: its grain runs along its length, cut from a place of its own, in a tone of its own."""
    from ..geometry.build import box

    mesh = worn_box(least, most, wear, part) if detail == 0 else box(least, most, part)
    extent = np.asarray(most, float) - np.asarray(least, float)
    order = np.argsort(-extent)
    # Each corner of each face apart, so that faces can differ in how they are laid out.
    corners = mesh.corners.astype(float)
    normal = np.abs(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]))
    facing = normal.argmax(1)
    along = np.where(facing == order[0], order[1], order[0])
    across = 3 - along - facing
    rows = np.arange(len(corners))
    uv = np.stack([corners[rows, :, along], corners[rows, :, across]], -1) + dice.many(2, high=7.0)
    faces = np.arange(len(corners) * 3).reshape(-1, 3)
    tone = dice.one(0.78, 1.2) * np.array([1 + dice.one(-0.05, 0.05), 1.0, 1.0])
    return Mesh.of(corners.reshape(-1, 3), faces, part, uv=uv.reshape(-1, 2)).coloured(tone)


def sawn_end(middle: np.ndarray, way: np.ndarray, radius: float, sides: int, dice: Dice) -> Mesh:
    """A sawn end that faces a way: its rings about a heart that is seldom in the middle, paler than bark.

    :param middle, way: float (3,), metres. :param radius: metres. :param sides: corners of its rim.
    """
    way = way / np.linalg.norm(way)
    side = np.cross(way, [0.3, 1.0, 0.2] if abs(way[1]) < 0.9 else [1.0, 0, 0.2])
    side /= np.linalg.norm(side)
    other = np.cross(way, side)
    turns = np.arange(sides) * 2 * np.pi / sides
    rim = middle + radius * (np.cos(turns)[:, None] * side + np.sin(turns)[:, None] * other)
    heart = middle + radius * dice.one(0, 0.18) * side
    faces = [[sides, k, (k + 1) % sides] for k in range(sides)]
    shades = np.concatenate([np.full((sides, 3), 0.78), np.full((1, 3), 1.05)]) * [1.0, 0.93, 0.8]
    return Mesh.of(np.concatenate([rim, heart[None]]), faces, "planed_timber", shades)
