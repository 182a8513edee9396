"""Filling surfaces with a whole layer at once."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kit.shelf import SHIPPED, Shelf
from ..parallel import over_rows
from ..signals.scene import MeasuredScene
from .fill import Carried, Filling, fill_spots
from .hand import with_hand
from .layer import Scatter
from .placements import Placements
from .spots import FillSurface, Spots, spots_of


def fill(
    layer: Scatter,
    surfaces: FillSurface | Sequence[FillSurface],
    scene: MeasuredScene,
    tint: np.ndarray | None = None,
    carried: Carried | None = None,
    shelf: Shelf = SHIPPED,
) -> Placements:
    """Place a layer whole: spots, rules, rows, and what was done by hand.

    :param tint: float (kinds, 3), factors on the colour of each kind. See :class:`Filling` for the other parameters.
    """
    given = [surfaces] if isinstance(surfaces, FillSurface) else surfaces
    filling = Filling(given, scene, carried, shelf, tint)
    spots = spots_of(layer, given)
    return with_hand(layer, plots_of(layer, spots, filling), filling)


def plots_of(layer: Scatter, spots: Spots, filling: Filling) -> list[Placements]:
    """The layer plot by plot, as the whole would be: near a plot there is less to look at than on the whole site."""
    count = len(spots.plots.index)
    out: list[Placements | None] = [None] * count

    def run(first: int, beyond: int) -> None:
        for row in range(first, beyond):
            out[row] = fill_spots(layer, spots.of_plot(row), filling)

    over_rows(run, count, least=8)
    return [table for table in out if table is not None]
