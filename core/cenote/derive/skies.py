"""What a site's sky is taken from, where that is a panorama."""

from __future__ import annotations

import numpy as np

from .graph import Graph
from .sources import PANORAMA, Source
from .store import Arrays


def pixels_in(arrays: Arrays) -> np.ndarray | None:
    """A stored panorama, float16 (rows, 2 × rows, 3); None where its file is lost."""
    return arrays["halves"].view(np.float16) if arrays else None


def kept_panorama(graph: Graph) -> np.ndarray | None:
    """The panorama that a site keeps, whether or not its sky is taken from it, as :func:`pixels_in`."""
    kept = graph.document.light.panorama
    return None if kept is None else pixels_in(graph.get(Source(PANORAMA, kept.source)))


def panorama_pixels(graph: Graph) -> np.ndarray | None:
    """The panorama that a site's sky is taken from, as :func:`pixels_in`; None where it is taken from none."""
    return kept_panorama(graph) if graph.document.light.by == "panorama" else None
