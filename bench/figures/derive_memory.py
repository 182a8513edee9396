"""``derive.memory``: what a process holds after 200 steps of a drag, after twelve sites in turn, and after moves that measure anew."""

from __future__ import annotations

import time
from collections.abc import Iterator
from statistics import median
from tempfile import TemporaryDirectory

from measuring import Figure, FolderStore, resident

from cenote.derive.cache import USUAL_LIMIT, Cache
from cenote.derive.graph import Graph
from cenote.derive.maps import PreviewMaps, SurfaceMaps
from cenote.derive.planting import LayerPlacements
from cenote.derive.surfaces import ObjectShape
from cenote.derive.wanted import fields_of_site
from cenote.site.document import SiteDocument
from cenote.site.tallow_lock import tallow_lock

STEPS, SITES, MOVES = 200, 12, 50


def _opened(graph: Graph) -> None:
    """What a page asks for that opens a site."""
    graph.complete(fields_of_site(graph), lambda *_: None)
    for id in graph.document.surface_ids():
        graph.get(SurfaceMaps(id, graph.get(ObjectShape(id)).coarsest_level))
    for layer in graph.document.planting:
        graph.get(LayerPlacements(layer.id))


def _moved(document: SiteDocument, far: float) -> SiteDocument:
    """The site with its first barrel moved by metres."""
    row = next(k for k, one in enumerate(document.structures) if "barrel" in one.name.lower())
    barrel = document.structures[row]
    x, y, z = barrel.placement.position
    moved = barrel.model_copy(update={"placement": barrel.placement.model_copy(update={"position": (x + far, y, z)})})
    return document.model_copy(
        update={"structures": (*document.structures[:row], moved, *document.structures[row + 1 :])}
    )


def figures() -> Iterator[Figure]:
    """Megabytes after each, and seconds for a moved barrel."""
    with TemporaryDirectory() as folder:
        yield from _figures(Cache(FolderStore(folder), limit=USUAL_LIMIT))


def _figures(cache: Cache) -> Iterator[Figure]:
    document = SiteDocument.model_validate(tallow_lock().model_dump(mode="json"))
    graph = Graph(document, cache)
    _opened(graph)
    yield Figure("derive.memory.opened", resident(), "MB", " Tallow Lock measured and opened; the limit is 1,153")
    row = next(k for k, layer in enumerate(document.weather) if layer.where.cards and len(layer.surfaces) > 10)
    layer = document.weather[row]
    dragged, half = graph, 0.0
    began = time.perf_counter()
    for step in range(STEPS):
        first, *rest = layer.where.cards
        cards = (first.model_copy(update={"full_at": first.full_at * (1 + step / STEPS)}), *rest)
        changed = layer.model_copy(update={"where": layer.where.model_copy(update={"cards": cards})})
        weather = (*document.weather[:row], changed, *document.weather[row + 1 :])
        read = SiteDocument.model_validate(document.model_copy(update={"weather": weather}).model_dump(mode="json"))
        dragged = Graph(read, cache, dragged)
        for id in layer.surfaces:
            dragged.get(PreviewMaps(id, -1))
        if step == STEPS // 2:
            half = resident()
    took = (time.perf_counter() - began) / STEPS
    yield Figure(
        "derive.memory.drag", resident(), "MB", f" after {STEPS} steps of a drag; {half:.0f} after half of them"
    )
    yield Figure(
        "derive.memory.step",
        took * 1e3,
        "ms",
        f" a step: a ramp shared by {len(layer.surfaces)} surfaces, the document read anew",
    )
    measured, whole, moved = list[float](), list[float](), graph
    for step in range(MOVES):
        began = time.perf_counter()
        moved = Graph(_moved(document, 0.06 * (step + 1)), cache, moved)
        moved.complete(fields_of_site(moved), lambda *_: None)
        measured.append(time.perf_counter() - began)
        for id in moved.document.surface_ids():
            moved.get(SurfaceMaps(id, moved.get(ObjectShape(id)).coarsest_level))
        whole.append(time.perf_counter() - began)
    yield Figure("derive.memory.moves", resident(), "MB", f" after {MOVES} moves of a barrel; it was 4,078 after one")
    yield Figure(
        "derive.moved",
        median(measured),
        "s",
        f" measured anew after a barrel was moved by 6 cm, {max(measured):.1f} at most; it was 117 to 158 s, the aim is 10 s",
    )
    yield Figure(
        "derive.moved.shown", median(whole), "s", f" until all its surfaces have maps again, {max(whole):.1f} at most"
    )
    for number in range(SITES):
        other = document.model_copy(update={"ground": document.ground.model_copy(update={"seed": 500 + number})})
        site = Graph(SiteDocument.model_validate(other.model_dump(mode="json")), cache)
        # Measuring twelve sites takes many minutes; shapes, layouts, cells and maps without weather are what is held most.
        for id in site.document.surface_ids():
            site.get(SurfaceMaps(id, site.get(ObjectShape(id)).coarsest_level, True))
    yield Figure("derive.memory.sites", resident(), "MB", f" after {SITES} sites in turn")
