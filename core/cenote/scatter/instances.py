"""From tables of placements to matrices and triangles."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache

import numpy as np

from ..geometry.mesh import Mesh
from ..kit.base import KIT
from .fill import Placements, Scatter


@lru_cache(maxsize=256)
def kit_mesh(item: str, variant: int, detail: int = 0) -> Mesh:
    """The mesh of one variant of a kit item, built once a process."""
    return KIT[item]().build(variant, detail)


def rotation_matrices(rotations: np.ndarray) -> np.ndarray:
    """Matrices of unit quaternions: float32 (N, 4) x, y, z, w to float32 (N, 3, 3)."""
    x, y, z, w = rotations.T.astype(np.float32)
    rows = [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w),
            2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w),
            2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)]  # fmt: skip
    return np.stack(rows, axis=1).reshape(-1, 3, 3)


def by_variant(layer: Scatter, placements: Placements) -> Iterator[tuple[str, int, np.ndarray]]:
    """The rows of a table for each (item, variant) that occurs, in order."""
    kinds = np.array([entry.item for entry in layer.mix])[placements.items] if len(placements) else np.array([])
    for item in dict.fromkeys(entry.item for entry in layer.mix):
        for variant in range(KIT[item].variants):
            rows = np.flatnonzero((kinds == item) & (placements.variants == variant))
            if len(rows):
                yield item, variant, rows


def placed_vertices(mesh: Mesh, placements: Placements, rows: np.ndarray) -> np.ndarray:
    """World positions of a mesh placed at some rows of a table, float32 (R, N, 3)."""
    scaled = rotation_matrices(placements.rotations[rows]) * placements.sizes[rows, None, None]
    return np.einsum("rij,nj->rni", scaled, mesh.positions) + placements.positions[rows, None]


def triangle_count(layer: Scatter, placements: Placements) -> int:
    """How many triangles a layer's placements come to."""
    return sum(len(kit_mesh(item, variant).faces) * len(rows) for item, variant, rows in by_variant(layer, placements))


def merged_triangles(tables: Sequence[tuple[Scatter, Placements]], most: int) -> tuple[np.ndarray, np.ndarray]:
    """All placed triangles in the world, thinned evenly where they are more than ``most``.

    :returns: corners float32 (M, 3, 3) in metres, and their linear colours float32 (M, 3).
    """
    total = sum(triangle_count(layer, placements) for layer, placements in tables)
    step = max(1, -(-total // most))
    corners, colours = [np.zeros((0, 3, 3), np.float32)], [np.zeros((0, 3), np.float32)]
    for layer, placements in tables:
        for item, variant, rows in by_variant(layer, placements):
            mesh, rows = kit_mesh(item, variant), rows[::step]
            corners.append(placed_vertices(mesh, placements, rows)[:, mesh.faces].reshape(-1, 3, 3))
            shade = mesh.colours[mesh.faces].mean(1) if mesh.colours is not None else np.full((len(mesh.faces), 3), 0.5)
            colours.append((shade[None] * placements.tints[rows][:, None]).reshape(-1, 3))
    return np.concatenate(corners).astype(np.float32), np.concatenate(colours).astype(np.float32)
