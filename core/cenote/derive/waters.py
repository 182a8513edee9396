"""The waters of a site."""

from __future__ import annotations

import numpy as np

from .graph import Graph
from .ground import Pools

# Of water that stands over the whole site.
NO_OUTLINE = np.zeros((0, 2))


def waters(graph: Graph) -> list[tuple[float, np.ndarray]]:
    """Each a level in metres and the outline of its hollow, float64 (N, 2): first what stands over the whole site, which has no outline."""
    water = graph.document.water
    return [(water.level, NO_OUTLINE)] * water.shown + list(graph.get(Pools()))
