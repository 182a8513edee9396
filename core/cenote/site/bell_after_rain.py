"""A small demo site: a brass bell and a glass net float on a slate shelf, after rain."""

from __future__ import annotations

from ..droplets.presets import AFTER_RAIN
from ..masks.where import SignalCard, Where
from ..scatter.layer import MixItem, Scatter
from ..signals.distance import Distance
from ..structures.base import Maker
from ..structures.turned_pieces import Bell, GlassFloat, Shelf
from ..structures.wall import Wall
from ..weather.climate import Climate
from ..weather.dirt import Dirt
from ..weather.moss import Moss
from .document import CoverLayer, KitPiece, Light, Made, Placement, Shot, SiteDocument, Structure
from .droplets import DropletLayer
from .ground import Ground


def _made(
    id: str, name: str, maker: Maker, x: float, y: float, z: float, turn: float = 0, **materials: str
) -> Structure:
    return Structure(id=id, name=name, source=Made(maker=maker), placement=Placement(position=(x, y, z), turn=turn),
                     materials=materials)  # fmt: skip


def bell_after_rain() -> SiteDocument:
    """The document of Bell after rain."""
    structures = (
        _made("wall", "Garden wall", Wall(length=4.5, height=2.1, ruin=0, piers=0, material="ashlar"), 0, 0, -0.52),
        _made("shelf", "Slate shelf", Shelf(), 0, 0, 0),
        _made("bell", "Bell", Bell(), -0.2, 0.901, -0.01, 20),
        _made("float", "Net float", GlassFloat(), 0.2, 0.902, 0.03, 40),
        Structure(
            id="coil",
            name="Rope coil",
            source=KitPiece(item="rope_coil", variant=1),
            placement=Placement(position=(0.95, 0.01, 0.35), turn=30),
        ),
        Structure(
            id="bucket",
            name="Bucket",
            source=KitPiece(item="bucket"),
            placement=Placement(position=(-0.95, 0.005, 0.25)),
        ),
    )
    weather = (
        CoverLayer(id="dirt", name="Dirt in corners", cover=Dirt(amount=0.7), where=Dirt.usual_where(), surfaces=("wall", "shelf", "bucket")),
        CoverLayer(id="moss", name="Moss on stone", cover=Moss(amount=0.42), where=Moss.usual_where(), surfaces=("wall", "shelf", "ground")),
    )  # fmt: skip
    clear = SignalCard(
        id="distance", signal=Distance(objects=("shelf", "bucket", "coil"), reach=2), starts_at=0.08, full_at=0.5
    )
    planting = (
        Scatter(
            id="growth", name="At the foot of the wall", density=9, spacing=0.14, seed=4, where=Where(cards=(clear,)),
            mix=(MixItem(item="grass_tuft", share=6, size=(0.5, 1)), MixItem(item="fern", share=1.2, size=(0.4, 0.9)),
                 MixItem(item="nettle", share=0.4, size=(0.4, 0.7)), MixItem(item="dead_leaves", share=1.2, size=(0.7, 1.1), lean=100)),
        ),
    )  # fmt: skip
    return SiteDocument(
        ground=Ground(size=(5, 4), spacing=0.12, relief=0.08, swell=2, seed=3, material="soil"),
        structures=structures,
        weather=weather,
        planting=planting,
        droplets=tuple(
            DropletLayer(id=f"rain-{row}", name=name, droplets=droplets, surfaces=("bell", "float", "shelf"), seed=3)
            for row, (name, droplets) in enumerate(AFTER_RAIN.layers)
        ),
        climate=Climate(years=18, damp=0.85),
        light=Light(bearing=205, height=42, clouds=0.45),
        shots=(
            Shot(id="shelf", name="On the shelf", position=(0.42, 1.22, 1.15), target=(-0.02, 0.99, 0), lens=39),
            Shot(id="brass", name="Drops on brass", position=(-0.02, 1.11, 0.36), target=(-0.15, 0.985, 0.05), lens=58),
            Shot(id="slate", name="Slate and glass", position=(0.34, 1.04, 0.33), target=(0.16, 0.95, 0.02), lens=50),
            Shot(id="corner", name="The corner", position=(1.5, 1.35, 2.2), target=(0, 0.75, 0), lens=30),
        ),
    )
