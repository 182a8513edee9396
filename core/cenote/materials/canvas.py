"""What patterns draw on: a square that wraps round at its edges, of a real size."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numba import njit
from scipy.ndimage import gaussian_filter

from ..parallel import over_rows, rows_of
from ..randomness import combine, key_of, unit_float
from .tile import PIXELS


@dataclass
class Canvas:
    """A tile in the making.

    :ivar pixels: its side in pixels, a power of two.
    :ivar size: its side in metres.
    :ivar seed: the variant.
    :ivar height: float32 (n, n) in [0, 1], the relief that the layers so far have made.
    :ivar shared: layouts that are drawn more than once, and so are worth keeping.
    """

    pixels: int
    size: float
    seed: int
    height: np.ndarray
    shared: set[object] = field(default_factory=set)
    _kept: dict[object, np.ndarray] = field(default_factory=dict)

    def key(self, *parts: int | str) -> np.uint64:
        """A key for random numbers of this variant."""
        return key_of("material", self.seed, *parts)

    def cells(self, size: float, even: bool = False) -> int:
        """How many cells of about a size in metres go across the tile: a whole number, so that the pattern wraps."""
        count = max(1, round(self.size / max(size, 1e-4)))
        return max(2, count + count % 2) if even else count

    def octaves(self, wanted: int, cells: int) -> int:
        """How many octaves noise is drawn in: as many as are wanted, and on more pixels than usual finer ones as well; those finer
        than two pixels would be only flicker, and cost as much as the others. :param cells: of the coarsest, across the tile."""
        fit = max(1, int(np.log2(max(1, self.pixels / 2 / cells))) + 1)
        return min(wanted, fit) if self.pixels <= PIXELS else fit

    def kept(self, name: object, make: Callable[[], np.ndarray]) -> np.ndarray:
        """Something that several layers ask for, made once: whatever ``make`` gives, float32 (n, n) as a rule."""
        if name not in self._kept:
            self._kept[name] = make()
        return self._kept[name]

    def filled(self, kernel: Callable[[np.ndarray, int, int], object]) -> np.ndarray:
        """A picture float32 (n, n) from a compiled ``kernel(out, first row, row beyond)``, run on all cores."""
        out = np.empty((self.pixels, self.pixels), np.float32)
        over_rows(lambda a, b: kernel(out, a, b), self.pixels, rows_of(self.pixels))
        return out


def plain_coordinates(pixels: int) -> tuple[np.ndarray, np.ndarray]:
    """Coordinates of pixel centres in tiles, each float32 (n, n): x to the right, y downwards."""
    centres = ((np.arange(pixels) + 0.5) / pixels).astype(np.float32)
    x, y = np.meshgrid(centres, centres)
    return np.ascontiguousarray(x), np.ascontiguousarray(y)


def lattice(shape: tuple[int, ...], key: np.uint64) -> np.ndarray:
    """Uniform random numbers in [0, 1), float32 of any shape that is given; the same for the same key."""
    return _lattice(int(np.prod(shape)), key).reshape(shape)


@njit(cache=True)
def _lattice(count: int, key: np.uint64) -> np.ndarray:
    out = np.empty(count, np.float32)
    for i in range(count):
        out[i] = np.float32(unit_float(combine(key, i)))
    return out


@njit(inline="always", cache=True)
def wrapped(at, count):  # type: ignore
    """A whole number brought into [0, count); division is left for those that are far out."""
    if at < 0:
        return at + count if at >= -count else at % count
    if at >= count:
        return at - count if at < 2 * count else at % count
    return at


@njit(cache=True, nogil=True, fastmath=True)
def _noise(x, y, gradients, starts, columns, rows, weights, shape, norm, coarse, out, first, beyond):  # type: ignore
    for j in range(first, beyond):
        for i in range(x.shape[1]):
            total = coarse[j, i] if coarse.shape[0] > 1 else np.float32(0)
            for octave in range(len(starts)):
                w, h, start = columns[octave], rows[octave], starts[octave]
                px, py = x[j, i] * np.float32(w), y[j, i] * np.float32(h)
                fx, fy = np.floor(px), np.floor(py)
                tx, ty = px - fx, py - fy
                x0, y0 = wrapped(int(fx), w), wrapped(int(fy), h)
                x1, y1 = x0 + 1 if x0 + 1 < w else 0, y0 + 1 if y0 + 1 < h else 0
                a, b = start + y0 * w + x0, start + y0 * w + x1
                c, d = start + y1 * w + x0, start + y1 * w + x1
                one = np.float32(1)
                sx = tx * tx * tx * (tx * (tx * np.float32(6) - np.float32(15)) + np.float32(10))
                sy = ty * ty * ty * (ty * (ty * np.float32(6) - np.float32(15)) + np.float32(10))
                top = gradients[a, 0] * tx + gradients[a, 1] * ty
                top += sx * (gradients[b, 0] * (tx - one) + gradients[b, 1] * ty - top)
                low = gradients[c, 0] * tx + gradients[c, 1] * (ty - one)
                low += sx * (gradients[d, 0] * (tx - one) + gradients[d, 1] * (ty - one) - low)
                value = top + sy * (low - top)
                if shape == 1:
                    value = np.float32(0.5) - np.float32(2) * abs(value)
                elif shape == 2:
                    value = np.float32(2) * abs(value) - np.float32(0.5)
                total += weights[octave] * value
            out[j, i] = min(max(np.float32(0.5) + total * norm, np.float32(0)), np.float32(1)) if norm > 0 else total


NOISE_SHAPES = {"soft": 0, "ridged": 1, "billowed": 2}


def noise(
    x: np.ndarray,
    y: np.ndarray,
    columns: int,
    rows: int,
    octaves: int,
    fade: float,
    shape: str,
    key: np.uint64,
    weighed: int | None = None,
) -> np.ndarray:
    """Layered gradient noise that repeats after 1 in x and y (Perlin, "Improving Noise", 2002, on a wrapped lattice).

    :param x, y: float32 (H, W), tiles. :param columns, rows: lattice cells across the tile, of the coarsest octave.
    :param fade: weight of each octave against the one before.
    :param weighed: of how many octaves the spread is brought to one; all, if not given. More of them then add to it what is
        finer and change nothing else.
    :param shape: "soft", or folded at its zeros: "ridged" has sharp crests, "billowed" sharp valleys.
    :returns: float32 (H, W) in [0, 1], about 0.5 on average.
    """
    sizes = [(columns << octave, rows << octave) for octave in range(octaves)]
    starts = np.concatenate([[0], np.cumsum([w * h for w, h in sizes])])
    turns = lattice((int(starts[-1]),), key) * np.float32(2 * np.pi)
    gradients = np.column_stack([np.cos(turns), np.sin(turns)]).astype(np.float32)
    weights = np.float32(fade) ** np.arange(octaves, dtype=np.float32)
    # Octaves are independent, so the spread grows with the root of their squares.
    norm = np.float32((0.95 if shape == "soft" else 0.62) / np.sqrt((weights[: weighed or octaves] ** 2).sum()))
    table = np.array(sizes, np.int64)

    def summed(x: np.ndarray, y: np.ndarray, some: slice, norm: np.float32, coarse: np.ndarray) -> np.ndarray:
        out = np.empty(x.shape, np.float32)
        wide, high = np.ascontiguousarray(table[some, 0]), np.ascontiguousarray(table[some, 1])
        given = (x, y, gradients, starts[:-1][some], wide, high, weights[some], NOISE_SHAPES[shape], norm, coarse)
        over_rows(lambda a, b: _noise(*given, out, a, b), x.shape[0], rows_of(x.shape[1]))
        return out

    # Octaves whose cells are wide are smooth: a sixteenth of the pixels is enough for them.
    smooth = int((table.max(1) * 32 <= len(x)).sum()) if shape == "soft" and len(x) >= 512 else 0
    coarse = np.zeros((1, 1), np.float32)
    if smooth:
        few = np.ascontiguousarray(x[2::4, 2::4]), np.ascontiguousarray(y[2::4, 2::4])
        coarse = enlarged(summed(*few, slice(0, smooth), np.float32(0), coarse), len(x))
    return summed(x, y, slice(smooth, octaves), norm, coarse)


def warped(canvas: Canvas, amount: float, size: float, key: np.uint64) -> tuple[np.ndarray, np.ndarray]:
    """Coordinates pushed about by noise.

    :param amount: greatest shift in metres. :param size: of the noise, metres.
    :returns: x and y, each float32 (n, n), 1 across the tile.
    """
    plain = canvas.kept("plain", lambda: np.stack(plain_coordinates(canvas.pixels)))
    if amount <= 0:
        return plain[0], plain[1]

    def make() -> np.ndarray:
        # A warp is smooth: a quarter of the pixels each way is enough.
        coarse = plain_coordinates(max(8, canvas.pixels // 4))
        cells = canvas.cells(size)
        out = np.empty_like(plain)
        for channel in range(2):
            with np.errstate(over="ignore"):
                push = noise(*coarse, cells, cells, 3, 0.5, "soft", key + np.uint64(channel)) - np.float32(0.5)
            enlarged(push * np.float32(2 * amount / canvas.size), canvas.pixels, out[channel])
            out[channel] += plain[channel]
        return out

    found = canvas.kept(("warp", amount, size, int(key)), make)
    return found[0], found[1]


@njit(cache=True, nogil=True, fastmath=True)
def _enlarged(coarse, factor, out, first, beyond):  # type: ignore
    n, step = coarse.shape[0], np.float32(1.0 / factor)
    for j in range(first, beyond):
        v = (np.float32(j) + np.float32(0.5)) * step - np.float32(0.5)
        fv = np.floor(v)
        ty = v - fv
        y0 = wrapped(int(fv), n)
        y1 = y0 + 1 if y0 + 1 < n else 0
        for i in range(out.shape[1]):
            u = (np.float32(i) + np.float32(0.5)) * step - np.float32(0.5)
            fu = np.floor(u)
            tx = u - fu
            x0 = wrapped(int(fu), n)
            x1 = x0 + 1 if x0 + 1 < n else 0
            top = coarse[y0, x0] + tx * (coarse[y0, x1] - coarse[y0, x0])
            low = coarse[y1, x0] + tx * (coarse[y1, x1] - coarse[y1, x0])
            out[j, i] = top + ty * (low - top)


def enlarged(coarse: np.ndarray, pixels: int, out: np.ndarray | None = None) -> np.ndarray:
    """A wrapped picture at more pixels, float32 (n, n), interpolated between the nearest four."""
    if out is None:
        out = np.empty((pixels, pixels), np.float32)
    coarse = np.ascontiguousarray(coarse, np.float32)
    over_rows(lambda a, b: _enlarged(coarse, pixels // len(coarse), out, a, b), pixels, rows_of(pixels))
    return out


def blurred(picture: np.ndarray, radius: float) -> np.ndarray:
    """A wrapped picture, float32 (n, n), averaged over about ``radius`` pixels; wide averages are taken on fewer pixels."""
    factor = 1
    while radius / factor > 3 and len(picture) // (2 * factor) >= 16:
        factor *= 2
    side = len(picture) // factor
    small = picture.reshape(side, factor, side, factor).mean((1, 3)) if factor > 1 else picture
    small = gaussian_filter(small, max(radius / factor / 2, 0.3), mode="wrap", truncate=2.5)
    return small.astype(np.float32) if factor == 1 else enlarged(small, len(picture))
