"""Drops as closed meshes."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..randomness import uniforms
from ..weather.blanket import Sheet
from .drops import Drops, Wetted

# Channels of what is by chance about each.
_PHASES, _SIZES = 21, 25
# How far outlines stray from a circle, by waves round it, as a share of the radius; drops on what is wetted stray more.
_WAVES = (2, 3, 4)
# Drops that are shaped at once.
_AT_ONCE = 4096
# How deep a drop's foot is sunk, as a share of its radius: so that no crack is seen under it.
_SUNK = 0.02
# Sizes from which on drops have more corners, metres; corners round each, and rings from its top to its foot.
_FROM = (0.0, 0.0007, 0.0016)
_CORNERS = ((6, 2), (10, 3), (18, 6))
_FINER = ((8, 2), (14, 4), (24, 8))


def triangles_of(drops: Drops, fine: bool) -> int:
    """How many triangles drops come to."""
    return sum(len(rows) * (2 * around * rings) for rows, around, rings in _classes(drops, fine))


def _classes(drops: Drops, fine: bool) -> list[tuple[np.ndarray, int, int]]:
    size = np.digitize(drops.radii, _FROM[1:])
    return [(np.flatnonzero(size == k), *corners) for k, corners in enumerate(_FINER if fine else _CORNERS)]


def _portions(drops: Drops, fine: bool) -> Iterator[tuple[np.ndarray, int, int]]:
    """Drops of a class, some at a time: the room that they take while they are shaped is many times that of the result."""
    for rows, around, rings in _classes(drops, fine):
        for first in range(0, len(rows), _AT_ONCE):
            yield rows[first : first + _AT_ONCE], around, rings


def _closed(around: int, rings: int) -> np.ndarray:
    """Faces of one drop, int64 (F, 3): its top is vertex 0, rings follow from the top to the foot, and the middle of the foot is last."""
    k = np.arange(around)
    after = (k + 1) % around
    out = [np.column_stack([np.zeros(around, np.int64), 1 + k, 1 + after])]
    for ring in range(rings - 1):
        upper, lower = 1 + ring * around, 1 + (ring + 1) * around
        out.append(np.column_stack([upper + k, lower + k, lower + after]))
        out.append(np.column_stack([upper + k, lower + after, upper + after]))
    foot = 1 + (rings - 1) * around
    out.append(np.column_stack([np.full(around, foot + around), foot + after, foot + k]))
    return np.concatenate(out)


def _outlines(drops: Drops, turns: np.ndarray, variety: float) -> np.ndarray:
    """Factors on the radius by direction, (N, K), such that what lies inside stays as large."""
    out = np.ones((len(drops), len(turns)))
    flat = np.clip(1.25 - drops.angles / np.radians(90), 0.15, 1.0) * variety
    total = np.zeros(len(drops))
    for row, waves in enumerate(_WAVES):
        size = flat * (0.16 / waves) * 2 * uniforms(drops.ids, _SIZES + row)
        phase = 2 * np.pi * uniforms(drops.ids, _PHASES + row)
        out += size[:, None] * np.cos(waves * turns + phase[:, None])
        total += size**2 / 2
    return out / np.sqrt(1 + total)[:, None]


def shaped(drops: Drops, on: Wetted | None, fine: bool = False, variety: float = 1.0) -> Sheet:
    """Drops as a mesh of closed pieces, their fronts outwards.

    A drop is the cap of a sphere, flattened by gravity, sheared down its slope as far as its weight over what holds it says — so that
    it meets the ground at the advancing contact angle below and near the receding one above — and led round an outline of its own. None of
    that changes its volume. Its foot follows the surface.

    :param on: the surface, whose bends the feet follow; None for level feet. :param fine: with more corners, as stills want them.
    :param variety: how far outlines stray from a circle, 1 as usual.
    """
    positions, normals, faces, first = [], [], [], 0
    for rows, around, rings in _portions(drops, fine):
        place, normal = _vertices(drops.only(rows), on, around, rings, variety)
        each = place.shape[1]
        index = _closed(around, rings)[None] + first + (np.arange(len(rows)) * each)[:, None, None]
        positions.append(place.reshape(-1, 3))
        normals.append(normal.reshape(-1, 3))
        faces.append(index.reshape(-1, 3))
        first += len(rows) * each
    if not positions:
        return Sheet(np.zeros((0, 3), np.float32), np.zeros((0, 3), np.float32), np.zeros((0, 3), np.int32))
    return Sheet(
        np.concatenate(positions).astype(np.float32),
        np.concatenate(normals).astype(np.float32),
        np.concatenate(faces).astype(np.int32),
    )


def _vertices(
    drops: Drops, on: Wetted | None, around: int, rings: int, variety: float
) -> tuple[np.ndarray, np.ndarray]:
    """Places and normals of the vertices of each, float64 (N, 2 + rings · around, 3)."""
    angle, flat, count = drops.angles, drops.flat, len(drops)
    turns = np.arange(around) * 2 * np.pi / around
    radius = drops.bases / np.sin(angle) * np.sqrt(flat)
    # From its top down: angles at the middle of its sphere, more of them near its foot.
    down = angle[:, None] * np.linspace(0, 1, rings + 1)[1:] ** 0.85
    far = (radius / np.sqrt(flat))[:, None] * np.sin(down)
    high = (radius * flat)[:, None] * (np.cos(down) - np.cos(angle)[:, None])
    top = radius * flat * (1 - np.cos(angle))
    # Sheared until its lower side meets the ground at the advancing angle. Cotangents, and both of the flattened shape.
    cot = np.cos(angle) / np.sin(angle) / flat**1.5
    shear = np.minimum(drops.pull, 1) * np.clip(cot - np.cos(drops.advancing) / np.sin(drops.advancing), 0, 1.5)
    outline = _outlines(drops, turns, variety)
    along = far[:, :, None] * (outline * np.cos(turns))[:, None] + (shear[:, None] * high)[:, :, None]
    aside = far[:, :, None] * (outline * np.sin(turns))[:, None]
    longer = np.sqrt(drops.drawn)
    local = np.empty((count, 2 + rings * around, 3))
    local[:, 0] = np.column_stack([shear * top, np.zeros(count), top])
    local[:, 1:-1, 0], local[:, 1:-1, 1] = along.reshape(count, -1), aside.reshape(count, -1)
    local[:, 1:-1, 2] = np.repeat(high, around, axis=1)
    # The edge itself is no face of its own: it goes a little into the ground.
    sunk = _SUNK * drops.bases
    local[:, -1 - around : -1, 2] -= sunk[:, None]
    local[:, -1] = np.column_stack([np.zeros(count), np.zeros(count), -sunk])
    local[..., 0] *= longer[:, None]
    local[..., 1] /= longer[:, None]
    ways = drops.ways
    frame = np.stack([ways, np.cross(drops.normals, ways), drops.normals], axis=1)
    world = drops.positions[:, None] + np.einsum("nvi,nij->nvj", local, frame)
    if on is not None:
        world = _on_ground(drops, on, world, local, top, around, rings)
    return world, _normals(world, drops.normals, around, rings)


def _on_ground(
    drops: Drops, on: Wetted, world: np.ndarray, local: np.ndarray, top: np.ndarray, around: int, rings: int
) -> np.ndarray:
    """Feet brought onto the surface, and what is above them by as much less as it is higher."""
    foot = slice(1 + (rings - 1) * around, 1 + rings * around)
    sunk = _SUNK * drops.bases
    up = np.repeat(drops.normals, around, axis=0)
    flat = (world[:, foot] + (sunk[:, None] * drops.normals)[:, None]).reshape(-1, 3)
    _, places = on.below(flat, up, np.repeat(0.6 * drops.bases, around))
    rise = ((places - flat) * up).sum(1).reshape(-1, around)
    share = np.clip(1 - local[:, 1:-1, 2].reshape(-1, rings, around) / np.maximum(top, 1e-12)[:, None, None], 0, 1)
    lift = (share * rise[:, None]).reshape(len(drops), -1)
    out = world.copy()
    out[:, 1:-1] += lift[..., None] * drops.normals[:, None]
    return out


def _normals(world: np.ndarray, up: np.ndarray, around: int, rings: int) -> np.ndarray:
    """Unit normals of the vertices: of the round side; the foot looks down."""
    rows = np.concatenate(
        [
            np.broadcast_to(world[:, :1], (len(world), around, 3))[:, None],
            world[:, 1:-1].reshape(len(world), rings, around, 3),
        ],
        axis=1,
    )
    round_ = np.roll(rows, -1, axis=2) - np.roll(rows, 1, axis=2)
    over = np.gradient(rows, axis=1)
    found = np.cross(over[:, 1:], round_[:, 1:])
    found /= np.maximum(np.linalg.norm(found, axis=3, keepdims=True), 1e-15)
    crown = found[:, 0].mean(1)
    crown /= np.maximum(np.linalg.norm(crown, axis=1, keepdims=True), 1e-15)
    return np.concatenate([crown[:, None], found.reshape(len(world), -1, 3), -up[:, None]], axis=1)
