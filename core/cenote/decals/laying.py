"""Decals on the texels of a surface: projected along the axes of their boxes, the uppermost last."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numba import njit
from scipy.special import ndtri

from ..geometry.charts import Atlas
from ..geometry.texels import PAD, TexelGrid, points_of
from ..parallel import over_rows
from .base import Decal, Ink, Sheet, ramp

# What is kept of a texel: red, green and blue, opacity, roughness, metalness, metres of relief, and how far relief below is bridged.
CHANNELS = 8
# Decals drawn side by side before they are laid: what they are drawn on is held meanwhile.
_AT_ONCE = 32
# Less than that counts for nothing.
_FAINTEST = 1e-4
# Share of a box's reach over which a decal ends.
_ENDS = 0.15
# Metres across the flecks in which decals wear off, how much their noise varies, and the width of their edges in it.
_FLECKS, _VARIES, _EDGE = 0.06, 0.119, 0.02
# The channel of noise of these.
_WORN = 900


class Decalled(NamedTuple):
    """What decals come to on the texels of a surface.

    ``row`` is int32 (H, W), the row of each texel in ``values``, -1 where there is no decal; ``values`` float32 (K, :data:`CHANNELS`).
    """

    row: np.ndarray
    values: np.ndarray


@dataclass(frozen=True)
class Boxed:
    """A decal in its box.

    :ivar decal: what it shows. :ivar matrix: rigid float64 (4, 4), from the box to the world: x to its right, y out of the surface, z down its picture.
    :ivar size: width, height and reach of the box, metres. :ivar seed: see :class:`cenote.decals.base.Sheet`.
    :ivar opacity: in [0, 1]. :ivar relief: factor on its relief. :ivar gloss: in [-1, 1], how much smoother it is.
    :ivar limit, fades: degrees between surface and box where it ends, and over which it fades before. :ivar both_sides: whether it is laid on what looks away, too.
    :ivar mirrored: whether left and right are exchanged. :ivar gone: the share of it that has worn off, in [0, 1].
    """

    decal: Decal
    matrix: np.ndarray
    size: tuple[float, float, float]
    seed: int = 1
    opacity: float = 1.0
    relief: float = 1.0
    gloss: float = 0.0
    limit: float = 70.0
    fades: float = 15.0
    both_sides: bool = False
    mirrored: bool = False
    gone: float = 0.0

    def holds(self, points: np.ndarray) -> np.ndarray:
        """Which points lie in it, bool (N,). :param points: float (N, 3), metres."""
        own = np.abs((points - self.matrix[:3, 3]) @ self.matrix[:3, :3])
        return np.asarray((own <= np.array([self.size[0], self.size[2], self.size[1]]) / 2).all(1))

    def faces(self, normals: np.ndarray) -> np.ndarray:
        """How far it counts on surfaces that face some ways, float (N,) in [0, 1]. :param normals: unit float (N, 3)."""
        facing = normals @ self.matrix[:3, 1]
        limit, begins = np.cos(np.radians([self.limit, max(self.limit - self.fades, 0)]))
        return ramp(np.abs(facing) if self.both_sides else facing, limit, max(begins, limit + 1e-6))

    def corners(self) -> tuple[np.ndarray, np.ndarray]:
        """The corners of the upright box about it, float64 (3,) each, metres."""
        half = np.array([self.size[0], self.size[2], self.size[1]]) / 2
        around = np.abs(self.matrix[:3, :3]) @ half
        return self.matrix[:3, 3] - around, self.matrix[:3, 3] + around


@njit(cache=True, nogil=True)
def _within(points, normals, back, half, limit, begins, both, rows, x, y, share):  # type: ignore
    """The points in a box: which they are, where on it they lie, and how far it counts there. :returns: how many there are."""
    count = 0
    for i in range(len(points)):
        px, py, pz = points[i, 0] - back[0, 3], points[i, 1] - back[1, 3], points[i, 2] - back[2, 3]
        across = back[0, 0] * px + back[1, 0] * py + back[2, 0] * pz
        if abs(across) > half[0]:
            continue
        down = back[0, 2] * px + back[1, 2] * py + back[2, 2] * pz
        if abs(down) > half[1]:
            continue
        out = back[0, 1] * px + back[1, 1] * py + back[2, 1] * pz
        if abs(out) > half[2]:
            continue
        faces = back[0, 1] * normals[i, 0] + back[1, 1] * normals[i, 1] + back[2, 1] * normals[i, 2]
        if both:
            faces = abs(faces)
        if faces <= limit:
            continue
        turned = min((faces - limit) / max(begins - limit, 1e-6), 1.0)
        ends = min((half[2] - abs(out)) / (_ENDS * half[2]), 1.0)
        rows[count], x[count], y[count] = i, across, -down
        share[count] = turned * turned * (3 - 2 * turned) * ends * ends * (3 - 2 * ends)
        count += 1
    return count


def reached_faces(bounds: tuple[np.ndarray, np.ndarray], low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """Which faces come into an upright box, as far as boxes about them tell: bool (M,).

    :param bounds: least and greatest corners of the faces, float32 (M, 3) each, metres. :param low, high: float64 (3,), the corners of the box.
    """
    return np.asarray(((bounds[0] <= high) & (bounds[1] >= low)).all(1))


def decals_laid(
    decals: Sequence[Boxed],
    atlas: Atlas,
    grid: TexelGrid,
    corners: np.ndarray,
    normals: np.ndarray,
    masks: Sequence[np.ndarray | None] | None = None,
    parts: Sequence[np.ndarray | None] | None = None,
    pictures: Sequence[Sequence[np.ndarray]] = (),
) -> Decalled | None:
    """What decals come to on the texels of a surface, or None where none is in a box.

    :param decals: from the lowest to the uppermost. :param corners, normals: float32 (M, 3, 3), in the world.
    :param masks: for each where it shows, float32 (H, W) in [0, 1]; None for everywhere.
    :param parts: for each the faces that it may lie on, bool (M,); None for all.
    :param pictures: for each the picture that it shows, see :class:`cenote.decals.base.Sheet`.
    """
    bounds = corners.min(1), corners.max(1)
    found = _Together(grid.faces.shape)
    for start in range(0, len(decals), _AT_ONCE):
        drawn: list[_Drawn | None] = [None] * min(_AT_ONCE, len(decals) - start)

        def draw(first: int, beyond: int, start: int = start, drawn: list[_Drawn | None] = drawn) -> None:
            for k in range(start + first, start + beyond):
                one = decals[k]
                reached = reached_faces(bounds, *one.corners())
                allowed = parts[k] if parts is not None else None
                faces = np.flatnonzero(reached if allowed is None else reached & allowed)
                if len(faces):
                    ys, xs = _texels_near(atlas, grid, corners, faces, one)
                    at = points_of(atlas, grid, corners, normals, ys, xs)
                    mask = masks[k] if masks is not None else None
                    drawn[k - start] = _drawn(one, grid.texel, ys, xs, *at, mask, pictures[k] if pictures else ())

        over_rows(draw, len(drawn))
        for one in drawn:
            if one is not None:
                found.lay(one)
    return found.all_of()


class _Drawn(NamedTuple):
    """A decal on the texels that it lies on: rows and columns int64 (K,), its ink there, and how far it counts float32 (K,)."""

    of: Boxed
    ys: np.ndarray
    xs: np.ndarray
    ink: Ink
    counts: np.ndarray


def _drawn(one: Boxed, texel: float, ys: np.ndarray, xs: np.ndarray, points: np.ndarray, ways: np.ndarray, mask: np.ndarray | None,
           picture: Sequence[np.ndarray]) -> _Drawn | None:  # fmt: skip
    here, across, up, counts = _seen_in(one, points, ways, texel)
    if mask is not None:
        counts = counts * mask[ys[here], xs[here]]
    kept = np.flatnonzero(counts > _FAINTEST)
    if not len(kept):
        return None
    across, up, counts = across[kept], up[kept], counts[kept]
    sheet = Sheet(-across if one.mirrored else across, up, *one.size[:2], texel, one.seed, picture)
    counts = counts * _edges(sheet)
    if one.gone > 0:
        counts = counts * left_of(sheet, one.gone)
    return _Drawn(one, ys[here[kept]], xs[here[kept]], one.decal.draw(sheet), counts)


class _Together:
    """Decals over one another as they come, the first lowest."""

    def __init__(self, shape: tuple[int, ...]) -> None:
        self._rows = np.full(shape, -1, np.int32)
        self._values = np.zeros((4096, CHANNELS), np.float32)
        self._count = 0

    def lay(self, one: _Drawn) -> None:
        """Lay one over all that are there."""
        of = self._rows[one.ys, one.xs]
        new = np.flatnonzero(of < 0)
        of[new] = self._count + np.arange(len(new))
        self._rows[one.ys, one.xs] = of
        self._count += len(new)
        if self._count > len(self._values):
            more = np.zeros((self._count, CHANNELS), np.float32)
            self._values = np.concatenate([self._values, more])
        self._values[of] = _over(self._values[of], one.ink, one.counts, one.of.relief, one.of.gloss)

    def all_of(self) -> Decalled | None:
        """What they come to; None where that is nothing."""
        values = self._values[: self._count]
        seen = (values[:, 3] > 1e-3) | (np.abs(values[:, 6]) > 1e-6)
        if not seen.any():
            return None
        # What nothing came of is taken out again; the last number stands for where there is none.
        numbers = np.append(np.where(seen, np.cumsum(seen) - 1, -1), -1).astype(np.int32)
        values = values[seen]
        values[:, [0, 1, 2, 4, 5]] /= np.maximum(values[:, 3:4], 1e-6)
        return Decalled(numbers[self._rows], values)


def _seen_in(
    one: Boxed, points: np.ndarray, ways: np.ndarray, texel: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """The points in a box: which they are int64 (K,), where on its sheet float32 (K,) across and up, and how far it counts there float32 (K,)."""
    limit, begins = np.cos(np.radians([one.limit, max(one.limit - one.fades, 0)]))
    width, height, reach = one.size
    # To half a texel beyond, so that its edges are as soft as all others.
    half = np.array([width + texel, height + texel, reach]) / 2
    rows = np.empty(len(points), np.int64)
    x, y, share = (np.empty(len(points), np.float32) for _ in range(3))
    count = _within(points, ways, one.matrix, half, limit, begins, one.both_sides, rows, x, y, share)
    return rows[:count], x[:count], y[:count], share[:count] * np.float32(one.opacity)


def _texels_near(
    atlas: Atlas, grid: TexelGrid, corners: np.ndarray, faces: np.ndarray, one: Boxed
) -> tuple[np.ndarray, np.ndarray]:
    """Rows and columns, int64 (N,), of the texels of some faces that may lie in a box. :param faces: int (F,)."""
    scale = 2.0**grid.level
    flat = atlas.corners[faces].astype(np.float64) * scale - np.array(grid.origin[::-1])
    world = corners[faces].astype(np.float64)
    low, high = flat.min(1), flat.max(1)
    # Along its plane a face lies in the layout as it does in the world: a box seen on that plane is about these texels.
    sides = world[:, 1:] - world[:, :1]
    inner = sides @ sides.transpose(0, 2, 1)
    sound = np.linalg.det(inner) > 1e-9 * np.maximum(np.trace(inner, axis1=1, axis2=2), 1e-12) ** 2
    if sound.any():
        back = np.linalg.solve(inner[sound], sides[sound])
        signs = np.array(np.meshgrid([-1, 1], [-1, 1], [-1, 1])).reshape(3, 8).T
        around = (signs * np.array([one.size[0], one.size[2], one.size[1]]) / 2) @ one.matrix[:3, :3].T + one.matrix[
            :3, 3
        ]
        shares = np.einsum("fik,fck->fci", back, around[None] - world[sound, :1])
        steps = flat[sound, 1:] - flat[sound, :1]
        seen = np.einsum("fci,fik->fck", shares, steps) + flat[sound, :1]
        low[sound], high[sound] = np.maximum(low[sound], seen.min(1)), np.minimum(high[sound], seen.max(1))
    rows, columns = grid.faces.shape
    first = np.clip(np.floor(low - PAD - 1), 0, [columns, rows]).astype(np.int64)
    beyond = np.clip(np.ceil(high + PAD + 1), 0, [columns, rows]).astype(np.int64)
    return _collected(grid.faces, faces, first, beyond)


@njit(cache=True, nogil=True)
def _collected(shown, faces, first, beyond):  # type: ignore
    count = 0
    for k in range(len(faces)):
        for y in range(first[k, 1], beyond[k, 1]):
            for x in range(first[k, 0], beyond[k, 0]):
                count += shown[y, x] == faces[k]
    ys, xs = np.empty(count, np.int64), np.empty(count, np.int64)
    at = 0
    for k in range(len(faces)):
        for y in range(first[k, 1], beyond[k, 1]):
            for x in range(first[k, 0], beyond[k, 0]):
                if shown[y, x] == faces[k]:
                    ys[at], xs[at] = y, x
                    at += 1
    return ys, xs


def _edges(sheet: Sheet) -> np.ndarray:
    """How much of each texel lies within the box, float32 (N,)."""
    beyond = np.maximum(np.abs(sheet.x) - sheet.width / 2, np.abs(sheet.y) - sheet.height / 2)
    return sheet.inside(beyond)


def left_of(sheet: Sheet, gone: float) -> np.ndarray:
    """Where something that wears off in flecks is left, float32 (N,) in [0, 1]. :param gone: the share that is not, in [0, 1]."""
    noise = sheet.noise(_FLECKS, 5, _WORN)
    level = 0.5 + _VARIES * float(ndtri(np.clip(gone, 1e-6, 1 - 1e-6)))
    return np.zeros_like(noise) if gone >= 1 else ramp(noise, level - _EDGE, level + _EDGE)


def _over(below: np.ndarray, ink: Ink, counts: np.ndarray, relief: float, gloss: float) -> np.ndarray:
    """What a decal makes of what lies below it: float32 (N, CHANNELS), colours, roughness and metalness times opacity."""
    out = np.empty_like(below)
    opacity = (ink.opacity * counts).astype(np.float32)
    rough = np.asarray(ink.rough) * (1 - gloss) if gloss >= 0 else np.asarray(ink.rough) * (1 + gloss) - gloss
    out[:, :3] = below[:, :3] * (1 - opacity[:, None]) + ink.colour * opacity[:, None]
    out[:, 3] = below[:, 3] + opacity * (1 - below[:, 3])
    out[:, 4] = below[:, 4] * (1 - opacity) + rough * opacity
    out[:, 5] = below[:, 5] * (1 - opacity) + ink.metal * opacity
    hides = ink.hides * counts
    out[:, 6] = below[:, 6] * (1 - hides) + ink.relief * relief * counts
    out[:, 7] = 1 - (1 - below[:, 7]) * (1 - hides)
    return out


def picture_of(decal: Decal, size: tuple[float, float], pixels: int, seed: int = 1) -> Ink:
    """A decal drawn flat, rows from the top: arrays of (H · W) places. :param size: metres wide and high. :param pixels: along its longer side."""
    texel = max(size) / pixels
    columns, rows = (max(1, round(side / texel)) for side in size)
    across = (np.arange(columns) + 0.5) / columns * size[0] - size[0] / 2
    up = size[1] / 2 - (np.arange(rows) + 0.5) / rows * size[1]
    x, y = (part.ravel().astype(np.float32) for part in np.meshgrid(across, up))
    return decal.draw(Sheet(x, y, *size, texel, seed))
