"""Pieces laid in rows: bricks, blocks, boards, tiles, slabs."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numba import njit

from ...parameters import choice, quantity
from ..canvas import Canvas, lattice, wrapped
from ..laid import Pieces
from .base import PATTERNS, Pattern, eased

_READS = {"face": 0, "tone": 1, "rounded": 2, "overlap": 3, "tilt": 4, "along": 5}


@njit(cache=True, nogil=True, fastmath=True)
def _courses(x, y, columns, rows, shift, stray, tilts, width, height, joint, bevel, read, tones, out, first, beyond):  # type: ignore
    """stray: float32 (rows, columns + 1), shift of each upright joint in pieces; tilts: float32 (rows·columns, 2)."""
    for j in range(first, beyond):
        for i in range(x.shape[1]):
            py = y[j, i] * np.float32(rows)
            fy = np.floor(py)
            row = wrapped(int(fy), rows)
            px = x[j, i] * np.float32(columns) + shift[row]
            column = int(np.floor(px))
            # The joint may have strayed past this place, either way.
            if px < column + stray[row, wrapped(column, columns)]:
                column -= 1
            elif px >= column + 1 + stray[row, wrapped(column + 1, columns)]:
                column += 1
            left = np.float32(px - column - stray[row, wrapped(column, columns)])
            right = np.float32(column + 1 + stray[row, wrapped(column + 1, columns)] - px)
            down = np.float32(py - fy)
            piece = row * columns + wrapped(column, columns)
            across = min(left, right) * width
            upright = min(down, np.float32(1) - down) * height
            inner = min(across, upright) - joint * np.float32(0.5)
            if read == 0:
                out[j, i] = eased(inner, np.float32(0), bevel)
            elif read == 1:
                out[j, i] = tones[piece]
            elif read == 2:
                # A rounded arris all round, a quarter circle of the bevel's radius.
                t = min(max(inner / bevel, np.float32(0)), np.float32(1))
                out[j, i] = np.sqrt(t * (np.float32(2) - t))
            elif read == 3:
                held = eased(across - joint * np.float32(0.5), np.float32(0), bevel)
                out[j, i] = down * held * (np.float32(1) - eased(down, np.float32(1) - bevel / height, np.float32(1)))
            elif read == 4:
                u = (left / (left + right) - np.float32(0.5)) * tilts[piece, 0]
                v = (down - np.float32(0.5)) * tilts[piece, 1]
                out[j, i] = np.float32(0.5) + u + v
            else:
                out[j, i] = left / (left + right)


@PATTERNS.register
class Courses(Pattern):
    """Pieces in rows with joints between: brickwork, blocks, boards, slabs and roof tiles."""

    kind: Literal["courses"] = "courses"
    title: ClassVar[str] = "Courses"
    width: float = quantity(0.225, low=0.01, high=20, unit="m", step=0.005, help="Length of a piece with its joint.")
    height: float = quantity(0.075, low=0.01, high=20, unit="m", step=0.005, help="Height of a row with its joint.")
    joint: float = quantity(0.01, low=0, high=0.5, unit="m", step=0.001, help="Width of the joints.")
    bevel: float = quantity(0.006, low=0.0005, high=0.5, unit="m", step=0.001, help="How wide edges are worn.")
    shift: float = quantity(0.5, low=0, high=1, unit="", step=0.05, help="Shift of every other row, in pieces.")
    uneven: float = quantity(0, low=0, high=1, unit="", step=0.05, help="How far pieces differ in length.")
    reads: Literal["face", "tone", "rounded", "overlap", "tilt", "along"] = choice(
        "face",
        label="Shows",
        help="Faces between joints, a tone for each piece, rounded faces, tiles that overlap downwards, "
        "a slight tilt of each, or the way along each.",
    )

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        columns, rows, shift, stray = self._joints(canvas, key)
        with np.errstate(over="ignore"):
            tones = lattice((rows * columns,), key + np.uint64(1))
            tilts = lattice((rows * columns, 2), key + np.uint64(2)) * np.float32(2) - np.float32(1)
        pixel = canvas.size / canvas.pixels
        numbers = (np.float32(canvas.size / columns), np.float32(canvas.size / rows), np.float32(self.joint),
                   np.float32(max(self.bevel, pixel)), _READS[self.reads])  # fmt: skip
        return canvas.filled(
            lambda out, a, b: _courses(x, y, columns, rows, shift, stray, tilts, *numbers, tones, out, a, b)
        )

    def _joints(self, canvas: Canvas, key: np.uint64) -> tuple[int, int, np.ndarray, np.ndarray]:
        """Pieces in a course and courses; the shift of each, float32 (rows,), and how far upright joints stray, float32
        (rows, columns), both in pieces."""
        columns, rows = canvas.cells(self.width), canvas.cells(self.height, even=True)
        shift = (np.arange(rows) % 2 * self.shift).astype(np.float32)
        stray = (lattice((rows, columns), key) - np.float32(0.5)) * np.float32(self.uneven * 0.7)
        if self.uneven > 0.3:
            with np.errstate(over="ignore"):
                shift += lattice((rows,), key + np.uint64(3)) * np.float32(self.uneven)
        return columns, rows, shift, stray

    def pieces(self, canvas: Canvas, key: np.uint64) -> Pieces:
        """Where its pieces lie. :param key: as for :meth:`draw`."""
        columns, rows, shift, stray = self._joints(canvas, key)
        left = np.arange(columns) + stray - shift[:, None]
        wide = 1 + np.roll(stray, -1, 1) - stray
        spans = np.stack([left, wide], -1).reshape(-1, 2) / columns
        return Pieces(rows, columns, self.shift, self.uneven, np.ascontiguousarray(spans, np.float32))
