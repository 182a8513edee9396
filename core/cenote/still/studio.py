"""A still of a shot, from a site to what is seen."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from ..derive.graph import Graph
from ..derive.lamps import lamplight, lit_lamps
from ..derive.skies import panorama_pixels
from ..light.daylight import Above, Daylight, above, daylight
from ..site.document import Shot
from .develop import developed
from .gather import Progress, gather
from .scene import TracedScene
from .tracing import Film, Picture

# Rows of the sky that lights.
_ROWS = 128


class Studio:
    """A shot of a site that is to be traced."""

    def __init__(self, graph: Graph, shot: Shot, picture: Picture) -> None:
        self.graph, self.shot, self.picture = graph, shot, picture

    @cached_property
    def _lit(self) -> tuple[Daylight, Above]:
        document, pixels = self.graph.document, panorama_pixels(self.graph)
        by_lamps = lamplight(lit_lamps(self.graph))
        light = document.light
        return (
            daylight(light, _ROWS, pixels, by_lamps, document.air), above(light, pixels=pixels, lamplight=by_lamps)
        )  # fmt: skip

    def scene(self, progress: Progress = lambda *_: None) -> TracedScene:
        """What is traced. :param progress: called with (done, total, what); may raise to stop."""
        return gather(self.graph, self.shot, self.picture.width, self.picture.height, self._lit[0], progress)

    def seen(self, film: Film) -> np.ndarray:
        """What is seen of a film: radiance through the air, before the sky, linear float32 (h, w, 3)."""
        camera = self.shot.camera(self.picture.width / self.picture.height)
        return developed(film, film.cleaned(), self.picture, camera, *self._lit)
