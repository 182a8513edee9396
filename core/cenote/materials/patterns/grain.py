"""The grain of sawn timber."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import choice, quantity
from ..canvas import Canvas, lattice, noise
from .base import PATTERNS, Pattern


@PATTERNS.register
class Grain(Pattern):
    """Timber cut along the trunk: rings that run out in long arches, and fine fibres; each board has its own."""

    kind: Literal["grain"] = "grain"
    title: ClassVar[str] = "Grain"
    rings: float = quantity(0.018, low=0.002, high=0.5, unit="m", step=0.001, help="Usual distance of two rings.")
    wander: float = quantity(0.05, low=0, high=0.5, unit="m", step=0.005, help="How far rings stray sideways.")
    length: float = quantity(1.2, low=0.05, high=20, unit="m", step=0.05, help="How long their arches are drawn.")
    board: float = quantity(0, low=0, high=5, unit="m", step=0.01, help="Width of a board; 0 for a single piece.")
    reads: Literal["rings", "fibres"] = choice(
        "rings", label="Shows", help="Broad rings, or the fine fibres between them."
    )

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        long = canvas.cells(self.length)
        if self.board:
            boards = canvas.cells(self.board, even=True)
            which = np.floor(y * boards).astype(np.int32) % boards
            # Each board is cut from another place along the trunk.
            x = x + lattice((boards,), key)[which]
        if self.reads == "fibres":
            across = canvas.cells(self.rings / 3)
            return noise(x, y, long, across, max(3, canvas.octaves(3, across)), 0.7, "soft", key, 3)
        stray = noise(x, y, long, canvas.cells(max(self.wander * 4, 0.02)), 3, 0.45, "soft", key) - np.float32(0.5)
        count = canvas.cells(self.rings)
        turn = y * np.float32(count) + stray * np.float32(2 * self.wander / canvas.size * count)
        late = turn - np.floor(turn)
        # Late wood darkens slowly, then stops at once.
        return np.where(late < 0.85, late / np.float32(0.85), (1 - late) / np.float32(0.15)).astype(np.float32) ** 2
