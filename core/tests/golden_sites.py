"""Small sites that between them use every member of every family; golden arrays are made of them."""

from __future__ import annotations

from cenote.drop.heap import Drop, Heap, HeapPiece
from cenote.geometry.pose import Placement
from cenote.geometry.strokes import BrushStroke
from cenote.kit.base import KIT
from cenote.kit.shelf import OwnItem
from cenote.masks.where import Where, suggested_card
from cenote.scatter.clear import ClearOfObjects, ClearOfPlanting, ClearOfShot, ClearOfZones
from cenote.scatter.layer import Match, MixItem, Planted, Row, Scatter, SowStroke
from cenote.signals.base import SIGNALS, Signal
from cenote.signals.crevice import Crevice
from cenote.signals.distance import Distance
from cenote.signals.leaf_fall import LeafFall
from cenote.signals.noise import Noise
from cenote.signals.painted import Painted
from cenote.signals.part import OnPart
from cenote.signals.runoff import Runoff
from cenote.signals.sky import SkyExposure
from cenote.signals.slope import Slope
from cenote.signals.zone import InZone
from cenote.site.document import CoverLayer, KitPiece, Made, Repeat, Shot, SiteDocument, Structure, Water, Zone
from cenote.site.ground import Ground, Hollow, Levelled, PaintedMaterial, PaintStroke, Stroke
from cenote.structures.fittings import Crates
from cenote.structures.grade import PartGrade
from cenote.structures.wall import Wall
from cenote.weather.base import COVERS
from cenote.weather.climate import Climate

# Signals whose defaults look at nothing.
_ASKED: dict[str, Signal] = {
    "runoff": Runoff(objects=("wall",)),
    "leaf_fall": LeafFall(layers=("trees",)),
    "part": OnPart(parts=("board",)),
    "zone": InZone(zones=("bed",)),
    "distance": Distance(objects=("crates",), reach=3),
    "painted": Painted(strokes=(BrushStroke(path=((0, 0, 0), (1, 0, 1)), radius=0.8),)),
}


def every_signal() -> list[Signal]:
    """One of each kind, looking at something."""
    kinds = [str(signal.model_fields["kind"].default) for signal in SIGNALS]
    return [_ASKED.get(kind) or SIGNALS[kind](kind=kind) for kind in kinds]


def _wall() -> Structure:
    return Structure(
        id="wall", name="Wall", source=Made(maker=Wall()), placement=Placement(position=(-1.5, 0, -1.5), turn=20)
    )


def _crates() -> Structure:
    return Structure(id="crates", name="Crates", source=Made(maker=Crates(number=2)), placement=Placement(position=(1, 0, 0.4)),
                     grades={"board": PartGrade(brightness=0.8, spread=0.2)})  # fmt: skip


def _barrel() -> Structure:
    return Structure(
        id="barrel", name="Barrel", source=KitPiece(item="barrel", variant=1), placement=Placement(position=(2.2, 0, 1.6), size=0.9),
        repeat=Repeat(number=2, step=(0.9, 0, 0)),
    )  # fmt: skip


def _heap() -> Structure:
    pieces = tuple(
        HeapPiece(item="plank", variant=k, position=(0.1 * k, 0.05 + 0.05 * k, 0), turn=20 * k) for k in range(3)
    )
    return Structure(
        id="heap", name="Heap", source=Heap(drop=Drop(), pieces=pieces), placement=Placement(position=(-2, 0, 2))
    )


def shaped_ground() -> Ground:
    """A ground with everything that shapes and paints one."""
    return Ground(
        size=(8, 7), spacing=0.25, relief=0.3, seed=4,
        hollows=(Hollow(centre=(2, -2), size=(2.4, 1.8), depth=0.4, filled=True, water=0.1, softness=0.5),),
        levelled=(Levelled(centre=(-2, 2), size=(2, 1.5), level=0.1, edge=0.5),),
        strokes=(
            Stroke(tool="raise", path=((-3, -3), (-2, -3))), Stroke(tool="roughen", path=((0, 3),)),
            Stroke(tool="smooth", path=((-3, -3),)), Stroke(tool="flatten", path=((3, 3),), level=0.2),
            Stroke(tool="lower", path=((3, 0),), radius=0.6),
        ),
        paints=(PaintedMaterial(id="mud", material="mud", strokes=(PaintStroke(path=((-3, 0), (3, 0.5))), PaintStroke(path=((0, 0),), adds=False, radius=0.4))),),
    )  # fmt: skip


def trees() -> Scatter:
    """Something that leaves fall from."""
    return Scatter(
        id="trees", name="Trees", density=0.15, spacing=1.5, mix=(MixItem(item="alder", size=(0.3, 0.5)),), seed=3
    )


def signals_site() -> SiteDocument:
    """A yard with water, a zone and trees, for signals."""
    return SiteDocument(
        ground=shaped_ground(), structures=(_wall(), _crates()), water=Water(shown=True, level=-0.1), planting=(trees(),),
        zones=(Zone(id="bed", centre=(1, 1), radius=1.2),), shots=(_shot(),),
    )  # fmt: skip


def _shot() -> Shot:
    return Shot(id="first", name="First", position=(5, 2.5, 6), target=(0, 0.3, 0))


def covers_site() -> SiteDocument:
    """Every cover in its usual place, on stone, timber, iron and ground, after years, rain and snow."""
    painted = _barrel().model_copy(update={"materials": {"planed_timber": "enamel"}})
    weather = tuple(
        CoverLayer(id=str(cover.model_fields["kind"].default).replace("_", "-"), name=cover.title,
                   cover=cover(kind=cover.model_fields["kind"].default), where=cover.usual_where(),
                   surfaces=("ground", "wall", "barrel"), strengths={"wall": 0.7})
        for cover in COVERS
    )  # fmt: skip
    return SiteDocument(
        ground=shaped_ground(), structures=(_wall(), painted), weather=weather, planting=(scattered()[0],), shots=(_shot(),),
        climate=Climate(years=45, damp=0.7, snow=0.25, season=0.8), water=Water(shown=True, level=-0.3),
    )  # fmt: skip


def each_cover() -> list[tuple[str, SiteDocument]]:
    """A site for each cover alone, for its maps."""
    whole = covers_site()
    return [(layer.id, whole.model_copy(update={"weather": (layer,)})) for layer in whole.weather]


def scattered() -> tuple[Scatter, ...]:
    """Layers with everything that a scatter can have."""
    chain = Where(
        cards=(
            suggested_card("slope", Slope()),
            suggested_card("crevice", Crevice()).model_copy(update={"inverted": True}),
        )
    )
    noisy = Where(cards=(suggested_card("noise", Noise()),))
    meadow = Scatter(
        id="meadow", name="Meadow", density=9, spacing=0.12, clumps=40, clump_size=1.5, edge_size=60, seed=5, where=chain, size_where=noisy,
        smallest=50, surfaces=("ground", "wall"),
        mix=(MixItem(item="grass_tuft", share=4), MixItem(item="fern", room=0.5, where=noisy),
             MixItem(item="dead_leaves", share=2, match=Match(tinted=40, brightness=0.9)), MixItem(item="stone", sink=(0.0, 0.05), lean=90)),
        keep_clear=(ClearOfObjects(id="objects", distance=0.05), ClearOfZones(id="zones", zones=("bed",)), ClearOfPlanting(id="planting"),
                    ClearOfShot(id="shot", distance=3)),
        strokes=(SowStroke(path=((2, 0, 2), (3, 0, 2)), radius=0.8), SowStroke(path=((-3, 0, 0),), radius=0.7, adds=False, items=(0,))),
        rows=(Row(id="hedge", path=((-3, 0, -2.5), (3, 0, -2.5)), spacing=0.6, jitter=0.1, aside=0.2),),
        planted=(Planted(id="one", item="barrel", position=(0.3, 0.2, 2.6), turn=30, tip=5),),
    )  # fmt: skip
    ivy = Scatter(id="ivy", name="Ivy", density=3, spacing=0.2, mix=(MixItem(item="ivy", size=(0.3, 0.6)),), seed=8)
    pebbles = Scatter(id="pebbles", name="Pebbles", density=6, spacing=0.1, sides="all sides", surfaces=("wall", "crates"),
                      mix=(MixItem(item="pebbles", size=(0.2, 0.4)),), where=Where(cards=(suggested_card("sky", SkyExposure()),)))  # fmt: skip
    return meadow, ivy, pebbles


def planted_site() -> SiteDocument:
    """Layers over one another among objects, a zone and a shot."""
    own = OwnItem(id="own-fern", name="Fern of ours", source=KIT["fern"](kind="fern"), stiffness=2)
    ours = Scatter(id="ours", density=1, mix=(MixItem(item="own-fern"),), seed=9)
    return SiteDocument(
        ground=shaped_ground(), kit=(own,), structures=(_wall(), _crates(), _heap()), zones=(Zone(id="bed", centre=(1, 1), radius=1.2),),
        planting=(trees(), *scattered(), ours), shots=(_shot(),), climate=Climate(season=0.7),
    )  # fmt: skip
