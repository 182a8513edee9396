"""Masks evaluated on texels: signals on coarse cells interpolated, others at each texel, in one compiled pass."""

from __future__ import annotations

import numpy as np
from numba import njit

from ..parallel import over_rows
from .where import COMBINATIONS, SignalCard


def card_table(cards: tuple[SignalCard, ...], sources: list[tuple[bool, int]]) -> np.ndarray:
    """Cards as numbers for the compiled pass.

    :param sources: for each card whether its signal is on cells, and its layer in that stack.
    :returns: float32 (K, 7): on cells, layer, starts at, 1/width (0 for a step), soft, inverted, combination.
    """
    rows = []
    for card, (on_cells, layer) in zip(cards, sources, strict=True):
        width = card.full_at - card.starts_at
        rows.append(
            [on_cells, layer, card.starts_at, 1 / width if width else 0.0, card.soft, card.inverted,
             COMBINATIONS.index(card.combine)]
        )  # fmt: skip
    return np.array(rows, np.float32).reshape(-1, 7)


@njit(inline="always", cache=True)
def _ramped(value, card):  # type: ignore
    if card[3] == 0:
        weight = np.float32(1) if value >= card[2] else np.float32(0)
    else:
        weight = min(max((value - card[2]) * card[3], np.float32(0)), np.float32(1))
        if card[4] != 0:
            weight = weight * weight * (np.float32(3) - np.float32(2) * weight)
    return np.float32(1) - weight if card[5] != 0 else weight


@njit(inline="always", cache=True)
def _joined(mask, weight, how, first):  # type: ignore
    if first:
        return weight if how != 4 else np.float32(1) - weight
    if how == 0:
        return mask * weight
    if how == 1:
        return max(mask, weight)
    if how == 2:
        return min(mask, weight)
    if how == 3:
        return min(mask + weight, np.float32(1))
    return max(mask - weight, np.float32(0))


@njit(cache=True, nogil=True, fastmath=True)
def _evaluate(cells, fine, cards, scale, out, first, beyond):  # type: ignore
    width = out.shape[1]
    h, w = cells.shape[1], cells.shape[2]
    inverse = np.float32(1.0 / scale)
    for y in range(first, beyond):
        cy = (np.float32(y) + np.float32(0.5)) * inverse - np.float32(0.5)
        y0 = min(max(int(np.floor(cy)), 0), max(h - 2, 0))
        y1 = min(y0 + 1, h - 1)
        ty = min(max(cy - np.float32(y0), np.float32(0)), np.float32(1))
        for x in range(width):
            cx = (np.float32(x) + np.float32(0.5)) * inverse - np.float32(0.5)
            x0 = min(max(int(np.floor(cx)), 0), max(w - 2, 0))
            x1 = min(x0 + 1, w - 1)
            tx = min(max(cx - np.float32(x0), np.float32(0)), np.float32(1))
            mask = np.float32(1)
            for k in range(cards.shape[0]):
                layer = int(cards[k, 1])
                if cards[k, 0] != 0:
                    top = cells[layer, y0, x0] + tx * (cells[layer, y0, x1] - cells[layer, y0, x0])
                    low = cells[layer, y1, x0] + tx * (cells[layer, y1, x1] - cells[layer, y1, x0])
                    value = top + ty * (low - top)
                else:
                    value = fine[layer, y, x]
                weight = _ramped(value, cards[k])
                mask = _joined(mask, weight, int(cards[k, 6]), k == 0)
            out[y, x] = mask


def evaluate(
    cells: np.ndarray, fine: np.ndarray, cards: np.ndarray, shape: tuple[int, int], scale: float
) -> np.ndarray:
    """The mask on texels.

    :param cells: float32 (S, h, w), signals on cells.
    :param fine: float32 (T, H, W), signals on texels.
    :param cards: as :func:`card_table` gives them; none means 1 everywhere.
    :param shape: (H, W).
    :param scale: texels a cell, in both directions.
    :returns: float32 (H, W) in [0, 1].
    """
    out = np.ones(shape, np.float32)
    if len(cards):
        over_rows(lambda a, b: _evaluate(cells, fine, cards, scale, out, a, b), shape[0], least=16)
    return out
