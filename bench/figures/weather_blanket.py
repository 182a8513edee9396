"""``weather.blanket``: the sheet of snow over a yard of 46 m by 36 m, fine and as a preview, beside the rays of its plan."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from measuring import Figure, peak_of, seconds

from cenote.derive.cache import memory_cache
from cenote.derive.graph import Graph
from cenote.derive.scene import WholeScene
from cenote.derive.sheets import LaidSheet, blankets_on
from cenote.derive.wanted import fields_of_site
from cenote.geometry.plan import heights_from_above
from cenote.site.document import CoverLayer, Made, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.fittings import Crates
from cenote.structures.house import House
from cenote.weather.climate import Climate
from cenote.weather.snow import Snow


def _site() -> Graph:
    house = Structure(id="house", source=Made(maker=House()), placement=Placement(turn=14))
    crates = [
        Structure(id=f"crates-{n}", source=Made(maker=Crates(number=3, seed=n)), placement=Placement(position=(6 + n, 0, n)))
        for n in range(8)
    ]  # fmt: skip
    ids = ("ground", "house", *(one.id for one in crates))
    snow = CoverLayer(id="snow", cover=Snow(), where=Snow.usual_where(), surfaces=ids)
    site = SiteDocument(
        ground=Ground(size=(46, 36), spacing=0.4), structures=(house, *crates), weather=(snow,), climate=Climate(snow=0.2)
    )  # fmt: skip
    graph = Graph(site, memory_cache())
    graph.complete(fields_of_site(graph), lambda *_: None)
    return graph


def figures() -> Iterator[Figure]:
    """The same yard at a new depth each time, as a dial that is dragged asks for it."""
    graph = _site()
    depth = iter(np.linspace(0.1, 0.4, 40))

    def sheet(coarse: bool) -> None:
        climate = Climate(snow=float(next(depth)))
        deeper = Graph(graph.document.model_copy(update={"climate": climate}), graph.cache, graph)
        for layer, _ in blankets_on(deeper):
            deeper.get(LaidSheet(layer.id, coarse))

    fine, coarse = seconds(lambda: sheet(False)), seconds(lambda: sheet(True))
    scene = graph.get(WholeScene())
    low, high = scene.bounds
    plan = seconds(lambda: heights_from_above(scene.rays, low, high, 0.08))
    squares = round((high[0] - low[0]) * (high[2] - low[2]) / 0.0064)
    yield Figure(
        "weather.blanket", fine, "s", f" for a plan of {squares:,} squares, with its edges and fewer triangles"
    )
    yield Figure(
        "weather.blanket.coarse",
        coarse * 1e3,
        "ms",
        " for the preview of a dial that is dragged; the aim is at most 100",
    )
    yield Figure("weather.blanket.peak", peak_of(lambda: sheet(False)), "MB")
    yield Figure("weather.blanket.ratio", fine / plan, "×", " the time of the rays that find what lies uppermost")
