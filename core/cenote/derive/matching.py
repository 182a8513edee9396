"""Colours of placed items that sit with the surfaces that they stand on."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ..colour import linear_of
from ..scatter.layer import Match, Scatter
from ..scatter.tints import suggested_match
from .colours import AverageColour
from .maps import SurfaceMaps
from .planting import surfaces_of
from .site import Site
from .surfaces import Grid, ObjectShape, Shape

if TYPE_CHECKING:
    # It says who asks, and is no part of what is made.
    from .graph import Graph


def suggested_for(graph: Graph, layer: Scatter, row: int) -> Match:
    """A match for a row of a layer's mix that lets it sit with the surfaces that the layer stands on."""
    colours, areas = [], []
    for id in surfaces_of(Site(graph), layer.id):
        shape: Shape = graph.get(ObjectShape(id))
        maps = graph.get(SurfaceMaps(id, shape.coarsest_level))
        shown = graph.get(Grid(id, shape.coarsest_level)).inside > 0
        # The mean of light, not of the numbers it is written in.
        colours.append(linear_of(maps.base[shown][:, :3]).mean(0))
        areas.append(shape.area)
    if not colours:
        return Match()
    return suggested_match(graph.get(AverageColour(layer.mix[row].item)), np.average(colours, axis=0, weights=areas))
