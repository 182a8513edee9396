"""Distance from points to triangles, exact, through a tree of boxes."""

from __future__ import annotations

import numpy as np
from numba import njit

from ..parallel import over_rows

_LEAF = 4


@njit(cache=True, nogil=True)
def _build(centres, low, high, order, node_low, node_high, node_first, node_count, node_right):  # type: ignore
    """Split by the median along the longest side. Children of a node: the next one, and node_right."""
    stack = np.empty((64, 3), np.int64)
    stack[0, 0], stack[0, 1], stack[0, 2] = 0, len(order), -1
    depth, used = 1, 0
    while depth:
        depth -= 1
        first, beyond, parent = stack[depth, 0], stack[depth, 1], stack[depth, 2]
        node = used
        used += 1
        if parent >= 0:
            node_right[parent] = node
        for axis in range(3):
            a, b = np.inf, -np.inf
            for k in range(first, beyond):
                a, b = min(a, low[order[k], axis]), max(b, high[order[k], axis])
            node_low[node, axis], node_high[node, axis] = a, b
        if beyond - first <= _LEAF:
            node_first[node], node_count[node] = first, beyond - first
            continue
        axis = int(np.argmax(node_high[node] - node_low[node]))
        part = order[first:beyond]
        order[first:beyond] = part[np.argsort(centres[part, axis], kind="mergesort")]
        middle = (first + beyond) // 2
        stack[depth, 0], stack[depth, 1], stack[depth, 2] = middle, beyond, node
        stack[depth + 1, 0], stack[depth + 1, 1], stack[depth + 1, 2] = first, middle, -1
        depth += 2
    return used


@njit(inline="always", cache=True)
def _box_gap(p, low, high):  # type: ignore
    total = 0.0
    for axis in range(3):
        gap = max(max(low[axis] - p[axis], p[axis] - high[axis]), 0.0)
        total += gap * gap
    return total


@njit(inline="always", cache=True)
def _minus(a, b):  # type: ignore
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


@njit(inline="always", cache=True)
def _dot(a, b):  # type: ignore
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@njit(inline="always", cache=True)
def _short(a, s, b):  # type: ignore
    """Squared length of a − s·b."""
    x, y, z = a[0] - s * b[0], a[1] - s * b[1], a[2] - s * b[2]
    return x * x + y * y + z * z


@njit(inline="always", cache=True)
def _part(a, whole):  # type: ignore
    """a of a whole; nothing of a whole that has no length."""
    return a / whole if whole > 0 else 0.0


@njit(cache=True)
def _triangle_gap(p, t):  # type: ignore
    """Squared distance to a triangle (Ericson, Real-Time Collision Detection, 2005, section 5.1.5).

    One without area, exactly or by rounding, is as far as the nearest of its edges.
    """
    p0, p1, p2 = (t[0, 0], t[0, 1], t[0, 2]), (t[1, 0], t[1, 1], t[1, 2]), (t[2, 0], t[2, 1], t[2, 2])
    q = (p[0], p[1], p[2])
    ab, ac, ap = _minus(p1, p0), _minus(p2, p0), _minus(q, p0)
    d1, d2 = _dot(ab, ap), _dot(ac, ap)
    if d1 <= 0 and d2 <= 0:
        return _dot(ap, ap)
    bp = _minus(q, p1)
    d3, d4 = _dot(ab, bp), _dot(ac, bp)
    if d3 >= 0 and d4 <= d3:
        return _dot(bp, bp)
    vc = d1 * d4 - d3 * d2
    if vc <= 0 and d1 >= 0 and d3 <= 0:
        return _short(ap, _part(d1, d1 - d3), ab)
    cp = _minus(q, p2)
    d5, d6 = _dot(ab, cp), _dot(ac, cp)
    if d6 >= 0 and d5 <= d6:
        return _dot(cp, cp)
    vb = d5 * d2 - d1 * d6
    if vb <= 0 and d2 >= 0 and d6 <= 0:
        return _short(ap, _part(d2, d2 - d6), ac)
    va = d3 * d6 - d5 * d4
    if va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        return _short(bp, _part(d4 - d3, (d4 - d3) + (d5 - d6)), _minus(p2, p1))
    if not va + vb + vc > 0:
        bc = _minus(p2, p1)
        on_ab = min(max(_part(d1, _dot(ab, ab)), 0.0), 1.0)
        on_ac = min(max(_part(d2, _dot(ac, ac)), 0.0), 1.0)
        on_bc = min(max(_part(_dot(bc, bp), _dot(bc, bc)), 0.0), 1.0)
        return min(_short(ap, on_ab, ab), _short(ap, on_ac, ac), _short(bp, on_bc, bc))
    scale = 1.0 / (va + vb + vc)
    v, w = vb * scale, vc * scale
    away = (ap[0] - ab[0] * v - ac[0] * w, ap[1] - ab[1] * v - ac[1] * w, ap[2] - ab[2] * v - ac[2] * w)
    return _dot(away, away)


@njit(cache=True, nogil=True)
def _query(points, corners, order, node_low, node_high, node_first, node_count, node_right, out, a, b):  # type: ignore
    stack = np.empty(64, np.int64)
    for i in range(a, b):
        p = points[i]
        best = float(out[i]) * float(out[i])
        stack[0], depth = 0, 1
        while depth:
            depth -= 1
            node = stack[depth]
            if _box_gap(p, node_low[node], node_high[node]) >= best:
                continue
            if node_count[node]:
                for k in range(node_first[node], node_first[node] + node_count[node]):
                    best = min(best, _triangle_gap(p, corners[order[k]]))
                continue
            left, right = node + 1, node_right[node]
            near_left = _box_gap(p, node_low[left], node_high[left])
            near_right = _box_gap(p, node_low[right], node_high[right])
            # The nearer child last, so that it is taken first.
            stack[depth] = right if near_left <= near_right else left
            stack[depth + 1] = left if near_left <= near_right else right
            depth += 2
        out[i] = np.sqrt(best)


@njit(inline="always", cache=True)
def _column_gap(p, tall, a, b):  # type: ignore
    """Squared distance between an upright segment and another (Ericson, Real-Time Collision Detection, 2005, section 5.1.9)."""
    dx, dy, dz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    rx, ry, rz = p[0] - a[0], p[1] - a[1], p[2] - a[2]
    upright, length = tall * tall, dx * dx + dy * dy + dz * dz
    c, f, both = tall * ry, dx * rx + dy * ry + dz * rz, tall * dy
    s, t = 0.0, 0.0
    if length <= 0:
        s = min(max(_part(-c, upright), 0.0), 1.0)
    elif upright <= 0:
        t = min(max(_part(f, length), 0.0), 1.0)
    else:
        whole = upright * length - both * both
        # Parallel ones are as near at one place as at another.
        s = min(max(_part(both * f - c * length, whole), 0.0), 1.0) if whole > 1e-12 * upright * length else 0.0
        t = (both * s + f) / length
        if t < 0:
            t, s = 0.0, min(max(-c / upright, 0.0), 1.0)
        elif t > 1:
            t, s = 1.0, min(max((both - c) / upright, 0.0), 1.0)
    x, y, z = rx - t * dx, ry + s * tall - t * dy, rz - t * dz
    return x * x + y * y + z * z


@njit(inline="always", cache=True)
def _pierced(p, tall, t):  # type: ignore
    """Whether an upright segment goes through a triangle."""
    # Twice the areas, seen from above, of what each edge spans with the segment; all of one sign inside.
    x0, z0, x1, z1, x2, z2 = (
        t[0, 0] - p[0],
        t[0, 2] - p[2],
        t[1, 0] - p[0],
        t[1, 2] - p[2],
        t[2, 0] - p[0],
        t[2, 2] - p[2],
    )
    u, v, w = x1 * z2 - x2 * z1, x2 * z0 - x0 * z2, x0 * z1 - x1 * z0
    if (u < 0 or v < 0 or w < 0) and (u > 0 or v > 0 or w > 0):
        return False
    total = u + v + w
    if total == 0:
        return False
    height = (u * t[0, 1] + v * t[1, 1] + w * t[2, 1]) / total
    return p[1] <= height <= p[1] + tall


@njit(cache=True)
def _triangle_column_gap(p, tall, t):  # type: ignore
    """Squared distance between an upright segment and a triangle: 0 where it is pierced, else from an end of the segment to
    the triangle, or from the segment to an edge."""
    if _pierced(p, tall, t):
        return 0.0
    top = (p[0], p[1] + tall, p[2])
    best = min(_triangle_gap(p, t), _triangle_gap(top, t))
    for k in range(3):
        best = min(best, _column_gap(p, tall, t[k], t[(k + 1) % 3]))
    return best


@njit(inline="always", cache=True)
def _column_box_gap(p, tall, low, high):  # type: ignore
    x = max(max(low[0] - p[0], p[0] - high[0]), 0.0)
    y = max(max(low[1] - p[1] - tall, p[1] - high[1]), 0.0)
    z = max(max(low[2] - p[2], p[2] - high[2]), 0.0)
    return x * x + y * y + z * z


@njit(cache=True, nogil=True)
def _query_columns(points, talls, corners, order, node_low, node_high, node_first, node_count, node_right, out, a, b):  # type: ignore
    stack = np.empty(64, np.int64)
    for i in range(a, b):
        p, tall = points[i], talls[i]
        best = float(out[i]) * float(out[i])
        stack[0], depth = 0, 1
        while depth:
            depth -= 1
            node = stack[depth]
            if _column_box_gap(p, tall, node_low[node], node_high[node]) >= best:
                continue
            if node_count[node]:
                for k in range(node_first[node], node_first[node] + node_count[node]):
                    best = min(best, _triangle_column_gap(p, tall, corners[order[k]]))
                continue
            left, right = node + 1, node_right[node]
            near_left = _column_box_gap(p, tall, node_low[left], node_high[left])
            near_right = _column_box_gap(p, tall, node_low[right], node_high[right])
            stack[depth] = right if near_left <= near_right else left
            stack[depth + 1] = left if near_left <= near_right else right
            depth += 2
        out[i] = np.sqrt(best)


class NearestTriangles:
    """Answers how far points are from a set of triangles.

    :param corners: float (M, 3, 3), metres.
    """

    def __init__(self, corners: np.ndarray) -> None:
        self._corners = np.ascontiguousarray(corners, np.float64)
        count = len(corners)
        self._order = np.arange(count)
        nodes = max(1, 2 * count)
        self._low, self._high = np.zeros((nodes, 3)), np.zeros((nodes, 3))
        self._first, self._count = np.zeros(nodes, np.int64), np.zeros(nodes, np.int64)
        self._right = np.zeros(nodes, np.int64)
        if count:
            low, high = self._corners.min(1), self._corners.max(1)
            tree = (self._order, self._low, self._high, self._first, self._count, self._right)
            _build((low + high) / 2, low, high, *tree)

    def distance(self, points: np.ndarray, reach: float) -> np.ndarray:
        """Distance to the nearest triangle.

        :param points: float (N, 3), metres.
        :param reach: metres; farther distances are given as ``reach``, which keeps the search short.
        :returns: float32 (N,) in [0, reach].
        """
        out = np.full(len(points), reach, np.float32)
        self.nearer(points, out)
        return out

    def nearer(self, points: np.ndarray, least: np.ndarray) -> None:
        """Bring distances down to those to the nearest triangle, where these are less.

        :param points: float (N, 3), metres. :param least: float32 (N,), changed in place; it bounds the search.
        """
        if len(self._corners):
            points = np.ascontiguousarray(points, np.float64)
            tree = (self._corners, self._order, self._low, self._high, self._first, self._count, self._right)
            over_rows(lambda a, b: _query(points, *tree, least, a, b), len(points), least=512)

    def nearer_columns(self, points: np.ndarray, heights: np.ndarray, least: np.ndarray) -> None:
        """Bring distances down to those between upright segments and their nearest triangle, where these are less.

        :param points: float (N, 3), metres, where the segments stand. :param heights: float (N,), metres, at least 0.
        :param least: float32 (N,), changed in place; it bounds the search.
        """
        if len(self._corners):
            points, heights = np.ascontiguousarray(points, np.float64), np.ascontiguousarray(heights, np.float64)
            tree = (self._corners, self._order, self._low, self._high, self._first, self._count, self._right)
            over_rows(lambda a, b: _query_columns(points, heights, *tree, least, a, b), len(points), least=512)
