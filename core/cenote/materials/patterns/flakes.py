"""Separate small things strewn over the tile: pebbles, leaves, blades, chips, spots."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numba import njit

from ...parallel import over_rows, rows_of
from ...parameters import choice, quantity, span
from ..canvas import Canvas, lattice, wrapped
from .base import PATTERNS, Pattern

_READS = {"shape": 0, "dome": 1, "tone": 2, "rib": 3}


@njit(cache=True, nogil=True, fastmath=True)
def _flakes(x, y, count, there, points, turns, sizes, order, width, pointed, out, first, beyond):  # type: ignore
    """out: float32 (n, n, 3): how far inside the uppermost flake, 0 outside; its number; the way across it."""
    for j in range(first, beyond):
        for i in range(x.shape[1]):
            px, py = x[j, i] * np.float32(count), y[j, i] * np.float32(count)
            cx, cy = int(np.floor(px)), int(np.floor(py))
            top, inside, which, rib = np.float32(-1), np.float32(0), 0, np.float32(0)
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    at = wrapped(cy + dy, count) * count + wrapped(cx + dx, count)
                    if not there[at] or order[at] < top:
                        continue
                    vx = np.float32(px - (cx + dx) - points[at, 0]) / sizes[at]
                    vy = np.float32(py - (cy + dy) - points[at, 1]) / sizes[at]
                    u = vx * turns[at, 0] + vy * turns[at, 1]
                    if abs(u) >= 1:
                        continue
                    v = vy * turns[at, 0] - vx * turns[at, 1]
                    # Half width along the flake: an ellipse, or a lens that comes to a point at both ends.
                    round_ = np.sqrt(np.float32(1) - u * u)
                    half = width * (round_ + pointed * (np.float32(1) - u * u - round_))
                    way = np.float32(1) - abs(v) / max(half, np.float32(1e-6))
                    if way > 0:
                        top, inside, which = order[at], min(way, (np.float32(1) - abs(u)) * np.float32(3)), at
                        rib = v / max(half, np.float32(1e-6))
            out[j, i, 0] = inside
            out[j, i, 1] = np.float32(which)
            out[j, i, 2] = rib


@PATTERNS.register
class Flakes(Pattern):
    """Separate things strewn about, one over another: pebbles, leaves, grass blades, chips of paint, rust spots."""

    kind: Literal["flakes"] = "flakes"
    title: ClassVar[str] = "Flakes"
    spread: float = quantity(0.05, low=0.002, high=5, unit="m", step=0.002, help="Usual distance between two.")
    size: tuple[float, float] = span(
        (0.6, 1.0), low=0.01, high=1, unit="×", help="Least and greatest length, against twice the spread."
    )
    share: float = quantity(1, low=0, high=1, unit="", step=0.05, help="Which share of the places has one.")
    slim: float = quantity(0.3, low=0, high=0.98, unit="", step=0.02, help="0 is round, 1 a needle.")
    pointed: float = quantity(0, low=0, high=1, unit="", step=0.05, help="Round ends at 0, pointed at 1.")
    aligned: float = quantity(0, low=0, high=1, unit="", step=0.05, help="0 lies any way, 1 all lie along the tile.")
    reads: Literal["shape", "dome", "tone", "rib"] = choice(
        "dome", label="Shows", help="Flat shapes, domes, a tone for each, or its ribs and folded halves."
    )

    @property
    def finest(self) -> float:
        return 2 * self.spread * self.size[1] * (1 - self.slim)

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        count = canvas.cells(self.spread)
        with np.errstate(over="ignore"):
            random = lattice((6, count * count), key)

        def make() -> np.ndarray:
            angle = (random[2] - np.float32(0.5)) * np.float32(2 * np.pi * (1 - self.aligned))
            turns = np.column_stack([np.cos(angle), np.sin(angle)]).astype(np.float32)
            least, most = self.size
            # A place looks no farther than its neighbours, so that a flake reaches at most one cell from its middle.
            sizes = (np.float32(least) + np.float32(most - least) * random[3]).astype(np.float32)
            points = np.ascontiguousarray(random[:2].T)
            out = np.empty((*x.shape, 3), np.float32)
            given = (x, y, count, random[4] < self.share, points, turns, sizes, random[5])
            over_rows(
                lambda a, b: _flakes(*given, np.float32(1 - self.slim), np.float32(self.pointed), out, a, b),
                len(x),
                rows_of(len(x)),
            )
            return out

        name = ("flakes", int(key), float(x[0, 0]), float(x[-1, 7]), *self.model_dump(exclude={"reads"}).items())
        found = canvas.kept(name, make)
        inside = found[..., 0]
        if self.reads == "shape":
            return np.clip(inside * np.float32(6), 0, 1)
        if self.reads == "dome":
            return np.sqrt(np.clip(inside * (2 - inside), 0, 1))
        if self.reads == "tone":
            with np.errstate(over="ignore"):
                tones = lattice((count * count,), key + np.uint64(7))
            return tones[found[..., 1].astype(np.int32)] * (inside > 0)
        return np.clip((1 - np.abs(found[..., 2])) * np.float32(0.3) + np.float32(0.7) * (found[..., 2] > 0), 0, 1) * (
            inside > 0
        )
