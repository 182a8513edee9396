"""Leaves that lie in a ring about one point, as of dandelion, dock and plantain: no item, but what several are made of."""

from __future__ import annotations

import numpy as np

from ..geometry.mesh import Mesh
from .base import CARD, Dice, along_y, ribbon

Cell = tuple[float, float, float, float]


def rosette(
    dice: Dice,
    count: int,
    reach: tuple[float, float],
    width: float,
    rise: tuple[float, float],
    cell: Cell,
    steps: int,
    wave: float = 0.0,
) -> list[Mesh]:
    """Leaves that rise from a point and bend back to the ground, each a strip of a card.

    :param reach: shortest and longest leaf, metres. :param width: against its length. :param rise: how steeply it rises, least and most.
    :param cell: of the card. :param wave: how far its edges go up and down, against its width.
    """
    out = []
    for k in range(count):
        turn = k * 2.39996 + dice.one(-0.35, 0.35)
        way, long, up = along_y(turn), dice.one(*reach), dice.one(*rise)
        u = np.linspace(0, 1, steps + 1)
        path = way * (0.006 + long * u * (1 - 0.12 * up))[:, None]
        path[:, 1] += long * (up * u - (up + 0.1) * u**2.1) + 0.008
        path[:, 1] = np.maximum(path[:, 1], 0.003 + 0.004 * (k % 3))
        tilt = dice.one(-0.25, 0.25) + wave * np.sin(u * 9 + k)
        side = np.column_stack([np.full(len(u), -way[2]), tilt, np.full(len(u), way[0])])
        shade = np.tile(np.ones(3) * dice.one(0.78, 1.18), (len(u), 1)) * (0.66 + 0.34 * u)[:, None]
        out.append(ribbon(path, np.full(len(u), long * width), side, shade, CARD, cell))
    return out
