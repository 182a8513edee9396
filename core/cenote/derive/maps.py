"""The final maps of surfaces, and what they are composed of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from ..geometry.mesh import pieces
from ..geometry.sculpt import painted
from ..geometry.texels import TexelGrid
from ..randomness import uniforms
from ..signals.base import GROUND
from ..structures.grade import PartGrade
from ..weather.base import CoverLook
from ..weather.compose import LaidCover, Maps, compose
from .fields import DRIFT, OCCLUSION, CellField
from .graph import Read, Target
from .masks import Mask, holds
from .meshes import ObjectMesh
from .site import Site
from .surfaces import Grid, ObjectAtlas, part_materials, part_names
from .tiles import laid

if TYPE_CHECKING:
    from ..site.document import CoverLayer
    from ..site.ground import PaintStroke


def cover_looks(site: Site) -> dict[str, CoverLook]:
    """How the shown covers look in the site's climate, by their layers' ids."""
    return site.once(
        "looks", lambda at: {layer.id: layer.cover.look(at.climate) for layer in at.weather if layer.shown}
    )


def layers_on(site: Site, id: str) -> list[CoverLayer]:
    """The cover layers that are shown on a surface, lowest first."""

    def by_surface(at: Site) -> dict[str, list[CoverLayer]]:
        out: dict[str, list[CoverLayer]] = {}
        for layer in at.weather:
            if layer.shown:
                for surface in dict.fromkeys(layer.surfaces):
                    out.setdefault(surface, []).append(layer)
        return out

    return site.once("covers by surface", by_surface).get(id, [])


def look_on(site: Site, layer: CoverLayer, id: str) -> CoverLook:
    """A cover's look in the site's climate, as strong as it is wanted on a surface."""
    look, factor = cover_looks(site)[layer.id], layer.strengths.get(id, 1.0)
    return look if factor == 1 else replace(look, strength=look.strength * factor)


def part_grades(site: Site, id: str) -> list[PartGrade]:
    """The grading of each part of an object."""
    names = part_names(site, id)
    if id == GROUND:
        return [PartGrade(spread=0)] * len(names)
    structure = site.structure(id)
    return [structure.part_grade(part) for part in names]


@dataclass(frozen=True)
class FaceGrades(Target):
    """Grading of each face of an object, float32 (M, 5), as :func:`cenote.weather.compose.compose` reads it."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        # What a part gives of its own light is not in its maps.
        grades = [grade.model_copy(update={"glow": 0.0}) for grade in part_grades(site, self.id)]
        return {"mesh": ObjectMesh(self.id), "grades": grades}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        grades: list[PartGrade] = read.grades
        sign = [-1 if grade.blend == "soft light" else 1 for grade in grades]
        rows = np.array([[g.brightness, *g.tint, g.tinted * s] for g, s in zip(grades, sign, strict=True)])
        out = rows[read.mesh.parts].astype(np.float32)
        spreads = np.array([grade.spread for grade in grades])[read.mesh.parts]
        if spreads.any():
            each = uniforms(pieces(read.mesh).astype(np.uint64), 31)
            out[:, 0] *= np.exp((each - 0.5) * 2 * spreads).astype(np.float32)
        return out


@dataclass(frozen=True)
class FaceGlow(Target):
    """Light that each face of an object gives of its own, as a factor on its colour: float32 (M,), or None for none."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"mesh": ObjectMesh(self.id), "glows": [float(grade.glow) for grade in part_grades(site, self.id)]}

    @staticmethod
    def make(read: Read) -> np.ndarray | None:
        glows = np.array(read.glows, np.float32)
        return glows[read.mesh.parts] if glows.any() else None


@dataclass(frozen=True)
class PaintMask(Target):
    """Where a material is painted on the ground: float32 (H, W) in [0, 1].

    :ivar paint: the id of what was painted.
    """

    paint: str
    level: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        paint = next(one for one in site.ground.paints if one.id == self.paint)
        return {"strokes": paint.strokes, "atlas": ObjectAtlas(GROUND), "grid": Grid(GROUND, self.level)}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        grid: TexelGrid = read.grid
        atlas = read.atlas
        # The middle of the world against the layout's corner: where the first texel begins.
        origin = atlas.flat[0, 0].astype(float) - atlas.corners[0, 0].astype(float) * atlas.cell
        mask = np.zeros(grid.faces.shape, np.float32)
        strokes: tuple[PaintStroke, ...] = read.strokes
        for stroke in strokes:
            painted(mask, tuple(origin), grid.texel, np.array(stroke.path), radius=stroke.radius,
                    strength=stroke.strength, soft=stroke.soft, adds=stroke.adds)  # fmt: skip
        return mask


def _composed_of(site: Site, id: str, level: int, bare: bool) -> dict[str, Any]:
    """What maps of a surface at a level are composed of."""
    texel = site.get(ObjectAtlas(id)).cell / 2.0**level
    materials = part_materials(site, id)
    covers: list[dict[str, Any]] = []
    if id == GROUND:
        for paint in site.ground.paints:
            if paint.shown and paint.strokes:
                look = CoverLook(paint.material, 1.0, joints=paint.hollows, softness=paint.softness)
                covers.append({"look": look, "tiles": [laid(paint.material, texel)], "holds": None, "waits": None,
                               "mask": PaintMask(paint.id, level)})  # fmt: skip
    natures = [site.nature(kind) for kind in materials]
    for layer in [] if bare else layers_on(site, id):
        look = look_on(site, layer, id)
        if look.strength > 0:
            covers.append({
                "look": look, "tiles": [laid(look.material_on(nature), texel) for nature in natures],
                "holds": holds(site, layer.cover.sits_on, id),
                "waits": np.array([look.bared.get(nature, 0.0) for nature in natures]),
                "mask": Mask(id, plain_of(site, layer), level),
            })  # fmt: skip
    coarse = min(level, 0)
    return {
        "atlas": ObjectAtlas(id), "mesh": ObjectMesh(id), "grid": Grid(id, level),
        "tiles": [laid(kind, texel) for kind in materials], "grades": FaceGrades(id), "covers": covers,
        "occlusion": CellField(id, OCCLUSION, coarse), "drift": CellField(id, DRIFT, coarse),
    }  # fmt: skip


def plain_of(site: Site, layer: CoverLayer) -> Any:
    """The mask of a cover layer, plain; see :attr:`cenote.masks.where.Where.plain`."""
    return site.once("plain masks", lambda at: {one.id: one.where.plain for one in at.weather})[layer.id]


def _compose(read: Read, relief: bool) -> Maps:
    covers = [
        LaidCover(tuple(one["tiles"]), one["mask"], one["look"], one["holds"], one["waits"]) for one in read.covers
    ]
    return compose(read.atlas, read.grid, read.tiles, read.mesh.parts, read.grades, covers, read.occlusion, read.drift,
                   relief)  # fmt: skip


@dataclass(frozen=True)
class SurfaceMaps(Target):
    """The final maps of a surface at a level: :class:`cenote.weather.compose.Maps`. :ivar bare: without any weather."""

    id: str
    level: int
    bare: bool = False
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return _composed_of(site, self.id, self.level, self.bare)

    @staticmethod
    def make(read: Read) -> Maps:
        return _compose(read, True)

    @staticmethod
    def pack(value: Maps) -> dict[str, np.ndarray]:
        return {"base": value.base, "orm": value.orm, "normal": value.normal, "height": value.height}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Maps:
        return Maps(**arrays)


@dataclass(frozen=True)
class PreviewMaps(Target):
    """Maps of a surface that are looked at for a moment: not kept, and without relief."""

    id: str
    level: int
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return _composed_of(site, self.id, self.level, False)

    @staticmethod
    def make(read: Read) -> Maps:
        return _compose(read, False)
