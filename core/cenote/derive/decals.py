"""Decals on surfaces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from ..decals.laying import Boxed, Decalled, decals_laid, reached_faces
from ..decals.own_picture import levels_of
from ..geometry.pose import Pose
from ..masks.where import Where
from ..signals.around import GROUND
from .digest import encoded, hashed
from .masks import Mask, curves_of, signals_of_mask
from .scene import around_site
from .site import Site
from .sources import PICTURE, Source
from .surfaces import Grid, ObjectShape, Patches, Shape, matrix_of, part_names
from .target import Keep, Read, Target, Unkeyed

if TYPE_CHECKING:
    from ..site.decals import PlacedDecal
    from .graph import Graph

_FLIPS = {"x": np.diag([-1.0, 1.0, 1.0, 1.0]), "z": np.diag([1.0, 1.0, -1.0, 1.0])}


def _decals(site: Site) -> dict[str, PlacedDecal]:
    return site.once("decals by id", lambda at: {one.id: one for one in at.decals})


def boxed(site: Site, id: str) -> list[Boxed]:
    """A decal in its boxes, by its id: several where it follows an object that is repeated; none where that is not there."""
    decal = _decals(site)[id]
    if not decal.shown:
        return []
    size, copies = 1.0, [np.eye(4)]
    if decal.object and decal.object != GROUND:
        if decal.object not in site.surface_ids():
            return []
        structure = site.structure(decal.object)
        size, frame = structure.placement.size, matrix_of(site, decal.object)
        repeat = structure.repeat
        copies = [frame @ one for one in repeat.matrices()]
        if repeat.mirror != "none":
            copies += [frame @ _FLIPS[repeat.mirror] @ one for one in repeat.matrices()]
    own = decal.matrix()
    own[:3, 3] *= size
    gone = decal.worn_at(site.conditions.years) if decal.lasts else decal.worn_at(0)
    out = []
    for copy in copies:
        matrix = copy @ own
        # A mirrored copy bears a mirrored picture.
        turned = np.linalg.det(matrix[:3, :3]) < 0
        if turned:
            matrix = matrix @ _FLIPS["x"]
        extent = (decal.width * size, decal.height * size, decal.reach * size)
        out.append(Boxed(decal.decal, matrix, extent, decal.seed, decal.opacity / 100, decal.relief, decal.gloss, decal.limit, decal.fades,
                         decal.both_sides, decal.mirrored != turned, gone))  # fmt: skip
    return out


@dataclass(frozen=True)
class Meets(Target):
    """Whether faces of an object come into an upright box, as far as boxes about them tell.

    :ivar low, high: its corners, metres.
    """

    id: str
    low: tuple[float, ...]
    high: tuple[float, ...]

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"shape": ObjectShape(self.id), "box": (self.low, self.high)}

    @staticmethod
    def make(read: Read) -> bool:
        low, high = (np.array(one) for one in read.box)
        return bool(reached_faces(read.shape.corners, low, high).any())


@dataclass(frozen=True)
class _On:
    """A decal as it lies on a surface, in one of its boxes.

    :ivar decal: its id. :ivar where: its mask; None for everywhere. :ivar allowed: for each part of the surface whether it is laid on that; None for all of them.
    :ivar told: a digest of what tells it, but for the signals of its mask.
    """

    decal: str
    box: Boxed
    where: Where | None
    allowed: tuple[bool, ...] | None
    told: bytes

    @property
    def picture(self) -> str:
        """The hash of the picture that it shows; empty for none."""
        return str(getattr(self.box.decal, "source", ""))

    def inputs(self, site: Site, id: str) -> tuple[Any, ...]:
        """What tells it on a surface, at texels of any size."""
        signals = signals_of_mask(site, id, self.where) if self.where else ()
        return self.told, self.allowed, signals, Source(PICTURE, self.picture) if self.picture else None


def _told(decal: PlacedDecal, box: Boxed, where: Where | None) -> bytes:
    # Where it lies is in the box, whatever it follows.
    plain = {"id": "", "name": "", "locked": False, "group": "", "object": "", "placement": Pose(), "where": Where(), "spin": 0.0,
             "worn": 0.0, "lasts": 0.0, "only_object": False, "skips": (), "skips_parts": ()}  # fmt: skip
    return hashed(encoded((decal.model_copy(update=plain), box.matrix, box.size, box.gone, box.mirrored, curves_of(where) if where else b"")))  # fmt: skip


def _on(site: Site, id: str, over: bool) -> list[_On]:
    decals = [one for one in site.decals if one.shown and (one.lies == "over the weather") == over]
    if not decals:
        return []
    around = around_site(site)
    row = around.things.index(("object", id))
    low, high = around.low[row], around.high[row]
    out = []
    for decal in decals:
        if id in decal.skips or (decal.only_object and id != (decal.object or GROUND)):
            continue
        where = decal.where.plain if decal.where.active else None
        allowed = None
        if decal.skips_parts:
            allowed = tuple(name not in decal.skips_parts for name in part_names(site, id))
        for box in site.once(("boxes", decal.id), partial(boxed, id=decal.id)):
            least, most = box.corners()
            if not ((low <= most) & (high >= least)).all():
                continue
            if site.get(Meets(id, tuple(least.tolist()), tuple(most.tolist()))):
                out.append(_On(decal.id, box, where, allowed, _told(decal, box, where)))
    return out


def decals_on(site: Site, id: str, over: bool) -> list[_On]:
    """The decals that lie on a surface, lowest first. :param over: those over the weather, or those under it."""
    return site.once(("decals on", id, over), partial(_on, id=id, over=over))


@dataclass(frozen=True)
class PictureLevels(Target):
    """A picture that a user brought in for decals, see :func:`cenote.decals.own_picture.levels_of`; none where its file is lost."""

    digest: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"source": Source(PICTURE, self.digest)}

    @staticmethod
    def make(read: Read) -> tuple[np.ndarray, ...]:
        return levels_of(read.source["pixels"]) if read.source else ()


def decals_of(graph: Graph, id: str, surface: str) -> list[_On]:
    """A decal as it lies on a surface: once for each of its boxes that reaches it. :param id: the decal's."""
    site = Site(graph)
    over = _decals(site)[id].lies == "over the weather"
    return [one for one in decals_on(site, surface, over) if one.decal == id]


def laid_on(graph: Graph, id: str) -> list[str]:
    """The surfaces that a decal lies on, by its id."""
    return [surface for surface in Site(graph).surface_ids() if decals_of(graph, id, surface)]


@dataclass(frozen=True)
class LaidDecals(Target):
    """What decals come to on the texels of a surface: :class:`cenote.decals.laying.Decalled`, or None.

    :ivar over: those over the weather, or those under it.
    """

    id: str
    level: int
    over: bool
    patches: Patches | None = None

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """What there is of fine texels is asked for once, to be composed."""
        return "memory" if self.level <= 0 and self.patches is None else "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        found = decals_on(site, self.id, self.over)
        return {
            "told": [one.inputs(site, self.id) for one in found],
            "grid": Grid(self.id, self.level, self.patches),
            "shape": ObjectShape(self.id),
            "masks": [Mask(self.id, one.where, self.level, self.patches) if one.where else None for one in found],
            "boxes": Unkeyed([one.box for one in found]),
            "pictures": [PictureLevels(one.picture) if one.picture else None for one in found],
            "allowed": Unkeyed([one.allowed for one in found]),
        }

    @staticmethod
    def make(read: Read) -> Decalled | None:
        shape: Shape = read.shape
        parts = [None if one is None else np.array(one)[shape.mesh.parts] for one in read.allowed]
        pictures = [one or () for one in read.pictures]
        return decals_laid(
            read.boxes, shape.atlas, read.grid, shape.corners, shape.normals, read.masks, parts, pictures
        )
