"""The final maps of surfaces, and what they are composed of."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from ..geometry.mesh import pieces
from ..geometry.sculpt import painted
from ..geometry.texels import TexelGrid
from ..masks.where import Where
from ..materials.base import Nature
from ..randomness import uniforms
from ..signals.around import GROUND
from ..signals.base import Signal
from ..signals.standing import StandingWater
from ..structures.grade import PartGrade
from ..weather.base import CoverLook, Film
from ..weather.compose import LaidCover, Maps, Placed, compose
from .decals import LaidDecals, decals_on
from .digest import encoded, hashed
from .fields import DRIFT, OCCLUSION, CellField, MeasuredField, told_by
from .finer import CellsOfPatches, FinerField, FinerWater, cells_at, water_levels
from .masks import Mask, curves_of, holds, part_natures, signals_of_mask
from .meshes import ObjectMesh
from .own_textures import OwnTexels, OwnTile, textures_of, wrapped_parts
from .site import Site
from .surfaces import (
    Grid,
    ObjectAtlas,
    ObjectCells,
    ObjectShape,
    Patches,
    Shape,
    cell_of_layout,
    part_materials,
    part_names,
)
from .target import Keep, Read, Target, Unkeyed
from .tiles import MaterialTile, laid

if TYPE_CHECKING:
    from ..site.document import CoverLayer
    from ..site.ground import PaintStroke


def cover_looks(site: Site) -> dict[str, CoverLook]:
    """How the shown covers look in the site's climate, by their layers' ids."""
    return site.once(
        "looks", lambda at: {layer.id: layer.cover.look(at.conditions) for layer in at.weather if layer.shown}
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
    patches: Patches | None = None

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """What there is of a patch is asked for once, to be composed."""
        return "memory" if self.patches is None else "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        paint = next(one for one in site.ground.paints if one.id == self.paint)
        return {"strokes": paint.strokes, "atlas": ObjectAtlas(GROUND), "grid": Grid(GROUND, self.level, self.patches)}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        grid: TexelGrid = read.grid
        atlas = read.atlas
        # The middle of the world against the layout's corner: where the first texel begins.
        origin = atlas.corner + np.array(grid.origin[::-1]) * grid.texel
        mask = np.zeros(grid.faces.shape, np.float32)
        strokes: tuple[PaintStroke, ...] = read.strokes
        for stroke in strokes:
            painted(mask, tuple(origin), grid.texel, np.array(stroke.path), radius=stroke.radius,
                    strength=stroke.strength, soft=stroke.soft, adds=stroke.adds)  # fmt: skip
        return mask


@dataclass(frozen=True)
class _Lying:
    """A cover or a paint as it lies on whatever has parts of some natures.

    :ivar look: how it looks there. :ivar materials: what it is made of on each part. :ivar where: its mask.
    :ivar holds: how well it holds to each part. :ivar waits: how far it waits for each part to be bared.
    :ivar standing: what tells how high it stands, where it is water that does; :ivar drop: metres that it has sunk.
    :ivar told: a digest of what tells it, but for its signals on a surface and the tiles of its materials.
    :ivar tiles: these tiles.
    """

    look: CoverLook
    materials: tuple[str | Film, ...]
    where: PaintMask | Where
    holds: np.ndarray | None
    waits: np.ndarray | None
    told: bytes
    tiles: tuple[MaterialTile, ...]
    standing: StandingWater | None = None
    drop: float = 0.0

    def inputs(self, site: Site, id: str) -> tuple[Any, ...]:
        """What tells it on a surface, at texels of any size."""
        signals = signals_of_mask(site, id, self.where) if isinstance(self.where, Where) else self.where
        return self.told, self.tiles, signals

    def mask(self, id: str, level: int, patches: Patches | None) -> Target:
        """Its mask at a level, or on patches of it."""
        if isinstance(self.where, Where):
            return Mask(id, self.where, level, patches)
        return replace(self.where, level=level, patches=patches)


def _lying(look: CoverLook, materials: tuple[str | Film, ...], where: PaintMask | Where,
           holds: np.ndarray | None = None, waits: np.ndarray | None = None) -> _Lying:  # fmt: skip
    curves = curves_of(where) if isinstance(where, Where) else b""
    tiles = tuple(MaterialTile(one) for one in dict.fromkeys(materials) if isinstance(one, str))
    return _Lying(look, materials, where, holds, waits, hashed(encoded((look, materials, holds, waits, curves))), tiles)


def _paints(site: Site) -> list[_Lying]:
    """What is painted on the ground, lowest first."""
    return [
        _lying(CoverLook(one.material, 1.0, joints=one.hollows, softness=one.softness), (one.material,),
               PaintMask(one.id, 0)) for one in site.ground.paints if one.shown and one.strokes
    ]  # fmt: skip


def _cover(site: Site, id: str, factor: float, natures: tuple[Nature, ...]) -> _Lying | None:
    """A cover layer in the site's climate, so many times as strong as usual, on whatever has parts of these natures; None if it is not there."""
    layer = _layers(site)[id]
    look = cover_looks(site)[id]
    if factor != 1:
        look = replace(look, strength=look.strength * factor)
    if look.strength <= 0:
        return None
    waits = np.array([look.bared.get(nature, 0.0) for nature in natures])
    found = _lying(look, tuple(look.material_on(nature) for nature in natures), layer.where.plain,
                   holds(layer.cover.sits_on, natures), waits)  # fmt: skip
    standing = standing_in(look, layer.where.plain)
    if standing is None:
        return found
    # Where it stands tells how much there is.
    full = replace(look, strength=max(look.strength, 1.0))
    return replace(found, look=full, standing=standing, drop=sunk(look, standing))


def standing_in(look: CoverLook, where: Where) -> StandingWater | None:
    """What tells how high a cover stands, if it is water that does: the first card of standing water in its plain mask."""
    signals = (card.signal for card in where.cards)
    return next((one for one in signals if isinstance(one, StandingWater)), None) if look.stands else None


def sunk(look: CoverLook, standing: StandingWater) -> float:
    """How far water has sunk as it dries up, metres: all of its surface sinks alike."""
    return (1 - min(look.strength, 1)) * standing.deepest


def _lying_on(site: Site, id: str, bare: bool) -> list[_Lying]:
    """What lies on a surface, lowest first."""

    def found(at: Site) -> list[_Lying]:
        natures = part_natures(at, id)
        covers = [
            at.once(("lying", layer.id, factor, natures), partial(_cover, id=layer.id, factor=factor, natures=natures))
            for layer in layers_on(at, id)
            for factor in (layer.strengths.get(id, 1.0),)
        ]
        return [one for one in covers if one is not None]

    paints = _paints(site) if id == GROUND else []
    return paints if bare else paints + site.once(("lying on", id), found)


@dataclass(frozen=True)
class WaterLevels(Target):
    """Where water stands over a surface, float32 (h, w) on cells, metres in the world; far below where there is none.

    :ivar level: as of :class:`cenote.derive.fields.CellField`.
    """

    id: str
    signal: StandingWater
    level: int
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"depth": MeasuredField(self.id, self.signal), "cells": ObjectCells(self.id), "step": 2**-self.level}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        levels = water_levels(read.cells, read.depth.values)
        step: int = read.step
        return levels if step == 1 else np.ascontiguousarray(levels[step // 2 :: step, step // 2 :: step])


@dataclass(frozen=True)
class Composition(Target):
    """What the maps of a surface are composed of, at texels of any size. It stands in keys and has no value."""

    id: str
    bare: bool = False
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        id = self.id
        return {
            "shape": ObjectShape(id), "grades": FaceGrades(id), "tiles": _tiles(site, id, MaterialTile), "own": textures_of(site, id),
            "lying": [one.inputs(site, id) for one in _lying_on(site, id, self.bare)],
            "occlusion": told_by(site, id, OCCLUSION), "drift": told_by(site, id, DRIFT),
            "decals": [] if self.bare else [one.inputs(site, id) for over in (False, True) for one in decals_on(site, id, over)],
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> None:
        return None


def composed_of(site: Site, id: str, level: int, bare: bool, patches: Patches | None = None) -> dict[str, Any]:
    """What maps of a surface at a level, or of patches of it, are composed of: inputs that :func:`composed` reads."""
    cell = cell_of_layout(site, id)
    texel = cell / 2.0**level
    tiles = _tiles(site, id, lambda kind: laid(kind, texel))
    own = OwnTexels(id, level, patches) if textures_of(site, id) else None
    finer = cells_at(site, id, level, patches)
    lying = _lying_on(site, id, bare)
    decals = tuple(
        LaidDecals(id, level, over, patches) if not bare and decals_on(site, id, over) else None
        for over in (False, True)
    )
    return {
        "told": Composition(id, bare), "grid": Grid(id, level, patches),
        "parts": Unkeyed(partial(_parts, id, level, patches, texel, tiles, own, lying, decals, finer)),
    }  # fmt: skip


def _tiles(site: Site, id: str, made_of: Callable[[str], Target]) -> list[Target]:
    """What each part of an object is made of: its own texture, or a material. :param made_of: the target of a material."""
    wrapped = wrapped_parts(site, id) or itertools.repeat(False)
    parts = zip(part_materials(site, id), wrapped, strict=False)
    return [OwnTile(id, part) if own else made_of(kind) for part, (kind, own) in enumerate(parts)]


def _parts(id: str, level: int, patches: Patches | None, texel: float, tiles: list[Target], own: OwnTexels | None,
           lying: list[_Lying], decals: tuple[LaidDecals | None, ...], finer: CellsOfPatches | None) -> dict[str, Any]:  # fmt: skip
    """What :class:`Composition` and :class:`Grid` tell, as targets at a level."""
    coarse = min(level, 0)

    def on_cells(signal: Signal) -> Target:
        return (
            CellField(id, signal, coarse)
            if finer is None or patches is None
            else FinerField(id, signal, level, patches, finer.level)
        )

    def water(signal: StandingWater) -> Target:
        return (
            WaterLevels(id, signal, coarse)
            if finer is None or patches is None
            else FinerWater(id, signal, level, patches, finer.level)
        )

    covers = [{"look": one.look, "holds": one.holds, "waits": one.waits, "mask": one.mask(id, level, patches), "drop": one.drop,
               "tiles": [laid(kind, texel) for kind in one.materials],
               "level": water(one.standing) if one.standing else None} for one in lying]  # fmt: skip
    stands = any(one.standing for one in lying)
    return {
        "shape": ObjectShape(id) if stands else None,
        "atlas": ObjectAtlas(id), "mesh": ObjectMesh(id), "grades": FaceGrades(id), "covers": covers,
        "tiles": tiles, "own": own,
        "occlusion": on_cells(OCCLUSION), "drift": on_cells(DRIFT), "cells": finer, "decals": decals,
    }  # fmt: skip


def _layers(site: Site) -> dict[str, CoverLayer]:
    return site.once("covers by id", lambda at: {one.id: one for one in at.weather})


def plain_of(site: Site, layer: CoverLayer) -> Any:
    """The mask of a cover layer, plain; see :attr:`cenote.masks.where.Where.plain`."""
    return site.once("plain masks", lambda at: {one.id: one.where.plain for one in at.weather})[layer.id]


def composed_materials(site: Site, id: str) -> list[str]:
    """The kinds of material that the maps of a surface are composed of: its own, and those of what lies on it."""
    lying = [kind for one in _lying_on(site, id, False) for kind in one.materials]
    return [kind for kind in dict.fromkeys([*part_materials(site, id), *lying]) if isinstance(kind, str)]


def composed(read: Read, relief: bool) -> Maps:
    """Maps of what :func:`composed_of` names. :param relief: whether the normal map has any."""
    parts = read.parts
    covers = [LaidCover(tuple(one["tiles"]), one["mask"], one["look"], one["holds"], one["waits"],
                        None if one["level"] is None else one["level"] - np.float32(one["drop"]))
              for one in parts["covers"]]  # fmt: skip
    shape: Shape | None = parts["shape"]
    placed = Placed(shape.corners, shape.normals, shape.rights) if shape else None
    finer: CellsOfPatches | None = parts["cells"]
    among = None if finer is None else (finer.scale, finer.origin)
    return compose(parts["atlas"], read.grid, parts["tiles"], parts["mesh"].parts, parts["grades"], covers,
                   parts["occlusion"], parts["drift"], relief, placed, among, tuple(parts["decals"]), parts["own"])  # fmt: skip


@dataclass(frozen=True)
class SurfaceMaps(Target):
    """The final maps of a surface at a level: :class:`cenote.weather.compose.Maps`.

    :ivar bare: without any weather.
    """

    id: str
    level: int
    bare: bool = False
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return composed_of(site, self.id, self.level, self.bare)

    @staticmethod
    def make(read: Read) -> Maps:
        return composed(read, True)

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
        return composed_of(site, self.id, self.level, False)

    @staticmethod
    def make(read: Read) -> Maps:
        return composed(read, False)
