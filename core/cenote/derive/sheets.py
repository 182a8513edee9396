"""Covers that lie as sheets of their own over all that is uppermost, such as deep snow."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..geometry.charts import Atlas
from ..geometry.mesh import Mesh
from ..geometry.plan import cell_of
from ..geometry.sculpt import distance_to_outline
from ..geometry.simplify import decimated
from ..masks.where import Where
from ..signals.around import GROUND
from ..signals.scene import MeasuredScene
from ..weather.blanket import Blanket, Sheet, bridged, joined, normals_of, rounded, sheet, slid
from .finer import level_for_cells
from .ground import Pools
from .maps import plain_of
from .masks import Mask, holds, part_natures
from .regional import window_in
from .regions import Region, corners_of, regions_of
from .scene import SceneObjectOf, WholeScene, extent_of
from .site import Site
from .surfaces import PATCH, ObjectAtlas, ObjectShape, Patches, Shape, window_of
from .target import Keep, Read, Target

if TYPE_CHECKING:
    from ..site.document import CoverLayer
    from .graph import Graph

# Squares of the plan: for looking at while a dial is dragged, and at rest.
_MOST_COARSE, _MOST = 45_000, 260_000
_FINEST = 0.08
# Wider squares would show no edge of a roof: there the maps alone carry the cover.
_WIDEST = 0.4
# A heap of what slid down is at most so many times as deep as what lies in the open.
_HEAPED = 4.0
# Metres: the cells that masks of the ground are read on over a region of a wide site.
_SHARP = 0.2
# Triangles of a finished sheet against those of its plan.
_KEPT = 0.22


@dataclass(frozen=True)
class Above:
    """What lies uppermost in each square of a plan.

    :ivar heights: float64 (h, w), metres, -inf for nothing.
    :ivar surfaces: int16 (h, w), rows of the site's surfaces, -1 for nothing. :ivar parts: int16 (h, w), of it.
    :ivar places: int32 (h, w, 2), row and column of the cell in its layout; over a region those of the ground are texels of
        its patches.
    """

    origin: tuple[float, float]
    cell: float
    heights: np.ndarray
    surfaces: np.ndarray
    parts: np.ndarray
    places: np.ndarray


@dataclass(frozen=True)
class FromAbove(Target):
    """What lies uppermost in each square of a plan: :class:`Above`.

    :ivar most: squares. :ivar region: of a wide site, or None for all of one. :ivar fine: the level that places on the ground are
        told at.
    """

    most: int
    region: Region | None = None
    fine: int = 0

    def inputs(self, site: Site) -> Mapping[str, Any]:
        ids = site.surface_ids()
        box = None if self.region is None else corners_of(site, self.region)
        return {"objects": {id: SceneObjectOf(id) for id in ids}, "shapes": [ObjectShape(id) for id in ids],
                "order": ids, "scene": WholeScene(), "cell": _cell(site, self.most, self.region), "box": box, "fine": self.fine}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Above:
        scene: MeasuredScene = read.scene
        cell: float = read.cell
        shapes: list[Shape] = read.shapes
        low, high = scene.bounds if read.box is None else (np.array(side) for side in read.box)
        columns, rows = (max(2, int(np.ceil((high[axis] - low[axis]) / cell))) for axis in (0, 2))
        x, z = np.meshgrid(low[0] + (np.arange(columns) + 0.5) * cell, low[2] + (np.arange(rows) + 0.5) * cell)
        top = float(high[1]) + 1
        x, z = x.ravel(), z.ravel()
        hits, heights = scene.rays.from_above(x, z, top)
        met = hits >= 0
        owners, names = scene.owners, scene.names
        out = Above(
            (float(low[0]), float(low[2])), cell, heights,
            np.full(len(hits), -1, np.int16), np.zeros(len(hits), np.int16),
            np.zeros((len(hits), 2), np.int32),
        )  # fmt: skip
        owned = np.where(met, owners[np.maximum(hits, 0)], -1)
        points = np.column_stack([x.astype(np.float32), out.heights, z.astype(np.float32)])
        for row, (id, shape) in enumerate(zip(read.order, shapes, strict=True)):
            number = names.index(id)
            mine = np.flatnonzero(owned == number)
            if not len(mine):
                continue
            faces = hits[mine] - int(np.searchsorted(owners, number))
            scale = 2 ** (read.fine if id == GROUND else 0)
            place = shape.places(faces, points[mine]) * scale
            limits = [shape.atlas.height * scale - 1, shape.atlas.width * scale - 1]
            out.places[mine] = np.clip(place[:, ::-1].astype(np.int32), 0, limits)
            out.surfaces[mine], out.parts[mine] = row, shape.mesh.parts[faces]
        shaped = {name: getattr(out, name).reshape(rows, columns, *getattr(out, name).shape[1:])
                  for name in ("heights", "surfaces", "parts", "places")}  # fmt: skip
        return Above(out.origin, cell, **shaped)


def _cell(site: Site, most: int, region: Region | None = None) -> float:
    low, high = extent_of(site) if region is None else (np.array(side) for side in corners_of(site, region))
    return cell_of(low, high, _FINEST, most)


def _plans(site: Site) -> tuple[Region | None, ...]:
    """What sheets lie over: all of a site, or the regions of one that is too wide."""
    return (None,) if _cell(site, _MOST) <= _WIDEST else regions_of(site)


def blankets_of(site: Site) -> list[tuple[CoverLayer, Blanket]]:
    """The covers that lie as sheets in the site's climate, lowest first."""
    ids = set(site.surface_ids())
    out = []
    for layer in site.weather:
        found = layer.cover.blanket(site.conditions) if layer.shown else None
        if found is not None and ids.intersection(layer.surfaces) and _plans(site):
            out.append((layer, found))
    return out


def blankets_on(graph: Graph) -> list[tuple[CoverLayer, Blanket]]:
    """The covers that lie as sheets, for those who ask a graph."""
    return blankets_of(Site(graph))


@dataclass(frozen=True)
class LaidSheet(Target):
    """The sheet of a cover: :class:`cenote.weather.blanket.Sheet`.

    :ivar layer: the cover layer's id. :ivar coarse: rougher and at once; else with fewer triangles where it is smooth.
    """

    layer: str
    coarse: bool

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """Coarse ones are looked at for a moment."""
        return "memory" if self.coarse else "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        layer, blanket = next(found for found in blankets_of(site) if found[0].id == self.layer)
        where = plain_of(site, layer)
        steep = without_slope(where) if blanket.slides > 0 else None
        most = _MOST_COARSE if self.coarse else _MOST
        plans = []
        for region in _plans(site):
            # While a dial is dragged the ground's own cells have to do.
            fine, patches = (0, None) if region is None or self.coarse else _patches_over(site, region)
            on = [None if id not in layer.surfaces else _on(site, layer, id, where, steep, fine, patches)
                  for id in site.surface_ids()]  # fmt: skip
            plans.append({"above": FromAbove(most, region, fine), "on": on, "region": region})
        return {
            "plans": plans, "scene": WholeScene(), "blanket": blanket, "coarse": self.coarse, "pools": Pools(),
            "water": float(site.water.level) if site.water.shown else None,
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> Sheet:
        parts = []
        for plan in read.plans:
            made = _laid(read, plan)
            if not read.coarse and len(made.faces):
                fewer = decimated(Mesh.of(made.positions, made.faces), _KEPT)
                made = Sheet(fewer.positions, normals_of(fewer.positions, fewer.faces), fewer.faces.astype(np.int32))
            parts.append(made)
        firsts = np.cumsum([0, *(len(one.positions) for one in parts)])
        faces = [one.faces + np.int32(first) for one, first in zip(parts, firsts[:-1], strict=True)]
        return Sheet(np.concatenate([one.positions for one in parts]), np.concatenate([one.normals for one in parts]),
                     np.concatenate(faces))  # fmt: skip

    @staticmethod
    def pack(value: Sheet) -> dict[str, np.ndarray]:
        return {"positions": value.positions, "normals": value.normals, "faces": value.faces}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Sheet:
        return Sheet(**arrays)


def _patches_over(site: Site, region: Region) -> tuple[int, Patches]:
    """A level of the ground, and its patches over a region, on which masks are as fine as its sheet."""
    atlas: Atlas = site.get(ObjectAtlas(GROUND))
    level = level_for_cells(atlas.cell, _SHARP)
    row, column, rows, columns = window_in(atlas, level, region)
    first, left = row // PATCH, column // PATCH
    return level, (first, left, (row + rows) // PATCH + 1 - first, (column + columns) // PATCH + 1 - left)


def _on(site: Site, layer: CoverLayer, id: str, where: Where, steep: Where | None, fine: int,
        patches: Patches | None) -> dict[str, Any]:  # fmt: skip
    """What of a cover stays on a surface; on the ground at a level, on patches of it."""
    at, over = (fine, patches) if id == GROUND else (0, None)
    return {
        "mask": Mask(id, where, at, over), "flat": None if steep is None else Mask(id, steep, at, over),
        "origin": (0, 0) if over is None else window_of(over)[:2],
        "holds": holds(layer.cover.sits_on, part_natures(site, id)),
        "strength": min(float(layer.strengths.get(id, 1.0)), 1.5),
    }  # fmt: skip


def _laid(read: Read, plan: dict[str, Any]) -> Sheet:
    above: Above = plan["above"]
    blanket: Blanket = read.blanket
    scene: MeasuredScene = read.scene
    held, steep, offered = _held(read, above, plan["on"])
    region: Region | None = plan["region"]
    if region is not None:
        rows, columns = held.shape
        x, z = (above.origin[k] + (np.arange(many) + 0.5) * above.cell for k, many in ((0, columns), (1, rows)))
        # It thins out to what the maps show beyond.
        thins = region.weights(x, z)
        held, steep = held * thins, steep * thins
    depths = blanket.depth * held
    if steep.any():
        landed = slid(above.heights, steep * blanket.slides, above.cell)
        depths = depths + np.minimum(landed, _HEAPED) * blanket.depth * (offered > 0)
    heights, spread = bridged(above.heights, depths, above.cell, blanket.bridges)
    joins = joined(heights, above.cell, blanket.depth)
    depths = rounded(heights, spread, above.cell, joins, blanket.depth)
    rays, top = scene.rays, float(scene.bounds[1][1]) + 1

    def top_at(x: np.ndarray, z: np.ndarray) -> np.ndarray:
        _, heights = rays.from_above(x, z, top)
        return np.maximum(heights, -1e6)

    return sheet(heights, depths, above.cell, above.origin, joins, top_at)


def without_slope(where: Where) -> Where | None:
    """A mask without its cards of slope; None where it has none that counts."""
    if not any(card.enabled and card.signal.kind == "slope" for card in where.cards):
        return None
    return where.model_copy(update={"cards": tuple(card for card in where.cards if card.signal.kind != "slope")})


def _held(read: Read, above: Above, on_each: list[Any]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """How much of what falls stays in each square, how much more would if no card of slope turned it away, and how much if
    nothing did: float32 (h, w)."""
    mask, steep, offered = (np.zeros(above.heights.shape, np.float32) for _ in range(3))
    for row, on in enumerate(on_each):
        mine = above.surfaces == row
        if on is None or not mine.any():
            continue
        y, x = (above.places[mine] - np.array(on["origin"])).T
        offered[mine] = on["holds"][above.parts[mine]] * on["strength"]
        mask[mine] = offered[mine] * on["mask"][y, x]
        if on["flat"] is not None:
            steep[mine] = np.maximum(offered[mine] * on["flat"][y, x] - mask[mine], 0)
    wet = _under_water(read, above)
    return np.where(wet, 0, mask), np.where(wet, 0, steep), np.where(wet, 0, offered)


def _under_water(read: Read, above: Above) -> np.ndarray:
    rows, columns = above.heights.shape
    wet = np.zeros((rows, columns), bool) if read.water is None else above.heights < read.water
    x, z = np.meshgrid(
        above.origin[0] + (np.arange(columns) + 0.5) * above.cell,
        above.origin[1] + (np.arange(rows) + 0.5) * above.cell,
    )
    for level, corners in read.pools:
        _, inside = distance_to_outline(x.ravel(), z.ravel(), corners)
        wet |= (above.heights < level) & inside.reshape(rows, columns)
    return wet
