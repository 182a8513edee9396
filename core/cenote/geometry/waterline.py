"""Where a level meets what stands in it, and how far it is from there."""

from __future__ import annotations

import numpy as np
from scipy import ndimage


def crossings(corners: np.ndarray, level: float) -> np.ndarray:
    """Where triangles pass through a level.

    :param corners: float (M, 3, 3), metres. :param level: metres along y.
    :returns: float64 (N, 2, 2), both ends along x and z of each crossing; triangles that touch the level or lie in it have none.
    """
    # A corner at the level counts as above it, so that each triangle has two sides that cross, or none.
    above = corners[:, :, 1] >= level
    crossed = above.any(1) & ~above.all(1)
    tri, over = corners[crossed].astype(float), above[crossed]
    # The corner that is alone on its side comes first: both sides that cross begin there.
    lone = np.argmax(over == (over.sum(1) == 1)[:, None], axis=1)
    tri = np.take_along_axis(tri, ((lone[:, None] + np.arange(3)) % 3)[:, :, None], axis=1)
    begin, ends = tri[:, :1], tri[:, 1:]
    share = (level - begin[..., 1]) / (ends[..., 1] - begin[..., 1])
    found = begin + share[..., None] * (ends - begin)
    return np.asarray(found[:, :, [0, 2]])


def away_from(segments: np.ndarray, low: np.ndarray, cell: float, shape: tuple[int, int]) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
    """How far the middles of a grid's squares lie from segments, to half a square, and which way the nearest is.

    :param segments: float (N, 2, 2), metres, at least one of them within the grid. :param low: float (2,), the grid's corner. :param cell: side of a square.
    :param shape: rows along the second axis, columns along the first.
    :returns: float32 (rows, columns), metres; and unit float32 (rows, columns, 2), towards the nearest, 0 where it is in the same square.
    """
    along = segments[:, 1] - segments[:, 0]
    pieces = np.maximum(np.ceil(2 * np.linalg.norm(along, axis=1) / cell), 1).astype(int)
    row = np.repeat(np.arange(len(segments)), pieces + 1)
    step = np.arange(len(row)) - np.repeat(np.cumsum(pieces + 1) - pieces - 1, pieces + 1)
    points = segments[row, 0] + along[row] * (step / pieces[row])[:, None]
    column, line = np.floor((points - low) / cell).astype(int).T
    inside = (column >= 0) & (line >= 0) & (column < shape[1]) & (line < shape[0])
    free = np.ones(shape, bool)
    free[line[inside], column[inside]] = False
    far, nearest = ndimage.distance_transform_edt(free, return_indices=True)
    here = np.indices(shape)
    towards = np.stack([nearest[1] - here[1], nearest[0] - here[0]], axis=-1).astype(np.float32)
    towards /= np.maximum(far, 1)[..., None]
    return (far * cell).astype(np.float32), towards
