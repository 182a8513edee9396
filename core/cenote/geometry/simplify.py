"""Fewer triangles for the same shape."""

from __future__ import annotations

import fast_simplification

from .mesh import Mesh, checked


def decimated(mesh: Mesh, share: float) -> Mesh:
    """The mesh with about a share of its triangles, by collapsing the edges that matter least.

    Quadric error metrics (Garland and Heckbert, 1997), by the fast-simplification package. Meshes of a few dozen
    triangles are left as they are; colours, texture coordinates and normals are not kept.
    """
    if share >= 1 or len(mesh.faces) <= 60:
        return mesh
    goal = max(40, round(len(mesh.faces) * share))
    points, faces = fast_simplification.simplify(mesh.positions, mesh.faces, target_count=goal)
    if not len(faces):
        return mesh
    return checked(Mesh.of(points, faces, mesh.part_names[0]))
