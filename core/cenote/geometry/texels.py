"""Which face each texel of an atlas shows, and where in the world that is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from ..parallel import over_rows
from .charts import Atlas

# Texels outside a chart that still take the nearest face's values, so that interpolation at an edge is right.
PAD = 1.5


@njit(cache=True, nogil=True)
def _raster(corners, scale, row, column, pad, faces, gap, first, beyond):  # type: ignore
    width = faces.shape[1]
    for face in range(len(corners)):
        ax, ay = corners[face, 0, 0] * scale - column, corners[face, 0, 1] * scale - row
        bx, by = corners[face, 1, 0] * scale - column, corners[face, 1, 1] * scale - row
        cx, cy = corners[face, 2, 0] * scale - column, corners[face, 2, 1] * scale - row
        top = max(first, int(np.floor(min(ay, by, cy) - pad)))
        bottom = min(beyond, int(np.ceil(max(ay, by, cy) + pad)))
        if top >= bottom:
            continue
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        if abs(area) < 1e-12:
            continue
        left = max(0, int(np.floor(min(ax, bx, cx) - pad)))
        right = min(width, int(np.ceil(max(ax, bx, cx) + pad)))
        # Signed distances in texels to the three sides, positive inside.
        la = np.hypot(cx - bx, cy - by)
        lb = np.hypot(ax - cx, ay - cy)
        lc = np.hypot(bx - ax, by - ay)
        sign = 1.0 if area > 0 else -1.0
        for y in range(top, bottom):
            for x in range(left, right):
                px, py = x + 0.5, y + 0.5
                u = sign * ((bx - px) * (cy - py) - (cx - px) * (by - py)) / la
                v = sign * ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / lb
                w = sign * ((ax - px) * (by - py) - (bx - px) * (ay - py)) / lc
                outside = max(-min(u, min(v, w)), 0.0)
                if outside <= pad and outside < gap[y, x]:
                    gap[y, x] = outside
                    faces[y, x] = face


@dataclass(frozen=True)
class TexelGrid:
    """The texels of an atlas at one level; level 0 is one texel a cell, each further level halves the side.

    Levels down to −3, whose texels are several cells wide, serve quick previews.

    :ivar faces: int32 (H, W), the face shown; -1 where there is none.
    :ivar inside: bool (H, W), whether the texel's centre lies on its face; the rest are padding around charts.
    :ivar texel: the side of a texel in metres.
    :ivar origin: row and column, among all texels of the level, of its first texel: of a window above 0.
    """

    faces: np.ndarray
    inside: np.ndarray
    level: int
    texel: float
    origin: tuple[int, int] = (0, 0)


# A part of a level: its first row and column, and how many there are of each. It may reach beyond the level's edge.
Window = tuple[int, int, int, int]


def texel_grid(atlas: Atlas, level: int, window: Window | None = None, pad: float = PAD) -> TexelGrid:
    """Draw the faces of an atlas into texels: of a whole level, or of a window of it.

    :param pad: texels outside a chart that take the nearest face's values; charts lie further apart the finer the level.
    """
    scale = 2.0**level
    row, column, rows, columns = window or (0, 0, int(atlas.height * scale), int(atlas.width * scale))
    faces = np.full((rows, columns), -1, np.int32)
    gap = np.full(faces.shape, np.inf, np.float32)
    given = (atlas.corners, scale, row, column, pad, faces, gap)
    over_rows(lambda a, b: _raster(*given, a, b), rows, least=32)
    return TexelGrid(faces, gap <= 1e-6, level, atlas.cell / scale, (row, column))


@njit(cache=True, nogil=True)
def _sample(ys, xs, faces, row, column, corners, positions, normals, scale, out_p, out_n, a, b):  # type: ignore
    for i in range(a, b):
        face = faces[ys[i], xs[i]]
        x, y = (xs[i] + column + 0.5) / scale, (ys[i] + row + 0.5) / scale
        ax, ay = corners[face, 0, 0], corners[face, 0, 1]
        bx, by = corners[face, 1, 0], corners[face, 1, 1]
        cx, cy = corners[face, 2, 0], corners[face, 2, 1]
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        u = min(max(((bx - x) * (cy - y) - (cx - x) * (by - y)) / area, 0.0), 1.0)
        v = min(max(((cx - x) * (ay - y) - (ax - x) * (cy - y)) / area, 0.0), 1.0)
        w = min(max(1.0 - u - v, 0.0), 1.0)
        total = u + v + w
        u, v, w = u / total, v / total, w / total
        length = 0.0
        for k in range(3):
            out_p[i, k] = u * positions[face, 0, k] + v * positions[face, 1, k] + w * positions[face, 2, k]
            out_n[i, k] = u * normals[face, 0, k] + v * normals[face, 1, k] + w * normals[face, 2, k]
            length += out_n[i, k] * out_n[i, k]
        length = 1.0 / np.sqrt(max(length, 1e-12))
        for k in range(3):
            out_n[i, k] *= length


@njit(cache=True, nogil=True)
def _shown(faces):  # type: ignore
    count = 0
    for face in faces.ravel():
        count += face >= 0
    ys, xs = np.empty(count, np.int64), np.empty(count, np.int64)
    at = 0
    for y in range(faces.shape[0]):
        for x in range(faces.shape[1]):
            if faces[y, x] >= 0:
                ys[at], xs[at] = y, x
                at += 1
    return ys, xs


def texel_points(atlas: Atlas, grid: TexelGrid, positions: np.ndarray, normals: np.ndarray):
    """Where the shown texels are. Padding texels are pulled back onto their face.

    :param positions, normals: float32 (M, 3, 3), at the corners of the faces.
    :returns: rows and columns int64 (N,), positions and unit normals float32 (N, 3).
    """
    ys, xs = _shown(grid.faces)
    return ys, xs, *points_of(atlas, grid, positions, normals, ys, xs)


def points_of(
    atlas: Atlas, grid: TexelGrid, positions: np.ndarray, normals: np.ndarray, ys: np.ndarray, xs: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Where some shown texels are: positions and unit normals, float32 (N, 3) each. :param positions, normals: as for :func:`texel_points`.

    :param ys, xs: int64 (N,), their rows and columns.
    """
    out_p, out_n = np.empty((len(ys), 3), np.float32), np.empty((len(ys), 3), np.float32)
    corners = (ys, xs, grid.faces, *grid.origin, atlas.corners, positions, normals, 2.0**grid.level)
    over_rows(lambda a, b: _sample(*corners, out_p, out_n, a, b), len(ys), least=4096)
    return out_p, out_n


def stretch_table(columns: int, texels: int, scale: float, first: float = 0) -> tuple[np.ndarray, np.ndarray]:
    """For each texel of a row the cell to its left and how far it lies towards the next one.

    :param columns: cells in a row; texels beyond the middles of the outermost cells keep those cells' values.
    :param scale: texels a cell. :param first: the number of the first texel against the first cell, in a window of a row.
    :returns: int32 (texels,) in [0, max(columns - 2, 0)], float32 (texels,) in [0, 1].
    """
    at = np.clip((np.arange(texels) + first + 0.5) / scale - 0.5, 0, max(columns - 1, 0))
    left = np.minimum(at.astype(np.int32), max(columns - 2, 0)).astype(np.int32)
    return left, (at - left).astype(np.float32)


@njit(inline="always", cache=True, fastmath=True)
def stretch_row(field, row, towards, left, share, between, out):  # type: ignore
    """Interpolate one row of texels from a field on cells, bilinearly; rows first, which is four times less work.

    :param field: float32 (h, w). :param row, towards: its row above, and how far the texels lie towards the next one.
    :param left, share: as :func:`stretch_table` gives them. :param between: float32 (w + 1,), room to work in.
    :param out: float32 (W,).
    """
    below = min(row + 1, field.shape[0] - 1)
    width = field.shape[1]
    for x in range(width):
        between[x] = field[row, x] + towards * (field[below, x] - field[row, x])
    between[width] = between[width - 1]
    for x in range(out.shape[0]):
        a = between[left[x]]
        out[x] = a + share[x] * (between[left[x] + 1] - a)


@njit(cache=True, nogil=True)
def _stretch(field, rows, sinks, left, share, out, first, beyond):  # type: ignore
    between = np.empty(field.shape[1] + 1, np.float32)
    for y in range(first, beyond):
        stretch_row(field, rows[y], sinks[y], left, share, between, out[y])


@dataclass(frozen=True)
class Stretch:
    """How the texels of a window lie among those of a coarser level, for interpolation.

    :ivar window: the coarser texels that it takes. :ivar down, across: as :func:`stretch_table` gives them, within these.
    """

    window: Window
    down: tuple[np.ndarray, np.ndarray]
    across: tuple[np.ndarray, np.ndarray]

    @staticmethod
    def over(atlas: Atlas, level: int, step: int, window: Window) -> Stretch:
        """How a window of a level lies among the texels of the one so many levels coarser."""
        tables, bounds = [], []
        for whole, first, texels in zip((atlas.height, atlas.width), window[:2], window[2:], strict=True):
            left, share = stretch_table(int(whole * 2.0 ** (level - step)), texels, 2.0**step, first)
            begin = int(left.min())
            tables.append(((left - begin).astype(np.int32), share))
            bounds.append((begin, int(left.max()) + 2 - begin))
        (row, rows), (column, columns) = bounds
        return Stretch((row, column, rows, columns), *tables)

    def __call__(self, field: np.ndarray) -> np.ndarray:
        """Interpolate a field bilinearly. :param field: float32 (h, w), on ``window``. :returns: float32 (H, W)."""
        out = np.empty((len(self.down[0]), len(self.across[0])), np.float32)
        given = (field, *self.down, *self.across, out)
        over_rows(lambda a, b: _stretch(*given, a, b), len(out), least=32)
        return out
