"""Simple solids, the bricks of structures and kit items. All in metres, Y up, closed unless said otherwise."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..randomness import key_of, uniforms
from .mesh import Mesh, join

_BOX_FACES = [
    [0, 2, 1], [1, 2, 3], [4, 5, 6], [5, 7, 6], [0, 1, 4], [1, 5, 4],
    [2, 6, 3], [3, 6, 7], [0, 4, 2], [2, 4, 6], [1, 3, 5], [3, 7, 5],
]  # fmt: skip


def box(least: Sequence[float], most: Sequence[float], part: str = "all") -> Mesh:
    """A box between two corners."""
    low, high = np.asarray(least, float), np.asarray(most, float)
    corners = [[(low, high)[i & 1][0], (low, high)[i >> 1 & 1][1], (low, high)[i >> 2][2]] for i in range(8)]
    return Mesh.of(corners, _BOX_FACES, part)


def block(centre: Sequence[float], size: Sequence[float], part: str = "all", turn: float = 0.0) -> Mesh:
    """A box of a size (x, y, z) standing on ``centre`` (its middle at the bottom), turned about Y by degrees."""
    w, h, d = size
    angle = np.radians(turn)
    solid = box((-w / 2, 0, -d / 2), (w / 2, h, d / 2), part)
    rotation = np.array([[np.cos(angle), 0, np.sin(angle)], [0, 1, 0], [-np.sin(angle), 0, np.cos(angle)]])
    positions = solid.positions @ rotation.T.astype(np.float32) + np.asarray(centre, np.float32)
    return Mesh(positions, solid.faces, solid.parts, solid.part_names)


def prism(outline: Sequence[Sequence[float]], length: float, part: str = "all") -> Mesh:
    """A convex outline in the x–y plane (counter-clockwise) drawn out along z, centred on z = 0."""
    flat = np.asarray(outline, float)
    n = len(flat)
    front = np.column_stack([flat, np.full(n, length / 2)])
    back = np.column_stack([flat, np.full(n, -length / 2)])
    faces = [[0, i, i + 1] for i in range(1, n - 1)] + [[n, n + i + 1, n + i] for i in range(1, n - 1)]
    for i in range(n):
        j = (i + 1) % n
        faces += [[i, n + i, n + j], [i, n + j, j]]
    return Mesh.of(np.concatenate([front, back]), faces, part)


def turned(profile: Sequence[Sequence[float]], sides: int = 16, part: str = "all") -> Mesh:
    """A solid of revolution about Y from (radius, height) pairs, bottom first; closed at both ends."""
    rings = np.asarray(profile, float)
    angles = np.arange(sides) * 2 * np.pi / sides
    ring = np.column_stack([np.cos(angles), np.zeros(sides), np.sin(angles)])
    positions = [np.array([[0, rings[0, 1], 0]])]
    positions += [ring * radius + [0, height, 0] for radius, height in rings]
    positions += [np.array([[0, rings[-1, 1], 0]])]
    faces: list[list[int]] = []
    last = 1 + len(rings) * sides
    for k in range(sides):
        n = (k + 1) % sides
        faces.append([0, 1 + k, 1 + n])
        for level in range(len(rings) - 1):
            a, b = 1 + level * sides, 1 + (level + 1) * sides
            faces += [[a + k, b + k, a + n], [a + n, b + k, b + n]]
        faces.append([last, last - sides + n, last - sides + k])
    return Mesh.of(np.concatenate(positions), faces, part)


def tube(path: np.ndarray, radii: Sequence[float], sides: int = 6, part: str = "all") -> Mesh:
    """A tube along a path.

    :param path: float (N, 3), N at least 2, metres.
    :param radii: N radii in metres; the ends are closed.
    """
    path = np.asarray(path, float)
    along = np.gradient(path, axis=0)
    along /= np.maximum(np.linalg.norm(along, axis=1), 1e-9)[:, None]
    helper = np.where(np.abs(along[:, 1:2]) > 0.9, [[1.0, 0, 0]], [[0, 1.0, 0]])
    side = np.cross(along, helper)
    side /= np.linalg.norm(side, axis=1)[:, None]
    other = np.cross(along, side)
    angles = np.arange(sides) * 2 * np.pi / sides
    spokes = side[:, None] * np.cos(angles)[None, :, None] + other[:, None] * np.sin(angles)[None, :, None]
    rings = path[:, None] + spokes * np.asarray(radii, float)[:, None, None]
    positions = np.concatenate([rings.reshape(-1, 3), path[:1], path[-1:]])
    faces, n = [], len(path)
    for k in range(sides):
        m = (k + 1) % sides
        for i in range(n - 1):
            a, b = i * sides, (i + 1) * sides
            faces += [[a + k, a + m, b + k], [a + m, b + m, b + k]]
        faces += [[n * sides, m, k], [n * sides + 1, (n - 1) * sides + k, (n - 1) * sides + m]]
    return Mesh.of(positions, faces, part)


def limb(path: np.ndarray, radii: Sequence[float] | np.ndarray, sides: int = 6, part: str = "bark") -> Mesh:
    """A tapering tube along a path that carries texture coordinates in metres: around it, and along it.

    :param path: float (N, 3), N at least 2, metres; the tube is open at its ends.
    :param radii: N radii in metres.
    """
    path, radii = np.asarray(path, float), np.asarray(radii, float)
    along = np.gradient(path, axis=0)
    along /= np.maximum(np.linalg.norm(along, axis=1), 1e-9)[:, None]
    helper = np.where(np.abs(along[:, 1:2]) > 0.9, [[1.0, 0, 0]], [[0, 1.0, 0]])
    side = np.cross(along, helper)
    side /= np.linalg.norm(side, axis=1)[:, None]
    other = np.cross(along, side)
    angles = np.linspace(0, 2 * np.pi, sides + 1)
    spokes = side[:, None] * np.cos(angles)[None, :, None] + other[:, None] * np.sin(angles)[None, :, None]
    rings = path[:, None] + spokes * radii[:, None, None]
    far = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))])
    # Once round is the way round at the foot, along its straight sides, so that the texture narrows with the limb and never
    # tears, and is as fine on limbs of few sides as on those of many.
    round_ = 2 * sides * np.sin(np.pi / sides) * radii.max()
    u = np.broadcast_to(angles / (2 * np.pi) * max(round_, 0.05), (len(path), sides + 1))
    v = np.broadcast_to(far[:, None], (len(path), sides + 1))
    n = sides + 1
    faces = [
        f
        for i in range(len(path) - 1)
        for k in range(sides)
        for a, b in [(i * n + k, (i + 1) * n + k)]
        for f in ([a, a + 1, b], [a + 1, b + 1, b])
    ]
    return Mesh.of(
        rings.reshape(-1, 3), faces, part, uv=np.stack([u, v], -1).reshape(-1, 2), normals=spokes.reshape(-1, 3)
    )


def sphere(rings: int = 10, sides: int = 14, part: str = "all") -> Mesh:
    """A unit sphere of latitude rings."""
    angles = np.linspace(-np.pi / 2, np.pi / 2, rings + 1)[1:-1]
    return turned([(np.cos(a), np.sin(a)) for a in angles], sides, part)


def boulder(
    seed: int, size: Sequence[float] | np.ndarray, rings: int = 12, sides: int = 18, part: str = "stone"
) -> Mesh:
    """A rounded stone: a sphere cut by random planes, which gives the worn facets that plain noise lacks.

    :param size: half widths (x, y, z) in metres; the stone is centred on the origin.
    """
    solid = sphere(rings, sides, part)
    directions = solid.positions / np.linalg.norm(solid.positions, axis=1)[:, None]
    cuts = 12
    r = uniforms(np.arange(cuts * 3, dtype=np.uint64) + np.uint64(key_of("boulder", seed)), 0).reshape(cuts, 3)
    z, turn = 2 * r[:, 0] - 1, 2 * np.pi * r[:, 1]
    flat = np.sqrt(1 - z * z)
    planes = np.column_stack([flat * np.cos(turn), z, flat * np.sin(turn)])
    depth = 0.62 + 0.36 * r[:, 2]
    # Distance along each direction to the nearest cut, softened so that the edges are worn round.
    facing = directions @ planes.T
    reach = np.where(facing > 0.05, depth / np.maximum(facing, 0.05), 8.0)
    radius = -np.log(np.exp(-9 * np.minimum(reach, 2)).sum(1) + np.exp(-9 * 1.15)) / 9
    return Mesh.of(directions * radius[:, None] * np.asarray(size), solid.faces, part)


def gable(width: float, height: float, length: float, part: str = "all") -> Mesh:
    """A triangular prism along z with its base on y = 0."""
    return prism([(-width / 2, 0), (width / 2, 0), (0, height)], length, part)


def steps(count: int, width: float, rise: float, tread: float, part: str = "all") -> Mesh:
    """Steps that climb towards -z from the origin, each a block down to the level of the lowest."""
    blocks = [
        box((-width / 2, 0, -(i + 1) * tread), (width / 2, (i + 1) * rise, -i * tread), part) for i in range(count)
    ]
    return join(blocks)
