"""A site of two kilometres, with five hundred objects and a million placed items: what figures of wide sites are taken on."""

from __future__ import annotations

import numpy as np

from cenote.masks.where import SignalCard, Where
from cenote.scatter.layer import MixItem, Scatter
from cenote.signals.noise import Noise
from cenote.signals.slope import Slope
from cenote.site.document import CoverLayer, KitPiece, Light, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground, PaintedMaterial, PaintStroke
from cenote.structures.building import Building
from cenote.structures.wall import Wall
from cenote.weather.dirt import Dirt
from cenote.weather.moss import Moss
from cenote.weather.snow import Snow

SIDE, OBJECTS, ITEMS = 2000.0, 500, 1_000_000
PIECES = ("crate", "barrel", "boulder", "bollard", "bench", "pallet")


def wide_site(side: float = SIDE, objects: int = OBJECTS, items: int = ITEMS) -> SiteDocument:
    """Hamlets of houses, walls and things set down, a way between them, and meadows over all of the ground."""
    random = np.random.default_rng(5)
    hamlets = random.uniform(-0.42 * side, 0.42 * side, (max(objects // 25, 1), 2))
    hamlets[0] = 0
    structures = []
    for number in range(objects):
        x, z = hamlets[number % len(hamlets)] + random.uniform(-45, 45, 2)
        turn = float(random.uniform(-180, 180))
        made = number % 25
        if made == 0:
            source = Made(maker=Building(seed=number))
        elif made == 2:
            source = Made(maker=Wall(seed=number))
        else:
            source = KitPiece(item=PIECES[number % len(PIECES)], variant=number % 3)
        placement = Placement(position=(round(float(x), 2), 0, round(float(z), 2)), turn=turn)
        structures.append(Structure(id=f"object-{number}", name=f"Object {number}", source=source, placement=placement))
    way = tuple((float(x), float(z)) for x, z in hamlets[:12])
    ground = Ground(
        size=(side, side), spacing=4, relief=24, swell=260, seed=8, material="meadow",
        paints=(PaintedMaterial(id="way", name="Way", material="mud", strokes=(PaintStroke(radius=3, path=way),)),),
    )  # fmt: skip
    wet = Where(cards=(SignalCard(id="noise", signal=Noise(size=60, octaves=4), starts_at=0.45, full_at=0.6),
                       SignalCard(id="slope", signal=Slope(), starts_at=40, full_at=25)))  # fmt: skip
    density = items / side**2
    planting = (
        Scatter(id="meadow", name="Meadow", density=1.1 * density, spacing=0, seed=1,
                mix=(MixItem(item="grass_tuft", share=5), MixItem(item="wildflower", share=2), MixItem(item="nettle"))),
        Scatter(id="woods", name="Woods", density=0.004, spacing=4, seed=2, where=wet,
                mix=(MixItem(item="birch", share=2), MixItem(item="hawthorn"))),
    )  # fmt: skip
    surfaces = tuple(one.id for one in structures)
    weather = tuple(
        CoverLayer(id=cover.kind, name=cover.kind.title(), cover=cover, where=type(cover).usual_where(), surfaces=on)
        for cover, on in ((Dirt(), surfaces), (Moss(), (*surfaces, "ground")), (Snow(), (*surfaces, "ground")))
    )
    shots = (
        Shot(id="feet", name="At the feet", position=(6, 1.7, 14), target=(2, 0, 9)),
        Shot(id="far", name="To the horizon", position=(60, 12, 140), target=(0, 2, 0)),
    )
    return SiteDocument(ground=ground, structures=tuple(structures), planting=planting, weather=weather, shots=shots,
                        light=Light())  # fmt: skip
