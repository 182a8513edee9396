"""What a shot of a site shows, gathered to be traced."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np

from ..colour import srgb_bytes
from ..derive.coats import CoatLooks, coat_amounts
from ..derive.copies import alike, leaning, once, pieces_of, season_columns
from ..derive.droplets import DropletMesh, wet_surfaces
from ..derive.foam import foam_of
from ..derive.graph import Graph
from ..derive.grass import LyingGrass, grown_surfaces, season_of, sown, sway_of_grass
from ..derive.items import shown_scatters
from ..derive.lamps import lit_lamps
from ..derive.maps import FaceGlow, SurfaceMaps
from ..derive.meshes import ObjectMesh
from ..derive.planting import LayerPlacements
from ..derive.sheets import LaidSheet, blankets_on
from ..derive.shelves import ItemsOnShelf
from ..derive.site import Site
from ..derive.surfaces import MOST_TEXELS, ObjectShape, Shape
from ..derive.surroundings import Land, Surroundings
from ..derive.tiles import MaterialTile
from ..derive.waters import waters
from ..geometry.camera import Camera
from ..grass.strands import ALL_POINTS, FEW_POINTS, ribbons, standing_for_all
from ..kit.base import CARD
from ..light.daylight import GLOW, Daylight
from ..light.lamps.base import SUN_LUX
from ..render.needed import texels_needed
from ..scatter.instances import by_variant
from ..scatter.rotations import rotation_matrices
from ..signals.around import GROUND
from ..site.document import Shot
from ..site.lamps import PlacedLamp
from ..structures.polygons import triangles
from ..weather.tiles import tile_pictures
from .scene import (
    GROUND_THING,
    TUBE,
    Copies,
    LampLight,
    LensBlur,
    Piece,
    Skin,
    SunLight,
    Thing,
    TracedScene,
    WaterBody,
    ways_of_map,
)

Progress = Callable[[int, int, str], None]
# Half the width of sun and moon, radians. Rows of a map of what a lamp sends.
_DISC, _LAMP_ROWS = 0.00465, 256
# How much light what only casts shadows sends on.
_DARK = 0.02
# Up to how far away all blades of grass are traced, at least and at most, metres; how many times as wide those beyond may be, and
# from which width on few points of each are enough.
_WHOLE_GRASS, _WIDEST_GRASS, _FAR_GRASS = (2.0, 30.0), 12.0, 2.0
_GRASS_ROUGHNESS = 0.55
# How high ripples are in a fresh wind, metres.
_RIPPLE = 0.004


class _Skins:
    """What all is made of, each once."""

    def __init__(self, graph: Graph) -> None:
        self.graph = graph
        self.made: dict[str, Skin] = {}

    def of(self, item: str, part: str) -> str:
        """The skin of a part of an item."""
        tiled = self.graph.document.has_material(part)
        name = part if tiled else f"{item} {part}"
        if name not in self.made:
            self.made[name] = self._tile(part) if tiled else self._own(item, part)
        return name

    def coated(self, item: str, part: str) -> str:
        """The skin of what a coat hides of a part."""
        name = f"{item} {part} coated" if part == CARD else "coated"
        if name not in self.made:
            self.made[name] = self._own(item, part, white=True) if part == CARD else Skin()
        return name

    def _tile(self, part: str) -> Skin:
        base, orm, normal = tile_pictures(self.graph.get(MaterialTile(part)))
        return Skin(base, orm, normal)

    def _own(self, item: str, part: str, white: bool = False) -> Skin:
        shelf = self.graph.get(ItemsOnShelf((item,)))
        made, card = shelf.item(item), shelf.card(item)
        base = None
        if part == CARD and card is not None:
            base = srgb_bytes(card)
            if white:
                base[..., :3] = 255
        return Skin(base, roughness=made.roughness, thin=made.is_thin(part) and not white)


def gather(
    graph: Graph,
    shot: Shot,
    width: int,
    height: int,
    sky: Daylight,
    progress: Progress = lambda *_: None,
    also: Sequence[Shot] = (),
) -> TracedScene:
    """Everything that a picture of a shot is traced of.

    :param width, height: of the picture, pixels: surfaces get texels as it needs them. :param sky: its light.
    :param progress: called with (done, total, what); may raise to stop. :param also: shots that the surfaces are to be fine enough for, too.
    """
    document, site = graph.document, Site(graph)
    ids, layers = document.surface_ids(), shown_scatters(graph)
    total = len(ids) + len(layers) + 1
    needed = [texels_needed(graph, one, height) for one in (shot, *also)]
    texels = {id: min(one[id] for one in needed) for id in ids}
    skins, pieces, copies = _Skins(graph), [], []
    for done, id in enumerate(ids):
        progress(done, total, f"Maps of {site.title(id)}")
        pieces += _surface(graph, id, texels[id], sky.scale * GLOW, skins)
    pieces += _obstacles(graph, skins)
    progress(len(ids), total, "The land around")
    pieces += _land(graph, skins)
    pieces += _sheets(graph, skins)
    pieces += _drops(graph, skins)
    pieces += _grass(graph, [one.camera(width / height) for one in (shot, *also)], height, skins)
    for done, layer in enumerate(layers):
        progress(len(ids) + 1 + done, total, layer.name)
        copies += _items(graph, layer.id, skins)
    progress(total, total, "")
    lamps = [lamp for one, profile in lit_lamps(graph) for lamp in [_lamp(one, profile, sky.scale)]]
    sun = SunLight(sky.direction, sky.direct, _DISC) if sky.direct.max() > 0 else None
    return TracedScene(
        shot.camera(width / height),
        skins.made,
        pieces,
        copies,
        sky.around,
        sun,
        lamps,
        _water(graph),
        LensBlur(*shot.blur()),
    )


def _surface(graph: Graph, id: str, texel: float, glowing: float, skins: _Skins) -> list[Piece]:
    shape: Shape = graph.get(ObjectShape(id))
    maps = graph.get(SurfaceMaps(id, shape.level_for(texel, MOST_TEXELS)))
    flat = np.where(maps.normal[..., 3:] > 0, maps.normal[..., :3], [128, 128, 255]).astype(np.uint8)
    skin = Skin(maps.base[..., :3], maps.orm[..., :3], flat)
    glow = graph.get(FaceGlow(id))
    glow = np.zeros(len(shape.mesh.faces), np.float32) if glow is None else glow
    uv = shape.atlas.uv().reshape(-1, 3, 2)
    out, thing = [], GROUND_THING if id == GROUND else Thing(id, "structures")
    for strength in np.unique(glow):
        name = f"surface {id}" + (f" glowing {strength:g}" if strength else "")
        skins.made[name] = (
            skin if not strength else Skin(skin.base, skin.orm, skin.normal, glow=float(strength) * glowing)
        )
        out.append(
            _of_corners(
                name, shape.corners[glow == strength], shape.normals[glow == strength], uv[glow == strength], thing
            )
        )
    return out


def _obstacles(graph: Graph, skins: _Skins) -> list[Piece]:
    """What only casts shadows: dark, so that it sends hardly any light on."""
    out = []
    for id in graph.document.obstacle_ids():
        shape: Shape = graph.get(ObjectShape(id))
        positions = shape.corners.reshape(-1, 3)
        faces, colours = np.arange(len(positions)).reshape(-1, 3), np.full(positions.shape, _DARK, np.float32)
        normals = shape.normals.reshape(-1, 3)
        out.append(Piece(skins.coated("", ""), positions, normals, faces, None, colours, seen=False))
    return out


def _of_corners(skin: str, corners: np.ndarray, normals: np.ndarray, uv: np.ndarray, thing: Thing) -> Piece:
    """A piece of triangles whose corners come three to each: float (M, 3, …)."""
    faces = np.arange(3 * len(corners)).reshape(-1, 3)
    return Piece(skin, corners.reshape(-1, 3), normals.reshape(-1, 3), faces, uv.reshape(-1, 2), thing=thing)


def _seen_from_above(graph: Graph, material: str, positions: np.ndarray) -> np.ndarray:
    """Places (V, 2) in a material's tile that repeats as seen from above; to the right in it is east."""
    return (positions[:, [0, 2]] * [1, -1] / graph.get(MaterialTile(material)).size).astype(np.float32)


def _land(graph: Graph, skins: _Skins) -> list[Piece]:
    land: Land = graph.get(Surroundings(0))
    if not len(land.faces):
        return []
    material = graph.document.ground.material
    skin = skins.of("", material) if land.textured else skins.coated("", "")
    uv = _seen_from_above(graph, material, land.positions)
    return [Piece(skin, land.positions, land.normals, land.faces, uv, land.tints)]


def _sheets(graph: Graph, skins: _Skins) -> list[Piece]:
    out = []
    for layer, blanket in blankets_on(graph):
        sheet = graph.get(LaidSheet(layer.id, False))
        if len(sheet.faces):
            brightness = layer.cover.look(graph.document.conditions).brightness
            colours = np.full((len(sheet.positions), 3), brightness, np.float32)
            uv = _seen_from_above(graph, blanket.of, sheet.positions)
            skin, thing = skins.of("", blanket.of), Thing(layer.id, "ground")
            out.append(Piece(skin, sheet.positions, sheet.normals, sheet.faces, uv, colours, thing=thing))
    return out


def _drops(graph: Graph, skins: _Skins) -> list[Piece]:
    out = []
    for layer, id in wet_surfaces(graph):
        mesh = graph.get(DropletMesh(layer.id, id, True))
        if len(mesh.faces):
            skins.made["drops"] = Skin(clear=True)
            out.append(Piece("drops", mesh.positions, mesh.normals, mesh.faces, thing=Thing(layer.id, "water")))
    return out


def _grass(graph: Graph, cameras: Sequence[Camera], height: int, skins: _Skins) -> list[Piece]:
    """Grass as strands: all of it as far as a blade is as wide as a pixel, fewer and wider blades farther away."""
    site, out = Site(graph), []
    for layer, id in grown_surfaces(graph):
        blades = graph.get(LyingGrass(layer.id, id)).blades
        pixel = min(2 * one.height / height for one in cameras)
        whole = float(np.clip(layer.root_width / pixel, *_WHOLE_GRASS))
        left, wide = standing_for_all(blades, np.array([one.eye for one in cameras]), whole)
        wide = np.minimum(wide * sown(site, layer.id, id).wide, _WIDEST_GRASS)
        skins.made["grass"] = Skin(roughness=_GRASS_ROUGHNESS, thin=True)
        for far, points in ((False, ALL_POINTS), (True, FEW_POINTS)):
            mine = left & ((wide > _FAR_GRASS) == far)
            if mine.any():
                made = ribbons(
                    layer, blades.only(mine), season_of(site), wide[mine], sway_of_grass(site, layer), points
                )
                thing = Thing(layer.id, "planting")
                out.append(Piece("grass", made.positions, made.normals, made.faces, None, made.colours, thing=thing))
    return out


def _items(graph: Graph, layer: str, skins: _Skins) -> list[Copies]:
    placements = graph.get(LayerPlacements(layer))
    coats = graph.get(CoatLooks())
    coats = coats if any(coat.strength > 0 for coat in coats) else []
    amounts = coat_amounts(graph, layer) if coats else np.zeros((len(placements), 0), np.float32)
    out = []
    for item, variant, all_rows in by_variant(placements):
        columns, groups = season_columns(graph, item, variant)
        for rows, lying in alike(all_rows, amounts):
            made = pieces_of(graph, once(columns), groups, coats, lying, item, skins)
            matrices = np.tile(np.eye(4, dtype=np.float32), (len(rows), 1, 1))
            turns = rotation_matrices(leaning(graph, item, placements, rows))
            matrices[:, :3, :3] = turns * placements.sizes[rows, None, None]
            matrices[:, :3, 3] = placements.positions[rows]
            out.append(
                Copies(
                    [_piece_of_item(skin, attributes, Thing(layer, "planting")) for skin, attributes, _ in made],
                    matrices,
                    placements.tints[rows],
                )
            )
    return out


def _piece_of_item(skin: str, attributes: Mapping[str, np.ndarray], thing: Thing) -> Piece:
    positions, uv = attributes["POSITION"], attributes.get("TEXCOORD_0")
    faces = np.arange(len(positions)).reshape(-1, 3)
    return Piece(skin, positions, attributes["NORMAL"], faces, uv, attributes["COLOR_0"], thing=thing)


def _lamp(placed: PlacedLamp, profile: np.ndarray | None, scale: float) -> LampLight:
    lamp, pose = placed.lamp, placed.placement.matrix()
    beam = lamp.beam(profile)
    pose[1, 3] += beam.heart
    along = beam.intensity * scale
    if beam.long > 0 and placed.seen_itself:
        # A surface shines as its size has it; of a tube one sees its width.
        return LampLight(pose, None, along / (beam.long * (beam.wide or 2 * TUBE)), beam.wide, beam.long)
    ways = ways_of_map(_LAMP_ROWS)
    sent = lamp.candela(ways.reshape(-1, 3), profile).reshape(ways.shape[:2]) / SUN_LUX * scale
    return LampLight(pose, sent[..., None] * lamp.colour, np.zeros(3))


def _water(graph: Graph) -> list[WaterBody]:
    water, wind = graph.document.water, graph.document.wind
    (x0, _, z0), (x1, _, z1) = graph.get(ObjectMesh(GROUND)).bounds
    ripple = _RIPPLE * min(wind.strength / 4, 1.5)
    out = []
    for level, outline in waters(graph):
        corners = outline if len(outline) else np.array([[x0, z0], [x1, z0], [x1, z1], [x0, z1]])
        foam = foam_of(graph.document, level, outline)
        out.append(WaterBody(level, corners, triangles(corners), water.clarity, np.array(water.colour), ripple,
                             graph.get(foam) if foam else None, water.foam / 100))  # fmt: skip
    return out
