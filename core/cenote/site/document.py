"""The document of a site. Everything else is derived from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator

from ..geometry.mesh import placement_matrix
from ..geometry.repeat import along_path, along_step
from ..kit.base import KIT
from ..kit.shelf import ImportedItem, OwnItem
from ..masks.where import Where
from ..materials.base import MATERIALS
from ..materials.own import ImportedSet, OwnMaterial
from ..materials.recipe import Recipe
from ..parameters import Declared, choice, colour, count, point, quantity, switch
from ..scatter.fill import Scatter
from ..structures.base import MAKERS, Maker
from ..weather.base import COVERS, Cover
from ..weather.climate import Climate
from .ground import Ground, Identity

if TYPE_CHECKING:
    AnyMaker = Maker
    AnyCover = Cover
else:
    AnyMaker = MAKERS.union()
    AnyCover = COVERS.union()
Vector = tuple[float, float, float]
GROUND = "ground"


class Placement(Declared):
    """Where an object stands."""

    position: Vector = point((0, 0, 0), help="Metres along x, y (up) and z.")
    turn: float = quantity(0, low=-360, high=360, unit="°", step=1, help="Turn about the upright axis.")
    size: float = quantity(1, low=0.001, high=1000, unit="×", step=0.05, help="Factor on its own size.")

    def matrix(self) -> np.ndarray:
        """The rigid 4×4 matrix; the size is part of the object's own mesh."""
        return placement_matrix(self.position, self.turn)


class Made(Declared):
    """An object made by our own code."""

    kind: Literal["made"] = "made"
    maker: AnyMaker


class Imported(Declared):
    """An object from a file."""

    kind: Literal["imported"] = "imported"
    mesh: str = Field(pattern=r"^[0-9a-f]{64}$", description="Content hash of the stored mesh.")
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
    path: tuple[tuple[float, float], ...] = Field(
        default=(), max_length=200, description="Points along x and z that copies follow, in place of the step; metres."
    )
    mirror: Literal["none", "x", "z"] = choice("none", help="Whether all copies are mirrored across x or z as well.")

    @model_validator(mode="after")
    def _has_length(self) -> Repeat:
        if self.path:
            along_path(np.array(self.path), self.number)
        return self

    def matrices(self) -> list[np.ndarray]:
        """Where the copies stand, in the object's own frame."""
        if self.path:
            return along_path(np.array(self.path), self.number)
        return along_step(self.number, np.array(self.step), self.turn)


class PartGrade(Declared):
    """Grading of one part of an object."""

    brightness: float = quantity(1, low=0.1, high=3, unit="×", step=0.02, help="Darker or lighter.")
    tint: Vector = colour((0.5, 0.4, 0.3), help="The colour of the tint.")
    tinted: float = quantity(0, low=0, high=1, unit="", step=0.02, help="How strong the tint is.")
    blend: Literal["multiply", "soft light"] = choice(
        "multiply", help="Multiply only darkens; soft light keeps how bright the part is."
    )
    spread: float = quantity(
        0.12, low=0, high=1, unit="", step=0.02, help="How far repeated pieces, such as boards, differ in brightness."
    )


class Structure(Declared):
    """An object that stands on the site."""

    id: Identity
    name: str = Field("Structure", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether it is seen, measured and exported.")
    locked: bool = switch(False, help="Whether it is kept from being picked and moved in the view.")
    group: str = Field("", max_length=60, description="The group that it belongs to; none where it is empty.")
    source: Annotated[Made | Imported | KitPiece, Field(discriminator="kind")]
    placement: Placement = Field(default=Placement())
    repeat: Repeat = Field(default=Repeat())
    materials: dict[str, str] = Field(default={}, description="Material of a part, where it is not the part's own.")
    grades: dict[str, PartGrade] = Field(default={}, description="Grading of a part's colour.")


class Water(Declared):
    """Standing water over the whole site."""

    shown: bool = switch(False, help="Whether there is water.")
    level: float = quantity(-1, low=-50, high=50, unit="m", step=0.05, help="Its level.")
    clarity: float = quantity(0.8, low=0.05, high=10, unit="m", step=0.05, help="How deep one sees into it.")
    colour: Vector = colour((0.035, 0.055, 0.035), help="Its own colour.")


class CoverLayer(Declared):
    """One recipe of weathering, shared by any number of surfaces."""

    id: Identity
    name: str = Field("Cover", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether the layer is seen and exported.")
    cover: AnyCover
    where: Where = Field(default=Where())
    surfaces: tuple[str, ...] = Field(default=(), max_length=500, description="The surfaces that share the recipe.")


class Light(Declared):
    """Sun and sky."""

    bearing: float = quantity(215, low=0, high=360, unit="°", step=5, help="Compass bearing of the sun; 180° is south.")
    height: float = quantity(38, low=2, high=90, unit="°", step=1, help="Height of the sun above the horizon.")
    sun: float = quantity(3.2, low=0, high=10, unit="", step=0.1, help="Strength of the sun.")
    sky: float = quantity(1, low=0, high=4, unit="", step=0.05, help="Strength of the sky's light.")


class Shot(Declared):
    """A saved camera."""

    id: Identity
    name: str = Field("Shot", min_length=1, max_length=80)
    position: Vector = point((12, 7, 14), help="Where the camera stands.", reach=1e5)
    target: Vector = point((0, 1, 0), help="What it looks at.", reach=1e5)
    field_of_view: float = quantity(40, low=5, high=120, unit="°", step=1, help="Upright angle of view.")


class SiteDocument(Declared):
    """A whole site, from the ground upward."""

    version: Literal[1] = 1
    materials: tuple[OwnMaterial, ...] = Field(default=(), max_length=200, description="Materials of its own.")
    kit: tuple[OwnItem, ...] = Field(default=(), max_length=200, description="Kit items of its own.")
    ground: Ground = Field(default=Ground())
    structures: tuple[Structure, ...] = Field(default=(), max_length=2000)
    water: Water = Field(default=Water())
    planting: tuple[Scatter, ...] = Field(default=(), max_length=200)
    weather: tuple[CoverLayer, ...] = Field(default=(), max_length=200)
    climate: Climate = Field(default=Climate())
    light: Light = Field(default=Light())
    shots: tuple[Shot, ...] = Field(default=(), max_length=100)

    @model_validator(mode="after")
    def _consistent(self) -> SiteDocument:
        for what in ("materials", "kit", "structures", "planting", "weather", "shots"):
            ids = [entry.id for entry in getattr(self, what)]
            if len(set(ids)) != len(ids):
                raise ValueError(f"{what}: two have the same id")
        if GROUND in {structure.id for structure in self.structures}:
            raise ValueError("structures: 'ground' is the ground's own id")
        known = {material.kind for material in MATERIALS} | {material.id for material in self.materials}
        asked = [("ground/material", self.ground.material)]
        asked += [(f"ground/paints/{row}/material", paint.material) for row, paint in enumerate(self.ground.paints)]
        asked += [(f"kit/{row}/source/material", item.source.material)
                  for row, item in enumerate(self.kit) if isinstance(item.source, ImportedItem)]  # fmt: skip
        asked += [(f"structures/{row}/materials/{part}", kind)
                  for row, structure in enumerate(self.structures) for part, kind in structure.materials.items()]  # fmt: skip
        for what, kind in asked:
            if kind not in known:
                raise ValueError(f"{what}: there is no material called {kind!r}")
        items = {str(item.model_fields["kind"].default) for item in KIT} | {item.id for item in self.kit}
        for row, structure in enumerate(self.structures):
            if isinstance(structure.source, KitPiece) and structure.source.item not in items:
                raise ValueError(f"structures/{row}/source/item: there is no kit item called {structure.source.item!r}")
        for row, layer in enumerate(self.planting):
            for place, entry in enumerate(layer.mix):
                if entry.item not in items:
                    raise ValueError(f"planting/{row}/mix/{place}/item: there is no kit item called {entry.item!r}")
        return self

    def has_material(self, kind: str) -> bool:
        """Whether there is such a material, shipped or the site's own."""
        return kind in MATERIALS or any(own.id == kind for own in self.materials)

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

    def surface_ids(self) -> list[str]:
        """The ground and all structures that are shown."""
        return [GROUND, *(structure.id for structure in self.structures if structure.shown)]


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
