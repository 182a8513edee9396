"""Decals on surfaces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from ..decals.laying import Boxed, Decalled, decals_laid, reached_faces
from ..geometry.pose import Pose
from ..masks.where import Where
from ..signals.around import GROUND
from .digest import encoded, hashed
from .masks import Mask, curves_of, signals_of_mask
from .scene import around_site
from .site import Site
from .surfaces import Grid, ObjectShape, Patches, Shape, matrix_of, part_names
from .target import Keep, Read, Target, Unkeyed

if TYPE_CHECKING:
    from ..site.decals import PlacedDecal

_FLIPS = {"x": np.diag([-1.0, 1.0, 1.0, 1.0]), "z": np.diag([1.0, 1.0, -1.0, 1.0])}


def boxed(site: Site, decal: PlacedDecal) -> list[Boxed]:
    """A decal in its boxes: several where it follows an object that is repeated; none where that is not there."""
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

    :ivar where: its mask; None for everywhere. :ivar skips: names of parts that it is not laid on. :ivar told: a digest of what tells it, but for the
        signals of its mask.
    """

    box: Boxed
    where: Where | None
    skips: tuple[str, ...]
    told: bytes

    def inputs(self, site: Site, id: str) -> tuple[Any, ...]:
        """What tells it on a surface, at texels of any size."""
        return (
            self.told, part_names(site, id) if self.skips else (), signals_of_mask(site, id, self.where) if self.where else ()
        )  # fmt: skip


def _told(decal: PlacedDecal, box: Boxed, where: Where | None) -> bytes:
    # Where it lies is in the box, whatever it follows.
    plain = {"id": "", "name": "", "locked": False, "group": "", "object": "", "placement": Pose(), "where": Where(), "spin": 0.0,
             "worn": 0.0, "lasts": 0.0, "only_object": False, "skips": ()}  # fmt: skip
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
        for box in site.once(("boxes", decal.id), partial(boxed, decal=decal)):
            least, most = box.corners()
            if not ((low <= most) & (high >= least)).all():
                continue
            if site.get(Meets(id, tuple(least.tolist()), tuple(most.tolist()))):
                out.append(_On(box, where, decal.skips_parts, _told(decal, box, where)))
    return out


def decals_on(site: Site, id: str, over: bool) -> list[_On]:
    """The decals that lie on a surface, lowest first. :param over: those over the weather, or those under it."""
    return site.once(("decals on", id, over), partial(_on, id=id, over=over))


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
        names = part_names(site, self.id)
        return {
            "told": [one.inputs(site, self.id) for one in found], "names": names if any(one.skips for one in found) else (),
            "grid": Grid(self.id, self.level, self.patches), "shape": ObjectShape(self.id),
            "masks": [Mask(self.id, one.where, self.level, self.patches) if one.where else None for one in found],
            "boxes": Unkeyed([one.box for one in found]), "skips": Unkeyed([one.skips for one in found]),
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> Decalled | None:
        shape: Shape = read.shape
        parts = [
            np.array([name not in skips for name in read.names])[shape.mesh.parts] if skips else None
            for skips in read.skips
        ]
        return decals_laid(read.boxes, shape.atlas, read.grid, shape.corners, shape.normals, read.masks, parts)
