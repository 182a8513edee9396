"""How the pixels of a material's tile are laid over a plane, so that nobody sees where the tile repeats.

A tile that is laid side by side with itself is recognised in any wide wall or meadow. Two ways of laying avoid it:

- *mixed* and *turned*: the plane is in cells about the corners of a lattice of triangles; each takes the tile from another
  place (and turned some other way), and where cells meet, what stands higher in its relief covers what lies lower, so that
  stones, blades and grains stay whole. The lattice and its weights are those of Heitz and Neyret, "High-Performance
  By-Example Noise using a Histogram-Preserving Blending Operator" (2018); choosing by height in place of averaging is the
  usual blending of terrain textures.
- *by piece*: of what is laid in courses, each brick, slab or board of the plane is one of the tile, drawn by lot, from the
  middle of one joint to the middle of the next.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import carray, njit, types
from numba.core import cgutils
from numba.extending import intrinsic

from ..materials.canvas import lattice
from ..randomness import key_of, mix

# Values of a tile's pixel: linear red, green, blue; height, roughness, metalness.
CHANNELS = 6
REPEATED, MIXED, TURNED, BY_PIECE = range(4)
LAYINGS = {"repeated": REPEATED, "mixed": MIXED, "turned": TURNED, "by piece": BY_PIECE}

# A tile: where its pixels (uint16) and its pieces (float32) begin in memory, pixels a side, tiles a metre, metres of relief, how
# far its brightness drifts, how it is laid, the width of seams where cells meet, in cells,
# below 0 where what lies lower wins, and its courses: rows, pieces in a row, shift of every other row, and how far
# pieces differ in length.
TILE = np.dtype(
    [
        ("start", np.int64),
        ("pieces", np.int64),
        ("pixels", np.int64),
        ("per_metre", np.float64),
        ("relief", np.float32),
        ("uneven", np.float32),
        ("laying", np.int64),
        ("seam", np.float32),
        ("rows", np.int64),
        ("columns", np.int64),
        ("shift", np.float32),
        ("differ", np.float32),
    ],
    align=True,
)

_ONE, _HALF = np.float32(1), np.float32(0.5)
_WHOLE = np.float32(1 / 65535)
# Side of the lattice's triangles, in tiles.
CELL = 0.6
# Where cells meet they fade into each other over this share of their seam; in the rest what stands higher lies on top.
_FADE = np.float32(0.25)
# Lots: places in the tile and turns, and shares of one. A table, since they are drawn for every texel.
_LOTS = 4096
_ODD, _OTHER = np.uint64(0x9E3779B97F4A7C15), np.uint64(0xC2B2AE3D27D4EB4F)


def _lots() -> np.ndarray:
    random = lattice((_LOTS, 3), key_of("laying", 0))
    turns = random[:, 2] * np.float32(2 * np.pi)
    return np.column_stack([random[:, :2], np.cos(turns), np.sin(turns)]).astype(np.float32)


_TABLE = _lots()


@intrinsic
def _pointer(context: Any, address: Any) -> Any:
    """An address as a pointer."""

    def made(_: Any, builder: Any, __: Any, given: Any) -> Any:
        return builder.inttoptr(given[0], cgutils.voidptr_t)

    return types.voidptr(address), made


@njit(inline="always", cache=True)
def _lot(a, b, salt):  # type: ignore
    """A row of the table of lots for two whole numbers."""
    return int(mix((np.uint64(a) * _ODD + np.uint64(b)) * _OTHER + np.uint64(salt)) & np.uint64(_LOTS - 1))


@njit(inline="always", cache=True, fastmath=True)
def _between(tile, x, y):  # type: ignore
    """The four pixels about a place in tiles, as where they begin, and how far it lies between them, right and down. A tile
    wraps round; its side is a power of two."""
    n = tile.pixels
    x, y = x * n - _HALF, y * n - _HALF
    fx, fy = np.floor(x), np.floor(y)
    last = n - 1
    x0, y0 = int(fx) & last, int(fy) & last
    x1, up, down = ((x0 + 1) & last) * CHANNELS, y0 * n * CHANNELS, ((y0 + 1) & last) * n * CHANNELS
    x0 *= CHANNELS
    return up + x0, up + x1, down + x0, down + x1, np.float32(x - fx), np.float32(y - fy)


@njit(inline="always", cache=True, fastmath=True)
def _value(buffer, a, b, c, d, tx, ty):  # type: ignore
    one, two = np.float32(buffer[a]), np.float32(buffer[c])
    top = one + tx * (np.float32(buffer[b]) - one)
    low = two + tx * (np.float32(buffer[d]) - two)
    return (top + ty * (low - top)) * _WHOLE


@njit(inline="always", cache=True, fastmath=True)
def _pixels(tile):  # type: ignore
    return carray(_pointer(tile.start), (tile.pixels * tile.pixels * CHANNELS,), np.uint16)  # type: ignore[call-arg]


@njit(inline="always", cache=True, fastmath=True)
def _read(tile, x, y, out):  # type: ignore
    """The interpolated pixel at a place in tiles."""
    buffer = _pixels(tile)
    a, b, c, d, tx, ty = _between(tile, x, y)
    for k in range(CHANNELS):
        out[k] = _value(buffer, a + k, b + k, c + k, d + k, tx, ty)


@njit(inline="always", cache=True, fastmath=True)
def _set_off(tile, x, y, column, row):  # type: ignore
    """A place in tiles as the cell about a corner of the lattice has it."""
    lot = _lot(column, row, 0)
    # About its own corner, so that a place keeps its precision however far away the plane begins.
    x, y = np.float32(x - (column + 0.5 * row) * CELL), np.float32(y - row * (0.8660254 * CELL))
    if tile.laying == TURNED:
        cos, sin = _TABLE[lot, 2], _TABLE[lot, 3]
        x, y = cos * x - sin * y, sin * x + cos * y
    return x + _TABLE[lot, 0], y + _TABLE[lot, 1]


@njit(inline="always", cache=True, fastmath=True)
def _score(tile, weight, least, x, y, column, row):  # type: ignore
    """How the cell about a corner does where cells meet, by its weight and the height of its relief; and the place there."""
    if weight < least:
        return np.float32(-9), _HALF, _HALF
    right, down = _set_off(tile, x, y, column, row)
    a, b, c, d, tx, ty = _between(tile, right, down)
    return weight + tile.seam * _value(_pixels(tile), a + 3, b + 3, c + 3, d + 3, tx, ty), right, down


@njit(inline="always", cache=True, fastmath=True)
def _mixed(tile, x, y, out, other):  # type: ignore
    """The pixel where cells are mixed. :param x, y: tiles. :param other: float32 (6,), scratch."""
    down = y / (0.8660254 * CELL)
    right = x / CELL - 0.5 * down
    fr, fd = np.floor(right), np.floor(down)
    column, row = int(fr), int(fd)
    tr, td = np.float32(right - fr), np.float32(down - fd)
    # The corner that this triangle has for itself; the other two are shared with the one beside it.
    own, c, r = _ONE - tr - td, column, row
    if own < 0:
        own, c, r = -own, column + 1, row + 1
        tr, td = _ONE - td, _ONE - tr
    most = max(own, max(tr, td))
    seam, fade = abs(tile.seam), _FADE * abs(tile.seam)
    least = most - seam - fade
    if max(tr, td) < least:
        x0, y0 = _set_off(tile, x, y, c, r)
        _read(tile, x0, y0, out)
        return
    s0, x0, y0 = _score(tile, own, least, x, y, c, r)
    s1, x1, y1 = _score(tile, tr, least, x, y, column + 1, row)
    s2, x2, y2 = _score(tile, td, least, x, y, column, row + 1)
    best = max(s0, max(s1, s2)) - fade
    if s0 > best and s1 <= best and s2 <= best:
        _read(tile, x0, y0, out)
    elif s1 > best and s0 <= best and s2 <= best:
        _read(tile, x1, y1, out)
    elif s2 > best and s0 <= best and s1 <= best:
        _read(tile, x2, y2, out)
    else:
        w0, w1, w2 = max(s0 - best, np.float32(0)), max(s1 - best, np.float32(0)), max(s2 - best, np.float32(0))
        total = _ONE / (w0 + w1 + w2)
        for k in range(CHANNELS):
            out[k] = 0
        for corner in range(3):
            weight = w0 if corner == 0 else (w1 if corner == 1 else w2)
            if weight > 0:
                right_at = x0 if corner == 0 else (x1 if corner == 1 else x2)
                down_at = y0 if corner == 0 else (y1 if corner == 1 else y2)
                _read(tile, right_at, down_at, other)
                for k in range(CHANNELS):
                    out[k] += other[k] * weight * total


@njit(inline="always", cache=True, fastmath=True)
def _stray(tile, row, column):  # type: ignore
    """How far an upright joint of the plane strays, in pieces."""
    return (_TABLE[_lot(row, column, 1), 0] - _HALF) * np.float32(0.7) * tile.differ


@njit(inline="always", cache=True, fastmath=True)
def _by_piece(tile, x, y, out):  # type: ignore
    """The pixel of the piece that lies there. :param x, y: tiles."""
    floor = np.floor(y * tile.rows)
    row, down = int(floor), np.float32(y * tile.rows - floor)
    across = x * tile.columns + (row & 1) * tile.shift
    if tile.differ > np.float32(0.3):
        across += _TABLE[_lot(row, 0, 2), 0] * tile.differ
    column = int(np.floor(across))
    if across < column + _stray(tile, row, column):
        column -= 1
    elif across >= column + 1 + _stray(tile, row, column + 1):
        column += 1
    left = column + _stray(tile, row, column)
    right = column + 1 + _stray(tile, row, column + 1)
    way = np.float32((across - left) / (right - left))
    pieces = carray(_pointer(tile.pieces), (tile.rows * tile.columns * 2,), np.float32)  # type: ignore[call-arg]
    piece = int(_TABLE[_lot(row, column, 3), 1] * np.float32(tile.rows * tile.columns))
    from_row = np.float32(piece // tile.columns)
    _read(tile, pieces[2 * piece] + way * pieces[2 * piece + 1], (from_row + down) / np.float32(tile.rows), out)


@njit(inline="always", cache=True, fastmath=True)
def lay(tile, u, v, out, other):  # type: ignore
    """The pixel of a tile at a place of the plane.

    :param tile: a row of :data:`TILE`. :param u, v: to the right and down, float64, metres.
    :param out: float32 (6,): linear red, green, blue; height, roughness, metalness. :param other: as ``out``, scratch.
    """
    x, y = u * tile.per_metre, v * tile.per_metre
    if tile.laying == REPEATED:
        _read(tile, x, y, out)
    elif tile.laying == BY_PIECE:
        _by_piece(tile, x, y, out)
    else:
        _mixed(tile, x, y, out, other)


@njit(cache=True, nogil=True, fastmath=True)
def lay_out(tiles, size, out):  # type: ignore
    """Fill a plane with the first of some tiles.

    :param tiles: :data:`TILE` (T,). :param size: side of a texel, metres. :param out: float32 (H, W, 6), as :func:`lay` gives it.
    """
    pixel, other = np.empty(CHANNELS, np.float32), np.empty(CHANNELS, np.float32)
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            lay(tiles[0], (x + 0.5) * size, (y + 0.5) * size, pixel, other)
            out[y, x] = pixel
