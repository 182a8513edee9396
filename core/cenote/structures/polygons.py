"""Outlines of buildings: checked, offset, cut into triangles, drawn out into walls and slabs."""

from __future__ import annotations

import mapbox_earcut
import numpy as np

from ..geometry.mesh import Mesh, join

Outline = np.ndarray


def counter_clockwise(outline: Outline) -> Outline:
    """The outline, float64 (N, 2), turned so that its inside lies to the left seen with x to the right and z up."""
    points = np.asarray(outline, float)
    return points if signed_area(points) > 0 else points[::-1].copy()


def signed_area(outline: Outline) -> float:
    """The area in m², above 0 for counter-clockwise outlines."""
    nxt = np.roll(outline, -1, axis=0)
    return float((outline[:, 0] * nxt[:, 1] - nxt[:, 0] * outline[:, 1]).sum() / 2)


def is_convex(outline: Outline) -> bool:
    """Whether a counter-clockwise outline bends nowhere inwards."""
    edges = np.roll(outline, -1, axis=0) - outline
    nxt = np.roll(edges, -1, axis=0)
    return bool((edges[:, 0] * nxt[:, 1] - edges[:, 1] * nxt[:, 0] >= -1e-9).all())


def offset(outline: Outline, by: float) -> Outline:
    """The outline with its sides moved outwards (inwards below 0), corners mitred.

    :raises ValueError: if nothing would be left.
    """
    before, after = np.roll(outline, 1, axis=0), np.roll(outline, -1, axis=0)
    out = np.empty_like(outline)
    for k, (a, p, b) in enumerate(zip(before, outline, after, strict=True)):
        u, v = (p - a) / np.linalg.norm(p - a), (b - p) / np.linalg.norm(b - p)
        nu, nv = np.array([u[1], -u[0]]), np.array([v[1], -v[0]])
        out[k] = p + by * (nu + nv) / max(1 + nu @ nv, 0.2)
    turned = ((np.roll(out, -1, axis=0) - out) * (after - outline)).sum(1) <= 0
    if by < 0 and (turned.any() or signed_area(out) <= 0.01):
        raise ValueError(f"thickness: walls of {-by:g} m leave no room inside")
    return out


def triangles(outline: Outline) -> np.ndarray:
    """Triangles of a simple outline, int64 (M, 3), rows of it (ear cutting, by the mapbox_earcut package)."""
    flat = np.ascontiguousarray(outline, np.float64)
    return np.asarray(mapbox_earcut.triangulate_float64(flat, np.array([len(flat)], np.uint32)), np.int64).reshape(
        -1, 3
    )


def slab(outline: Outline, low: float, high: float, part: str) -> Mesh:
    """An outline drawn up from one level to another, closed."""
    n = len(outline)
    bottom = np.column_stack([outline[:, 0], np.full(n, low), outline[:, 1]])
    top = np.column_stack([outline[:, 0], np.full(n, high), outline[:, 1]])
    cap = triangles(outline)
    a, b, c = (outline[cap[:, k]] for k in range(3))
    # Seen from above with z towards the viewer, faces that look up wind against x–z.
    up = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1]) < 0
    cap = np.where(up[:, None], cap, cap[:, ::-1])
    faces = [cap + n, cap[:, ::-1]]
    ccw = signed_area(outline) > 0
    for k in range(n):
        m = (k + 1) % n
        quad = [[k, k + n, m], [m, k + n, m + n]] if ccw else [[k, m, k + n], [m, m + n, k + n]]
        faces.append(np.array(quad))
    return Mesh.of(np.concatenate([bottom, top]), np.concatenate(faces), part)


def ring(outer: Outline, inner: Outline, low: float, high: float, part: str) -> Mesh:
    """What lies between two outlines of as many corners, drawn up from one level to another: a parapet, a kerb."""
    n, pieces = len(outer), []
    for k in range(n):
        m = (k + 1) % n
        pieces.append(slab(np.array([outer[k], outer[m], inner[m], inner[k]]), low, high, part))
    return join(pieces)
