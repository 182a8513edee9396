"""How fine the maps of surfaces have to be for a picture of a shot."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..derive.graph import Graph
from ..derive.surfaces import MOST_TEXELS, ObjectShape, Shape
from ..site.document import Shot
from .preview import look

# Rays that find out what is seen, along the upright side of a picture.
_RAYS = 160
_ASPECT = 1.6
# Texels of what is out of sight, metres: it is still mirrored, casts light, and may be walked to.
UNSEEN = 0.1
# Of what is seen of a surface, this share may be finer than its texels.
_NEARER = 0.02


def texels_needed(graph: Graph, shot: Shot, rows: int) -> dict[str, float]:
    """For each surface the side of a texel, metres, that is no larger than a pixel of a picture where the surface comes nearest.

    :param rows: height of the picture, pixels. :returns: by id; :data:`UNSEEN` at most.
    """
    seen = look(graph, shot, round(_RAYS * _ASPECT), _RAYS)
    camera = shot.camera(_ASPECT)
    depth = (seen.points.astype(np.float64) - camera.eye) @ camera.ahead
    pixel = 2 * camera.height * depth / rows
    out = {}
    for row, id in enumerate(seen.ids):
        mine = pixel[seen.which == row]
        out[id] = min(float(np.quantile(mine, _NEARER)), UNSEEN) if len(mine) else UNSEEN
    return out


def texels_of(graph: Graph, texel: float | Mapping[str, float]) -> int:
    """How many texels the maps of all surfaces come to.

    :param texel: wanted side of a texel, metres, for all of them or by id.
    """
    total = 0
    for id in graph.document.surface_ids():
        shape: Shape = graph.get(ObjectShape(id))
        level = shape.level_for(texel[id] if isinstance(texel, Mapping) else texel, MOST_TEXELS)
        total += round(shape.atlas.width * shape.atlas.height * 4.0**level)
    return total
