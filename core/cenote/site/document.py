"""The document of a site. Everything else is derived from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator

from ..drop.heap import Heap
from ..geometry.outlines import simple_outline
from ..geometry.pose import Placement
from ..geometry.repeat import along_path, along_step
from ..grass.layer import Grass
from ..kit.shelf import OwnItem
from ..light.air import Air
from ..light.daylight import Light
from ..masks.shared import SharedWhere, followed
from ..masks.where import Where
from ..materials.base import MATERIALS, Nature
from ..materials.own import ImportedSet, OwnMaterial
from ..materials.recipe import Recipe
from ..parameters import Declared, choice, colour, count, drawn, extent, point, quantity, switch
from ..scatter.layer import Scatter
from ..scatter.wind import Wind
from ..signals.around import GROUND
from ..structures.base import MAKERS, Maker
from ..structures.grade import PartGrade
from ..weather.base import COVERS, Cover
from ..weather.climate import Climate, ClimateState, Conditions
from .decals import PlacedDecal
from .droplets import DropletLayer
from .finish import Finish
from .ground import Ground, Identity
from .lamps import PlacedLamp
from .references import NEEDED, dangling
from .shot import Shot as Shot

if TYPE_CHECKING:
    AnyMaker = Maker
    AnyCover = Cover
else:
    AnyMaker = MAKERS.union()
    AnyCover = COVERS.union()
Vector = tuple[float, float, float]


class Made(Declared):
    """An object made by our own code."""

    kind: Literal["made"] = "made"
    maker: AnyMaker


class Imported(Declared):
    """An object from a file."""

    kind: Literal["imported"] = "imported"
    mesh: str = Field(
        pattern=r"^[0-9a-f]{64}$", description="Content hash of the stored mesh.", json_schema_extra={"brought": "mesh"}
    )
    textures: str = Field(
        "",
        pattern=r"^([0-9a-f]{64})?$",
        description="Content hash of the textures that came with it; none where it is empty.",
        json_schema_extra={"brought": "textures"},
    )
    file_name: str = Field("", max_length=200)


class KitPiece(Declared):
    """A single kit item, set down as an object of its own."""

    kind: Literal["kit_piece"] = "kit_piece"
    item: str = Field(description="The kit item.", json_schema_extra={"picks": "kit"})
    variant: int = count(0, low=0, high=99, help="Which of the item's variants it is.")


class Repeat(Declared):
    """Copies of an object, merged into it: along a direction or a path, mirrored."""

    number: int = count(1, low=1, high=200, help="How many copies there are in all.")
    step: Vector = point((2, 0, 0), help="From one copy to the next, in the object's own frame.", reach=200)
    turn: float = quantity(
        0, low=-180, high=180, unit="°", step=1, help="How far each copy is turned against the last."
    )
    path: tuple[tuple[float, float], ...] = drawn(
        "path", most=200, help="Points along x and z that copies follow, in place of the step; metres."
    )
    mirror: Literal["none", "x", "z"] = choice("none", help="Whether all copies are mirrored across x or z as well.")

    @model_validator(mode="after")
    def _has_length(self) -> Repeat:
        if self.path:
            points = np.array(self.path)
            if np.abs(points).max() > 2000:
                raise ValueError("path: copies must stay within 2000 m of the object")
            along_path(points, self.number)
        return self

    def matrices(self) -> list[np.ndarray]:
        """Where the copies stand, in the object's own frame: each float (4, 4)."""
        if self.path:
            return along_path(np.array(self.path), self.number)
        return along_step(self.number, np.array(self.step), self.turn)


class Structure(Declared):
    """An object that stands on the site."""

    id: Identity
    name: str = Field("Structure", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether it is seen, measured and exported.")
    only_shadow: bool = switch(
        False,
        help="Whether the shadow that it casts is all that is seen of it: an obstacle to the light, outside of the picture. It is "
        "not measured, weathered, planted or exported.",
    )
    locked: bool = switch(False, help="Whether it is kept from being picked and moved in the view.")
    group: str = Field("", max_length=60, description="The group that it belongs to; none where it is empty.")
    source: Annotated[Made | Imported | KitPiece | Heap, Field(discriminator="kind")]
    placement: Placement = Field(default=Placement())
    repeat: Repeat = Field(default=Repeat())
    materials: dict[str, str] = Field(
        default={},
        description="Material of a part, where it is not the part's own.",
        json_schema_extra={"refers": "material"},
    )
    weathers_as: dict[str, str] = Field(
        default={},
        description="The material that a part weathers as which shows a texture that came with it.",
        json_schema_extra={"refers": "material"},
    )
    grades: dict[str, PartGrade] = Field(default={}, description="Grading of a part's colour.")

    @property
    def is_surface(self) -> bool:
        """Whether it is seen, measured and exported."""
        return self.shown and not self.only_shadow

    def part_material(self, part: str) -> str:
        """The material that a part is made of, or weathers as."""
        own = self.source.maker.part_material(part) if isinstance(self.source, Made) else part
        told = self.materials.get(part) or self.weathers_as.get(part)
        return told or (own if own in MATERIALS else "rock")

    def usual_grade(self, part: str) -> PartGrade:
        """The grading of a part before anybody grades it."""
        if isinstance(self.source, Made):
            return self.source.maker.part_grade(part)
        return PartGrade(spread=0) if isinstance(self.source, Imported) else PartGrade()

    def part_grade(self, part: str) -> PartGrade:
        """The grading of a part."""
        return self.grades.get(part) or self.usual_grade(part)


class Water(Declared):
    """Standing water over the whole site."""

    shown: bool = switch(False, help="Whether there is water.")
    level: float = quantity(-1, low=-50, high=50, unit="m", step=0.05, help="Its level.")
    clarity: float = quantity(0.8, low=0.05, high=10, unit="m", step=0.05, help="How deep one sees into it.")
    colour: Vector = colour((0.035, 0.055, 0.035), help="Its own colour.")
    foam: float = quantity(40, low=0, high=100, unit="%", step=5, help="Foam where it meets what stands in it.")


class CoverLayer(Declared):
    """One recipe of weathering, shared by any number of surfaces."""

    id: Identity
    name: str = Field("Cover", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether the layer is seen and exported.")
    cover: AnyCover
    where: Where = Field(default=Where())
    surfaces: tuple[str, ...] = Field(
        default=(),
        max_length=2001,
        description="The surfaces that share the recipe.",
        json_schema_extra={"refers": "surfaces"},
    )
    on_items: bool = switch(True, help="Whether it comes on placed items too, where it is one that does.")
    strengths: dict[str, Annotated[float, Field(ge=0, le=3)]] = Field(
        default={},
        max_length=2001,
        description="Factor on its amount for single surfaces; 1 where none is given.",
        json_schema_extra={"refers_by_key": "surfaces"},
    )


class Zone(Declared):
    """A part of the site seen from above, that masks and layers refer to."""

    id: Identity
    name: str = Field("Zone", min_length=1, max_length=80)
    shape: Literal["circle", "drawn"] = choice("circle", help="Whether it is a circle or an outline that was drawn.")
    centre: tuple[float, float] = extent((0, 0), low=-2000, high=2000, unit="m", help="Middle along x and z.")
    radius: float = quantity(3, low=0.1, high=2000, unit="m", step=0.1, help="Radius of a circle.")
    outline: tuple[tuple[float, float], ...] = drawn(
        "outline", most=300, help="Corners of a drawn one; metres.", sets={"shape": "drawn"}
    )

    @model_validator(mode="after")
    def _drawn_well(self) -> Zone:
        if self.shape == "drawn":
            if len(self.outline) < 3:
                raise ValueError("outline: at least three corners are needed")
            if np.abs(np.array(self.outline)).max() > 5000:
                raise ValueError("outline: it must stay within 5 km")
            simple_outline(self.outline)
        return self

    def corners(self) -> np.ndarray:
        """Its outline, float64 (N, 2), metres."""
        if self.shape == "drawn":
            return np.array(self.outline, float)
        turn = np.arange(64) * 2 * np.pi / 64
        # As large as the circle, though it has corners.
        radius = self.radius * np.sqrt(2 * np.pi / 64 / np.sin(2 * np.pi / 64))
        return np.array(self.centre) + radius * np.column_stack([np.cos(turn), np.sin(turn)])


class Budget(Declared):
    """What the site may cost to draw."""

    triangles: float = quantity(
        3, low=0.05, high=500, unit="million", step=0.1, help="Triangles that structures and planting may come to."
    )


class SiteDocument(Declared):
    """A whole site, from the ground upward."""

    version: Literal[1] = 1
    materials: tuple[OwnMaterial, ...] = Field(default=(), max_length=200, description="Materials of its own.")
    kit: tuple[OwnItem, ...] = Field(default=(), max_length=200, description="Kit items of its own.")
    ground: Ground = Field(default=Ground())
    zones: tuple[Zone, ...] = Field(default=(), max_length=200)
    wheres: tuple[SharedWhere, ...] = Field(default=(), max_length=200, description="Masks that layers share by name.")
    structures: tuple[Structure, ...] = Field(default=(), max_length=2000)
    water: Water = Field(default=Water())
    grass: tuple[Grass, ...] = Field(default=(), max_length=60)
    planting: tuple[Scatter, ...] = Field(default=(), max_length=200)
    weather: tuple[CoverLayer, ...] = Field(default=(), max_length=200)
    decals: tuple[PlacedDecal, ...] = Field(
        default=(), max_length=1000, description="From the lowest to the uppermost."
    )
    droplets: tuple[DropletLayer, ...] = Field(default=(), max_length=200)
    climate: Climate = Field(default=Climate())
    states: tuple[ClimateState, ...] = Field(default=(), max_length=60, description="Dials kept under a name.")
    wind: Wind = Field(default=Wind())
    air: Air = Field(default=Air())
    light: Light = Field(default=Light())
    lamps: tuple[PlacedLamp, ...] = Field(default=(), max_length=500)
    shots: tuple[Shot, ...] = Field(default=(), max_length=100)
    finishes: tuple[Finish, ...] = Field(default=(), max_length=100)
    budget: Budget = Field(default=Budget())

    @model_validator(mode="after")
    def _consistent(self) -> SiteDocument:
        for what in (
            "materials",
            "kit",
            "zones",
            "wheres",
            "structures",
            "grass",
            "planting",
            "weather",
            "decals",
            "droplets",
            "states",
            "lamps",
            "shots",
            "finishes",
        ):
            ids = [entry.id for entry in getattr(self, what)]
            if len(set(ids)) != len(ids):
                raise ValueError(f"{what}: two have the same id")
        if GROUND in {structure.id for structure in self.structures}:
            raise ValueError("structures: 'ground' is the ground's own id")
        for one in dangling(self):
            if one.family in NEEDED:
                raise ValueError(f"{one.field}: {one.in_words()}")
        self._follow_shared()
        below: set[str] = set()
        for row, layer in enumerate(self.planting):
            above = (layer.looks_at() - below) & {one.id for one in self.planting}
            if above:
                names = " and ".join(sorted(f"“{one.name}”" for one in self.planting if one.id in above))
                raise ValueError(
                    f"planting/{row}: it looks at {names}, which does not lie below it; a layer can look at layers "
                    "below it alone"
                )
            below.add(layer.id)
        return self

    def _follow_shared(self) -> None:
        """Give every mask that follows a shared one its cards, whatever it had before."""
        shared = {one.id: one for one in self.wheres}

        def of(layer: Any, field: str, *names: str) -> Any:
            found = {name: followed(getattr(layer, name), shared, f"{field}/{name}") for name in names}
            return layer.model_copy(update=found)

        planting = []
        for row, layer in enumerate(self.planting):
            mix = tuple(of(entry, f"planting/{row}/mix/{k}", "where") for k, entry in enumerate(layer.mix))
            planting.append(of(layer, f"planting/{row}", "where", "size_where").model_copy(update={"mix": mix}))
        grass = tuple(of(layer, f"grass/{row}", "where", "tall_where") for row, layer in enumerate(self.grass))
        weather = tuple(of(layer, f"weather/{row}", "where") for row, layer in enumerate(self.weather))
        decals = tuple(of(layer, f"decals/{row}", "where") for row, layer in enumerate(self.decals))
        droplets = tuple(of(layer, f"droplets/{row}", "where") for row, layer in enumerate(self.droplets))
        # Documents are frozen for everybody else.
        object.__setattr__(self, "grass", grass)
        object.__setattr__(self, "planting", tuple(planting))
        object.__setattr__(self, "weather", weather)
        object.__setattr__(self, "decals", decals)
        object.__setattr__(self, "droplets", droplets)

    @property
    def masked(self) -> list[Grass | Scatter | CoverLayer | PlacedDecal | DropletLayer]:
        """All layers that have a mask, from the ground upward."""
        return [*self.grass, *self.planting, *self.weather, *self.decals, *self.droplets]

    def has_material(self, kind: str) -> bool:
        """Whether there is such a material, shipped or the site's own."""
        return kind in MATERIALS or any(own.id == kind for own in self.materials)

    def nature(self, kind: str) -> Nature:
        """What a material is to the weather, shipped or the site's own.

        :raises KeyError: if there is no such material.
        """
        for own in self.materials:
            if own.id == kind:
                return own.nature
        return MATERIALS[kind].nature

    def material(self, kind: str) -> Recipe | ImportedSet:
        """What a material is made by, shipped or the site's own.

        :raises KeyError: if there is no such material.
        """
        for own in self.materials:
            if own.id == kind:
                return own.source
        return MATERIALS[kind].recipe

    @property
    def usual_texel(self) -> float:
        """The side of a texel that a site of this extent is looked at with at first, metres."""
        area = self.ground.size[0] * self.ground.size[1]
        return 0.003 if area <= 60 else 0.0125 if area <= 300 else 0.025

    def structure(self, id: str) -> Structure:
        """The structure of that id.

        :raises KeyError: if there is none.
        """
        for structure in self.structures:
            if structure.id == id:
                return structure
        raise KeyError(id)

    @property
    def conditions(self) -> Conditions:
        """What covers answer to."""
        return Conditions(**dict(self.climate), rain=self.air.rain)

    def surface_ids(self) -> list[str]:
        """The ground and all structures that are shown."""
        return [GROUND, *(structure.id for structure in self.structures if structure.is_surface)]

    def obstacle_ids(self) -> list[str]:
        """The structures of which the shadow alone is seen."""
        return [structure.id for structure in self.structures if structure.shown and structure.only_shadow]


def problem_in_words(errors: Sequence[Mapping[str, Any]]) -> list[dict[str, str]]:
    """What pydantic found wrong, by field, for people.

    :param errors: as ``ValidationError.errors()`` gives them.
    """
    out = []
    for error in errors:
        # The names of union members in the location mean nothing to a user.
        path = [str(step) for step in error["loc"]]
        message = error["msg"].removeprefix("Value error, ")
        # What concerns the document as a whole names its field itself.
        field, colon, rest = message.partition(": ")
        if not path and colon and " " not in field:
            path, message = [field], rest
        out.append({"field": "/".join(path), "message": message[:1].upper() + message[1:]})
    return out
