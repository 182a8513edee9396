"""The pictures that the parts of a brought mesh are wrapped in, and reading them at the texels of a layout of ours."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit

from ..colour import linear_of
from ..geometry.charts import Atlas
from ..geometry.mesh import Mesh, face_normals
from ..geometry.texels import TexelGrid
from ..parallel import over_rows, rows_of

# Channels of a texel: linear red, green and blue; height, roughness, metalness. As tiles of materials have them.
CHANNELS = 6
# The side of a small copy of a texture that stands for it where materials are compared, pixels.
_SMALL = 64
_SRGB = linear_of(np.arange(256, dtype=np.float32) / 255).astype(np.float32)


@dataclass(frozen=True)
class OwnTexture:
    """What a part is wrapped in. Pictures of one pixel are one value for all of it.

    :ivar base: uint8 (h, w, 3), sRGB. :ivar surface: uint8 (h, w, 2), roughness and metalness. :ivar height: uint16 (h, w), 65535 for its highest.
    :ivar span: how far its highest is above its lowest, in pixels of ``height``; 0 for no relief.
    :ivar cut: uint8 (h, w), what is there of it: below a half it is cut away; None where nothing is.
    """

    base: np.ndarray
    surface: np.ndarray
    height: np.ndarray
    span: float
    cut: np.ndarray | None = None


@dataclass(frozen=True)
class OwnTextures:
    """What the parts of a mesh are wrapped in.

    :ivar rows: int32 (P,), for each part the row of its texture, -1 for none. :ivar textures: each once, however many parts share it.
    """

    rows: np.ndarray
    textures: tuple[OwnTexture, ...]

    def of(self, part: int) -> OwnTexture:
        """The texture of a part. A mesh that was put beside the textures of another shows the last there are."""
        return self.textures[self.row(part)]

    def row(self, part: int) -> int:
        """The row of a part's texture."""
        return int(self.rows[min(part, len(self.rows) - 1)])

    def as_arrays(self) -> dict[str, np.ndarray]:
        """Rows and spans, (P,) and (T,), and of each texture base (h, w, 3), surface (h, w, 2) and height (h, w) under its row, for files."""
        out = {"rows": self.rows, "spans": np.array([one.span for one in self.textures], np.float32)}
        for row, one in enumerate(self.textures):
            out |= {f"{row}/base": one.base, f"{row}/surface": one.surface, f"{row}/height": one.height}
            if one.cut is not None:
                out[f"{row}/cut"] = one.cut
        return out

    @staticmethod
    def from_arrays(arrays: Mapping[str, np.ndarray]) -> OwnTextures:
        """The textures of :meth:`as_arrays`; ``arrays`` as that gives them, each (h, w, …), (P,) or (T,)."""
        each = [OwnTexture(arrays[f"{row}/base"], arrays[f"{row}/surface"], arrays[f"{row}/height"], float(span), arrays.get(f"{row}/cut"))
                for row, span in enumerate(arrays["spans"])]  # fmt: skip
        return OwnTextures(arrays["rows"], tuple(each))


def is_wrapped(mesh: Mesh) -> np.ndarray:
    """Which parts of a mesh are wrapped in textures of their own, bool (P,): those whose texture coordinates are numbers."""
    found = np.zeros(len(mesh.part_names), bool)
    if mesh.uv is not None:
        found[mesh.parts[np.isfinite(mesh.uv[mesh.faces[:, 0], 0])]] = True
    return found


def metres_a_width(mesh: Mesh, part: int) -> float:
    """How long the width of a part's texture is on it, metres: by the areas of its triangles here and there; 1 where they have none in the texture."""
    faces = mesh.faces[mesh.parts == part]
    if mesh.uv is None or not len(faces):
        return 1.0
    (ax, ay), (bx, by) = (np.moveaxis(mesh.uv[faces[:, k]] - mesh.uv[faces[:, 0]], -1, 0) for k in (1, 2))
    there = float(np.abs(ax * by - ay * bx).sum() / 2)
    here = float(face_normals(mesh.positions[faces])[1].sum())
    return float(np.sqrt(here / there)) if there > 1e-9 and here > 0 else 1.0


def relief_of(texture: OwnTexture, width: float) -> float:
    """Metres between the lowest and the highest of a texture. :param width: metres that its width is long."""
    return texture.span * width / texture.height.shape[1]


def halved(picture: np.ndarray) -> np.ndarray:
    """A picture (h, w, …) of half as many rows and columns, whatever is odd left out."""
    rows, columns = (max(side // 2, 1) for side in picture.shape[:2])
    if picture.shape[0] < 2 or picture.shape[1] < 2:
        return picture
    some = picture[: rows * 2, : columns * 2].astype(np.uint32)
    mean = (some[::2, ::2] + some[1::2, ::2] + some[::2, 1::2] + some[1::2, 1::2] + 2) // 4
    return np.asarray(mean.astype(picture.dtype))


def as_fine(picture: np.ndarray, width: float, texel: float) -> np.ndarray:
    """A picture (h, w, …) averaged down until its pixels are about as large as a texel. :param width, texel: metres."""
    while min(picture.shape[:2]) > 1 and width / picture.shape[1] * 1.42 < texel:
        picture = halved(picture)
    return picture


def small(texture: OwnTexture) -> np.ndarray:
    """A small copy of a texture as tiles of materials have it, uint16 (64, 64, 6), 65535 for 1."""
    out = np.empty((_SMALL, _SMALL, CHANNELS), np.float32)
    for picture, into in ((texture.base, slice(0, 3)), (texture.height, slice(3, 4)), (texture.surface, slice(4, 6))):
        rows, columns = (np.arange(_SMALL) * side // _SMALL for side in picture.shape[:2])
        some = picture[rows[:, None], columns[None]].reshape(_SMALL, _SMALL, -1)
        out[..., into] = some / np.float32(np.iinfo(picture.dtype).max)
    out[..., :3] = linear_of(out[..., :3])
    return np.asarray(np.round(out * 65535).astype(np.uint16))


@njit(inline="always", cache=True)
def _corner(at, side):  # type: ignore
    """The pixels left and right of a place on a side that goes round, and how far it is from the first to the second."""
    at = (at - np.floor(at)) * side - 0.5
    first = int(np.floor(at))
    return first % side, (first + 1) % side, np.float32(at - first)


@njit(cache=True, nogil=True)
def _wrapped(faces, place, geometry, part, pictures, srgb, out, first, beyond):  # type: ignore
    row, column, fine = place
    corners, uv, colours, parts = geometry
    base, surface, height = pictures
    full = np.float32(65535)
    for y in range(first, beyond):
        for x in range(faces.shape[1]):
            face = faces[y, x]
            if face < 0 or parts[face] != part:
                continue
            px, py = (x + column + 0.5) / fine, (y + row + 0.5) / fine
            ax, ay = corners[face, 0, 0], corners[face, 0, 1]
            bx, by = corners[face, 1, 0] - ax, corners[face, 1, 1] - ay
            cx, cy = corners[face, 2, 0] - ax, corners[face, 2, 1] - ay
            size = bx * cy - by * cx
            if abs(size) < 1e-12:
                size = 1e-12
            s = ((px - ax) * cy - (py - ay) * cx) / size
            t = (bx * (py - ay) - by * (px - ax)) / size
            # In the border of a chart, beyond its face, what the face has at its rim goes on: beside it in the picture may lie anything.
            s, t = max(s, 0.0), max(t, 0.0)
            if s + t > 1:
                s, t = s / (s + t), t / (s + t)
            r = 1 - s - t
            u = r * uv[face, 0, 0] + s * uv[face, 1, 0] + t * uv[face, 2, 0]
            v = r * uv[face, 0, 1] + s * uv[face, 1, 1] + t * uv[face, 2, 1]
            a, b, across = _corner(u, base.shape[1])
            c, d, down = _corner(v, base.shape[0])
            for k in range(3):
                upper = srgb[base[c, a, k]] + (srgb[base[c, b, k]] - srgb[base[c, a, k]]) * across
                lower = srgb[base[d, a, k]] + (srgb[base[d, b, k]] - srgb[base[d, a, k]]) * across
                factor = r * colours[face, 0, k] + s * colours[face, 1, k] + t * colours[face, 2, k]
                out[y, x, k] = np.uint16(min(max((upper + (lower - upper) * down) * factor, 0.0), 1.0) * full)
            a, b, across = _corner(u, height.shape[1])
            c, d, down = _corner(v, height.shape[0])
            upper = height[c, a] + (float(height[c, b]) - height[c, a]) * across
            lower = height[d, a] + (float(height[d, b]) - height[d, a]) * across
            out[y, x, 3] = np.uint16(upper + (lower - upper) * down)
            a, b, across = _corner(u, surface.shape[1])
            c, d, down = _corner(v, surface.shape[0])
            for k in range(2):
                upper = surface[c, a, k] + (float(surface[c, b, k]) - surface[c, a, k]) * across
                lower = surface[d, a, k] + (float(surface[d, b, k]) - surface[d, a, k]) * across
                out[y, x, 4 + k] = np.uint16((upper + (lower - upper) * down) / np.float32(255) * full)
            out[y, x, 4] = max(out[y, x, 4], np.uint16(1))


def texels_of(
    mesh: Mesh, shown: Sequence[bool] | np.ndarray, own: OwnTextures, atlas: Atlas, grid: TexelGrid
) -> np.ndarray:
    """What a brought mesh is wrapped in at the texels of a layout of ours, uint16 (H, W, 6), as tiles of materials have it. Roughness is above 0 wherever
    a texture tells, and 0 everywhere else.

    :param mesh: with texture coordinates, v downwards, and perhaps colours, which are multiplied with the pictures'. :param shown: for each part whether it shows its
        texture.
    """
    out = np.zeros((*grid.faces.shape, CHANNELS), np.uint16)
    if mesh.uv is None:
        return out
    uv = np.nan_to_num(mesh.uv[mesh.faces]).astype(np.float32)
    colours = np.ones((len(mesh.faces), 3, 3), np.float32) if mesh.colours is None else mesh.colours[mesh.faces]
    place = (*grid.origin, 2.0**grid.level)
    here = np.bincount(mesh.parts[np.maximum(grid.faces, 0)].ravel(), grid.faces.ravel() >= 0, len(mesh.part_names))
    geometry = (atlas.corners, uv, np.ascontiguousarray(colours, np.float32), mesh.parts)
    for part in np.flatnonzero(np.asarray(shown, bool) & (here > 0)).tolist():
        width, one = metres_a_width(mesh, part), own.of(part)
        pictures = tuple(as_fine(picture, width, grid.texel) for picture in (one.base, one.surface, one.height))
        given = (grid.faces, place, geometry, part, pictures, _SRGB, out)
        over_rows(lambda first, beyond, given=given: _wrapped(*given, first, beyond), len(out), rows_of(out.shape[1]))  # type: ignore[misc, call-arg]
    return out
