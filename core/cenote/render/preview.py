"""Small pictures by ray casting, without a browser: thumbnails of sites, and of masks through a camera."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..colour import linear_of, srgb_bytes
from ..derive.coats import CoatLooks, coat_amounts
from ..derive.fields import CellField
from ..derive.graph import Graph
from ..derive.items import PlacedLooks, shown_scatters
from ..derive.lamps import lamplight, lit_lamps
from ..derive.maps import FaceGlow, SurfaceMaps
from ..derive.planting import LayerPlacements
from ..derive.scene import WholeScene
from ..derive.sheets import LaidSheet, blankets_on
from ..derive.skies import panorama_pixels
from ..derive.surfaces import ObjectShape, Shape
from ..derive.tiles import TileMean, graded
from ..geometry.mesh import face_normals
from ..geometry.rays import LIFT, RayScene
from ..light.daylight import GLOW, Daylight, daylight
from ..light.received import received
from ..masks.where import Where, ramp
from ..scatter.instances import merged_triangles
from ..signals.scene import MeasuredScene
from ..site.document import Shot
from ..site.lamps import PlacedLamp
from ..weather.blanket import Sheet

# Triangles of scattered items that a thumbnail takes along.
# Lamps that light a small picture, light that is too little to be seen, and what is nearer to a lamp than its panes, metres.
_MOST_LAMPS, _DIM, _PANES = 12, 0.002, 0.3
_MOST_ITEM_TRIANGLES = 600_000


@dataclass(frozen=True)
class Seen:
    """What each pixel of a camera shows.

    :ivar ids: the surfaces that take part. :ivar shapes: of each. :ivar which: int (P,), a row of them, -1 for none.
    :ivar faces: int (P,), the face of that surface. :ivar places: float (P, 2), cells in its layout.
    :ivar points: float32 (P, 3), where it is hit.
    """

    ids: list[str]
    shapes: list[Shape]
    which: np.ndarray
    faces: np.ndarray
    places: np.ndarray
    points: np.ndarray
    shape: tuple[int, int]


def look(graph: Graph, shot: Shot, width: int, height: int) -> Seen:
    """Find the surfaces that a camera sees; scattered items are left out."""
    scene: MeasuredScene = graph.get(WholeScene())
    ids = scene.names
    shapes: list[Shape] = [graph.get(ObjectShape(id)) for id in ids]
    starts = np.cumsum([0, *(len(shape.mesh.faces) for shape in shapes)])
    origins, directions = shot.camera(width / height).rays(width, height)
    hits = scene.rays.first(origins, directions)
    which = np.where(hits >= 0, np.searchsorted(starts, hits, side="right") - 1, -1)
    faces, places = np.zeros(len(hits), np.int64), np.zeros((len(hits), 2))
    points = np.zeros((len(hits), 3), np.float32)
    for row, shape in enumerate(shapes):
        mine = np.flatnonzero(which == row)
        face = hits[mine] - starts[row]
        a, b, c = (shape.corners[face, k].astype(float) for k in range(3))
        normal = np.cross(b - a, c - a)
        o, d = origins[mine].astype(float), directions[mine].astype(float)
        t = ((a - o) * normal).sum(1) / np.where(np.abs((d * normal).sum(1)) < 1e-12, 1e-12, (d * normal).sum(1))
        p = o + d * t[:, None]
        faces[mine], points[mine] = face, p
        places[mine] = shape.places(face, p)
    return Seen(ids, shapes, which, faces, places, points, (height, width))


def mask_pictures(
    graph: Graph, where: Where, masks: Mapping[str, np.ndarray], seen: Seen
) -> tuple[np.ndarray, np.ndarray]:
    """Each card's own weight, and the mask of the whole chain, as a camera sees them.

    :param masks: the mask on the cells of each surface that it is asked on, by id.
    :returns: uint8 (cards, H, W) and uint8 (H, W); 0 for black. What the mask is not asked on shows as 60.
    """
    height, width = seen.shape
    cards = np.full((len(where.cards), height * width), 60, np.uint8)
    whole = np.full(height * width, 60, np.uint8)
    for row, (id, shape) in enumerate(zip(seen.ids, seen.shapes, strict=True)):
        mine = np.flatnonzero(seen.which == row)
        if id not in masks or not len(mine):
            continue
        y, x = cells_of(seen.places[mine], shape)
        for k, card in enumerate(where.cards):
            values = graph.get(CellField(id, card.signal, 0))
            cards[k, mine] = np.round(ramp(values[y, x], card) * 255)
        whole[mine] = np.round(masks[id][y, x] * 255)
    return cards.reshape(-1, height, width), whole.reshape(height, width)


def cells_of(places: np.ndarray, shape: Shape) -> tuple[np.ndarray, np.ndarray]:
    """Rows and columns of the cells at places (N, 2) in a layout."""
    x = np.clip(places[:, 0].astype(int), 0, shape.atlas.width - 1)
    return np.clip(places[:, 1].astype(int), 0, shape.atlas.height - 1), x


def _sheets(graph: Graph) -> tuple[np.ndarray, np.ndarray]:
    """The sheets of deep covers: triangles float32 (M, 3, 3) and their linear colours float32 (M, 3)."""
    corners, colours = [np.zeros((0, 3, 3), np.float32)], [np.zeros((0, 3), np.float32)]
    for layer, blanket in blankets_on(graph):
        sheet: Sheet = graph.get(LaidSheet(layer.id, True))
        corners.append(sheet.positions[sheet.faces])
        mean, _ = graded(graph.get(TileMean(blanket.of)), layer.cover.look(graph.document.conditions))
        colours.append(np.tile(mean.astype(np.float32), (len(sheet.faces), 1)))
    return np.concatenate(corners), np.concatenate(colours)


def picture(graph: Graph, shot: Shot, width: int, height: int) -> np.ndarray:
    """The dressed site as a camera sees it, lit by sun and sky.

    :returns: uint8 (height, width, 3), sRGB.
    """
    return Glance(graph).through(shot, width, height)


class Glance:
    """The dressed site, lit by sun and sky: what stands there is gathered once for any number of shots."""

    def __init__(self, graph: Graph) -> None:
        self._graph = graph

    @cached_property
    def _items(self) -> tuple[RayScene, np.ndarray, np.ndarray]:
        """What is placed, and sheets: to be hit, their corners float32 (M, 3, 3), and their linear colours float32 (M, 3)."""
        graph = self._graph
        layers = shown_scatters(graph)
        coats = graph.get(CoatLooks())
        coats = coats if any(coat.strength > 0 for coat in coats) else []
        on_items = [coat_amounts(graph, layer.id) for layer in layers] if coats else []
        tables = [graph.get(LayerPlacements(layer.id)) for layer in layers]
        corners, shades = merged_triangles(tables, _MOST_ITEM_TRIANGLES, PlacedLooks(graph), coats, on_items)
        sheets, white = _sheets(graph)
        corners, shades = np.concatenate([corners, sheets]), np.concatenate([shades, white])
        return RayScene(corners), corners, shades

    @cached_property
    def _light(self) -> tuple[list[tuple[PlacedLamp, np.ndarray | None]], Daylight]:
        graph, lamps = self._graph, lit_lamps(self._graph)
        return lamps, daylight(graph.document.light, rows=32, pixels=panorama_pixels(graph), lamplight=lamplight(lamps),
                               air=graph.document.air)  # fmt: skip

    def through(self, shot: Shot, width: int, height: int) -> np.ndarray:
        """As a shot sees it: uint8 (height, width, 3), sRGB."""
        graph = self._graph
        seen = look(graph, shot, width, height)
        origins, directions = shot.camera(width / height).rays(width, height)
        lamps, sky = self._light
        sun = sky.direction
        colour, normal = np.zeros((len(directions), 3)), np.zeros((len(directions), 3))
        opened, glow = np.ones(len(directions)), np.zeros(len(directions))
        for row, (id, shape) in enumerate(zip(seen.ids, seen.shapes, strict=True)):
            mine = np.flatnonzero(seen.which == row)
            if not len(mine):
                continue
            maps = graph.get(SurfaceMaps(id, 0))
            y, x = cells_of(seen.places[mine], shape)
            colour[mine] = linear_of(maps.base[y, x, :3])
            opened[mine] = maps.orm[y, x, 0] / 255.0
            normal[mine] = shape.normals[seen.faces[mine]].mean(1)
            glows = graph.get(FaceGlow(id))
            if glows is not None:
                glow[mine] = glows[seen.faces[mine]]
        points = seen.points.astype(float)
        distance = np.where(seen.which >= 0, np.linalg.norm(points - origins, axis=1), np.inf)

        items, corners, shades = self._items
        hits, far = items.first(origins, directions), items.distance(origins, directions)
        nearer = np.flatnonzero((hits >= 0) & (far < distance))
        flat, _ = face_normals(corners[hits[nearer]])
        away = np.sign((flat * directions[nearer]).sum(1))
        colour[nearer], opened[nearer], glow[nearer] = shades[hits[nearer]], 0.85, 0
        # Leaves and blades let light through: shade them as if they were turned half way to the sky.
        normal[nearer] = -flat * away[:, None] * 0.5 + np.array([0, 0.5, 0])
        points[nearer] = origins[nearer] + directions[nearer] * far[nearer, None]
        distance[nearer] = far[nearer]

        there = np.isfinite(distance)
        rays = graph.get(WholeScene()).rays
        lit = normal @ sun
        facing = np.flatnonzero((lit > 0) & there)
        start = (points[facing] + normal[facing] * 10 * LIFT).astype(np.float32)
        way = np.broadcast_to(sun.astype(np.float32), start.shape)
        shaded = rays.occluded(start, way) | items.occluded(start + 0.02 * way, way)
        lit[facing[shaded]] = 0
        shone = np.zeros_like(colour)
        for lamp, profile in lamps[:_MOST_LAMPS]:
            level, ways, far = received(lamp.lamp, lamp.placement.matrix(), points, normal, profile)
            facing = np.flatnonzero((level[:, 1] * sky.scale > _DIM) & there)
            start, way = (
                (points[facing] + normal[facing] * 10 * LIFT).astype(np.float32),
                ways[facing].astype(np.float32),
            )
            reached = (
                np.minimum(rays.distance(start, way), items.distance(start + 0.02 * way, way)) > far[facing] - _PANES
            )
            shone[facing[reached]] += level[facing[reached]] * sky.scale
        up = (0.5 + 0.5 * normal[:, 1:2]) * opened[:, None]
        radiance = colour * ((np.maximum(lit, 0)[:, None] * sky.direct + shone + sky.below + up * (sky.above - sky.below)) / np.pi
                             + glow[:, None] * (sky.scale * GLOW))  # fmt: skip

        water = graph.document.water
        if water.shown:
            reach = (water.level - origins[:, 1]) / np.where(np.abs(directions[:, 1]) < 1e-6, -1e-6, directions[:, 1])
            wet = np.flatnonzero((reach > 0) & (reach < distance))
            depth = np.minimum(distance[wet] - reach[wet], 50)
            clear = np.exp(-depth / water.clarity)[:, None]
            mirror = 0.04 + 0.96 * (1 - np.abs(directions[wet, 1])) ** 5
            below = radiance[wet] * clear + np.array(water.colour) * (1 - clear)
            radiance[wet] = below * (1 - mirror[:, None]) + sky.horizon * mirror[:, None]
            distance[wet] = reach[wet]

        there = np.isfinite(distance)[:, None]
        radiance = sky.through(np.where(there, radiance, sky.at(directions)), origins, directions, distance)
        return srgb_bytes(radiance / (1 + 0.25 * radiance)).reshape(height, width, 3)
