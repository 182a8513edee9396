"""The demo site: the yard of a disused canal lock, made by our own code."""

from __future__ import annotations

from ..masks.where import SignalCard, Where
from ..scatter.fill import MixItem, Scatter
from ..signals.base import Signal
from ..signals.crevice import Crevice
from ..signals.distance import Distance
from ..signals.height import Height
from ..signals.noise import Noise
from ..signals.slope import Slope
from ..structures.base import Maker
from ..structures.fittings import Bollards, Crates, PlankStack, Winch
from ..structures.ground_pieces import Boulders, Path
from ..structures.house import House
from ..structures.lock_chamber import LockChamber
from ..structures.lock_gate import LockGate
from ..weather.climate import Climate
from ..weather.dirt import Dirt
from ..weather.moss import Moss
from .document import CoverLayer, Light, Made, Placement, Shot, SiteDocument, Structure, Water
from .ground import Ground, Levelled

_CLEAR = ("house", "lock_walls", "towpath", "door_path", "upper_gate", "lower_gate", "crates", "planks")


def _card(id: str, signal: Signal, starts: float, full: float) -> SignalCard:
    return SignalCard(id=id, signal=signal, starts_at=starts, full_at=full)


def _structure(
    id: str, name: str, maker: Maker, x: float, y: float, z: float, turn: float = 0, size: float = 1
) -> Structure:
    return Structure(
        id=id, name=name, source=Made(maker=maker), placement=Placement(position=(x, y, z), turn=turn, size=size)
    )


def tallow_lock() -> SiteDocument:
    """The document of Tallow Lock."""
    structures = (
        _structure("lock_walls", "Lock walls", LockChamber(), 0, 0, 0),
        _structure("upper_gate", "Upper gate", LockGate(open=0), -8.6, 0.0, 0),
        _structure("lower_gate", "Lower gate", LockGate(open=62), 6.2, 0.0, 0),
        _structure("house", "Lock-keeper's house", House(), -3.4, 0.0, -9.6, turn=4),
        _structure("towpath", "Towpath", Path(length=40, width=2.3), 0, 0.02, 5.6),
        _structure("door_path", "Path to the door", Path(length=4.4, width=1.5, seed=5), -3.15, 0.0, -5.55, turn=92),
        _structure("bollards", "Bollards", Bollards(number=3, spacing=6.5), -1.2, 0.02, 4.1),
        _structure("winch", "Winch", Winch(), 8.4, 0.02, -3.3, turn=200),
        _structure("crates", "Crates", Crates(number=5), 1.4, 0.02, -7.4, turn=-8),
        _structure("planks", "Planks", PlankStack(), 3.1, 0.02, -5.1, turn=24),
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
    )
    grown = (
        "lock_walls",
        "upper_gate",
        "lower_gate",
        "house",
        "towpath",
        "door_path",
        "boulders",
        "stones",
        "planks",
        "crates",
        "bollards",
        "winch",
    )
    weather = (
        CoverLayer(
            id="dirt",
            name="Dirt in corners",
            cover=Dirt(),
            where=Where(
                cards=(
                    _card("crevice", Crevice(radius=1.0), 0.15, 0.66),
                    _card("noise", Noise(size=2.5, octaves=5, seed=4), 0.28, 0.62),
                )
            ),
            surfaces=(*grown, "ground"),
        ),
        CoverLayer(id="moss", name="Old moss", cover=Moss(), where=Moss.usual_where(), surfaces=grown),
    )
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
                MixItem(item="fern", share=3, size=(0.6, 1.2)),
                MixItem(item="nettle", share=3, size=(0.7, 1.2), lean=10),
            ),
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
            name="Meadow",
            density=9,
            spacing=0.13,
            seed=1,
            mix=(
                MixItem(item="grass_tuft", share=14, size=(0.6, 1.35), lean=60),
                MixItem(item="meadow_grass", share=1.6, size=(0.7, 1.1)),
                MixItem(item="wildflower", share=0.7, size=(0.8, 1.2)),
            ),
            where=Where(
                cards=(
                    _card("slope", Slope(), 42, 24),
                    _card("distance", Distance(reach=4), 0.03, 0.5),
                    _card("noise", Noise(size=4, octaves=5, seed=2), 0.26, 0.5),
                    dry,
                )
            ),
        ),
    )
    return SiteDocument(
        ground=ground,
        structures=structures,
        water=Water(shown=True, level=-1.15),
        planting=planting,
        weather=weather,
        climate=Climate(),
        light=Light(),
        shots=(
            Shot(id="yard", name="The yard", position=(11.2, 3.3, 9.6), target=(-1.2, 0.7, -2.6), field_of_view=42),
            Shot(id="steps", name="Lock steps", position=(4.4, 1.7, -1.6), target=(9.2, -0.9, 3.1), field_of_view=46),
            Shot(id="door", name="The door", position=(1.6, 1.8, -2.6), target=(-3.4, 1.5, -8), field_of_view=44),
        ),
    )
