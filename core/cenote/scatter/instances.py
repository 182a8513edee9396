"""From tables of placements to matrices and triangles."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

import numpy as np

from ..geometry.mesh import Mesh, corner_normals, corner_uv
from ..kit.base import DETAILS
from ..kit.shelf import Shelf
from .layer import Scatter
from .placements import Placements

# Gives the linear colours of the faces of an item's mesh.
ItemLooks = Callable[[str, Mesh], np.ndarray]


def item_columns(
    mesh: Mesh, tile_size: Callable[[str], float | None]
) -> tuple[dict[str, np.ndarray], list[tuple[str, int, int]]]:
    """An item's mesh as drawing and files want it: one row a corner, parts one after another.

    :param tile_size: the side in metres of the tile that a part is made of, None for a part without one.
    :returns: position, normal and colour float32 (3M, 3), uv float32 (3M, 2) in tiles or as the mesh has it; and for
        each part its name, its first row and how many rows it has.
    """
    order = np.argsort(mesh.parts, kind="stable")
    uv = corner_uv(mesh)
    for row, part in enumerate(mesh.part_names):
        size = tile_size(part)
        if size:
            uv[mesh.parts == row] /= np.float32(size)
    colours = np.ones((len(mesh.positions), 3), np.float32) if mesh.colours is None else mesh.colours
    columns = {
        "position": mesh.corners[order].reshape(-1, 3),
        "normal": corner_normals(mesh)[order].reshape(-1, 3),
        "colour": np.ascontiguousarray(colours[mesh.faces][order].reshape(-1, 3), np.float32),
        "uv": uv[order].reshape(-1, 2),
    }
    counts = np.bincount(mesh.parts, minlength=len(mesh.part_names)) * 3
    starts = np.concatenate([[0], np.cumsum(counts)])
    groups = [
        (part, int(start), int(count)) for part, start, count in zip(mesh.part_names, starts, counts, strict=False)
    ]
    return columns, [group for group in groups if group[2]]


def rotation_matrices(rotations: np.ndarray) -> np.ndarray:
    """Matrices of unit quaternions: float32 (N, 4) x, y, z, w to float32 (N, 3, 3)."""
    x, y, z, w = rotations.T.astype(np.float32)
    rows = [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w),
            2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w),
            2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)]  # fmt: skip
    return np.stack(rows, axis=1).reshape(-1, 3, 3)


def by_variant(layer: Scatter, placements: Placements, shelf: Shelf) -> Iterator[tuple[str, int, np.ndarray]]:
    """The rows of a table for each (item, variant) that occurs, in order."""
    kinds = np.array(placements.names)[placements.items] if len(placements) else np.array([])
    for item in dict.fromkeys(placements.names):
        for variant in range(shelf.item(item).variants):
            rows = np.flatnonzero((kinds == item) & (placements.variants == variant))
            if len(rows):
                yield item, variant, rows


def placed_vertices(mesh: Mesh, placements: Placements, rows: np.ndarray) -> np.ndarray:
    """World positions of a mesh placed at some rows of a table, float32 (R, N, 3)."""
    scaled = rotation_matrices(placements.rotations[rows]) * placements.sizes[rows, None, None]
    return np.einsum("rij,nj->rni", scaled, mesh.positions) + placements.positions[rows, None]


def triangle_count(layer: Scatter, placements: Placements, shelf: Shelf) -> int:
    """How many triangles a layer's placements come to."""
    found = by_variant(layer, placements, shelf)
    return sum(len(shelf.mesh(item, variant).faces) * len(rows) for item, variant, rows in found)


def merged_triangles(
    tables: Sequence[tuple[Scatter, Placements]], most: int, shelf: Shelf, looks: ItemLooks
) -> tuple[np.ndarray, np.ndarray]:
    """All placed triangles in the world, coarser where they are more than ``most``, and thinned where that is not enough.

    :param looks: gives the linear colour of each face of an item's mesh, float32 (M, 3).
    :returns: corners float32 (M, 3, 3) in metres, and their linear colours float32 (M, 3).
    """
    found = [(table, item, variant, rows) for layer, table in tables
             for item, variant, rows in by_variant(layer, table, shelf)]  # fmt: skip

    def total(detail: int) -> int:
        return sum(len(shelf.mesh(item, variant, detail).faces) * len(rows) for _, item, variant, rows in found)

    detail = next((detail for detail in DETAILS if total(detail) <= most), DETAILS[-1])
    step = max(1, -(-total(detail) // most))
    corners, colours = [np.zeros((0, 3, 3), np.float32)], [np.zeros((0, 3), np.float32)]
    for table, item, variant, all_rows in found:
        mesh, rows = shelf.mesh(item, variant, detail), all_rows[::step]
        corners.append(placed_vertices(mesh, table, rows)[:, mesh.faces].reshape(-1, 3, 3))
        shade = looks(item, mesh)
        colours.append((shade[None] * table.tints[rows][:, None]).reshape(-1, 3))
    return np.concatenate(corners).astype(np.float32), np.concatenate(colours).astype(np.float32)
