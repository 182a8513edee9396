"""Moving pictures: the pictures of a shot that moves, traced one after another."""

from __future__ import annotations

import time
from collections.abc import Callable
from types import TracebackType

import numpy as np

from ..derive.graph import Graph, Progress
from ..derive.wanted import fields_of_site
from ..finish.stack import Stack
from ..finish.steps.film_grain import FilmGrain
from ..site.document import Shot, SiteDocument
from .scene import LensBlur
from .studio import Studio
from .tracing import Picture, Tracer

# Seconds between two looks at how far the engine is.
_TICK = 0.1
# Pictures on the way that are asked how finely they need the surfaces.
_LOOKS = 12


def finish_of(document: SiteDocument, shot: Shot, number: int = 0) -> Stack:
    """The finish of a shot. :param number: of the picture: its grain is another one for each."""
    found = next((one for one in document.finishes if one.id == shot.finish), None)
    steps = found.steps if found else ()
    return Stack(
        steps=tuple(
            step.model_copy(update={"seed": (step.seed + number) % 10_000}) if isinstance(step, FilmGrain) else step
            for step in steps
        )
    )


class Reel:
    """Takes the pictures of a shot that moves. The engine stays while nothing moves but the camera."""

    def __init__(
        self,
        graph_of: Callable[[SiteDocument], Graph],
        document: SiteDocument,
        shot: Shot,
        picture: Picture,
        samples: int,
    ) -> None:
        """:param graph_of: what is derived of a document. :param samples: paths for each pixel of each picture."""
        self._graph_of, self._document, self._shot = graph_of, document, shot
        self._picture, self._samples = picture, samples
        self._tracer: Tracer | None = None
        self._studio: Studio | None = None

    def take(self, number: int, progress: Progress) -> np.ndarray:
        """A picture, finished: tones as they are shown, float32 (h, w, 3) in [0, 1].

        :param progress: may raise to stop. :raises cenote.still.tracing.TracingFailed: where the engine refuses.
        """
        document, shot = self._shot.motion.at(self._document, self._shot, number)
        if self._tracer is not None and self._studio is not None and self._shot.motion.keeps_the_site:
            self._studio = self._studio.seen_through(shot)
            self._tracer.turn(shot.camera(self._picture.width / self._picture.height), LensBlur(*shot.blur()))
        else:
            self.close()
            graph = self._graph_of(document)
            graph.complete(fields_of_site(graph), progress)
            self._studio = Studio(graph, shot, self._picture, self._on_the_way(number))
            self._tracer = Tracer(self._studio.scene(progress), self._picture)
        while (samples := self._tracer.samples()) < self._samples:
            progress(int(samples), self._samples, "Tracing")
            time.sleep(_TICK)
        return self._studio.finished(self._tracer.look(), finish_of(document, shot, number))

    def _on_the_way(self, first: int) -> list[Shot]:
        """Shots of later pictures of the same scene, a few: what comes near then is to be fine enough from the start."""
        motion = self._shot.motion
        if not motion.keeps_the_site:
            return []
        rest = range(first + 1, motion.pictures)
        return [motion.at(self._document, self._shot, number)[1] for number in rest[:: max(len(rest) // _LOOKS, 1)]]

    def close(self) -> None:
        """End the engine."""
        if self._tracer is not None:
            self._tracer.close()
            self._tracer = None

    def __enter__(self) -> Reel:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()
