"""Meshes as convex bodies, as rigid-body physics wants them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from ..geometry.mesh import Mesh, face_normals, pieces
from ..geometry.rays import LIFT, RayScene, hemisphere

# Above this share of its box, a hull counts as the box; above this share of its hull, a mesh counts as the hull.
_BOX, _CONVEX = 0.965, 0.97
# Bodies are at least this thick, metres: what has no thickness cannot be hit.
_THIN = 0.004
_GROUND_DEPTH = 0.6


@dataclass(frozen=True)
class Collider:
    """A convex body.

    :ivar points: float64 (N, 3), corners of its hull, metres.
    :ivar volume: m³.
    :ivar box: where it is a box: centre (3,), half sizes (3,), and axes as columns (3, 3), right-handed.
    """

    points: np.ndarray
    volume: float
    box: tuple[np.ndarray, np.ndarray, np.ndarray] | None = None

    @property
    def bounds(self) -> np.ndarray:
        """Least and greatest corner, float64 (2, 3)."""
        return np.array([self.points.min(0), self.points.max(0)])


def hull(points: np.ndarray) -> Collider:
    """The convex hull of points, given some thickness where it has none.

    :param points: float (N, 3), at least one.
    """
    points = np.unique(np.asarray(points, np.float64), axis=0)
    try:
        found = ConvexHull(points)
        if found.volume < 1e-9:
            raise QhullError
    except (QhullError, ValueError):
        # All in a plane or a line: a small cube about every point.
        offsets = np.array(np.meshgrid(*[[-_THIN / 2, _THIN / 2]] * 3)).reshape(3, -1).T
        points = (points[:, None] + offsets).reshape(-1, 3)
        found = ConvexHull(points)
    corners = points[found.vertices]
    box = _box_of(points, found)
    if box is not None and 8 * box[1].prod() * _BOX > found.volume:
        box = None
    return Collider(corners, float(found.volume), box)


def _box_of(points: np.ndarray, found: ConvexHull) -> tuple[np.ndarray, np.ndarray, np.ndarray] | None:
    """The box along the largest face of a hull and the largest face across it."""
    corners = points[found.simplices]
    normals, areas = face_normals(corners)
    first = normals[areas.argmax()].astype(float)
    across = np.abs(normals @ first) < 0.02
    if not across.any():
        return None
    second = normals[across][areas[across].argmax()].astype(float)
    second -= first * (second @ first)
    second /= np.linalg.norm(second)
    axes = np.column_stack([first, second, np.cross(first, second)])
    flat = points @ axes
    low, high = flat.min(0), flat.max(0)
    return axes @ ((low + high) / 2), (high - low) / 2, axes


def enclosed_volume(corners: np.ndarray) -> float:
    """The signed volume inside triangles, m³ (divergence theorem); right only for closed meshes.

    :param corners: float (M, 3, 3).
    """
    a, b, c = (corners[:, k].astype(np.float64) for k in range(3))
    return float((a * np.cross(b, c)).sum() / 6)


def item_colliders(mesh: Mesh, most: int = 40) -> list[Collider]:
    """The convex bodies of something that moves: one for each connected piece of its mesh.

    What shuts in its own middle, such as a barrel of staves or a crate, is one body, and full; so is a single piece.
    Of more than ``most`` pieces the smallest are left out, as they lie among the others.
    """
    numbers = pieces(mesh)
    whole = hull(mesh.positions)
    if not numbers.any() or _shuts_in(mesh, whole):
        return [whole]
    found = [hull(mesh.corners[numbers == k].reshape(-1, 3)) for k in range(int(numbers.max()) + 1)]
    return sorted(found, key=lambda one: -one.volume)[:most]


def _shuts_in(mesh: Mesh, whole: Collider) -> bool:
    """Whether hardly anything of the outside is seen from the middle of a mesh."""
    up = hemisphere(64)
    ways = np.concatenate([up, -up])
    middle = np.broadcast_to(whole.bounds.mean(0).astype(np.float32), ways.shape)
    return bool(RayScene(mesh.corners).occluded(middle, ways).mean() > 0.8)


def scenery_colliders(corners: np.ndarray, numbers: np.ndarray, low: np.ndarray, high: np.ndarray) -> list[Collider]:
    """The convex bodies of something that stands still: whole pieces where they are convex, else a thin prism under each
    triangle.

    :param corners: float32 (M, 3, 3), metres. :param numbers: int32 (M,), the connected piece of each triangle.
    :param low, high: float (3,), the box outside which nothing matters.
    """
    near = (corners.max(1) >= low).all(1) & (corners.min(1) <= high).all(1)
    if not near.any():
        return []
    out: list[Collider] = []
    order = np.argsort(numbers, kind="stable")
    ends = np.searchsorted(numbers[order], np.arange(int(numbers.max()) + 2))
    wanted = np.unique(numbers[near])
    single: list[np.ndarray] = []
    for k in wanted:
        rows = order[ends[k] : ends[k + 1]]
        if len(rows) < 4000:
            body = hull(corners[rows].reshape(-1, 3))
            if enclosed_volume(corners[rows] - corners[rows].reshape(-1, 3).mean(0)) > _CONVEX * body.volume:
                out.append(body)
                continue
        single.append(rows[near[rows]])
    if single:
        rows = np.concatenate(single)
        out += prisms(corners[rows], _room_behind(corners, corners[rows]))
    return out


def ground_colliders(corners: np.ndarray, low: np.ndarray, high: np.ndarray) -> list[Collider]:
    """A deep upright prism under each triangle (M, 3, 3) of a ground that is nowhere above itself; as :func:`scenery_colliders`."""
    near = corners[(corners.max(1) >= low).all(1) & (corners.min(1) <= high).all(1)].astype(np.float64)
    deep = np.array([0, _GROUND_DEPTH, 0])
    return [Collider(np.concatenate([one, one - deep]), 1.0) for one in near]


def _room_behind(scene: np.ndarray, corners: np.ndarray) -> np.ndarray:
    """How thick the solid is behind each triangle, float64 (M,), metres, at most 8 cm."""
    normals, _ = face_normals(corners)
    behind = RayScene(scene).distance((corners.mean(1) - normals * LIFT).astype(np.float32), -normals)
    return np.clip(behind + LIFT, _THIN, 0.08)


def prisms(corners: np.ndarray, depth: np.ndarray) -> list[Collider]:
    """A prism under each triangle, its far side drawn in against its own face.

    :param corners: float32 (M, 3, 3). :param depth: float (M,), metres.
    """
    normals, areas = face_normals(corners)
    out = []
    for triangle, normal, deep, area in zip(corners.astype(np.float64), normals, depth, areas, strict=True):
        if area > 1e-8:
            points = np.concatenate([triangle, triangle - normal.astype(np.float64) * deep])
            out.append(Collider(points, float(area * deep)))
    return out
