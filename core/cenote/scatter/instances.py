"""From tables of placements to matrices and triangles."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Protocol

import numpy as np

from ..geometry.mesh import Mesh, corner_normals, corner_uv, face_normals
from ..kit.base import DETAILS
from ..weather.coats import Coat, laid
from .placements import Placements
from .rotations import rotation_matrices
from .wind import Sway


class ItemLooks(Protocol):
    """What items look like on a site."""

    def mesh(self, kind: str, variant: int, detail: int = 0) -> Mesh:
        """The mesh of one variant at a level of detail, with the leaves that hang."""

    def colours(self, kind: str, variant: int, detail: int = 0) -> np.ndarray:
        """The linear colours of the faces of an item's mesh, float32 (M, 3)."""

    def sway(self, kind: str) -> Sway:
        """The wind as an item meets it."""


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


def by_variant(placements: Placements) -> Iterator[tuple[str, int, np.ndarray]]:
    """The rows of a table for each (item, variant) that occurs, in order."""
    for item in dict.fromkeys(placements.names):
        rows = [row for row, name in enumerate(placements.names) if name == item]
        mine = np.flatnonzero(np.isin(placements.items, rows))
        for variant in np.unique(placements.variants[mine]).tolist():
            yield item, variant, mine[placements.variants[mine] == variant]


def placed_vertices(mesh: Mesh, placements: Placements, rows: np.ndarray, sway: Sway | None = None) -> np.ndarray:
    """World positions of a mesh placed at some rows of a table, float32 (R, N, 3), as the wind bends it."""
    scaled = rotation_matrices(placements.rotations[rows]) * placements.sizes[rows, None, None]
    offsets = np.einsum("rij,nj->rni", scaled, mesh.positions)
    if sway is not None:
        offsets = sway.vertices(offsets, placements.positions[rows], placements.sizes[rows])
    return np.asarray(offsets + placements.positions[rows, None], np.float32)


def triangle_count(placements: Placements, looks: ItemLooks) -> int:
    """How many triangles a layer's placements come to, each item whole."""
    return sum(len(looks.mesh(item, variant).faces) * len(rows) for item, variant, rows in by_variant(placements))


def merged_triangles(
    tables: Sequence[Placements],
    most: int,
    looks: ItemLooks,
    coats: Sequence[Coat] = (),
    amounts: Sequence[np.ndarray] = (),
) -> tuple[np.ndarray, np.ndarray]:
    """All placed triangles in the world, coarser where they are more than ``most``, and thinned where that is not enough.

    :param coats: what lies on the items. :param amounts: for each table how much of each, float32 (N, K).
    :returns: corners float32 (M, 3, 3) in metres, and their linear colours float32 (M, 3).
    """
    found = [
        (number, table, item, variant, rows)
        for number, table in enumerate(tables)
        for item, variant, rows in by_variant(table)
    ]

    def total(detail: int) -> int:
        return sum(len(looks.mesh(item, variant, detail).faces) * len(rows) for _, _, item, variant, rows in found)

    detail = next((detail for detail in DETAILS if total(detail) <= most), DETAILS[-1])
    step = max(1, -(-total(detail) // most))
    corners, colours = [np.zeros((0, 3, 3), np.float32)], [np.zeros((0, 3), np.float32)]
    for number, table, item, variant, all_rows in found:
        mesh, rows = looks.mesh(item, variant, detail), all_rows[::step]
        placed = placed_vertices(mesh, table, rows, looks.sway(item))[:, mesh.faces]
        corners.append(placed.reshape(-1, 3, 3))
        shade = looks.colours(item, variant, detail)[None] * table.tints[rows][:, None]
        if coats:
            flat, _ = face_normals(placed.reshape(-1, 3, 3))
            shade, _, _ = laid(shade, flat[:, 1].reshape(shade.shape[:2]), amounts[number][rows], coats)
        colours.append(shade.reshape(-1, 3))
    return np.concatenate(corners).astype(np.float32), np.concatenate(colours).astype(np.float32)
