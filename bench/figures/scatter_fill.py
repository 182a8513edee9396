"""``scatter.fill``: a million placed items over a square kilometre with slope, noise and clearance, three species; how its
cost grows; one object moved in it; a dab of a brush. SciPy's Poisson disk beside it."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np
from measuring import Figure, peak_of, seconds
from scipy.spatial import cKDTree
from scipy.stats import qmc

from cenote.derive.cache import Cache
from cenote.derive.graph import Graph
from cenote.derive.planting import LayerPlacements
from cenote.derive.scene import WholeScene
from cenote.derive.store import MemoryStore
from cenote.derive.surfaces import ObjectShape
from cenote.geometry.mesh import corner_normals
from cenote.masks.where import SignalCard, Where
from cenote.scatter.clear import ClearOfObjects
from cenote.scatter.layer import MixItem, Scatter, SowStroke
from cenote.scatter.spots import FillSurface
from cenote.scatter.whole import fill
from cenote.signals.noise import Noise
from cenote.signals.scene import MeasuredScene, SceneObject
from cenote.signals.slope import Slope
from cenote.site.document import Made, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.fittings import Crates

SIDE = 1000.0
# Rooms of the three kinds: a bush keeps more than grass.
ROOMS = np.array([0.35, 0.35, 1.6])


def site(moved: float = 0.0, strokes: tuple[SowStroke, ...] = ()) -> SiteDocument:
    """A square kilometre with forty stacks of crates to keep clear of; one of them can be moved."""
    turns = np.arange(40) * 2.39996
    reach = SIDE * 0.45 * np.sqrt((np.arange(40) + 0.5) / 40)
    places = np.column_stack([reach * np.cos(turns), np.zeros(40), reach * np.sin(turns)])
    places[7, 0] += moved
    stacks = tuple(
        Structure(id=f"stack-{k}", source=Made(maker=Crates()), placement=Placement(position=tuple(place), size=3))
        for k, place in enumerate(places.tolist())
    )
    ground = Ground(size=(SIDE, SIDE), spacing=2.5, relief=18, swell=90)
    return SiteDocument(ground=ground, structures=stacks, planting=(layer(1.62, strokes),))


def layer(density: float, strokes: tuple[SowStroke, ...] = ()) -> Scatter:
    """A mix of three kinds with two rules and a clearance."""
    cards = (
        SignalCard(id="slope", signal=Slope(), starts_at=40, full_at=20),
        SignalCard(id="noise", signal=Noise(size=18, octaves=4), starts_at=0.3, full_at=0.55),
    )
    mix = (MixItem(item="grass_tuft", share=8), MixItem(item="fern"), MixItem(item="bramble", share=0.3, room=1.6))
    clear = ClearOfObjects(id="stacks", distance=0.5, fade=1.5)
    return Scatter(id="bench", density=density, spacing=0.35, mix=mix, where=Where(cards=cards), keep_clear=(clear,),
                   strokes=strokes)  # fmt: skip


def violations(places: np.ndarray, items: np.ndarray) -> int:
    """How many pairs of items are nearer than half of both rooms."""
    count = 0
    for a in np.unique(ROOMS):
        for b in np.unique(ROOMS[a <= ROOMS]):
            mine, others = places[ROOMS[items] == a], places[ROOMS[items] == b]
            least = cKDTree(others).query(mine, k=2 if a == b else 1)[0]
            least = least[:, 1] if a == b else least
            count += int((least < (a + b) / 2 - 1e-4).sum())
    return count


def figures() -> Iterator[Figure]:
    """The figures of a scatter over a square kilometre, and SciPy's Poisson disk beside them."""
    document = site()
    mesh = document.ground.build()
    surface = FillSurface(mesh.corners, corner_normals(mesh))
    graph = Graph(document, Cache(MemoryStore(), limit=8 * 1024**3))
    objects = graph.get(WholeScene()).objects
    scene = MeasuredScene({name: SceneObject(one.corners, one.digest) for name, one in objects.items()})
    chosen = layer(1.62)
    placed = fill(chosen, surface, scene)
    took = seconds(lambda: fill(chosen, surface, scene), 1)
    yield Figure("scatter.fill", took, "s", f" for {len(placed):,} items; the aim is 10 s")
    yield Figure("scatter.fill.peak", peak_of(lambda: fill(chosen, surface, scene)), "MB", " the aim is 2,000")
    broken = violations(placed.positions[:, [0, 2]].astype(float), placed.items)
    yield Figure("scatter.fill.violations", float(broken), "pairs", " nearer than their rooms")
    sizes, times = [], []
    for share in (0.01, 0.03, 0.1, 0.3, 1.0):
        side = SIDE * np.sqrt(share)
        part = Ground(size=(side, side), spacing=2.5, relief=18, swell=90).build()
        on = FillSurface(part.corners, corner_normals(part))
        sizes.append(len(fill(chosen, on, scene)))
        times.append(took if share == 1 else seconds(lambda on=on: fill(chosen, on, scene), 2))  # type: ignore[misc]
    slope = np.polyfit(np.log(sizes), np.log(times), 1)[0]
    yield Figure("scatter.fill.exponent", float(slope), "", f" from {sizes[0]:,} to {sizes[-1]:,} items; 1 is linear")

    whole = graph.get(LayerPlacements("bench"))
    spare = []
    for step in (4.0, 8.0, 12.0):
        moved = site(step)
        after = Graph(moved, graph.cache, graph)
        for id in moved.surface_ids():
            after.get(ObjectShape(id))
        began = time.perf_counter()
        edited = after.get(LayerPlacements("bench"))
        spare.append(time.perf_counter() - began)
    yield Figure("scatter.edit", float(np.median(spare)) * 1e3, "ms",
                 f" one of 40 objects moved among {len(edited):,} of {len(whole):,} items; the aim is 300 ms")  # fmt: skip
    dabs = []
    for k in range(4):
        path = tuple((20.0 + 0.4 * j, 0.0, 30.0) for j in range(k + 1))
        sown = site(0, (SowStroke(radius=2, path=path),))
        after = Graph(sown, graph.cache, graph)
        began = time.perf_counter()
        after.get(LayerPlacements("bench"))
        dabs.append(time.perf_counter() - began)
    yield Figure(
        "scatter.stroke", float(np.median(dabs[1:])) * 1e3, "ms a dab", " a stroke that grows in the same layer"
    )

    plain_layer = Scatter(id="bench", density=1.62, spacing=0.45, mix=chosen.mix[:2])
    half = Ground(size=(500, 500), spacing=2.5, relief=18, swell=90).build()
    on = FillSurface(half.corners, corner_normals(half))
    bare = MeasuredScene({"ground": SceneObject(half.corners, "ground")})
    plain = len(fill(plain_layer, on, bare))
    ours = seconds(lambda: fill(plain_layer, on, bare)) / plain
    side = 45.0
    began = time.perf_counter()
    count = len(qmc.PoissonDisk(2, radius=0.62 / side, rng=np.random.default_rng(1)).fill_space())
    theirs = (time.perf_counter() - began) / count
    yield Figure("scatter.fill.point", ours * 1e6, "µs a point",
                 f" without rules, with turn, size, lean and sink, {plain:,} points")  # fmt: skip
    yield Figure("scatter.fill.poisson_disk", theirs * 1e6, "µs a point",
                 f" scipy.stats.qmc.PoissonDisk, {count / side**2:.2f} /m² on {side:g} m × {side:g} m")  # fmt: skip
    yield Figure("scatter.fill.ratio", theirs / ours, "×", " quicker a point; the aim is at least 20")
