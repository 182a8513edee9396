"""Signed distances to lines, discs and letters, at places."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numba import njit

from ..structures.lettering import letter_contours
from .base import Sheet, along_places

_FAR = 1e9


@njit(cache=True, nogil=True)
def _lines(x, y, lines, out, first, beyond):  # type: ignore
    for i in range(first, beyond):
        least = _FAR
        for k in range(len(lines)):
            ax, ay, bx, by, wide_a, wide_b = lines[k]
            dx, dy = bx - ax, by - ay
            t = min(max(((x[i] - ax) * dx + (y[i] - ay) * dy) / max(dx * dx + dy * dy, 1e-12), 0.0), 1.0)
            gap = np.hypot(x[i] - ax - t * dx, y[i] - ay - t * dy) - (wide_a + t * (wide_b - wide_a)) / 2
            least = min(least, gap)
        out[i] = least


def to_lines(sheet: Sheet, lines: np.ndarray) -> np.ndarray:
    """Metres to the nearest of some round-ended lines, below 0 within them: float32 (N,).

    :param lines: float (L, 6), metres: both ends, and how wide each is at the first and at the second.
    """
    return along_places(_lines, sheet, np.asarray(lines, np.float64).reshape(-1, 6))


@njit(cache=True, nogil=True)
def _discs(x, y, discs, merge, out, first, beyond):  # type: ignore
    for i in range(first, beyond):
        least = _FAR
        for k in range(len(discs)):
            across, up, radius = discs[k]
            if max(abs(x[i] - across), abs(y[i] - up)) - radius > least + merge:
                continue
            gap = np.hypot(x[i] - across, y[i] - up) - radius
            h = max(merge - abs(least - gap), 0.0) / merge
            least = min(least, gap) - h * h * merge * 0.25
        out[i] = least


def to_discs(sheet: Sheet, discs: np.ndarray, merge: float = 1e-6) -> np.ndarray:
    """Metres to the nearest of some discs, below 0 within them: float32 (N,).

    Those that are near run together, by the polynomial smooth minimum (Quilez, "Smooth minimum", 2013).

    :param discs: float (D, 3), metres: middle and radius. :param merge: metres over which they do.
    """
    return along_places(_discs, sheet, np.asarray(discs, np.float64).reshape(-1, 3), float(merge))


@njit(cache=True, nogil=True)
def _letters(x, y, edges, starts, boxes, pad, out, first, beyond):  # type: ignore
    for i in range(first, beyond):
        least = pad
        for letter in range(len(boxes)):
            low_x, low_y, high_x, high_y = boxes[letter]
            if x[i] < low_x - pad or x[i] > high_x + pad or y[i] < low_y - pad or y[i] > high_y + pad:
                continue
            near, within = pad, False
            for k in range(starts[letter], starts[letter + 1]):
                ax, ay, bx, by = edges[k]
                dx, dy = bx - ax, by - ay
                t = min(max(((x[i] - ax) * dx + (y[i] - ay) * dy) / max(dx * dx + dy * dy, 1e-18), 0.0), 1.0)
                near = min(near, np.hypot(x[i] - ax - t * dx, y[i] - ay - t * dy))
                if (ay > y[i]) != (by > y[i]) and x[i] < ax + (y[i] - ay) / dy * dx:
                    within = not within
            least = min(least, -near if within else near)
        out[i] = least


@lru_cache(maxsize=256)
def _line(text: str, font: str) -> tuple[np.ndarray, tuple[int, ...], np.ndarray, float, float]:
    """A written line with capitals of 1: edges float64 (E, 4), how many each letter has, boxes about letters (L, 4), and where it begins and ends."""
    edges, counts, boxes = [np.zeros((0, 4))], [], []
    for letter in letter_contours(text, font, 1.0, 0.0):
        if letter:
            edges += [np.column_stack([c, np.roll(c, -1, axis=0)]) for c in letter]
            counts.append(sum(len(c) for c in letter))
            every = np.concatenate(letter)
            boxes.append([*every.min(0), *every.max(0)])
    whole = np.array(boxes).reshape(-1, 4)
    low, high = (float(whole[:, 0].min()), float(whole[:, 2].max())) if boxes else (0.0, 0.0)
    return np.concatenate(edges), tuple(counts), whole, low, high


def to_letters(sheet: Sheet, lines: list[tuple[str, float, float, float]], font: str) -> np.ndarray:
    """Metres to the outlines of written lines, below 0 within the letters: float32 (N,); farther than a third of a letter it is that much.

    :param lines: each a text, height of its capitals, where its middle is across, and where its foot is up, metres.
    """
    edges, counts, boxes = [], [0], []
    for text, height, across, up in lines:
        known, many, about, low, high = _line(text, font)
        moved = np.array([across - (low + high) / 2 * height, up] * 2)
        edges.append(known * height + moved)
        boxes.append(about * height + moved)
        counts += many
    if len(counts) < 2:
        return np.full(len(sheet.x), _FAR, np.float32)
    pad = max(max(height for _, height, _, _ in lines) / 3, 2 * sheet.texel)
    return along_places(_letters, sheet, np.concatenate(edges), np.cumsum(counts), np.concatenate(boxes), pad)


def width_of(text: str, font: str, height: float) -> float:
    """How wide a written line is, metres; 0 for none."""
    low, high = _line(text, font)[3:]
    return (high - low) * height


def fitted(
    texts: list[str], font: str, width: float, tall: float, gap: float = 0.35
) -> list[tuple[str, float, float, float]]:
    """Lines of text one below another, as large as a place allows: as :func:`to_letters` takes them, about the middle.

    :param width, tall: of the place, metres. :param gap: between lines, share of the height of capitals.
    """
    widest = max((width_of(text, font, 1.0) for text in texts), default=0.0)
    height = min(width / max(widest, 1e-6), tall / (len(texts) + gap * max(len(texts) - 1, 0)))
    step = height * (1 + gap)
    top = (len(texts) * height + gap * height * (len(texts) - 1)) / 2 - height
    return [(text, height, 0.0, top - row * step) for row, text in enumerate(texts)]
