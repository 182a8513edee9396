"""Covers that lie as sheets of their own over all that is uppermost, such as deep snow."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..geometry.mesh import Mesh, face_normals
from ..geometry.plan import cell_of
from ..geometry.sculpt import distance_to_outline
from ..kit.shelf import decimated
from ..masks.where import ramp
from ..signals.slope import Slope
from ..site.document import CoverLayer
from ..weather.blanket import Blanket, Sheet, bridged, joined, normals_of, rounded, sheet, slid
from .cache import key

if TYPE_CHECKING:
    from .workshop import Workshop

# Squares of the plan: for looking at while a dial is dragged, and at rest.
_MOST_COARSE, _MOST = 45_000, 260_000
_FINEST = 0.08
# Wider squares would show no edge of a roof: there the maps alone carry the cover.
_WIDEST = 0.4
# A heap of what slid down is at most so many times as deep as what lies in the open.
_HEAPED = 4.0
# Triangles of a finished sheet against those of its plan.
_KEPT = 0.22


@dataclass(frozen=True)
class _Above:
    """What lies uppermost in each square of a plan.

    :ivar heights: float64 (h, w), metres, -inf for nothing. :ivar slopes: float32 (h, w), degrees.
    :ivar surfaces: int16 (h, w), rows of the document's surfaces, -1 for nothing. :ivar parts: int16 (h, w), of it.
    :ivar places: int32 (h, w, 2), row and column of the cell in its layout.
    """

    origin: tuple[float, float]
    cell: float
    heights: np.ndarray
    slopes: np.ndarray
    surfaces: np.ndarray
    parts: np.ndarray
    places: np.ndarray


class Blankets:
    """The sheets of one document."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop

    def all(self) -> Iterator[tuple[CoverLayer, Blanket]]:
        """The covers that lie as sheets in the site's climate, lowest first."""
        document = self._workshop.document
        ids = set(document.surface_ids())
        for layer in document.weather:
            found = layer.cover.blanket(document.climate) if layer.shown else None
            if found is not None and ids.intersection(layer.surfaces) and self._cell(_MOST) <= _WIDEST:
                yield layer, found

    def name(self, layer: CoverLayer, blanket: Blanket, coarse: bool = False) -> str:
        """The key of a sheet: whatever changes it changes it."""
        workshop = self._workshop
        surfaces = [workshop.surface(id) for id in workshop.document.surface_ids()]
        cards = layer.where.active
        each = [
            [
                surface.digest,
                [workshop.document.nature(kind) for kind in surface.materials],
                [workshop.signal_name(surface, card.signal) for card in cards],
                layer.strengths.get(surface.id, 1.0),
            ]
            for surface in surfaces
            if surface.id in layer.surfaces
        ]
        water: list[Any] = [workshop.document.water.model_dump(mode="json", include={"shown", "level"})]
        water += [[level, corners.tolist()] for level, corners in workshop.ground.pools()]
        return key(
            "blanket", [surface.digest for surface in surfaces], each, layer.where.model_dump(mode="json"),
            dict(layer.cover.sits_on), asdict(blanket), water, coarse,
        )  # fmt: skip

    def sheet(self, layer: CoverLayer, blanket: Blanket, coarse: bool = False) -> Sheet:
        """A sheet, with fewer triangles where it is smooth; rougher and at once where it is coarse."""

        def make() -> dict[str, np.ndarray]:
            made = self._made(layer, blanket, coarse)
            if not coarse and len(made.faces):
                fewer = decimated(Mesh.of(made.positions, made.faces), _KEPT)
                made = Sheet(fewer.positions, normals_of(fewer.positions, fewer.faces), fewer.faces.astype(np.int32))
            return {"positions": made.positions, "normals": made.normals, "faces": made.faces}

        name = self.name(layer, blanket, coarse)
        return Sheet(**(self._workshop.cache.get(name, make) if coarse else self._workshop.cache.arrays(name, make)))

    def _cell(self, most: int) -> float:
        low, high = self._workshop.scene.bounds
        return cell_of(low, high, _FINEST, most)

    def _above(self, most: int) -> _Above:
        workshop = self._workshop
        surfaces = [workshop.surface(id) for id in workshop.document.surface_ids()]

        def make() -> _Above:
            scene, cell = workshop.scene, self._cell(most)
            low, high = scene.bounds
            columns, rows = (max(2, int(np.ceil((high[axis] - low[axis]) / cell))) for axis in (0, 2))
            x, z = np.meshgrid(low[0] + (np.arange(columns) + 0.5) * cell, low[2] + (np.arange(rows) + 0.5) * cell)
            top = float(high[1]) + 1
            origins = np.column_stack([x.ravel(), np.full(x.size, top), z.ravel()]).astype(np.float32)
            down = np.broadcast_to(np.array([0, -1, 0], np.float32), origins.shape)
            hits, far = scene.rays.hits(origins, down)
            met = hits >= 0
            owners, names = scene.owners, sorted(scene.objects)
            out = _Above(
                (float(low[0]), float(low[2])), cell, np.where(met, top - far.astype(np.float64), -np.inf),
                np.zeros(len(hits), np.float32), np.full(len(hits), -1, np.int16), np.zeros(len(hits), np.int16),
                np.zeros((len(hits), 2), np.int32),
            )  # fmt: skip
            owned = np.where(met, owners[np.maximum(hits, 0)], -1)
            points = np.column_stack([origins[:, 0], out.heights, origins[:, 2]])
            for row, surface in enumerate(surfaces):
                number = names.index(surface.id)
                mine = np.flatnonzero(owned == number)
                if not len(mine):
                    continue
                faces = hits[mine] - int(np.searchsorted(owners, number))
                normal, _ = face_normals(surface.corners[faces])
                place = surface.places(faces, points[mine])
                limits = [surface.atlas.height - 1, surface.atlas.width - 1]
                out.places[mine] = np.clip(place[:, ::-1].astype(np.int32), 0, limits)
                out.surfaces[mine], out.parts[mine] = row, surface.mesh.parts[faces]
                out.slopes[mine] = np.degrees(np.arccos(np.clip(np.abs(normal[:, 1]), 0, 1)))
            shaped = {name: getattr(out, name).reshape(rows, columns, *getattr(out, name).shape[1:])
                      for name in ("heights", "slopes", "surfaces", "parts", "places")}  # fmt: skip
            return _Above(out.origin, cell, **shaped)

        return workshop.cache.get(key("from above", [surface.digest for surface in surfaces], most), make)

    def _made(self, layer: CoverLayer, blanket: Blanket, coarse: bool) -> Sheet:
        workshop = self._workshop
        above = self._above(_MOST_COARSE if coarse else _MOST)
        holds, offered = self._holds(layer, above)
        depths = blanket.depth * holds
        slope = next((card for card in layer.where.active if isinstance(card.signal, Slope)), None)
        if blanket.slides > 0 and slope is not None:
            falls = offered * (1 - ramp(above.slopes, slope)) * blanket.slides
            landed = slid(above.heights, falls, above.cell)
            depths = depths + np.minimum(landed, _HEAPED) * blanket.depth * (offered > 0)
        heights, spread = bridged(above.heights, depths, above.cell, blanket.bridges)
        joins = joined(heights, above.cell, blanket.depth)
        depths = rounded(heights, spread, above.cell, joins, blanket.depth)
        rays, top = workshop.scene.rays, float(workshop.scene.bounds[1][1]) + 1

        def top_at(x: np.ndarray, z: np.ndarray) -> np.ndarray:
            origins = np.column_stack([x, np.full(len(x), top), z]).astype(np.float32)
            down = np.broadcast_to(np.array([0, -1, 0], np.float32), origins.shape)
            far = rays.distance(origins, down)
            return np.where(np.isfinite(far), top - far, -1e6)

        return sheet(heights, depths, above.cell, above.origin, joins, top_at)

    def _holds(self, layer: CoverLayer, above: _Above) -> tuple[np.ndarray, np.ndarray]:
        """How much of what falls stays in each square, and how much would if nothing slid or hid it: float32 (h, w)."""
        workshop = self._workshop
        mask, offered = np.zeros(above.heights.shape, np.float32), np.zeros(above.heights.shape, np.float32)
        for row, id in enumerate(workshop.document.surface_ids()):
            mine = above.surfaces == row
            if id not in layer.surfaces or not mine.any():
                continue
            surface = workshop.surface(id)
            by_part = workshop.holds(layer, surface)
            strength = min(layer.strengths.get(id, 1.0), 1.5)
            y, x = above.places[mine].T
            offered[mine] = by_part[above.parts[mine]] * strength
            mask[mine] = offered[mine] * workshop.mask(surface, layer.where, 0)[y, x]
        wet = self._under_water(above)
        return np.where(wet, 0, mask), np.where(wet, 0, offered)

    def _under_water(self, above: _Above) -> np.ndarray:
        workshop = self._workshop
        rows, columns = above.heights.shape
        water = workshop.document.water
        wet = above.heights < water.level if water.shown else np.zeros((rows, columns), bool)
        x, z = np.meshgrid(
            above.origin[0] + (np.arange(columns) + 0.5) * above.cell,
            above.origin[1] + (np.arange(rows) + 0.5) * above.cell,
        )
        for level, corners in workshop.ground.pools():
            _, inside = distance_to_outline(x.ravel(), z.ravel(), corners)
            wet |= (above.heights < level) & inside.reshape(rows, columns)
        return wet
