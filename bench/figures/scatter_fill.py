"""``scatter.fill``: 200 k placed items with slope, noise and clearance rules over 500 m × 500 m."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np
from measuring import Figure, peak_of, seconds
from scipy.stats import qmc

from cenote.geometry.build import box
from cenote.geometry.mesh import corner_normals, join
from cenote.masks.where import SignalCard, Where
from cenote.scatter.fill import FillSurface, MixItem, Scatter, fill
from cenote.signals.base import MeasuredScene, SceneObject
from cenote.signals.distance import Distance
from cenote.signals.noise import Noise
from cenote.signals.slope import Slope
from cenote.site.ground import Ground

SIDE = 500.0


def scene_of_huts(ground: np.ndarray) -> MeasuredScene:
    """The ground with forty huts to keep clear of."""
    turns = np.arange(40) * 2.39996
    reach = SIDE * 0.45 * np.sqrt((np.arange(40) + 0.5) / 40)
    huts = [
        box((x - 3, -5, z - 2), (x + 3, 6, z + 2))
        for x, z in zip(reach * np.cos(turns), reach * np.sin(turns), strict=True)
    ]
    return MeasuredScene({"ground": SceneObject(ground, "ground"), "huts": SceneObject(join(huts).corners, "huts")})


def layer(density: float) -> Scatter:
    """A mix of three kinds with three rules."""
    cards = (
        SignalCard(id="slope", signal=Slope(), starts_at=40, full_at=20),
        SignalCard(id="noise", signal=Noise(size=18, octaves=4), starts_at=0.35, full_at=0.6),
        SignalCard(id="clear", signal=Distance(objects=("huts",), reach=6), starts_at=0.5, full_at=2),
    )
    mix = (MixItem(item="grass_tuft", share=8), MixItem(item="fern"), MixItem(item="stone"))
    return Scatter(id="bench", density=density, spacing=0.45, mix=mix, where=Where(cards=cards))


def figures() -> Iterator[Figure]:
    """The figure, its memory, and SciPy's Poisson disk beside it."""
    mesh = Ground(size=(SIDE, SIDE), spacing=2.5, relief=18, swell=90).build()
    surface, scene = FillSurface(mesh.corners, corner_normals(mesh)), scene_of_huts(mesh.corners)
    chosen = layer(1.62)
    placed = len(fill(chosen, surface, scene))
    yield Figure("scatter.fill", seconds(lambda: fill(chosen, surface, scene)), "s", f" for {placed:,} items")
    yield Figure("scatter.fill.peak", peak_of(lambda: fill(chosen, surface, scene)), "MB")
    whole = Scatter(id="bench", density=1.62, spacing=0.45, mix=chosen.mix)
    plain = len(fill(whole, surface, scene))
    ours = seconds(lambda: fill(whole, surface, scene)) / plain
    side = 45.0
    began = time.perf_counter()
    count = len(qmc.PoissonDisk(2, radius=0.62 / side, rng=np.random.default_rng(1)).fill_space())
    theirs = (time.perf_counter() - began) / count
    yield Figure(
        "scatter.fill.point",
        ours * 1e6,
        "µs a point",
        f" without rules, with turn, size, lean and sink, {plain:,} points",
    )
    yield Figure(
        "scatter.fill.poisson_disk",
        theirs * 1e6,
        "µs a point",
        f" scipy.stats.qmc.PoissonDisk, {count / side**2:.2f} /m² on {side:g} m × {side:g} m",
    )
    yield Figure("scatter.fill.ratio", theirs / ours, "×", " quicker a point; the aim is at least 20")
