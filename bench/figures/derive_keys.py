"""``derive.keys``: the keys of one opening of a site of 500 objects under eight covers; and of the next state in a drag."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np
from measuring import Figure

from cenote.derive.cache import Cache
from cenote.derive.digest import digest
from cenote.derive.fields import MeasuredField
from cenote.derive.graph import Graph
from cenote.derive.maps import SurfaceMaps
from cenote.derive.memory import space_collections
from cenote.derive.store import MemoryStore
from cenote.derive.surfaces import ObjectCells
from cenote.derive.target import Target
from cenote.derive.wanted import fields_of_site
from cenote.site.document import CoverLayer, KitPiece, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.weather.algae import Algae
from cenote.weather.dirt import Dirt
from cenote.weather.dust import Dust
from cenote.weather.lichen import Lichen
from cenote.weather.moss import Moss
from cenote.weather.snow import Snow
from cenote.weather.soot import Soot
from cenote.weather.wetness import Wetness

OBJECTS = 500
COVERS = (Dirt, Dust, Moss, Lichen, Algae, Soot, Wetness, Snow)


def site(years: float = 40.0) -> SiteDocument:
    """Stones on a meadow, all of them under all covers."""
    side = 100.0
    at = (np.random.default_rng(5).random((OBJECTS, 2)) - 0.5) * side * 0.95
    stones = tuple(Structure(id=f"s{k}", source=KitPiece(item="stone", variant=k % 4), placement=Placement(position=(x, 0, z)))
                   for k, (x, z) in enumerate(at.tolist()))  # fmt: skip
    ids = ("ground", *(stone.id for stone in stones))[:500]
    weather = tuple(CoverLayer(id=f"c{k}", cover=cover(), where=cover.usual_where(), surfaces=ids)
                    for k, cover in enumerate(COVERS))  # fmt: skip
    ground = Ground(size=(side, side), spacing=2, relief=0)
    document = SiteDocument(ground=ground, structures=stones, weather=weather)
    return document.model_copy(update={"climate": document.climate.model_copy(update={"years": years})})


def figures() -> Iterator[Figure]:
    """Keys of all maps, as a page that opens asks for them, once all is measured; hashing as many texts beside them."""
    read = SiteDocument.model_validate(site().model_dump(mode="json"))
    cache = Cache(MemoryStore(), limit=8 * 1024**3)
    first = Graph(read, cache)
    # Nothing is measured here: that every field has a mark is what keys ask for.
    for target in _fields(first):
        first.get(ObjectCells(target.id))
        cache.set_mark(first.key(target), np.frombuffer(first.key(target).encode(), np.uint8))
    wanted = [SurfaceMaps(id, level) for id in read.surface_ids() for level in (0, 2)]

    def keys(graph: Graph) -> float:
        began = time.perf_counter()
        for target in wanted:
            graph.key(target)
        return time.perf_counter() - began

    space_collections()
    keys(Graph(read, cache))
    opened = Graph(SiteDocument.model_validate(read.model_dump(mode="json")), cache)
    took = keys(opened)
    count = len(opened._nodes)
    began = time.perf_counter()
    for k in range(count):
        digest("a text as long as what a key is made of, more or less", k)
    plain = time.perf_counter() - began
    yield Figure("derive.keys", took, "s",
                 f" for {len(wanted):,} maps of {OBJECTS} objects × {len(COVERS)} covers, {count:,} targets; it was 18 s")  # fmt: skip
    yield Figure("derive.keys.ratio", took / plain, "×", " hashing as many short texts")
    aged = Graph(SiteDocument.model_validate(site(41.0).model_dump(mode="json")), cache, opened)
    yield Figure("derive.keys.dial", keys(aged), "s", " the same once a dial was turned; it was 8.8 s")


def _fields(graph: Graph) -> list[MeasuredField]:
    """All measured fields that a site asks for."""
    found: dict[tuple, MeasuredField] = {}

    def visit(target: Target) -> None:
        if isinstance(target, MeasuredField):
            found[target.identity] = target
            return
        for one in _named(graph._node(target).given):
            visit(one)

    for target in fields_of_site(graph):
        visit(target)
    return list(found.values())


def _named(given: object) -> Iterator[Target]:
    if isinstance(given, Target):
        yield given
    elif isinstance(given, (list, tuple)):
        for one in given:
            yield from _named(one)
    elif isinstance(given, dict):
        for one in given.values():
            yield from _named(one)
