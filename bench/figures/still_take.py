"""``still``: a test of Tallow Lock from the press to the picture, paths a second beside those of an engine that nobody looks at, and 100,000 plants.

``sky.table``: what the sky's tables take for a haze that was not met before, beside a panorama by them.
"""

from __future__ import annotations

import resource
import tempfile
import time
from collections.abc import Iterator

import numpy as np
from measuring import Figure, FolderStore, seconds

from cenote.derive.cache import Cache
from cenote.derive.graph import Graph
from cenote.derive.wanted import fields_of_site
from cenote.finish.stack import Stack
from cenote.light.daylight import Light, daylight
from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import SiteDocument
from cenote.site.ground import Ground
from cenote.site.shot import Shot
from cenote.site.tallow_lock import tallow_lock
from cenote.still.scene import TracedScene
from cenote.still.studio import Studio
from cenote.still.tracing import Picture, Tracer

_TEST, _SAMPLES = Picture(640, 360), 4
_PLANTS, _SIDE = 100_000, 200.0
# Seconds that paths are counted for, and between two looks.
_COUNTED, _EVERY = 20.0, 4.0


def _picture(studio: Studio, samples: int) -> tuple[float, float, float]:
    """Seconds to gather, until the engine traces, and until there is a picture without noise, each from the start."""
    began = time.perf_counter()
    scene = studio.scene()
    gathered = time.perf_counter() - began
    with Tracer(scene, studio.picture) as tracer:
        traces = time.perf_counter() - began
        while tracer.samples() < samples:
            time.sleep(0.1)
        studio.finished(tracer.look(), Stack())
    return gathered, traces, time.perf_counter() - began


def _paths(scene: TracedScene, looked_at: bool) -> float:
    """Paths a second, with a look now and then and its noise removed, or with none before the end."""
    with Tracer(scene, _TEST) as tracer:
        began, first = time.perf_counter(), tracer.samples()
        while (now := time.perf_counter() - began) < _COUNTED:
            time.sleep(min(_EVERY, _COUNTED - now))
            if looked_at:
                tracer.look().cleaned()
        return (tracer.samples() - first) * _TEST.width * _TEST.height / (time.perf_counter() - began)


def _meadow() -> SiteDocument:
    mix = tuple(MixItem(item=item) for item in ("grass_tuft", "fern", "nettle"))
    planting = (Scatter(id="meadow", mix=mix, density=_PLANTS / _SIDE**2, evenness=0),)
    shots = (Shot(id="over", position=(0, 6, 90), target=(0, 0, 20)),)
    return SiteDocument(ground=Ground(size=(_SIDE, _SIDE), spacing=1), planting=planting, shots=shots)


def figures() -> Iterator[Figure]:
    """A worker that has taken a still of the site before, and so knows its kit."""
    with tempfile.TemporaryDirectory() as folder:
        document = tallow_lock()
        graph = Graph(document, Cache(FolderStore(folder)))
        graph.complete(fields_of_site(graph), lambda *_: None)
        shot = document.shots[0]
        studio = Studio(graph, shot, _TEST)
        cold = _picture(studio, 1)
        studio = Studio(Graph(document, graph.cache), shot, _TEST)
        gathered, traces, done = _picture(studio, _SAMPLES)
        yield Figure("still.test", done, "s", f" for {_SAMPLES} samples of 640 × 360; {gathered:.1f} to gather, {traces - gathered:.1f} "
                     f"to build; {cold[0]:.1f} to gather for the first time. The aim is 20")  # fmt: skip
        scene = studio.scene()
        alone, looked = _paths(scene, False), _paths(scene, True)
        yield Figure(
            "still.paths", looked / alone, "×", f" of {alone:,.0f} paths/s that the engine does alone; the aim is 0.9"
        )
        meadow = _meadow()
        planted = Studio(Graph(meadow, graph.cache), meadow.shots[0], _TEST)
        planted.scene()
        held = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss
        gathered, traces, done = _picture(planted, 1)
        took = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss
        yield Figure("still.instances", done, "s", f" to the first picture of about {_PLANTS:,} plants; {gathered:.1f} to gather, "
                     f"{traces - gathered:.1f} to build; at most {max(held, took) / 1e3:.0f} MB in the engine")  # fmt: skip
    haze = iter(np.linspace(1.111, 6.777, 10))
    table = seconds(lambda: daylight(Light(clouds=0, haze=round(float(next(haze)), 4)), 64), times=2)
    known = seconds(lambda: daylight(Light(clouds=0, haze=2.0, height=41.0), 64))
    yield Figure(
        "sky.table", (table - known) * 1e6, "µs", f" more than the {known * 1e6:,.0f} of a sky whose tables are there"
    )
