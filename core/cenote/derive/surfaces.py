"""Objects as surfaces: their texture layouts, where they stand, their texels and cells."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ..geometry.barycentric import weights_of
from ..geometry.charts import Atlas, cell_for, charted, from_above
from ..geometry.mesh import Mesh, corner_normals, face_normals
from ..geometry.texels import Stretch, TexelGrid, Window, texel_grid, texel_points
from ..materials.base import GRAINED
from ..signals.around import GROUND
from ..signals.scene import Samples
from .meshes import ObjectMesh
from .site import Site
from .target import Keep, Read, Target

# Texels of one surface that is looked at, and in files.
MOST_TEXELS_SHOWN, MOST_TEXELS = 3_000_000, 16_000_000
FINEST_LEVEL = 5
# Patches that lie side by side: the first one's row and column among those of its level, and how many rows and columns there are.
Patches = tuple[int, int, int, int]
# Texels of a patch's side, and of the border about it.
PATCH, BORDER = 128, 4
# The finest texel of patches, metres, and how many of them a layout has along a side at most: the processor of graphics tells a
# place in it by 24 bits, and needs some of them between two texels.
FINEST_TEXEL, _MOST_ALONG = 0.0008, 1 << 22
# Cells along the side of a block. What is measured by rays is measured anew block by block.
BLOCK = 64


@dataclass(frozen=True)
class Shape:
    """An object with its texture layout, placed in the world; whatever it is made of.

    :ivar mesh: in its own frame, metres.
    :ivar matrix: rigid 4×4, own frame to world.
    :ivar atlas: its texture layout.
    """

    mesh: Mesh
    matrix: np.ndarray
    atlas: Atlas

    @cached_property
    def local_normals(self) -> np.ndarray:
        """Shading normals at face corners in the own frame, float32 (M, 3, 3)."""
        return corner_normals(self.mesh)

    @cached_property
    def corners(self) -> np.ndarray:
        """World positions of face corners, float32 (M, 3, 3)."""
        return (self.mesh.corners @ self.matrix[:3, :3].T + self.matrix[:3, 3]).astype(np.float32)

    @cached_property
    def normals(self) -> np.ndarray:
        """World shading normals of face corners, float32 (M, 3, 3)."""
        return (self.local_normals @ self.matrix[:3, :3].T).astype(np.float32)

    @property
    def rights(self) -> np.ndarray:
        """The world's way that is to the right in the texture of each face, unit float32 (M, 3)."""
        return np.asarray(self.atlas.axes[self.atlas.charts, 0] @ self.matrix[:3, :3].T, np.float32)

    @property
    def tangents(self) -> np.ndarray:
        """Tangents at face corners in the own frame, float32 (M, 3, 4): to the right in the texture; w is 1."""
        right = self.atlas.axes[self.atlas.charts, 0][:, None]
        normals = self.local_normals
        along = right - normals * (normals * right).sum(2, keepdims=True)
        along /= np.maximum(np.linalg.norm(along, axis=2, keepdims=True), 1e-9)
        return np.concatenate([along, np.ones((*along.shape[:2], 1))], axis=2).astype(np.float32)

    @cached_property
    def area(self) -> float:
        """True area in m²."""
        return float(face_normals(self.mesh.corners)[1].sum())

    @cached_property
    def stretch(self) -> np.ndarray:
        """For each face its true area over its area in the layout, float32 (M,)."""
        true = face_normals(self.mesh.corners)[1]
        a, b, c = (self.atlas.corners[:, k].astype(float) * self.atlas.cell for k in range(3))
        flat = np.abs((b - a)[:, 0] * (c - a)[:, 1] - (c - a)[:, 0] * (b - a)[:, 1]) / 2
        return np.clip(true / np.maximum(flat, 1e-12), 1, 4).astype(np.float32)

    def places(self, faces: np.ndarray, points: np.ndarray) -> np.ndarray:
        """Where points on faces lie in the layout, float64 (N, 2), cells to the right and down.

        :param faces: int (N,). :param points: float (N, 3), in the world, on the planes of these faces.
        """
        weights = weights_of(self.corners[faces], points)
        return np.asarray(np.einsum("nk,nki->ni", weights, self.atlas.corners[faces].astype(np.float64)))

    @property
    def coarsest_level(self) -> int:
        """The level of a first picture: cells, or texels of several cells where there would be many."""
        level, most = 0, 60_000
        while level > -2 and self.atlas.width * self.atlas.height * 4**level > most:
            level -= 1
        return level

    @property
    def finest_level(self) -> int:
        """The finest level that there are patches of."""
        level = int(np.floor(np.log2(self.atlas.cell / FINEST_TEXEL)))
        while level > 0 and max(self.atlas.width, self.atlas.height) * 2**level > _MOST_ALONG:
            level -= 1
        return max(level, 0)

    def level_for(self, texel: float, most: int = MOST_TEXELS_SHOWN) -> int:
        """The level whose texels are at most ``texel`` metres, as far as ``most`` texels allow."""
        level = int(np.clip(np.ceil(np.log2(self.atlas.cell / texel) - 0.01), 0, FINEST_LEVEL))
        while level > 0 and self.atlas.width * self.atlas.height * 4**level > most:
            level -= 1
        return level


@dataclass(frozen=True)
class Surface:
    """An object as what is looked at: its shape, and what its parts are made of.

    :ivar id: its id in the document. :ivar parts: names of its parts. :ivar materials: kind of material of each.
    """

    id: str
    shape: Shape
    parts: tuple[str, ...]
    materials: tuple[str, ...]

    @property
    def mesh(self) -> Mesh:
        """See :class:`Shape`."""
        return self.shape.mesh

    @property
    def matrix(self) -> np.ndarray:
        """See :class:`Shape`."""
        return self.shape.matrix

    @property
    def atlas(self) -> Atlas:
        """See :class:`Shape`."""
        return self.shape.atlas


def matrix_of(site: Site, id: str) -> np.ndarray:
    """Where an object stands: rigid float64 (4, 4)."""
    matrix: np.ndarray = np.eye(4) if id == GROUND else site.structure(id).placement.matrix()
    return matrix


def part_names(site: Site, id: str) -> tuple[str, ...]:
    """The names of an object's parts; the ground's one is called after what it is made of."""
    if id == GROUND:
        return (site.ground.material,)
    names: tuple[str, ...] = site.once(("parts", id), lambda at: at.get(ObjectMesh(id)).part_names)
    return names


def part_materials(site: Site, id: str) -> tuple[str, ...]:
    """The kind of material of each part of an object."""
    names = part_names(site, id)
    return names if id == GROUND else tuple(site.structure(id).part_material(part) for part in names)


@dataclass(frozen=True)
class ObjectAtlas(Target):
    """The texture layout of an object: wherever it stands, its texels are the same."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        mesh = ObjectMesh(self.id)
        if self.id == GROUND:
            return {"mesh": mesh, "extent": site.ground.size, "grained": ()}
        named = zip(part_names(site, self.id), part_materials(site, self.id), strict=True)
        return {"mesh": mesh, "extent": None, "grained": [part for part, kind in named if kind in GRAINED]}

    @staticmethod
    def make(read: Read) -> Atlas:
        if read.extent is None:
            area = float(face_normals(read.mesh.corners)[1].sum())
            return charted(read.mesh, cell_for(area), read.grained)
        size = np.array(read.extent)
        return from_above(read.mesh, cell_for(float(size.prod())), -size / 2, size / 2)


def cell_of_layout(site: Site, id: str) -> float:
    """The side of an object's cells, metres."""
    return site.once(("cell", id), lambda at: float(at.get(ObjectAtlas(id)).cell))


@dataclass(frozen=True)
class ObjectShape(Target):
    """An object with its layout, placed in the world: :class:`Shape`."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"mesh": ObjectMesh(self.id), "atlas": ObjectAtlas(self.id), "matrix": matrix_of(site, self.id)}

    @staticmethod
    def make(read: Read) -> Shape:
        return Shape(read.mesh, read.matrix, read.atlas)


@dataclass(frozen=True)
class ObjectSurface(Target):
    """An object as a surface: :class:`Surface`."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"id": self.id, "shape": ObjectShape(self.id), "parts": part_names(site, self.id),
                "materials": part_materials(site, self.id)}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Surface:
        return Surface(read.id, read.shape, read.parts, read.materials)


def window_of(patches: Patches) -> Window:
    """The texels of patches, with those of the border about them."""
    row, column = (PATCH * at - BORDER for at in patches[:2])
    rows, columns = (PATCH * count + 2 * BORDER for count in patches[2:])
    return row, column, rows, columns


@dataclass(frozen=True)
class Grid(Target):
    """The texels of an object at a level, all or those of patches: :class:`cenote.geometry.texels.TexelGrid`."""

    id: str
    level: int
    patches: Patches | None = None

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """What there is of a patch is asked for while it is composed."""
        return "memory" if self.patches is None else "briefly"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"atlas": ObjectAtlas(self.id), "level": self.level, "patches": self.patches}

    @staticmethod
    def make(read: Read) -> TexelGrid:
        return texel_grid(read.atlas, read.level, None if read.patches is None else window_of(read.patches))


@dataclass(frozen=True)
class Points:
    """Where the texels of a level, or of a window of it, lie in the world.

    :ivar among: how many rows and columns of texels are computed.
    :ivar ys, xs: int64 (N,), the places of the shown ones among these. :ivar positions, normals: float32 (N, 3).
    :ivar parts: (N,), the part of the object that each lies on.
    :ivar stretch: how the wanted texels lie among those that are computed; None where they are the same.
    """

    among: tuple[int, int]
    ys: np.ndarray
    xs: np.ndarray
    positions: np.ndarray
    normals: np.ndarray
    parts: np.ndarray
    stretch: Stretch | None

    def spread(self, values: np.ndarray) -> np.ndarray:
        """Values at the points, float32 (N,), as a field on the wanted texels, float32 (H, W)."""
        field = np.zeros(self.among, np.float32)
        field[self.ys, self.xs] = values
        return self.stretch(field) if self.stretch else field


# Texels about a chart that take its values where others are interpolated from them: as far as that looks from the texels
# about the chart on the finer level.
WIDER_PAD = 2.0


@dataclass(frozen=True)
class TexelPoints(Target):
    """Where the texels of an object lie, all of a level or those of patches: :class:`Points`.

    :ivar smooth_over: the largest texel that will do, metres: :meth:`cenote.signals.base.Signal.smooth_over`.
    """

    id: str
    level: int
    patches: Patches | None = None
    smooth_over: float = 0.0

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """All signals of a patch read them; those of a whole level are large."""
        return "nothing" if self.patches is None else "briefly"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        grid = Grid(self.id, self.level, self.patches)
        return {"shape": ObjectShape(self.id), "grid": grid, "level": self.level, "smooth_over": self.smooth_over}

    @staticmethod
    def make(read: Read) -> Points:
        shape: Shape = read.shape
        grid: TexelGrid = read.grid
        # Coarser ones from level 1 on: on cells charts lie too near each other for the wider border.
        step = min(int(np.log2(max(read.smooth_over / grid.texel, 1.0))), read.level - 1)
        stretch = None
        if step > 0:
            stretch = Stretch.over(shape.atlas, read.level, step, (*grid.origin, *grid.faces.shape))
            grid = texel_grid(shape.atlas, read.level - step, stretch.window, WIDER_PAD)
        ys, xs, positions, normals = texel_points(shape.atlas, grid, shape.corners, shape.normals)
        parts = shape.mesh.parts[grid.faces[ys, xs]]
        return Points(grid.faces.shape, ys, xs, positions, normals, parts, stretch)


@dataclass(frozen=True)
class Blocks:
    """Cells parted into square blocks of the layout, in order of their rows.

    :ivar order: int64 (N,), rows of the cells, block by block. :ivar first: int64 (B + 1,), where each begins there.
    :ivar at: int64 (B,), row of the block in the layout times its columns of blocks, plus its column.
    :ivar low, high: float64 (B, 3), boxes about their points, metres.
    """

    order: np.ndarray
    first: np.ndarray
    at: np.ndarray
    low: np.ndarray
    high: np.ndarray

    def __len__(self) -> int:
        return len(self.at)


def blocks_across(width: int) -> int:
    """How many blocks lie side by side in a layout of so many cells."""
    return -(-width // BLOCK)


@dataclass(frozen=True)
class Cells:
    """Level 0 of a surface: where its cells are, and how much of it each stands for.

    :ivar ys, xs: int64 (N,). :ivar samples: their world points, with parts but without their names.
    :ivar areas: float32 (h, w), m² that each cell stands for; 0 for padding and where there is no surface.
    """

    grid: TexelGrid
    ys: np.ndarray
    xs: np.ndarray
    samples: Samples
    areas: np.ndarray

    @cached_property
    def area(self) -> float:
        """All cells together, m²."""
        return float(self.areas.sum(dtype=np.float64))

    @cached_property
    def blocks(self) -> Blocks:
        """The cells block by block."""
        at = (self.ys // BLOCK) * blocks_across(self.areas.shape[1]) + self.xs // BLOCK
        order = np.argsort(at, kind="stable")
        names, first = np.unique(at[order], return_index=True)
        points = self.samples.positions[order]
        if not len(order):
            return Blocks(order, np.zeros(1, np.int64), names, np.zeros((0, 3)), np.zeros((0, 3)))
        low, high = (how.reduceat(points, first).astype(np.float64) for how in (np.minimum, np.maximum))
        return Blocks(order, np.append(first, len(order)), names, low, high)


@dataclass(frozen=True)
class ObjectCells(Target):
    """The cells of an object: :class:`Cells`."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"shape": ObjectShape(self.id), "grid": Grid(self.id, 0)}

    @staticmethod
    def make(read: Read) -> Cells:
        shape: Shape = read.shape
        grid: TexelGrid = read.grid
        ys, xs, positions, normals = texel_points(shape.atlas, grid, shape.corners, shape.normals)
        areas = np.zeros(grid.faces.shape, np.float32)
        faces = grid.faces[ys, xs]
        each = shape.stretch[faces] * grid.texel**2 * grid.inside[ys, xs]
        # A slat thinner than a cell is still drawn a cell wide: each chart's cells share its true area.
        charts = shape.atlas.charts
        true = np.bincount(charts, face_normals(shape.mesh.corners)[1])
        drawn = np.bincount(charts[faces], each, len(true))
        areas[ys, xs] = each * (true / np.maximum(drawn, 1e-12))[charts[faces]]
        return Cells(grid, ys, xs, Samples(positions, normals, shape.mesh.parts[faces]), areas)
