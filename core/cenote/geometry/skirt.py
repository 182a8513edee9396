"""Land that goes on from the edge of a piece of ground to the horizon."""

from __future__ import annotations

import numpy as np

# Metres within which what the edge is like, a ditch for instance, has gone over into level land by half.
_SETTLES = 70.0
# Of every so many points of the edge one is taken further out.
_THINNED = 4
_RINGS = 14


def border(rows: int, columns: int) -> np.ndarray:
    """The points of a grid along its edge, once round and back: int64 (N,), counted row by row."""
    index = np.arange(rows * columns).reshape(rows, columns)
    return np.concatenate([index[0, :-1], index[:-1, -1], index[-1, :0:-1], index[:0:-1, 0], index[:1, 0]])


def rings(beyond: float, first: float) -> np.ndarray:
    """Distances from the edge at which points lie, float64 (R,), metres: from 0 on, each step larger than the one before."""
    growing = np.geomspace(first, beyond, _RINGS)
    return np.concatenate([[0.0], growing])


def skirt(
    edge: np.ndarray, beyond: float, rolling: np.ndarray | None = None
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A mesh from an edge outwards that begins with the very points of the edge, so that there is no gap.

    The edge's heights are carried on outwards and go over into level land of their mean height.

    :param edge: float (N, 3), metres, once round a rectangle about the origin seen from above; the last point is the first.
    :param beyond: how far it goes, metres.
    :param rolling: heights float (R, K) to be added to the rings of :func:`rings` farther out; see :func:`outer_points`.
    :returns: positions float64 (P, 3); faces int64 (F, 3), facing up; and how far each point is from the edge, float64 (P,).
    """
    coarse = carried_on(len(edge))
    away = _distances(edge, beyond)
    spread = outer_points(edge, beyond)
    mean = float(edge[:-1, 1].mean())
    kept = 1 / (1 + (away[1:, None] / _SETTLES) ** 2)
    heights = mean + (edge[coarse, 1][None] - mean) * kept
    if rolling is not None:
        heights = heights + rolling * (1 - kept)
    outer = np.stack([spread[..., 0], heights, spread[..., 1]], -1)
    positions = np.concatenate([edge, outer.reshape(-1, 3)])
    distances = np.concatenate([np.zeros(len(edge)), np.repeat(away[1:], len(coarse))])
    return (
        positions,
        np.concatenate([_seam(len(edge), coarse), _bands(len(edge), len(away) - 1, len(coarse))]),
        distances,
    )


def outer_points(edge: np.ndarray, beyond: float) -> np.ndarray:
    """Places along x and z of the points outside the edge, float64 (R, K, 2), metres, by ring and along the edge."""
    half = np.abs(edge[:, [0, 2]]).max(0)
    wider = 1 + _distances(edge, beyond)[1:, None] / half
    return np.asarray(edge[carried_on(len(edge))][None][..., [0, 2]] * wider[:, None, :], np.float64)


def carried_on(count: int) -> np.ndarray:
    """Rows int64 (K,) of the points of an edge that each ring has one for, of ``count`` points: the first, the last, and some between."""
    return np.unique(np.append(np.arange(0, count - 1, _THINNED), count - 1))


def _distances(edge: np.ndarray, beyond: float) -> np.ndarray:
    step = float(np.linalg.norm(np.diff(edge[:, [0, 2]], axis=0), axis=1).mean())
    return rings(beyond, max(step * _THINNED, 0.5))


def _seam(count: int, coarse: np.ndarray) -> np.ndarray:
    """Triangles between the points of the edge and the first, coarser ring: each has a side in common with the next."""
    fine = np.arange(count - 1)
    segment = np.searchsorted(coarse, fine, side="right") - 1
    middle = (coarse[segment] + coarse[segment + 1]) // 2
    tip = count + segment + (fine >= middle)
    fans = np.column_stack([fine, fine + 1, tip])
    row = np.arange(len(coarse) - 1)
    joints = np.column_stack([(coarse[:-1] + coarse[1:]) // 2, count + row + 1, count + row])
    return np.concatenate([fans, joints])


def _bands(count: int, rows: int, columns: int) -> np.ndarray:
    """Triangles between neighbouring rings of as many points."""
    index = count + np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = index[:-1, :-1], index[:-1, 1:], index[1:, :-1], index[1:, 1:]
    return np.concatenate([np.stack([a, b, c], -1).reshape(-1, 3), np.stack([b, d, c], -1).reshape(-1, 3)])
