"""Shaping height fields: brushes that go over them dab by dab, hollows with rims, height maps."""

from __future__ import annotations

import numpy as np
from numba import njit
from scipy.ndimage import gaussian_filter, map_coordinates

from ..parallel import over_rows
from ..randomness import layered_noise

TOOLS = {"raise": 0, "lower": 1, "smooth": 2, "flatten": 3, "roughen": 4}
# Dabs lie this share of the brush's radius apart.
STEP = 0.25
# For smoothing and flattening: what a dab does against what the whole stroke is to do.
_SHARE = 0.2


def dabs_along(path: np.ndarray, radius: float) -> np.ndarray:
    """Places of dabs along a path, float64 (D, 2), evenly spaced; a path of one point has one dab.

    :param path: float (N, 2), metres, N at least 1.
    """
    path = np.asarray(path, np.float64).reshape(-1, 2)
    lengths = np.hypot(*np.diff(path, axis=0).T) if len(path) > 1 else np.zeros(0)
    far = np.concatenate([[0], np.cumsum(lengths)])
    if far[-1] <= 0:
        return path[:1]
    spots = np.arange(0, far[-1] + 1e-9, radius * STEP)
    return np.column_stack([np.interp(spots, far, path[:, axis]) for axis in (0, 1)])


@njit(cache=True, nogil=True)
def _dabs(heights, x0, z0, dx, dz, spots, radius, soft, tool, amount, level, seed):  # type: ignore
    rows, columns = heights.shape
    before = np.empty_like(heights[:1, :1])
    inner = radius * (1.0 - soft)
    for d in range(len(spots)):
        cx, cz = spots[d, 0], spots[d, 1]
        c0, c1 = max(0, int(np.ceil((cx - radius - x0) / dx))), min(columns - 1, int(np.floor((cx + radius - x0) / dx)))
        r0, r1 = max(0, int(np.ceil((cz - radius - z0) / dz))), min(rows - 1, int(np.floor((cz + radius - z0) / dz)))
        if c0 > c1 or r0 > r1:
            continue
        if tool == 2:
            a, b = max(0, r0 - 1), min(rows, r1 + 2)
            e, f = max(0, c0 - 1), min(columns, c1 + 2)
            before = heights[a:b, e:f].copy()
        for r in range(r0, r1 + 1):
            for c in range(c0, c1 + 1):
                x, z = x0 + c * dx, z0 + r * dz
                away = np.sqrt((x - cx) ** 2 + (z - cz) ** 2)
                if away >= radius:
                    continue
                t = 1.0 if away <= inner else 1.0 - (away - inner) / max(radius - inner, 1e-9)
                w = t * t * (3.0 - 2.0 * t)
                if tool == 0:
                    heights[r, c] += w * amount
                elif tool == 1:
                    heights[r, c] -= w * amount
                elif tool == 2:
                    total, count = 0.0, 0
                    for i in range(-1, 2):
                        for j in range(-1, 2):
                            y, k = r - a + i, c - e + j
                            if 0 <= y < before.shape[0] and 0 <= k < before.shape[1]:
                                total += before[y, k]
                                count += 1
                    heights[r, c] += min(1.0, w * amount) * (total / count - heights[r, c])
                elif tool == 3:
                    heights[r, c] += min(1.0, w * amount) * (level - heights[r, c])
                else:
                    rough = layered_noise(x / (radius * 0.4), 0.5, z / (radius * 0.4), 4, seed) - 0.5
                    heights[r, c] += w * amount * 2.0 * rough


def sculpted(
    heights: np.ndarray, origin: tuple[float, float], spacing: tuple[float, float], path: np.ndarray, *, tool: str,
    radius: float, strength: float, soft: float, level: float = 0.0, seed: int = 0,
) -> np.ndarray:  # fmt: skip
    """A height field after one stroke of a brush.

    :param heights: float (rows, columns), metres; rows along z.
    :param origin, spacing: of the grid along x and z, metres.
    :param path: float (N, 2), where the brush went.
    :param tool: one of :data:`TOOLS`. :param strength: metres for raise, lower and roughen; else a share of the way.
    :param soft: width of the brush's soft edge as a share of its radius.
    :param level: where flatten leads, metres.
    :returns: float64, a copy.
    """
    out = np.array(heights, np.float64)
    spots = dabs_along(path, radius)
    soft = min(max(soft, 0.0), 1.0)
    if tool in ("raise", "lower", "roughen"):
        amount = strength / _passes(len(spots), soft)
    else:
        # One press works as a whole stroke does.
        amount = 1 - (1 - min(strength, 0.999)) ** (2 * (_SHARE if len(spots) > 1 else 1.0))
    _dabs(out, *origin, *spacing, spots, radius, soft, TOOLS[tool], amount, level, np.uint32(seed))
    return out


def _passes(dabs: int, soft: float) -> float:
    """How much dabs in a straight line come to together where they come to most, against one: so that a stroke raises just by
    its strength, a short one as well, and going over a place again raises it again."""
    away = STEP * np.abs(np.arange(dabs) - dabs // 2)
    t = np.clip((1 - away) / soft, 0, 1) if soft > 0 else (away < 1).astype(float)
    return float((t * t * (3 - 2 * t)).sum())


@njit(cache=True, nogil=True)
def _painted(mask, x0, z0, texel, spots, radius, soft, amount, first):  # type: ignore
    rows, columns = mask.shape
    inner = radius * (1.0 - soft)
    for d in range(first, len(spots)):
        cx, cz = spots[d, 0], spots[d, 1]
        c0, c1 = max(0, int((cx - radius - x0) / texel)), min(columns - 1, int((cx + radius - x0) / texel))
        r0, r1 = max(0, int((cz - radius - z0) / texel)), min(rows - 1, int((cz + radius - z0) / texel))
        for r in range(r0, r1 + 1):
            for c in range(c0, c1 + 1):
                x, z = x0 + (c + 0.5) * texel, z0 + (r + 0.5) * texel
                away = np.sqrt((x - cx) ** 2 + (z - cz) ** 2)
                if away >= radius:
                    continue
                t = 1.0 if away <= inner else 1.0 - (away - inner) / max(radius - inner, 1e-9)
                w = np.float32(t * t * (3.0 - 2.0 * t))
                if amount > 0:
                    # A stroke covers up to its strength, however often its own dabs pass.
                    mask[r, c] = max(mask[r, c], w * amount)
                else:
                    mask[r, c] = min(mask[r, c], np.float32(1) + w * amount)


def painted(
    mask: np.ndarray, origin: tuple[float, float], texel: float, path: np.ndarray, *, radius: float, strength: float,
    soft: float, adds: bool,
) -> None:  # fmt: skip
    """Paint a stroke into a mask.

    :param mask: float32 (H, W) in [0, 1], changed in place; rows along z.
    :param origin: x and z of the mask's corner, metres. :param texel: side of a texel, metres.
    :param path: float (P, 2), x and z of the stroke, metres. :param radius: metres. :param strength, soft: in [0, 1].
    :param adds: whether it adds or takes away.
    """
    amount = np.float32(strength if adds else -strength)
    _painted(mask, *origin, texel, dabs_along(path, radius), radius, min(max(soft, 0.0), 1.0), amount, 0)


def hollowed(
    x: np.ndarray, z: np.ndarray, heights: np.ndarray, outline: np.ndarray, *, depth: float, rim_height: float,
    rim_width: float, soft: float,
) -> np.ndarray:  # fmt: skip
    """A height field with a hollow.

    The floor lies ``depth`` below the mean height along the outline, a rim ``rim_height`` above it stands around it.

    :param x, z, heights: float (rows, columns), metres. :param outline: float (N, 2), a simple polygon, metres.
    :param soft: width over which the floor rises to the outline, metres; in a narrow hollow less, so that there is a floor.
    """
    away, inside = distance_to_outline(x, z, outline)
    level = level_along(x, z, heights, outline)
    soft = min(soft, float(away[inside].max())) if inside.any() else soft
    t = np.clip(away / max(soft, 1e-6), 0, 1)
    fall = t * t * (3 - 2 * t)
    out = heights + inside * fall * (level - depth - heights)
    if rim_height > 0 and rim_width > 0:
        ring = np.clip(1 - np.abs(away) / rim_width, 0, 1)
        out = out + rim_height * ring * ring * (3 - 2 * ring) * np.where(inside, 1 - fall, 1.0)
    return out


def _heights_at(x: np.ndarray, z: np.ndarray, heights: np.ndarray, places: np.ndarray) -> np.ndarray:
    """Heights between the points of a field, float64 (…), at places (…, 2) along x and z."""
    at = [(places[..., 1] - z[0, 0]) / (z[1, 0] - z[0, 0]), (places[..., 0] - x[0, 0]) / (x[0, 1] - x[0, 0])]
    return np.asarray(map_coordinates(heights, at, order=1, mode="nearest"))


def _walked(outline: np.ndarray, step: float) -> tuple[np.ndarray, np.ndarray]:
    """Places along a closed outline (N, 2), evenly apart by at most a step, and the unit normals there: float64 (K, 2) each."""
    ends = np.roll(outline, -1, 0) - outline
    lengths = np.linalg.norm(ends, axis=1)
    far = np.concatenate([[0.0], np.cumsum(lengths)])
    t = np.linspace(0, far[-1], max(int(np.ceil(far[-1] / step)), 8), endpoint=False)
    edge = np.clip(np.searchsorted(far, t, side="right") - 1, 0, len(outline) - 1)
    ways = ends / np.maximum(lengths, 1e-12)[:, None]
    return outline[edge] + ways[edge] * (t - far[edge])[:, None], np.column_stack([ways[:, 1], -ways[:, 0]])[edge]


def level_along(x: np.ndarray, z: np.ndarray, heights: np.ndarray, outline: np.ndarray) -> float:
    """The mean height along an outline, metres.

    :param x, z, heights: float (rows, columns), metres. :param outline: float (N, 2), a polygon, metres.
    """
    places, _ = _walked(np.asarray(outline, float), abs(float(x[0, 1] - x[0, 0])) / 2)
    return float(_heights_at(x, z, heights, places).mean())


def spills_at(x: np.ndarray, z: np.ndarray, heights: np.ndarray, outline: np.ndarray, rim: float) -> float:
    """The height above which water would leave an outline: of all places along it the lowest, each as high as the highest
    point across its rim, metres.

    :param x, z, heights: float (rows, columns), metres. :param outline: float (N, 2), a polygon, metres.
    :param rim: how far to either side the rim may stand, metres.
    """
    step = abs(float(x[0, 1] - x[0, 0])) / 2
    places, normals = _walked(np.asarray(outline, float), step)
    across = np.linspace(-rim, rim, max(3, 2 * int(np.ceil(rim / step)) + 1))
    found = _heights_at(x, z, heights, places[None] + normals[None] * across[:, None, None])
    return float(found.max(0).min())


@njit(cache=True, nogil=True)
def _outline(x, z, outline, away, inside, first, beyond):  # type: ignore
    count = len(outline)
    for i in range(first, beyond):
        px, pz = x[i], z[i]
        best, within = np.inf, False
        for k in range(count):
            ax, az = outline[k, 0], outline[k, 1]
            bx, bz = outline[(k + 1) % count, 0], outline[(k + 1) % count, 1]
            ex, ez = bx - ax, bz - az
            t = min(max(((px - ax) * ex + (pz - az) * ez) / max(ex * ex + ez * ez, 1e-18), 0.0), 1.0)
            dx, dz = px - ax - t * ex, pz - az - t * ez
            best = min(best, dx * dx + dz * dz)
            if (az > pz) != (bz > pz) and px < ax + (pz - az) * ex / ez:
                within = not within
        away[i], inside[i] = np.sqrt(best), within


def distance_to_outline(x: np.ndarray, z: np.ndarray, outline: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Distances to the edges of a polygon (K, 2), and whether points lie inside it: float64 and bool, of the shape of ``x``
    and ``z``.

    Inside by the even–odd rule (Shimrat, "Algorithm 112", Communications of the ACM 5, 1962).
    """
    flat_x, flat_z = (np.ascontiguousarray(one, np.float64).ravel() for one in (x, z))
    away, inside = np.empty(len(flat_x)), np.empty(len(flat_x), np.bool_)
    given = (flat_x, flat_z, np.ascontiguousarray(outline, np.float64), away, inside)
    over_rows(lambda a, b: _outline(*given, a, b), len(flat_x), least=10_000)
    return away.reshape(np.shape(x)), inside.reshape(np.shape(x))


def from_map(
    values: np.ndarray,
    size: tuple[float, float],
    x: np.ndarray,
    z: np.ndarray,
    low: float,
    high: float,
    smoothing: float,
) -> np.ndarray:
    """Heights out of a height map that is laid over the whole ground.

    :param values: float32 (rows, columns) in [0, 1], at least 2 each, the first row at the least z.
    :param x, z: float (rows, columns), where heights are wanted. :param smoothing: radius of averaging, metres.
    """
    rows, columns = values.shape
    # Its outermost values lie on the edges of the ground, as those of the map that is written of one do.
    pixel = size[0] / (columns - 1), size[1] / (rows - 1)
    if smoothing > 0:
        values = gaussian_filter(values, (smoothing / pixel[1] / 2, smoothing / pixel[0] / 2), mode="nearest")
    at = [(z + size[1] / 2) / pixel[1], (x + size[0] / 2) / pixel[0]]
    return low + (high - low) * map_coordinates(values, at, order=1, mode="nearest")
