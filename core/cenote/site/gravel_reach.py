"""A large demo site: a kilometre of river bend between gravel banks, meadows and woods."""

from __future__ import annotations

import numpy as np

from ..masks.where import SignalCard, Where
from ..scatter.clear import ClearOfPlanting, ClearOfShot
from ..scatter.layer import MixItem, Scatter
from ..scatter.wind import Wind
from ..signals.around import GROUND
from ..signals.height import Height
from ..signals.noise import Noise
from ..signals.slope import Slope
from ..weather.wet_edge import WetEdge
from .document import CoverLayer, KitPiece, Light, Placement, Shot, SiteDocument, Structure, Water
from .ground import Ground, PaintedMaterial, PaintStroke, Stroke

LENGTH, WIDTH = 1000.0, 520.0


def river(points: int) -> tuple[tuple[float, float], ...]:
    """The middle of the river, from one end of the ground to the other."""
    x = np.linspace(-LENGTH / 2 - 30, LENGTH / 2 + 30, points)
    z = 95 * np.sin(x / 170) + 26 * np.sin(x / 63 + 1.2)
    return tuple((round(float(a), 1), round(float(b), 1)) for a, b in zip(x, z, strict=True))


def gravel_reach() -> SiteDocument:
    """The document of Gravel reach."""
    middle = river(60)
    ground = Ground(
        size=(LENGTH, WIDTH),
        spacing=3.0,
        relief=6.5,
        swell=150,
        seed=21,
        strokes=(
            # A broad valley first, then the bed of the river in it.
            Stroke(tool="flatten", radius=85, strength=0.85, soft=1, level=-0.5, path=middle),
            Stroke(tool="flatten", radius=34, strength=0.9, soft=0.8, level=-1.5, path=middle),
            Stroke(tool="lower", radius=21, strength=2.0, soft=0.9, path=middle),
            Stroke(tool="roughen", radius=40, strength=0.5, soft=0.8, path=middle),
        ),
        paints=(
            PaintedMaterial(id="gravel", name="Gravel banks", material="gravel", hollows=0.6,
                            strokes=(PaintStroke(radius=36, strength=1, soft=0.5, path=middle),)),
            PaintedMaterial(id="sand", name="Sand", material="sand", hollows=0.7,
                            strokes=(PaintStroke(radius=20, strength=0.75, soft=0.9, path=middle),)),
        ),
    )  # fmt: skip

    def card(id: str, signal, starts: float, full: float) -> SignalCard:  # type: ignore[no-untyped-def]
        return SignalCard(id=id, signal=signal, starts_at=starts, full_at=full)

    above = Height(above_water=True)
    planting = (
        Scatter(
            id="woods", name="Woods", density=0.03, spacing=4, seed=2,
            # Old alders keep more room than bushes; young growth stands at the edge of the woods.
            mix=(MixItem(item="alder", share=2, room=5.5, size=(0.6, 1.5), lean=0, sink=(0, 0.1)),
                 MixItem(item="birch", share=3, size=(0.5, 1.4), lean=0, sink=(0, 0.1)),
                 MixItem(item="hawthorn", share=2, size=(0.6, 1.4), lean=0, sink=(0, 0.1))),
            clumps=45, clump_size=24, edge_size=45,
            where=Where(cards=(card("height", above, 1.2, 2.2), card("noise", Noise(size=90, octaves=4, seed=3), 0.42, 0.54),
                               card("slope", Slope(), 35, 22))),
        ),
        Scatter(
            id="reeds", name="Reeds", density=0.6, spacing=0.6, seed=5,
            mix=(MixItem(item="reed", size=(0.8, 1.3), lean=0),),
            where=Where(cards=(card("deep", above, -0.7, -0.15), card("dry", above, 0.5, 0.1),
                               card("noise", Noise(size=28, octaves=3, seed=9), 0.55, 0.66))),
        ),
        Scatter(
            id="stones", name="Stones of the banks", density=0.05, spacing=0.8, seed=6,
            mix=(MixItem(item="stone", share=3, size=(0.8, 3), lean=80, sink=(0.02, 0.12)),
                 MixItem(item="boulder", share=0.5, size=(0.5, 1.5), lean=60, sink=(0.05, 0.3)),
                 MixItem(item="slab_stone", share=1, size=(0.8, 2), lean=90, sink=(0, 0.06))),
            where=Where(cards=(card("low", above, 1.3, 0.6), card("bed", above, -0.9, -0.3))),
        ),
        Scatter(
            id="meadow", name="Meadow", density=0.35, spacing=0.9, seed=1,
            mix=(MixItem(item="meadow_grass", share=3, size=(1, 1.8)), MixItem(item="grass_tuft", share=5, size=(1.2, 2.4), lean=60),
                 MixItem(item="wildflower", share=0.6, size=(1, 1.5)),
                 MixItem(item="bramble", share=0.25, room=1.8, size=(0.8, 1.4))),
            clumps=35, clump_size=7, edge_size=60,
            keep_clear=(ClearOfPlanting(id="trunks", layers=("woods",), distance=0.1, fade=0.5, trunks=10),
                        ClearOfShot(id="lens", distance=1.2, fade=1)),
            where=Where(cards=(card("height", above, 0.9, 1.6), card("slope", Slope(), 38, 24),
                               card("noise", Noise(size=22, octaves=4, seed=4), 0.38, 0.6))),
        ),
    )  # fmt: skip
    logs = tuple(
        Structure(id=f"drift_{k}", name=f"Drift plank {k + 1}", source=KitPiece(item="plank", variant=k),
                  placement=Placement(position=(x, 0.05, z), turn=turn, size=2))
        for k, (x, z, turn) in enumerate(((-58, -52, 20), (-54, -49.5, 75), (-61, -47, -30)))
    )  # fmt: skip
    return SiteDocument(
        ground=ground,
        structures=logs,
        water=Water(shown=True, level=-1.9, clarity=1.4, colour=(0.03, 0.055, 0.05)),
        weather=(
            CoverLayer(
                id="wet_edge", name="Wet edge", cover=WetEdge(), where=WetEdge.usual_where(), surfaces=(GROUND,)
            ),
        ),
        planting=planting,
        wind=Wind(strength=6, bearing=250, gust_size=25),
        light=Light(bearing=240, height=32),
        shots=(
            Shot(id="bend", name="The bend", position=(-98, 10, -14), target=(14, -4, 26), lens=31),
            Shot(id="bank", name="On the bank", position=(-66, 2.2, -38), target=(-20, 0.2, -62), lens=27),
        ),
    )
