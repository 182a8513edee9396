"""The compositor: final maps of a surface from its materials and the covers over them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numba import njit

from ..colour import SRGB_BYTES
from ..decals.laying import CHANNELS as OF_DECALS
from ..decals.laying import Decalled
from ..geometry.barycentric import weights_of
from ..geometry.charts import Atlas
from ..geometry.texels import TexelGrid, stretch_table
from ..parallel import over_rows, rows_of
from .base import CoverLook
from .blend import GRADE, LAID, LOOK, NO_WATER, asked, blend, look_row
from .laying import CHANNELS as OF_TILES
from .tiles import LaidTile, rows_of_tiles

_NO_OWN = np.zeros((0, 0, OF_TILES), np.uint16)
_NO_DECALS = Decalled(np.zeros((0, 0), np.int32), np.zeros((0, OF_DECALS), np.float32))


@dataclass(frozen=True)
class LaidCover:
    """A cover ready for the compositor.

    :ivar tiles: what it is made of on each of the surface's own tiles: one for all of them, or one for each.
    :ivar mask: float32 (H, W) in [0, 1].
    :ivar look: its numbers, as :class:`cenote.weather.base.CoverLook` gives them.
    :ivar holds: how well it holds to each of the surface's own tiles, float (T,) in [0, 1]; None for everywhere.
    :ivar waits: how far it keeps to where each of these has been bared, float (T,) in [0, 1]; None for not at all.
    :ivar level: where its water stands, float32 (h, w) on cells, metres in the world, :data:`NO_WATER` where there is none;
        None for what fills the relief by its mask alone.
    """

    tiles: tuple[LaidTile, ...]
    mask: np.ndarray
    look: CoverLook
    holds: np.ndarray | None = None
    waits: np.ndarray | None = None
    level: np.ndarray | None = None


@dataclass(frozen=True)
class Placed:
    """Where a surface stands in the world: what water that stands on it goes by.

    :ivar corners, normals: float32 (M, 3, 3), metres, and unit normals for shading.
    :ivar rights: unit float32 (M, 3), the world's way that is to the right in the texture of each face.
    """

    corners: np.ndarray
    normals: np.ndarray
    rights: np.ndarray

    def heights(self, flat: np.ndarray) -> np.ndarray:
        """The height of each face's plane over its place in the layout, float32 (M, 3): a number, and metres up for each metre
        to the right and down. :param flat: float32 (M, 3, 2), the layout, metres."""
        at = flat.astype(np.float64)
        (ax, ay), (bx, by) = ((at[:, k] - at[:, 0]).T for k in (1, 2))
        up, over = (self.corners[:, k, 1].astype(np.float64) - self.corners[:, 0, 1] for k in (1, 2))
        area = ax * by - ay * bx
        area = np.where(np.abs(area) < 1e-12, np.inf, area)
        right, down = (up * by - over * ay) / area, (over * ax - up * bx) / area
        start = self.corners[:, 0, 1] - right * at[:, 0, 0] - down * at[:, 0, 1]
        return np.column_stack([start, right, down]).astype(np.float32)


@lru_cache(maxsize=4096)
def _asked(joints: float, softness: float, below: bytes, grain: bytes) -> np.ndarray:
    return asked(joints, softness, *(np.frombuffer(one, np.float32) for one in (below, grain)))


@dataclass(frozen=True)
class Maps:
    """Final maps of one surface.

    :ivar base: uint8 (H, W, 4), sRGB colour; alpha is 255 on the surface and its padding, else 0.
    :ivar orm: uint8 (H, W, 4): occlusion, roughness, metalness, 255. Linear.
    :ivar normal: uint8 (H, W, 4), tangent space, +Y up in the picture, 255.
    :ivar height: float32 (H, W), metres above the mesh.
    """

    base: np.ndarray
    orm: np.ndarray
    normal: np.ndarray
    height: np.ndarray


@njit(inline="always", cache=True)
def _together(one, other, charts):  # type: ignore
    """Whether two faces lie in one chart, so that a slope between their texels is real."""
    return one == other or (one >= 0 and charts[one] == charts[other])


@njit(cache=True, nogil=True, fastmath=True)
def _normals(faces, charts, height, texel, normal, first, beyond):  # type: ignore
    rows, columns = faces.shape
    step = np.float32(0.5 / texel)
    for y in range(first, beyond):
        for x in range(columns):
            face = faces[y, x]
            if face < 0:
                continue
            here = height[y, x]
            left, right, up, down = here, here, here, here
            if x > 0 and _together(faces[y, x - 1], face, charts):
                left = height[y, x - 1]
            if x + 1 < columns and _together(faces[y, x + 1], face, charts):
                right = height[y, x + 1]
            if y > 0 and _together(faces[y - 1, x], face, charts):
                up = height[y - 1, x]
            if y + 1 < rows and _together(faces[y + 1, x], face, charts):
                down = height[y + 1, x]
            dx, dy = (right - left) * step, (down - up) * step
            length = np.float32(1) / np.sqrt(dx * dx + dy * dy + np.float32(1))
            normal[y, x, 0] = np.uint8(
                (np.float32(0.5) - np.float32(0.5) * dx * length) * np.float32(255) + np.float32(0.5)
            )
            normal[y, x, 1] = np.uint8(
                (np.float32(0.5) + np.float32(0.5) * dy * length) * np.float32(255) + np.float32(0.5)
            )
            normal[y, x, 2] = np.uint8((np.float32(0.5) + np.float32(0.5) * length) * np.float32(255) + np.float32(0.5))
            normal[y, x, 3] = 255


def compose(
    atlas: Atlas,
    grid: TexelGrid,
    tiles: Sequence[LaidTile],
    face_tile: np.ndarray,
    face_grade: np.ndarray,
    covers: Sequence[LaidCover],
    occlusion: np.ndarray,
    drift: np.ndarray,
    relief: bool = True,
    placed: Placed | None = None,
    among: tuple[float, tuple[int, int]] | None = None,
    decals: tuple[Decalled | None, Decalled | None] = (None, None),
    own: np.ndarray | None = None,
) -> Maps:
    """Make the final maps of a surface at one level.

    :param tiles: the materials of the surface's parts, shrunk for the level.
    :param face_tile: int32 (M,), for each face a row of ``tiles``.
    :param face_grade: float32 (M, 5), for each face a factor on brightness, a tint (red, green, blue), and how strong
        the tint is: above 0 it multiplies, below 0 it is laid on as soft light.
    :param covers: from the lowest to the uppermost.
    :param occlusion: float32 (h, w) on cells, or on texels where these are larger; 0 open to 1 closed.
    :param drift: float32 (h, w) as the occlusion, slow noise in [0, 1].
    :param relief: false leaves the normal map flat, which is quicker.
    :param placed: where it stands; needed where water stands on it.
    :param among: where ``occlusion``, ``drift`` and levels of water are on some finer cells of their own: texels a cell, and
        row and column of the first texel against the first of these.
    :param decals: what lies under the covers, and what over them.
    :param own: uint16 (H, W, 6), textures of its own as tiles have them, in place of ``tiles`` where their roughness is above 0; None for none.
    """
    rows, columns = grid.faces.shape
    everything = list(tiles)
    numbers = {id(tile): row for row, tile in enumerate(everything)}
    laid = np.zeros((len(covers), len(tiles)), LAID)
    for c, cover in enumerate(covers):
        for t in range(len(tiles)):
            tile = cover.tiles[t] if len(cover.tiles) > 1 else cover.tiles[0]
            if id(tile) not in numbers:
                numbers[id(tile)] = len(everything)
                everything.append(tile)
            laid[c, t]["tile"] = numbers[id(tile)]
            edge = cover.look.joints, cover.look.softness
            laid[c, t]["asks"] = _asked(*edge, tiles[t].heights.tobytes(), tile.heights.tobytes())
        laid[c]["holds"] = 1.0 if cover.holds is None else cover.holds
        laid[c]["waits"] = 0.0 if cover.waits is None else cover.waits
    looks = np.array([look_row(cover.look) for cover in covers], LOOK)
    masks = np.stack([cover.mask for cover in covers]) if covers else np.zeros((0, 1, 1), np.float32)
    # On its chart's plane a texel lies at (cells × cell + shift) metres: materials keep true scale.
    shift = atlas.flat[:, 0].astype(np.float64) - atlas.corners[:, 0].astype(np.float64) * atlas.cell
    base, orm, normal = (np.zeros((rows, columns, 4), np.uint8) for _ in range(3))
    height = np.zeros((rows, columns), np.float32)
    levels = [cover.level for cover in covers if cover.level is not None and placed is not None]
    standing = np.full(len(covers), -1, np.int64)
    standing[[c for c, cover in enumerate(covers) if cover.level is not None and placed is not None]] = range(
        len(levels)
    )
    planes = placed.heights(atlas.flat) if placed is not None and levels else np.zeros((0, 3), np.float32)
    water = (standing, np.stack(levels) if levels else np.full((0, 1, 1), NO_WATER, np.float32), planes)
    wet = np.zeros(height.shape if levels else (0, 0), np.float32)
    # On the whole level, of which this may be a window.
    whole = (
        round(side * 2.0**grid.level) / had for side, had in zip((atlas.height, atlas.width), drift.shape, strict=True)
    )
    scales, firsts = (whole, grid.origin) if among is None else ((among[0], among[0]), among[1])
    lies = zip(drift.shape, (rows, columns), scales, firsts, strict=True)
    down, across = (stretch_table(had, wanted, scale, first) for had, wanted, scale, first in lies)
    grades = np.ascontiguousarray(face_grade, np.float32).view(GRADE)[:, 0]
    surface = (grid.faces, np.ascontiguousarray(face_tile, np.int32), grades, shift, *grid.origin)
    size = atlas.cell / 2.0**grid.level
    given = (
        surface,
        size,
        rows_of_tiles(everything),
        _NO_OWN if own is None else own,
        (looks, laid, masks),
        water,
        (occlusion, drift),
        (*down, *across),
        tuple(part for one in decals for part in one or _NO_DECALS),
        SRGB_BYTES,
        (base, orm, height, wet),
    )
    over_rows(lambda a, b: blend(*given, a, b), rows, rows_of(columns))
    if not relief:
        normal[grid.faces >= 0] = 128, 128, 255, 255
        return Maps(base, orm, normal, height)
    over_rows(lambda a, b: _normals(grid.faces, atlas.charts, height, grid.texel, normal, a, b), rows, rows_of(columns))
    if placed is not None and levels:
        _level(atlas, grid, placed, wet, normal)
    _fill_outside(grid.faces, base, orm, normal)
    return Maps(base, orm, normal, height)


def _level(atlas: Atlas, grid: TexelGrid, placed: Placed, wet: np.ndarray, normal: np.ndarray) -> None:
    """Let normals look straight up as far as water stands."""
    ys, xs = np.nonzero((wet > 0) & (grid.faces >= 0))
    faces = grid.faces[ys, xs]
    row, column = grid.origin
    places = np.column_stack([xs + column + 0.5, ys + row + 0.5, np.zeros(len(xs))]) / 2.0**grid.level
    shares = weights_of(np.pad(atlas.corners[faces], ((0, 0), (0, 0), (0, 1))), places)
    normals = (placed.normals[faces] * shares[:, :, None]).sum(1)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)
    right = placed.rights[faces] - normals * (normals * placed.rights[faces]).sum(1, keepdims=True)
    right /= np.maximum(np.linalg.norm(right, axis=1, keepdims=True), 1e-9)
    up = np.column_stack([right[:, 1], np.cross(normals, right)[:, 1], normals[:, 1]])
    # Half wet is a shore, and its water as upright as the rest.
    share = np.minimum(2 * wet[ys, xs, None], 1)
    leans = normal[ys, xs, :3] / 127.5 - 1
    leans += share * (up - leans)
    leans /= np.maximum(np.linalg.norm(leans, axis=1, keepdims=True), 1e-9)
    normal[ys, xs, :3] = np.round((leans + 1) * 127.5).astype(np.uint8)


def _fill_outside(faces: np.ndarray, base: np.ndarray, orm: np.ndarray, normal: np.ndarray) -> None:
    """Give texels outside the charts what the surface has on average, so that its smaller copies do not darken; their
    alpha stays 0."""
    # Some texels tell the average as well as all of them.
    step = 4 if (faces[::4, ::4] >= 0).any() else 1
    some = faces[::step, ::step] >= 0
    for pixels in (base, orm):
        if some.any():
            _fill(faces, pixels, np.round(pixels[::step, ::step][some][:, :3].mean(0)).astype(np.uint8))
    _fill(faces, normal, np.array([128, 128, 255], np.uint8))


@njit(cache=True, nogil=True)
def _fill(faces, pixels, pixel):  # type: ignore
    for y in range(faces.shape[0]):
        for x in range(faces.shape[1]):
            if faces[y, x] < 0:
                for k in range(3):
                    pixels[y, x, k] = pixel[k]
