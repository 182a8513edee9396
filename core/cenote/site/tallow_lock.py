"""The demo site: the yard of a disused canal lock, made by our own code."""

from __future__ import annotations

from pathlib import Path as FilePath
from typing import Any

from ..drop.heap import Heap
from ..masks.where import SignalCard, Where
from ..scatter.clear import ClearOfObjects, ClearOfShot
from ..scatter.layer import MixItem, Row, Scatter
from ..scatter.wind import Wind
from ..signals.base import Signal
from ..signals.crevice import Crevice
from ..signals.distance import Distance
from ..signals.height import Height
from ..signals.leaf_fall import LeafFall
from ..signals.noise import Noise
from ..signals.runoff import Runoff
from ..signals.sky import SkyExposure
from ..signals.slope import Slope
from ..signals.splash import Splash
from ..structures.base import Maker
from ..structures.building import Building, Facade
from ..structures.cable import Cable
from ..structures.deck import Deck
from ..structures.fence import Fence
from ..structures.fittings import Crates, PlankStack, Winch
from ..structures.grade import PartGrade
from ..structures.ground_pieces import Boulders, Path
from ..structures.lock_chamber import LockChamber
from ..structures.lock_gate import LockGate
from ..structures.sign import Sign
from ..structures.wall import Wall
from ..weather.algae import Algae
from ..weather.base import Cover
from ..weather.climate import Climate, ClimateState
from ..weather.dirt import Dirt
from ..weather.frost import Frost
from ..weather.leaf_stain import LeafStain
from ..weather.leaks import Leaks
from ..weather.lichen import Lichen
from ..weather.moss import Moss
from ..weather.peeling import Peeling
from ..weather.puddles import Puddles
from ..weather.rust import Rust
from ..weather.rust_streaks import RustStreaks
from ..weather.snow import Snow
from ..weather.soot import Soot
from ..weather.wet_edge import WetEdge
from ..weather.wetness import Wetness
from .document import CoverLayer, KitPiece, Light, Made, Placement, Repeat, Shot, SiteDocument, Structure, Water
from .ground import Ground, Levelled, PaintedMaterial, PaintStroke
from .tallow_lock_decals import decals_of_tallow_lock
from .tallow_lock_finish import LATE_SUMMER
from .tallow_lock_grass import grass_of_tallow_lock
from .tallow_lock_lamps import HEARTH, lamps_of_tallow_lock

_CLEAR = ("house", "lock_walls", "towpath", "door_path", "upper_gate", "lower_gate", "crates", "planks", "deck")


def _card(id: str, signal: Signal, starts: float, full: float) -> SignalCard:
    return SignalCard(id=id, signal=signal, starts_at=starts, full_at=full)


def _structure(
    id: str, name: str, maker: Maker, x: float, y: float, z: float, turn: float = 0, size: float = 1, **more: Any
) -> Structure:
    placement = Placement(position=(x, y, z), turn=turn, size=size)
    return Structure(id=id, name=name, source=Made(maker=maker), placement=placement, **more)


def _piece(
    id: str, name: str, item: str, x: float, y: float, z: float, turn: float = 0, variant: int = 0, **more: Any
) -> Structure:
    """A kit item set down by hand."""
    placement = Placement(position=(x, y, z), turn=turn)
    return Structure(id=id, name=name, source=KitPiece(item=item, variant=variant), placement=placement, **more)


def _house() -> Building:
    return Building(
        size=(7.4, 5.3), storeys=1, storey_height=3.05, pitch=42, variety=0, seed=2,
        facades=(
            Facade(side=1, opening="door", number=1),
            Facade(side=1, opening="window", number=4),
            Facade(side=4, opening="window", number=1),
            Facade(side=3, opening="window", number=2),
        ),
    )  # fmt: skip


# Panes with a light behind them.
_LIT = PartGrade(tint=(1, 0.62, 0.26), tinted=1, glow=40)


def _heap() -> Heap:
    """Boards and crates as they fell here once; ``site/fallen_boards.json`` keeps how each came to lie."""
    return Heap.model_validate_json((FilePath(__file__).parent / "fallen_boards.json").read_text())


_IRON = (
    "winch",
    "hand_winch",
    "bollards",
    "lamp",
    "upper_gate",
    "lower_gate",
    "barrel_one",
    "barrel_two",
    "bucket",
    "bench",
)
_STONE = ("lock_walls", "towpath", "door_path", "boulders", "stones", "garden_wall", "house")
_PAINTED = ("house", "upper_gate", "lower_gate", "bench", "bucket", "winch", "hand_winch", "bollards", "lamp")


def _weather(solid: tuple[str, ...], everything: tuple[str, ...]) -> tuple[CoverLayer, ...]:
    """What lies on the yard, from the lowest to the uppermost."""
    moss = Moss.usual_where()

    def layer(name: str, cover: Cover, surfaces: tuple[str, ...], where: Where | None = None) -> CoverLayer:
        return CoverLayer(
            id=cover.kind, name=name, cover=cover, where=where or type(cover).usual_where(), surfaces=surfaces
        )

    below_iron = RustStreaks.usual_where()
    runoff = below_iron.cards[0].model_copy(update={"signal": Runoff(objects=_IRON)})
    corners = Where(
        cards=(
            _card("splash", Splash(height=0.4), 0.08, 0.85),
            _card("steep", Slope(), 25, 60),
            _card("crevice", Crevice(radius=1.0), 0.15, 0.66).model_copy(update={"combine": "max"}),
            _card("noise", Noise(size=2.5, octaves=5, seed=4), 0.28, 0.62),
        )
    )
    by_chimney = Where(
        cards=(
            _card("height", Height(), 4.6, 6.4),
            _card("noise", Noise(size=1.1, octaves=5, seed=31, upright=2), 0.3, 0.62),
        )
    )
    shade = LeafStain.usual_where()
    fall = shade.cards[0].model_copy(update={"signal": LeafFall(layers=("alders",), bearing=240, drift=0.4)})
    return (
        layer("Flaking paint", Peeling(), _PAINTED),
        layer("Rust", Rust(), _IRON),
        layer("Rust runs", RustStreaks(), ("lock_walls", "upper_gate", "lower_gate", "winch", "bollards", "barrel_one",
                                           "barrel_two"), Where(cards=(runoff, *below_iron.cards[1:]))),
        layer("Soot round the chimney", Soot(), ("house",), by_chimney),
        layer("Where water runs", Leaks(), ("lock_walls", "house", "garden_wall", "upper_gate", "lower_gate")),
        layer("Dirt in corners", Dirt(), (*solid, "ground"), corners),
        layer("Algae at the water line", Algae(), ("lock_walls", "upper_gate", "lower_gate")),
        # Items have room for four coats at once, and nothing but reeds stands in the water.
        layer("Wet edge", WetEdge(), ("lock_walls", "upper_gate", "lower_gate", "ground")).model_copy(
            update={"on_items": False}
        ),
        layer("Lichen", Lichen(), (*_STONE, "fence", "sign", "deck")),
        layer("Old moss", Moss(), solid, moss),
        layer("Under the alders", LeafStain(), ("ground", "towpath", "door_path", "deck"), Where(cards=(fall, *shade.cards[1:]))),
        layer("Rain on everything", Wetness(), everything),
        layer("Puddles", Puddles(), ("ground", "towpath", "door_path", "lock_walls")),
        layer("Hoar frost", Frost(), solid),
        layer("Snow", Snow(), everything),
    )  # fmt: skip


def tallow_lock() -> SiteDocument:
    """The document of Tallow Lock."""
    structures = (
        _structure("lock_walls", "Lock walls", LockChamber(), 0, 0, 0),
        _structure("upper_gate", "Upper gate", LockGate(open=0), -8.6, 0.0, 0),
        _structure("lower_gate", "Lower gate", LockGate(open=62), 6.2, 0.0, 0),
        _structure("house", "Lock-keeper's house", _house(), -3.4, -0.28, -9.6, turn=4, grades={"pane": _LIT}),
        _structure("towpath", "Towpath", Path(length=40, width=2.3), 0, 0.02, 5.6),
        _structure("door_path", "Path to the door", Path(length=4.4, width=1.5, seed=5), -3.15, 0.0, -5.55, turn=92),
        _piece("bollards", "Bollards", "bollard", -7.7, 0.02, 4.1, repeat=Repeat(number=3, step=(6.5, 0, 0))),
        _structure(
            "ropes",
            "Mooring ropes",
            Cable(start=(0, 0.5, 0), end=(6.5, 0.5, 0), sag=0.32, radius=0.017),
            -7.7,
            0.02,
            4.1,
            repeat=Repeat(number=2, step=(6.5, 0, 0)),
        ),
        _structure("winch", "Winch", Winch(), 8.4, 0.02, -3.3, turn=200),
        _piece("hand_winch", "Hand winch", "hand_winch", 4.4, 0.03, -3.7, turn=200, variant=1),
        _structure("crates", "Crates", Crates(number=5), 1.4, 0.02, -7.4, turn=-8),
        Structure(
            id="heap", name="Heap of old boards", source=_heap(), placement=Placement(position=(4.9, 0.02, -7.1))
        ),
        _structure("sign", "Sign", Sign(text="Tallow Lock", height=0.19, raised=1.05), 7.4, 0.0, -4.9, turn=14),
        _piece("barrel_one", "Barrel by the door", "barrel", -1.15, 0.02, -6.5, variant=0),
        _piece("barrel_two", "Second barrel", "barrel", -0.5, 0.02, -6.75, variant=2, turn=50),
        _piece("bench", "Seat by the door", "bench", -5.6, 0.02, -6.5, turn=2),
        _piece("bucket", "Bucket", "bucket", -4.35, 0.02, -6.35, variant=1),
        _piece("lamp", "Lamp post", "lamp_post", -8.9, 0.0, 4.35, grades={"glass": _LIT}),
        _piece("coil", "Rope coil", "rope_coil", 0.1, 0.02, 4.35, variant=1),
        _piece("pallet", "Pallet", "pallet", 4.9, 0.02, -7.6, turn=17, variant=2),
        _piece("hearth", "Bricks round the fire", "rubble", *HEARTH, turn=25, variant=1),
        _piece("rubble", "Fallen bricks", "rubble", 6.9, 0.0, -9.1, turn=60),
        _structure(
            "garden_wall", "Garden wall", Wall(length=7.5, height=1.35, ruin=0.35, seed=3), 4.7, -0.02, -10.6, turn=3
        ),
        _structure("fence", "Fence", Fence(length=11, height=1.1, lost=0.1, lean=5), -14.4, 0.0, -8.6, turn=8),
        _structure("planks", "Planks", PlankStack(), 3.1, 0.02, -5.1, turn=24),
        _structure(
            "deck", "Drying deck", Deck(size=(3.4, 2.3), height=0.3, lost=0.08, wear=0.7), -11.6, -0.04, -5.9, turn=14
        ),
        _structure("boulders", "Boulders", Boulders(number=11, spread=2.1, size=0.62), 7.2, 0.05, -6.9),
        _structure("stones", "Bank stones", Boulders(number=9, spread=2.3, size=0.42, seed=3), -11.0, 0.02, 4.6),
    )
    ground = Ground(
        size=(46, 36),
        spacing=0.4,
        relief=0.85,
        swell=12,
        seed=7,
        levelled=(
            Levelled(centre=(0, 5.6), size=(46, 2.0), level=-0.03, edge=2.2),
            Levelled(centre=(-3.4, -9.6), size=(8.4, 6.6), level=-0.02, edge=2.5),
            Levelled(centre=(-1, -4.5), size=(20, 3.4), level=-0.02, edge=2.5),
            Levelled(centre=(2.6, -6.6), size=(5, 3), level=0.0, edge=1.5),
            Levelled(centre=(0, 0), size=(60, 6.2), level=-3.3, edge=0.5),
        ),
        paints=(
            PaintedMaterial(
                id="trodden",
                name="Trodden earth",
                material="mud",
                strokes=(
                    PaintStroke(
                        radius=1.1, strength=0.9, soft=0.8, path=((-3.2, -5.9), (-1.6, -6.2), (1.5, -6.2), (4.6, -5.4))
                    ),
                    PaintStroke(radius=0.9, strength=0.8, soft=0.9, path=((4.2, -5.2), (6.4, -4.2), (8.2, -4.4))),
                    PaintStroke(
                        radius=0.8,
                        strength=0.7,
                        soft=0.9,
                        path=((-20, 4.1), (-8, 4.0), (2, 4.05), (14, 4.1), (22, 4.0)),
                    ),
                    PaintStroke(radius=0.7, strength=0.6, soft=1, path=((-20, 7.1), (-6, 7.0), (8, 7.15), (22, 7.0))),
                ),
            ),
            PaintedMaterial(
                id="gravel",
                name="Gravel by the crates",
                material="gravel",
                strokes=(
                    PaintStroke(radius=1.5, strength=0.75, soft=0.9, path=((1.2, -7.6), (3.4, -7.2), (5.2, -7.7))),
                ),
            ),
        ),
    )
    solid = tuple(structure.id for structure in structures if structure.id not in ("ropes", "lamp", "bucket"))
    everything = (*(structure.id for structure in structures), "ground")
    weather = _weather(solid, everything)
    dry = _card("height", Height(above_water=True), 0.35, 0.8)
    planting = (
        Scatter(
            id="alders",
            name="Alders and birches",
            density=0.045,
            spacing=3.4,
            seed=3,
            mix=(
                MixItem(item="alder", share=3, size=(0.75, 1.15), lean=0, sink=(0, 0.1)),
                MixItem(item="birch", share=2, size=(0.7, 1.05), lean=0, sink=(0, 0.1)),
            ),
            where=Where(
                cards=(
                    _card("distance", Distance(objects=("house", "lock_walls", "towpath"), reach=12), 3.5, 6.5),
                    dry,
                )
            ),
        ),
        Scatter(
            id="bushes",
            name="Bushes and brambles",
            density=0.12,
            spacing=1.6,
            seed=8,
            mix=(
                MixItem(item="hawthorn", share=1, size=(0.6, 1.1), lean=0, sink=(0, 0.05)),
                MixItem(item="bramble", share=3, size=(0.7, 1.2), lean=20),
            ),
            where=Where(
                cards=(
                    _card("distance", Distance(objects=_CLEAR, reach=8), 2.2, 4.5),
                    _card("noise", Noise(size=7, octaves=4, seed=14), 0.42, 0.6),
                    dry,
                )
            ),
        ),
        Scatter(
            id="hedge",
            name="Hedge along the fence",
            density=0,
            seed=2,
            mix=(MixItem(item="hawthorn", size=(0.42, 0.58), lean=0, sink=(0.02, 0.08)),),
            rows=(
                Row(
                    id="fence",
                    path=((-20.2, 0, -9.4), (-14.5, 0, -8.3), (-9.4, 0, -7.5)),
                    spacing=0.95,
                    jitter=0.12,
                    facing="any way",
                ),
            ),
        ),
        Scatter(
            id="ivy",
            name="Ivy on the walls",
            density=1.6,
            spacing=0.5,
            seed=6,
            mix=(MixItem(item="ivy", size=(0.75, 1.25), lean=0, sink=(0, 0)),),
            where=Where(
                cards=(
                    _card("distance", Distance(objects=("garden_wall", "house"), reach=3), 0.8, 0.5),
                    _card("noise", Noise(size=3, octaves=3, seed=31), 0.46, 0.52),
                )
            ),
        ),
        Scatter(
            id="reeds",
            name="Reeds",
            density=1.6,
            spacing=0.35,
            seed=2,
            mix=(MixItem(item="reed", size=(0.7, 1.2), lean=0),),
            where=Where(
                cards=(
                    _card("height", Height(above_water=True), -0.9, -0.3),
                    _card("not_dry", Height(above_water=True), 0.6, 0.3),
                    _card("distance", Distance(objects=("lock_walls",), reach=6), 0.3, 0.9),
                )
            ),
        ),
        Scatter(
            id="ferns_nettles",
            name="Ferns and nettles",
            density=1.4,
            spacing=0.4,
            seed=5,
            mix=(
                # Ferns keep to the shade, nettles take the rest.
                MixItem(
                    item="fern",
                    share=3,
                    size=(0.6, 1.2),
                    where=Where(cards=(_card("shade", SkyExposure(), 0.85, 0.55),)),
                ),
                MixItem(item="nettle", share=3, size=(0.7, 1.2), lean=10),
                MixItem(item="cow_parsley", share=1.4, size=(0.75, 1.1), lean=10),
                MixItem(item="dock", share=0.9, size=(0.8, 1.2), lean=20),
            ),
            clumps=40,
            clump_size=1.8,
            keep_clear=(ClearOfObjects(id="deck", objects=("deck",), distance=0.05, fade=0.3),),
            where=Where(
                cards=(
                    _card("noise", Noise(size=3.5, octaves=4, seed=9), 0.48, 0.6),
                    _card("near", Distance(reach=8), 3.4, 0.7),
                    _card("clear", Distance(objects=("towpath", "door_path", "planks", "crates"), reach=3), 0.15, 0.5),
                    dry,
                )
            ),
        ),
        Scatter(
            id="stones",
            name="Stones and gravel",
            density=0.55,
            spacing=0.3,
            seed=4,
            mix=(
                MixItem(item="stone", share=3, size=(0.5, 1.5), lean=80, sink=(0.01, 0.05)),
                MixItem(item="pebbles", share=2, size=(0.7, 1.2), lean=100, sink=(0, 0.01)),
                MixItem(item="slab_stone", share=0.5, size=(0.6, 1.1), lean=90, sink=(0.0, 0.04)),
                MixItem(item="twigs", share=1, size=(0.7, 1.2), lean=100),
            ),
            where=Where(
                cards=(
                    _card("slope", Slope(), 40, 25),
                    _card("near", Distance(reach=5), 2.4, 0.3),
                    _card("noise", Noise(size=2.5, octaves=4, seed=21), 0.42, 0.6),
                    dry,
                )
            ),
        ),
        Scatter(
            id="meadow",
            name="Tufts and flowers",
            density=4.5,
            spacing=0.13,
            seed=1,
            mix=(
                MixItem(item="grass_tuft", share=5, size=(0.6, 1.35), lean=60),
                MixItem(item="meadow_grass", share=1.6, size=(0.7, 1.1)),
                MixItem(item="wildflower", share=0.9, size=(0.8, 1.2)),
                MixItem(item="clover", share=0.9, size=(0.8, 1.3), lean=80),
                MixItem(item="dandelion", share=0.7, size=(0.8, 1.2), lean=60),
            ),
            where=Where(
                cards=(
                    _card("slope", Slope(), 42, 24),
                    _card("noise", Noise(size=4, octaves=5, seed=2), 0.26, 0.5),
                    dry,
                )
            ),
            clumps=25,
            clump_size=0.9,
            edge_size=60,
            keep_clear=(
                ClearOfObjects(id="structures", distance=0.02, fade=0.4, body=40),
                ClearOfShot(id="lens", distance=0.8, fade=0.8),
            ),
        ),
        Scatter(
            id="fallen_leaves",
            name="Fallen leaves",
            density=8,
            spacing=0.2,
            seed=7,
            mix=(MixItem(item="dead_leaves", size=(0.6, 1.1), lean=100, sink=(0, 0.005)),),
            where=Where(cards=(_card("fall", LeafFall(layers=("alders",), bearing=240, drift=0.4), 0.1, 1.2), dry)),
        ),
    )
    return SiteDocument(
        ground=ground,
        structures=structures,
        grass=grass_of_tallow_lock(ground.paints[0], dry),
        water=Water(shown=True, level=-1.15),
        planting=planting,
        weather=weather,
        climate=Climate(),
        states=(
            ClimateState(id="new", name="New", climate=Climate(years=0, damp=0.4, season=0.4)),
            ClimateState(id="forty", name="Forty years", climate=Climate(years=40, damp=0.6, season=0.4)),
            ClimateState(id="rain", name="After rain", climate=Climate(years=30, damp=0.98, season=0.55)),
            ClimateState(id="snow", name="First snow", climate=Climate(years=30, damp=0.6, season=1, snow=0.12)),
        ),
        wind=Wind(strength=4, gusts=60, gust_size=7),
        light=Light(),
        decals=decals_of_tallow_lock(),
        lamps=lamps_of_tallow_lock(),
        finishes=(LATE_SUMMER,),
        shots=(
            Shot(
                id="yard",
                name="The yard",
                position=(11.2, 3.3, 9.6),
                target=(-1.2, 0.7, -2.6),
                lens=31,
                finish=LATE_SUMMER.id,
            ),
            Shot(id="steps", name="Lock steps", position=(4.4, 1.7, -1.6), target=(9.2, -0.9, 3.1), lens=28),
            Shot(id="boards", name="Old boards", position=(3.7, 2.0, -4.1), target=(5.1, 0.25, -7.6), lens=28),
            Shot(id="deck", name="By the deck", position=(-7.7, 1.9, -3.3), target=(-12.6, 0.0, -6.9), lens=28),
            Shot(
                id="door",
                name="The door",
                position=(1.6, 1.8, -2.6),
                target=(-3.4, 1.5, -8),
                lens=30,
                finish=LATE_SUMMER.id,
            ),
            Shot(
                id="joints",
                name="Moss in the joints",
                position=(7.9, 1.0, -9.0),
                target=(7.7, 0.5, -10.4),
                lens=37,
            ),
            Shot(id="iron", name="Old iron", position=(-1.2, 0.9, 2.6), target=(-1.2, 0.1, 4.1), lens=33),
            Shot(id="winch", name="The winch", position=(9.7, 1.3, -1.7), target=(8.4, 0.8, -3.3), lens=30),
            Shot(id="cobbles", name="Cobbles", position=(-1.6, 1.3, 8.0), target=(-4.4, 0.0, 5.5), lens=30),
            Shot(id="chamber", name="The chamber", position=(1.2, 0.55, 2.2), target=(0.4, -1.05, -2.6), lens=30),
            Shot(id="seat", name="By the seat", position=(-2.6, 1.5, -3.6), target=(-4.6, 0.9, -6.6), lens=26),
        ),
    )
