"""``grass.lawn``: a million blades of a lawn with two masks and a clearance, laid; one crate moved in it; what of it a still traces.
As many items of a scatter beside it."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np
from measuring import Figure, peak_of

from cenote.derive.cache import Cache
from cenote.derive.graph import Graph
from cenote.derive.grass import LyingGrass
from cenote.derive.planting import LayerPlacements
from cenote.derive.store import MemoryStore
from cenote.grass.presets import PRESETS
from cenote.grass.strands import ribbons, standing_for_all
from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import Made, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.fittings import Crates

BLADES = 1_000_000


def site(moved: float = 0.0) -> SiteDocument:
    """A lawn of 20 m with a stack of crates on it, which can be moved."""
    lawn = next(one for one in PRESETS if one.kind == "lawn").layer("lawn")
    lawn = lawn.model_copy(update={"surfaces": ("ground",), "density": BLADES / 400})
    crates = Structure(id="crates", source=Made(maker=Crates()), placement=Placement(position=(2.0 + moved, 0, 0)))
    return SiteDocument(ground=Ground(size=(20, 20)), structures=(crates,), grass=(lawn,))


def figures() -> Iterator[Figure]:
    """The figures of a lawn."""
    cache = Cache(MemoryStore(), MemoryStore())
    first = Graph(site(0.5), cache)
    first.get(LyingGrass("lawn", "ground"))  # Compiles what there is to compile.
    graph = Graph(site().model_copy(update={"grass": (site().grass[0].model_copy(update={"seed": 2}),)}), cache)
    began = time.perf_counter()
    peak = peak_of(lambda: graph.get(LyingGrass("lawn", "ground")))
    took = time.perf_counter() - began
    laid = graph.get(LyingGrass("lawn", "ground"))
    yield Figure("grass.lawn", took, "s", f"{len(laid.blades):,} blades, {peak:.0f} MB, 16 bytes each as sent")
    began = time.perf_counter()
    Graph(site(0.6), cache).get(LyingGrass("lawn", "ground"))
    yield Figure("grass.moved", time.perf_counter() - began, "s", "a stack of crates moved by 10 cm")
    scatter = Scatter(id="s", density=60, spacing=0.02, mix=(MixItem(item="grass_tuft"),))
    beside = Graph(SiteDocument(ground=Ground(size=(60, 60)), planting=(scatter,)), cache)
    began = time.perf_counter()
    count = len(beside.get(LayerPlacements("s")))
    each = (time.perf_counter() - began) / count
    yield Figure(
        "grass.lawn.ratio",
        took / len(laid.blades) / each,
        "",
        f"against an item of a scatter, {each * 1e6:.1f} µs each",
    )
    eye = np.array([[0, 1.6, 9.0]])
    left, wide = standing_for_all(laid.blades, eye, 4.0)
    began = time.perf_counter()
    made = ribbons(site().grass[0], laid.blades.only(left), np.ones(3), wide[left])
    words = f"{left.sum():,} blades, {len(made.faces):,} triangles of a still of 1280 × 800"
    yield Figure("grass.strands", time.perf_counter() - began, "s", words)
