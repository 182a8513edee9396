"""Decals on surfaces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from ..decals.laying import Boxed, Decalled, decals_laid, reached_faces
from ..decals.own_picture import levels_of
from ..geometry.pose import Pose
from ..masks.where import Where
from ..scatter.spread import matrices_of, places_on, seeds_of, sizes_of, taken
from ..signals.around import GROUND
from .digest import encoded, hashed
from .masks import Mask, curves_of, signals_of_mask
from .scene import around_site
from .site import Site
from .sources import PICTURE, Source
from .surfaces import Grid, ObjectShape, Patches, Shape, matrix_of, part_names
from .target import Keep, Read, Target, Unkeyed

if TYPE_CHECKING:
    from ..site.decals import PlacedDecal, Spread
    from .graph import Graph

# Of one decal on one surface: places that are thought of, and boxes.
MOST_PLACES, MOST_SPREAD = 100_000, 2000
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
        return bool(reached_faces((read.shape.corners.min(1), read.shape.corners.max(1)), low, high).any())


@dataclass(frozen=True)
class SpreadBoxes(Target):
    """The boxes of a decal that is spread over a surface by rule: ids uint64 (N,), and :class:`cenote.decals.laying.Boxed` in order of arrival.

    :ivar decal: its id.
    """

    id: str
    decal: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        decal = _decals(site)[self.decal]
        spread, where = decal.spread, decal.where
        gone = decal.worn_at(site.conditions.years) if decal.lasts else decal.worn_at(0)
        plain = Boxed(decal.decal, np.eye(4), (decal.width, decal.height, decal.reach), decal.seed, decal.opacity / 100, decal.relief,
                      decal.gloss, decal.limit, decal.fades, decal.both_sides, decal.mirrored, gone)  # fmt: skip
        rule = spread.model_copy(update={"surfaces": (), "on": True})
        return {"rule": rule, "told": _told(decal, plain, None), "box": Unkeyed(plain), "key": (self.decal, self.id), "shape": ObjectShape(self.id),
                "mask": Mask(self.id, where.plain, 0) if where.active else None}  # fmt: skip

    @staticmethod
    def make(read: Read) -> tuple[np.ndarray, list[Boxed]]:
        shape: Shape = read.shape
        rule: Spread = read.rule
        box: Boxed = read.box
        # A lower density has the first of the same places.
        density = min(rule.density, MOST_PLACES / max(shape.area, 1e-6))
        places = places_on(shape.corners, density, rule.spacing, "decals", *read.key, box.seed)
        if read.mask is not None and len(places.ids):
            at = np.einsum("nk,nki->ni", places.weights, shape.atlas.corners[places.faces].astype(np.float64)).astype(
                int
            )
            rows, columns = (np.clip(at[:, axis], 0, read.mask.shape[1 - axis] - 1) for axis in (1, 0))
            places = places.only(taken(places, read.mask[rows, columns]))
        if rule.removed:
            gone = np.array([int(one, 16) for one in rule.removed], np.uint64)
            places = places.only(~np.isin(places.ids, gone))
        places = places.only(np.arange(min(len(places.ids), MOST_SPREAD)))
        matrices = matrices_of(places, rule.upright, rule.strays)
        sizes, seeds = sizes_of(places, *rule.sizes), seeds_of(places)
        hangs = {"by its middle": 0.0, "by its upper side": 0.5, "by its foot": -0.5}[rule.hangs]
        matrices[:, :3, 3] += matrices[:, :3, 2] * (hangs * box.size[1] * sizes)[:, None]
        width, height, reach = box.size
        found = [replace(box, matrix=matrix, size=(width * size, height * size, reach), seed=int(seed))
                 for matrix, size, seed in zip(matrices, sizes, seeds, strict=True)]  # fmt: skip
        return places.ids, found


@dataclass(frozen=True)
class _On:
    """A decal as it lies on a surface, in one of its boxes or spread over it.

    :ivar decal: its id. :ivar box: its box, or what tells where it is spread. :ivar where: its mask; None for everywhere. :ivar allowed: for each part of the surface whether it is laid on that; None for all of them.
    :ivar told: a digest of what tells it, but for the signals of its mask. :ivar picture: the hash of the picture that it shows; empty for none.
    """

    decal: str
    box: Boxed | SpreadBoxes
    where: Where | None
    allowed: tuple[bool, ...] | None
    told: bytes
    picture: str

    @property
    def spread(self) -> SpreadBoxes | None:
        """What tells where it is spread; None for one in a single box."""
        return self.box if isinstance(self.box, SpreadBoxes) else None

    def inputs(self, site: Site, id: str) -> tuple[Any, ...]:
        """What tells it on a surface, at texels of any size."""
        signals = signals_of_mask(site, id, self.where) if self.where and not self.spread else ()
        return self.told, self.allowed, signals, self.spread, Source(PICTURE, self.picture) if self.picture else None


def _told(decal: PlacedDecal, box: Boxed, where: Where | None) -> bytes:
    # Where it lies is in the box, whatever it follows.
    plain = {"id": "", "name": "", "locked": False, "group": "", "object": "", "placement": Pose(), "where": Where(), "spin": 0.0,
             "worn": 0.0, "lasts": 0.0, "only_object": False, "skips": (), "skips_parts": (), "spread": None}  # fmt: skip
    return hashed(encoded((decal.model_copy(update=plain), box.matrix, box.size, box.gone, box.mirrored, curves_of(where) if where else b"")))  # fmt: skip


def _allowed(site: Site, id: str, decal: PlacedDecal) -> tuple[bool, ...] | None:
    if not decal.skips_parts:
        return None
    return tuple(name not in decal.skips_parts for name in part_names(site, id))


def _picture(decal: PlacedDecal) -> str:
    return str(getattr(decal.decal, "source", ""))


def _on(site: Site, id: str, over: bool) -> list[_On]:
    decals = [one for one in site.decals if one.shown and (one.lies == "over the weather") == over]
    if not decals:
        return []
    around = around_site(site)
    row = around.things.index(("object", id))
    low, high = around.low[row], around.high[row]
    out = []
    for decal in decals:
        if decal.spread.on:
            if id in decal.spread.surfaces:
                where = decal.where.plain if decal.where.active else None
                out.append(
                    _On(
                        decal.id,
                        SpreadBoxes(id, decal.id),
                        where,
                        _allowed(site, id, decal),
                        b"spread",
                        _picture(decal),
                    )
                )
            continue
        if id in decal.skips or (decal.only_object and id != (decal.object or GROUND)):
            continue
        where = decal.where.plain if decal.where.active else None
        allowed = _allowed(site, id, decal)
        for box in site.once(("boxes", decal.id), partial(boxed, id=decal.id)):
            least, most = box.corners()
            if not ((low <= most) & (high >= least)).all():
                continue
            if site.get(Meets(id, tuple(least.tolist()), tuple(most.tolist()))):
                out.append(_On(decal.id, box, where, allowed, _told(decal, box, where), _picture(decal)))
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


def decals_of(graph: Graph, id: str, surface: str) -> list[tuple[str, Boxed]]:
    """The boxes of a decal that reach a surface, each with its own id; empty for one that is laid once. :param id: the decal's."""
    site = Site(graph)
    over = _decals(site)[id].lies == "over the weather"
    out: list[tuple[str, Boxed]] = []
    for one in decals_on(site, surface, over):
        if one.decal == id and one.spread:
            ids, boxes = graph.get(one.spread)
            out += [(f"{number:016x}", box) for number, box in zip(ids.tolist(), boxes, strict=True)]
        elif one.decal == id and isinstance(one.box, Boxed):
            out.append(("", one.box))
    return out


def laid_on(graph: Graph, id: str) -> list[str]:
    """The surfaces that a decal lies on, by its id."""
    site = Site(graph)
    over = _decals(site)[id].lies == "over the weather"
    return [surface for surface in site.surface_ids() if any(one.decal == id for one in decals_on(site, surface, over))]


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
            "masks": [
                Mask(self.id, one.where, self.level, self.patches) if one.where and not one.spread else None
                for one in found
            ],
            "spread": [one.spread for one in found],
            "boxes": Unkeyed([None if one.spread else one.box for one in found]),
            "pictures": [PictureLevels(one.picture) if one.picture else None for one in found],
            "allowed": Unkeyed([one.allowed for one in found]),
        }

    @staticmethod
    def make(read: Read) -> Decalled | None:
        shape: Shape = read.shape
        parts = [None if one is None else np.array(one)[shape.mesh.parts] for one in read.allowed]
        # One that is spread is as many as it has boxes, in its place among the others.
        boxes = [[box] if spread is None else spread[1] for box, spread in zip(read.boxes, read.spread, strict=True)]
        of = [row for row, some in enumerate(boxes) for _ in some]
        return decals_laid(
            [box for some in boxes for box in some], shape.atlas, read.grid, shape.corners, shape.normals,
            [read.masks[row] for row in of], [parts[row] for row in of], [read.pictures[row] or () for row in of],
        )  # fmt: skip
