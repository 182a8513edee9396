"""What lies deeper than relief can show: a sheet of its own over what is uppermost, such as deep snow.

All works on a plan: squares seen from above, rows along z. Heights are metres, -inf where there is nothing.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy import ndimage

# Below this depth, in metres, relief shows it well enough, and no sheet is made.
LEAST = 0.02
# What slides comes to rest on slopes below this, about the least angle at which snow that moves still moves.
_RESTS = np.tan(np.radians(28))
# Neighbours further apart than this, against a square's side, do not belong to one surface: steeper than 67°.
_STEP = 2.4
# How far it spreads where it lands, metres, and what is as high as where it landed.
_SPREADS, _ALIKE = 0.38, 0.6
# Metres that a sheet's edge lies below what it lies on, so that no gap is seen.
_SUNK = 0.006


@dataclass(frozen=True)
class Blanket:
    """How a cover lies as a sheet.

    :ivar of: kind of its material. :ivar depth: metres where nothing keeps it away.
    :ivar slides: share, in [0, 1], of what steep places turn away that lands below them.
    :ivar bridges: the widest gap that it spans, metres.
    """

    of: str
    depth: float
    slides: float = 0.0
    bridges: float = 0.0


@dataclass(frozen=True)
class Sheet:
    """A surface over what is uppermost.

    :ivar positions: float32 (V, 3), metres. :ivar normals: unit float32 (V, 3). :ivar faces: int32 (F, 3).
    """

    positions: np.ndarray
    normals: np.ndarray
    faces: np.ndarray


def bridged(heights: np.ndarray, holds: np.ndarray, cell: float, width: float) -> tuple[np.ndarray, np.ndarray]:
    """Heights with gaps filled that are at most ``width`` metres wide, and how well the filled places hold.

    A grey closing (Serra, "Image Analysis and Mathematical Morphology", 1982) with a disc: steps stay where they are.

    :param heights, holds: float (h, w). :returns: the same, closed; float64 and float32.
    """
    # A gap narrower than a square still shows as one where a square's middle falls into it.
    reach = round(width / cell / 2) if width > cell else int(width > cell / 3)
    if reach < 1:
        return heights.astype(np.float64), holds.astype(np.float32)
    y, x = np.mgrid[-reach : reach + 1, -reach : reach + 1]
    disc = x * x + y * y <= (reach + 0.3) ** 2
    known = np.isfinite(heights)
    floor = float(heights[known].min()) - 1 if known.any() else 0.0
    closed = ndimage.grey_closing(np.where(known, heights, floor), footprint=disc, mode="nearest")
    filled = closed > np.where(known, heights, floor) + 0.01
    # What is filled is a part of its sides, and holds as they do, whatever lies at the bottom of the gap.
    held = ndimage.grey_closing(np.where(filled, 0, holds).astype(np.float64), footprint=disc, mode="nearest")
    out = np.where(filled, closed, heights.astype(np.float64))
    return out, np.where(filled, held, holds).astype(np.float32)


@njit(cache=True)
def _slide(heights, falls, cell, rests, step, landed):  # type: ignore
    rows, columns = heights.shape
    away = 0.0
    for start_row in range(rows):
        for start_column in range(columns):
            amount = falls[start_row, start_column]
            if amount <= 0:
                continue
            row, column = start_row, start_column
            while True:
                # It runs down what it lies on as far as that goes, and falls over an edge only there.
                steepest, to_row, to_column = rests, -1, -1
                deepest, over_row, over_column = step, -1, -1
                for d_row in range(-1, 2):
                    for d_column in range(-1, 2):
                        r, c = row + d_row, column + d_column
                        if (d_row == 0 and d_column == 0) or r < 0 or c < 0 or r >= rows or c >= columns:
                            continue
                        far = np.sqrt(d_row * d_row + d_column * d_column)
                        drop = (heights[row, column] - heights[r, c]) / far
                        if drop > deepest:
                            deepest, over_row, over_column = drop, r, c
                        elif drop <= step and drop / cell > steepest:
                            steepest, to_row, to_column = drop / cell, r, c
                if to_row < 0:
                    to_row, to_column = over_row, over_column
                if to_row < 0:
                    landed[row, column] += amount
                    break
                row, column = to_row, to_column
                if not np.isfinite(heights[row, column]):
                    away += amount
                    break
    return away


def slid(heights: np.ndarray, falls: np.ndarray, cell: float) -> np.ndarray:
    """What lands where, of what slides down the steepest way from each square (D8; O'Callaghan and Mark, 1984).

    :param heights: float (h, w), metres. :param falls: float (h, w), what lets go of each square, at least 0.
    :returns: float64 (h, w) in the measure of ``falls``; its sum is that of ``falls`` less what left the plan.
    """
    heights = heights.astype(np.float64)
    landed = np.zeros(heights.shape)
    _slide(heights, np.where(np.isfinite(heights), falls, 0).astype(np.float64), cell, _RESTS, _STEP * cell, landed)
    if not landed.any():
        return landed
    sigma = _SPREADS / cell

    def blur(field: np.ndarray) -> np.ndarray:
        return ndimage.gaussian_filter(field, sigma, mode="constant", truncate=3)

    there = blur(landed)
    known = np.where(np.isfinite(heights), heights, 0)
    level = blur(landed * known) / np.maximum(there, 1e-12)
    takes = ((there > 1e-9) & np.isfinite(heights) & (np.abs(known - level) < _ALIKE)).astype(np.float64)
    # Where it lands always takes of it: so all of it goes somewhere.
    takes = np.maximum(takes, (landed > 0) * 1e-3)
    return np.asarray(takes * blur(landed / np.maximum(blur(takes), 1e-9) * (landed > 0)))


def joined(heights: np.ndarray, cell: float, depth: float) -> tuple[np.ndarray, np.ndarray]:
    """Which neighbours lie so alike that one sheet goes over both: bool (h, w-1) along x and (h-1, w) along z."""
    step = max(_STEP * cell, 0.1, 1.2 * depth)
    with np.errstate(invalid="ignore"):
        along_x = np.abs(np.diff(heights, axis=1)) < step
        along_z = np.abs(np.diff(heights, axis=0)) < step
    return along_x, along_z


def rounded(
    heights: np.ndarray, depths: np.ndarray, cell: float, joins: tuple[np.ndarray, np.ndarray], depth: float
) -> np.ndarray:
    """Depths of a sheet that is smooth over what lies below it, and round at its rims.

    :param depths: float (h, w), metres, before. :param joins: as :func:`joined` gives them. :param depth: the usual one.
    :returns: float64 (h, w), at least 0.
    """
    on = np.isfinite(heights) & (depths > 0)
    base = np.where(np.isfinite(heights), heights, 0.0)
    top = base + np.where(on, depths, 0.0)
    along_x = joins[0] & on[:, 1:] & on[:, :-1]
    along_z = joins[1] & on[1:] & on[:-1]
    for _ in range(round(float(np.clip((0.6 * depth / cell) ** 2 * 2, 1, 12)))):
        total, count = top.copy(), np.ones(top.shape)
        total[:, 1:] += np.where(along_x, top[:, :-1], 0)
        total[:, :-1] += np.where(along_x, top[:, 1:], 0)
        total[1:] += np.where(along_z, top[:-1], 0)
        total[:-1] += np.where(along_z, top[1:], 0)
        count[:, 1:] += along_x
        count[:, :-1] += along_x
        count[1:] += along_z
        count[:-1] += along_z
        top = np.maximum(total / count, base)
    out = np.where(on, top - base, 0.0)
    # Beyond a step down nothing holds the sheet: there its rim is round.
    with np.errstate(invalid="ignore"):
        down_x, down_z = np.diff(heights, axis=1), np.diff(heights, axis=0)
    rim = np.zeros(top.shape, bool)
    rim[:, :-1] |= ~joins[0] & ~(down_x > 0)
    rim[:, 1:] |= ~joins[0] & ~(down_x < 0)
    rim[:-1] |= ~joins[1] & ~(down_z > 0)
    rim[1:] |= ~joins[1] & ~(down_z < 0)
    reach = max(0.7 * depth, 1e-6)
    near = ndimage.distance_transform_edt(~rim) * cell + 0.5 * cell if rim.any() else np.full(top.shape, reach)
    share = np.clip(near / reach, 0, 1)
    return np.asarray(out * np.sqrt(1 - (1 - share) ** 2))


Heights = Callable[[np.ndarray, np.ndarray], np.ndarray]


def _edges(
    heights: np.ndarray,
    depths: np.ndarray,
    on: np.ndarray,
    joins: np.ndarray,
    cell: float,
    origin: tuple[float, float],
    top_at: Heights,
    axis: int,
    first_row: int,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The sheet's own edge between neighbours along an axis.

    :returns: whether each pair is cut, bool; rows of the edge's vertices for each end, int64 (…, 2), -1 for none; the
        vertices, float64 (K, 3).
    """
    a = (slice(None), slice(None, -1)) if axis == 1 else (slice(None, -1), slice(None))
    b = (slice(None), slice(1, None)) if axis == 1 else (slice(1, None), slice(None))
    cut = ~(joins & on[a] & on[b])
    rows = np.full((*cut.shape, 2), -1, np.int64)
    vertices: list[np.ndarray] = []
    made = 0
    known = np.where(np.isfinite(heights), heights, -1e6)
    for end in (0, 1):
        mine = a if end == 0 else b
        ys, xs = np.nonzero(cut & on[mine])
        if not len(ys):
            continue
        away = 1 if end == 0 else -1
        y0, x0 = (ys, xs) if end == 0 else ((ys, xs + 1) if axis == 1 else (ys + 1, xs))
        y1, x1 = (y0, x0 + away) if axis == 1 else (y0 + away, x0)
        here, there = known[y0, x0], known[y1, x1]
        steps = ~joins[ys, xs]
        # How the ground goes on from here: as it came from behind, where that belongs to it.
        yb, xb = (y0, x0 - away) if axis == 1 else (y0 - away, x0)
        yb, xb = np.clip(yb, 0, heights.shape[0] - 1), np.clip(xb, 0, heights.shape[1] - 1)
        slope = here - known[yb, xb]
        slope = np.where(np.abs(slope) < _STEP * cell, slope, 0.0)
        # Where what is below ends, found by halving the way six times.
        low, high = np.zeros(len(ys)), np.ones(len(ys))
        x = origin[0] + (x0 + 0.5) * cell
        z = origin[1] + (y0 + 0.5) * cell
        dx, dz = (away * cell, 0.0) if axis == 1 else (0.0, away * cell)
        tried = np.flatnonzero(steps)
        for _ in range(6):
            middle = (low[tried] + high[tried]) / 2
            found = top_at(x[tried] + dx * middle, z[tried] + dz * middle)
            mine_still = np.abs(found - (here[tried] + slope[tried] * middle)) < np.abs(found - there[tried])
            low[tried] = np.where(mine_still, middle, low[tried])
            high[tried] = np.where(mine_still, high[tried], middle)
        fades = np.clip(
            (depths[y0, x0] - LEAST * 0.5) / np.maximum(depths[y0, x0] - depths[y1, x1], 1e-6), 0.05, 1
        )  # fmt: skip
        share = np.where(steps, np.minimum(low + 0.01 / cell, 1.0), fades)
        level = np.where(steps, here + slope * share, here + (there - here) * share)
        rows[ys, xs, end] = first_row + made + np.arange(len(ys))
        made += len(ys)
        vertices.append(np.column_stack([x + dx * share, level - _SUNK, z + dz * share]))
    return cut, rows, np.concatenate(vertices) if vertices else np.zeros((0, 3))


@njit(cache=True)
def _faces(numbers, cut_x, edge_x, cut_z, edge_z, out):  # type: ignore
    """Write the triangles between the middles of four squares at a time; return how many there are."""
    rows, columns = numbers.shape
    used = 0
    ring, cuts = np.empty(4, np.int64), np.empty(4, np.bool_)
    leaves, comes = np.empty(4, np.int64), np.empty(4, np.int64)
    polygon = np.empty(8, np.int64)
    for r in range(rows - 1):
        for c in range(columns - 1):
            # Anticlockwise seen from above, x to the right and z down: so that its front looks up.
            ring[0], ring[1], ring[2], ring[3] = (
                numbers[r, c],
                numbers[r + 1, c],
                numbers[r + 1, c + 1],
                numbers[r, c + 1],
            )
            cuts[0], cuts[1], cuts[2], cuts[3] = cut_z[r, c], cut_x[r + 1, c], cut_z[r, c + 1], cut_x[r, c]
            leaves[0], comes[0] = edge_z[r, c, 0], edge_z[r, c, 1]
            leaves[1], comes[1] = edge_x[r + 1, c, 0], edge_x[r + 1, c, 1]
            leaves[2], comes[2] = edge_z[r, c + 1, 1], edge_z[r, c + 1, 0]
            leaves[3], comes[3] = edge_x[r, c, 1], edge_x[r, c, 0]
            whole = 0
            for k in range(4):
                whole += 0 if cuts[k] else 1
            if whole >= 3:
                out[used, 0], out[used, 1], out[used, 2] = ring[0], ring[1], ring[2]
                out[used + 1, 0], out[used + 1, 1], out[used + 1, 2] = ring[0], ring[2], ring[3]
                used += 2
                continue
            for k in range(4):
                # A run of corners begins behind a cut edge and ends before the next.
                before = (k + 3) % 4
                if ring[k] < 0 or not cuts[before]:
                    continue
                n = 0
                polygon[n] = comes[before]
                n += 1
                at = k
                while True:
                    polygon[n] = ring[at]
                    n += 1
                    if cuts[at]:
                        break
                    at = (at + 1) % 4
                polygon[n] = leaves[at]
                n += 1
                for i in range(1, n - 1):
                    out[used, 0], out[used, 1], out[used, 2] = polygon[0], polygon[i], polygon[i + 1]
                    used += 1
    return used


def normals_of(positions: np.ndarray, faces: np.ndarray) -> np.ndarray:
    """Unit normals of vertices, of the faces round each by their area, float32 (V, 3)."""
    a, b, c = (positions[faces[:, k]].astype(np.float64) for k in range(3))
    each = np.cross(b - a, c - a)
    out = np.zeros((len(positions), 3))
    for k in range(3):
        for axis in range(3):
            out[:, axis] += np.bincount(faces[:, k], each[:, axis], len(positions))
    length = np.linalg.norm(out, axis=1)[:, None]
    return np.where(length > 1e-12, out / np.maximum(length, 1e-12), [0, 1, 0]).astype(np.float32)


def sheet(
    heights: np.ndarray,
    depths: np.ndarray,
    cell: float,
    origin: tuple[float, float],
    joins: tuple[np.ndarray, np.ndarray],
    top_at: Heights,
) -> Sheet:
    """The sheet over a plan, with its edge where what it lies on ends, or where it thins out.

    A quad lies between the middles of four squares, cut like a marching square where two of them do not belong
    together.

    :param depths: float (h, w), metres; nothing below :data:`LEAST`. :param joins: as :func:`joined` gives them.
    :param top_at: gives heights of what is uppermost at x and z, each (N,): float (N,).
    """
    on = np.isfinite(heights) & (depths >= LEAST)
    ys, xs = np.nonzero(on)
    numbers = np.full(heights.shape, -1, np.int64)
    numbers[ys, xs] = np.arange(len(ys))
    middles = np.column_stack(
        [origin[0] + (xs + 0.5) * cell, heights[ys, xs] + depths[ys, xs], origin[1] + (ys + 0.5) * cell]
    )
    given = (heights, depths, on)
    cut_x, edge_x, along_x = _edges(*given, joins[0], cell, origin, top_at, 1, len(middles))
    cut_z, edge_z, along_z = _edges(*given, joins[1], cell, origin, top_at, 0, len(middles) + len(along_x))
    positions = np.concatenate([middles, along_x, along_z]).astype(np.float32)
    faces = np.zeros((8 * max(1, heights.size), 3), np.int32)
    faces = faces[: _faces(numbers, cut_x, edge_x, cut_z, edge_z, faces)].copy()
    return Sheet(positions, normals_of(positions, faces), faces)
