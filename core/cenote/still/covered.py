"""Where in a still each cover lies."""

from __future__ import annotations

import numpy as np

from ..derive.graph import Graph
from ..derive.reports import CoverShare
from ..render.preview import cells_of, look
from ..site.document import Shot
from .tracing import Picture

# A surface is what a pixel shows where it lies as far away as that, by so much of it, and metres more.
_CLOSE, _NEAR = 0.02, 0.05


def cover_masks(graph: Graph, shot: Shot, picture: Picture, depth: np.ndarray) -> dict[str, np.ndarray]:
    """How much of each pixel covers take of the surfaces that it shows, by the ids of their layers: float32 (h, w) in [0, 1].

    They are as fine as cells are. What is planted or floats before a surface has none.

    :param depth: metres along the rays of the picture's window, float32 (h, w).
    """
    seen = look(graph, shot, picture.width, picture.height)
    origins, _ = shot.camera(picture.width / picture.height).rays(picture.width, picture.height)
    away = np.linalg.norm(seen.points - origins, axis=1)
    first, last, top, bottom = picture.window

    def windowed(values: np.ndarray) -> np.ndarray:
        return values.reshape(seen.shape)[top : bottom + 1, first : last + 1]

    shown = windowed(seen.which >= 0) & (np.abs(windowed(away) - depth) < _CLOSE * windowed(away) + _NEAR)
    out = {}
    for layer in graph.document.weather:
        if not layer.shown:
            continue
        found = np.zeros(len(seen.which), np.float32)
        for row, (id, shape) in enumerate(zip(seen.ids, seen.shapes, strict=True)):
            mine = np.flatnonzero(seen.which == row)
            share = graph.get(CoverShare(layer.id, id)) if id in layer.surfaces and len(mine) else None
            if share is not None:
                found[mine] = share[cells_of(seen.places[mine], shape)]
        if found.any():
            out[layer.id] = np.where(shown, windowed(found), 0).astype(np.float32)
    return out
