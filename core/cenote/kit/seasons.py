"""What the season does to plants: colours, leaves that fall, and litter that gathers."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..geometry.mesh import Mesh
from .base import CARD, KitItem

# The season runs from early spring (0) over midsummer (0.4) and autumn (0.7) to winter (1).
STATIONS = (0.0, 0.4, 0.7, 1.0)
# Share of the leaves of what sheds that hang: buds open, hang full, and fall within autumn.
_HANGING = ((0.0, 0.15, 0.62, 0.9, 1.0), (0.35, 1.0, 1.0, 0.04, 0.0))
# Share of the fallen leaves that lie: last year's rot until the new ones fall.
_LYING = ((0.0, 0.35, 0.62, 0.9, 1.0), (0.6, 0.25, 0.4, 1.0, 0.9))


def leaves_left(item: KitItem, season: float) -> float:
    """The share of an item's leaves that hang in a season, in [0, 1]. :param season: in [0, 1]."""
    return float(np.interp(season, *_HANGING)) if item.sheds else 1.0


def litter_lying(item: KitItem, season: float) -> float:
    """The share of a kind of litter that lies in a season, in [0, 1]; 1 for what is none. :param season: in [0, 1]."""
    return float(np.interp(season, *_LYING)) if item.litter else 1.0


def season_colour(item: KitItem, season: float) -> np.ndarray:
    """The factor on the colour of what grows of an item, linear float64 (3,). :param season: in [0, 1]."""
    if not item.grows:
        return np.ones(3)
    table = np.array(item.seasons)
    return np.array([np.interp(season, STATIONS, table[:, channel]) for channel in range(3)])


def leaf_faces(mesh: Mesh, share: float, leaf: int) -> int:
    """How many faces of the leaves hang. :param leaf: faces of one leaf. :param share: in [0, 1]."""
    cards = [row for row, part in enumerate(mesh.part_names) if part == CARD]
    count = int(np.isin(mesh.parts, cards).sum()) // leaf
    return round(count * share) * leaf


def shed(mesh: Mesh, share: float, leaf: int = 1) -> Mesh:
    """The mesh with a share of its leaves: the first of them, which stand evenly over it by the order they are built in.

    :param share: in [0, 1]. :param leaf: faces of one leaf.
    """
    if share >= 1 or CARD not in mesh.part_names:
        return mesh
    leaves = mesh.parts == mesh.part_names.index(CARD)
    keep = ~leaves | (np.cumsum(leaves) <= leaf_faces(mesh, share, leaf))
    return replace(mesh, faces=mesh.faces[keep], parts=mesh.parts[keep])
