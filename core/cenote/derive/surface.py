"""Surfaces: objects with their texture layouts, placed in the world, and their cells."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..geometry.charts import Atlas
from ..geometry.mesh import Mesh, corner_normals, face_normals
from ..geometry.texels import TexelGrid
from ..signals.base import Samples

# Texels of one surface that is looked at.
MOST_TEXELS_SHOWN = 3_000_000
FINEST_LEVEL = 5


@dataclass
class Surface:
    """An object with its texture layout, placed in the world.

    :ivar id: its id in the document.
    :ivar mesh: in its own frame, metres.
    :ivar matrix: rigid 4×4, own frame to world.
    :ivar atlas: its texture layout.
    :ivar layout: hash of what decides the layout: wherever it stands, its texels are the same.
    :ivar digest: hash of mesh and place.
    :ivar materials: kind of material for each part.
    """

    id: str
    mesh: Mesh
    matrix: np.ndarray
    atlas: Atlas
    layout: str
    digest: str
    materials: tuple[str, ...]

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

    @cached_property
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
        a, b, c = (self.corners[faces, k].astype(np.float64) for k in range(3))
        normal = np.cross(b - a, c - a)
        size = np.maximum((normal * normal).sum(1), 1e-20)
        u = (np.cross(c - b, points - b) * normal).sum(1) / size
        v = (np.cross(a - c, points - c) * normal).sum(1) / size
        weights = np.clip(np.column_stack([u, v, 1 - u - v]), 0, 1)
        return np.asarray(np.einsum("nk,nki->ni", weights, self.atlas.corners[faces].astype(np.float64)))

    @property
    def coarsest_level(self) -> int:
        """The level of a first picture: cells, or texels of several cells where there would be many."""
        level, most = 0, 60_000
        while level > -2 and self.atlas.width * self.atlas.height * 4**level > most:
            level -= 1
        return level

    def level_for(self, texel: float, most: int = MOST_TEXELS_SHOWN) -> int:
        """The level whose texels are at most ``texel`` metres, as far as ``most`` texels allow."""
        level = int(np.clip(np.ceil(np.log2(self.atlas.cell / texel) - 0.01), 0, FINEST_LEVEL))
        while level > 0 and self.atlas.width * self.atlas.height * 4**level > most:
            level -= 1
        return level


@dataclass(frozen=True)
class Cells:
    """Level 0 of a surface: where its cells are, and how much of it each stands for.

    :ivar ys, xs: int64 (N,). :ivar samples: their world points.
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
