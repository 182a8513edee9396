"""What layers can be made of: the families of the core, as the page reads them."""

from __future__ import annotations

from functools import lru_cache
from typing import Any, Literal

from ninja import Router, Schema
from pydantic import Field

from api.security import SignedInRequest
from cenote.decals.base import DECALS, Hangs
from cenote.droplets.base import DROPLETS
from cenote.droplets.presets import PRESETS
from cenote.finish.base import STEPS
from cenote.grass.layer import Grass
from cenote.grass.presets import PRESETS as GRASSES
from cenote.kit.base import DETAILS, KIT
from cenote.kit.shelf import SHIPPED
from cenote.light.lamps.base import LAMPS
from cenote.masks.where import Where
from cenote.materials.base import MATERIALS, Nature
from cenote.materials.patterns.base import PATTERNS
from cenote.materials.recipe import PatternLayer, Recipe
from cenote.motion.base import MOVES
from cenote.registry import kind_of
from cenote.scatter.layer import Scatter
from cenote.signals.base import SIGNALS
from cenote.site import starters
from cenote.site.droplets import DropletLayer
from cenote.site.ground import PaintedMaterial
from cenote.structures.base import MAKERS
from cenote.weather.base import COVERS

router = Router(tags=["vocabulary"])


class KitEntry(Schema):
    """A kit item."""

    kind: str
    title: str
    tags: list[str]
    variants: int
    grows: bool
    triangles: list[int] = Field(description="At each level of detail.")
    size: list[float]
    help: str
    group: str
    adjustable: bool = Field(description="Whether it has parameters, so that own items can be made from it.")


class SignalEntry(Schema):
    """How a signal reads."""

    kind: str
    title: str
    unit: str
    low: float
    high: float
    starts_at: float
    full_at: float
    on_cells: bool
    help: str


class KindEntry(Schema):
    """A kind of something, and what it is called."""

    kind: str
    title: str
    help: str


class CoverEntry(KindEntry):
    """A cover, with the mask that a new layer of it begins with."""

    where: Where
    coats: bool = Field(description="Whether it comes on placed items as well.")
    of_rain: bool = Field(description="Whether it comes with the rain that falls.")


class MaterialEntry(KindEntry):
    """A shipped material, with its recipe."""

    group: str
    nature: Nature
    recipe: Recipe


class DecalEntry(KindEntry):
    """A kind of decal: how large it usually is, and how it usually lies."""

    size: tuple[float, float] = Field(description="Metres wide and high.")
    reach: float = Field(description="Metres that its box goes.")
    lies: Literal["under the weather", "over the weather"]
    hangs: Hangs = Field(description="What of it lies at the places that a rule chooses.")
    where: Where = Field(description="The mask that a rule of it begins with.")


class DropletPreset(KindEntry):
    """Layers of drops that come together, as they begin."""

    layers: list[DropletLayer]


class GrassPreset(KindEntry):
    """A layer of grass as it begins; whoever adds it gives it an id, a name that is free, and surfaces."""

    layer: Grass


class Starters(Schema):
    """What something new begins with; whoever adds it gives it an id, a name that is free, and a place."""

    scatter: Scatter
    paint: PaintedMaterial
    pattern_layer: PatternLayer


class Vocabulary(Schema):
    """What layers can be made of."""

    starters: Starters

    signals: list[SignalEntry]
    covers: list[CoverEntry]
    makers: list[KindEntry]
    decals: list[DecalEntry]
    droplets: list[KindEntry]
    droplet_presets: list[DropletPreset]
    grass_presets: list[GrassPreset]
    lamps: list[KindEntry]
    steps: list[KindEntry] = Field(description="Of finishes: those on light first, then those on tones.")
    moves: list[KindEntry] = Field(description="Of shots that move.")
    materials: list[MaterialEntry]
    patterns: list[KindEntry]
    kit: list[KitEntry]


@router.get("/vocabulary", response=Vocabulary)
def get_vocabulary(request: SignedInRequest) -> Vocabulary:
    """What layers can be made of: signals, covers, structures, materials and the kit."""
    return vocabulary()


@lru_cache(maxsize=1)
def vocabulary() -> Vocabulary:
    """The families of the core, as the page reads them."""

    def named(member: Any) -> dict[str, str]:
        return {"kind": kind_of(member), "title": member.title, "help": (member.__doc__ or "").strip().split("\n")[0]}

    signals = [
        SignalEntry(
            kind=kind_of(signal), title=signal.reading.title, unit=signal.reading.unit,
            low=signal.reading.low, high=signal.reading.high, starts_at=signal.suggested[0], full_at=signal.suggested[1],
            on_cells=signal.on_cells, help=(signal.__doc__ or "").strip(),
        )
        for signal in SIGNALS
    ]  # fmt: skip
    kit = []
    for item in KIT:
        kind = kind_of(item)
        mesh = SHIPPED.mesh(kind, 0)
        low, high = mesh.bounds
        kit.append(
            KitEntry(kind=kind, title=item.title, help=(item.__doc__ or "").strip(), group=item.group,
                     tags=list(item.tags), variants=item.variants, grows=item.grows,
                     triangles=[len(SHIPPED.mesh(kind, 0, detail).faces) for detail in DETAILS],
                     size=(high - low).tolist(), adjustable=len(item.model_fields) > 1)
        )  # fmt: skip
    return Vocabulary(
        starters=Starters(
            scatter=starters.scatter(),
            paint=starters.painted_material(),
            pattern_layer=starters.pattern_layer(),
        ),
        signals=signals,
        covers=[
            CoverEntry(**named(cover), where=cover.usual_where(), coats=cover.coats, of_rain=cover.of_rain)
            for cover in COVERS
        ],
        makers=[KindEntry(**named(maker)) for maker in MAKERS],
        steps=[
            KindEntry(**named(step) | {"help": step.help})
            for domain in ("light", "tones")
            for step in STEPS
            if step.domain == domain
        ],
        moves=[KindEntry(**named(move) | {"help": move.help}) for move in MOVES],
        decals=[
            DecalEntry(
                **named(decal) | {"help": decal.help},
                size=decal.size,
                reach=decal.reach,
                lies="over the weather" if decal.over else "under the weather",
                hangs=decal.hangs,
                where=decal.usual_where(),
            )
            for decal in DECALS
        ],
        droplets=[KindEntry(**named(way) | {"help": way.help}) for way in DROPLETS],
        droplet_presets=[
            DropletPreset(
                kind=one.kind,
                title=one.title,
                help=one.help,
                layers=[DropletLayer(id=starters.NO_ID, name=name, droplets=droplets) for name, droplets in one.layers],
            )
            for one in PRESETS
        ],
        grass_presets=[
            GrassPreset(kind=one.kind, title=one.title, help=one.help, layer=one.layer(starters.NO_ID))
            for one in GRASSES
        ],
        lamps=[KindEntry(**named(lamp) | {"help": lamp.help}) for lamp in LAMPS],
        materials=[
            MaterialEntry(kind=m.kind, title=m.title, help=m.help, group=m.group, nature=m.nature, recipe=m.recipe)
            for m in MATERIALS
        ],
        patterns=[KindEntry(**named(pattern)) for pattern in PATTERNS],
        kit=kit,
    )
