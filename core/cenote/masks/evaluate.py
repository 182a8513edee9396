"""Masks evaluated on texels: signals on coarse cells interpolated, others at each texel, in one compiled pass."""

from __future__ import annotations

import numpy as np
from numba import njit

from ..geometry.texels import stretch_row, stretch_table
from ..parallel import over_rows, rows_of
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


@njit(inline="always", cache=True, fastmath=True)
def _weigh(values, card, weights):  # type: ignore
    """The weights of a row of values; plain loops over a row are what the compiler turns into wide instructions."""
    start, slope = card[2], card[3]
    count = values.shape[0]
    if slope == 0:
        for x in range(count):
            weights[x] = np.float32(1) if values[x] >= start else np.float32(0)
    else:
        for x in range(count):
            weights[x] = min(max((values[x] - start) * slope, np.float32(0)), np.float32(1))
        if card[4] != 0:
            for x in range(count):
                weights[x] = weights[x] * weights[x] * (np.float32(3) - np.float32(2) * weights[x])
    if card[5] != 0:
        for x in range(count):
            weights[x] = np.float32(1) - weights[x]


@njit(inline="always", cache=True, fastmath=True)
def _join(mask, weights, how, first):  # type: ignore
    count = mask.shape[0]
    if first:
        for x in range(count):
            mask[x] = weights[x] if how != 4 else np.float32(1) - weights[x]
    elif how == 0:
        for x in range(count):
            mask[x] *= weights[x]
    elif how == 1:
        for x in range(count):
            mask[x] = max(mask[x], weights[x])
    elif how == 2:
        for x in range(count):
            mask[x] = min(mask[x], weights[x])
    elif how == 3:
        for x in range(count):
            mask[x] = min(mask[x] + weights[x], np.float32(1))
    else:
        for x in range(count):
            mask[x] = max(mask[x] - weights[x], np.float32(0))


@njit(cache=True, nogil=True, fastmath=True)
def _evaluate(cells, fine, cards, rows, sinks, left, share, out, first, beyond):  # type: ignore
    values, weights = np.empty(out.shape[1], np.float32), np.empty(out.shape[1], np.float32)
    between = np.empty(cells.shape[2] + 1, np.float32)
    for y in range(first, beyond):
        for k in range(cards.shape[0]):
            layer = int(cards[k, 1])
            if cards[k, 0] != 0:
                stretch_row(cells[layer], rows[y], sinks[y], left, share, between, values)
                _weigh(values, cards[k], weights)
            else:
                _weigh(fine[layer, y], cards[k], weights)
            _join(out[y], weights, int(cards[k, 6]), k == 0)


def evaluate(
    cells: np.ndarray, fine: np.ndarray, cards: np.ndarray, shape: tuple[int, int], scale: float,
    origin: tuple[int, int] = (0, 0),
) -> np.ndarray:  # fmt: skip
    """The mask on texels.

    :param cells: float32 (S, h, w), signals on cells.
    :param fine: float32 (T, H, W), signals on texels.
    :param cards: as :func:`card_table` gives them; none means 1 everywhere.
    :param shape: (H, W).
    :param scale: texels a cell, in both directions.
    :param origin: row and column of the first texel among all of its level.
    :returns: float32 (H, W) in [0, 1].
    """
    out = np.ones(shape, np.float32)
    if len(cards):
        rows, sinks = stretch_table(cells.shape[1], shape[0], scale, origin[0])
        left, share = stretch_table(cells.shape[2], shape[1], scale, origin[1])
        given = (cells, fine, cards, rows, sinks, left, share, out)
        over_rows(lambda a, b: _evaluate(*given, a, b), shape[0], rows_of(shape[1]))
    return out
