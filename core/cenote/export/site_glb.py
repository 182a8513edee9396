"""The dressed site as binary glTF 2.0."""

from __future__ import annotations

import copy
from collections.abc import Callable, Mapping

import numpy as np
import pygltflib as gltf
from scipy.spatial.transform import Rotation

from ..colour import srgb_bytes
from ..derive.coats import CoatLooks, coat_amounts
from ..derive.colours import ItemMesh
from ..derive.copies import Manner, alike, leaning, once, pieces_of, season_columns, unit
from ..derive.graph import Graph, Progress
from ..derive.items import LookOfItem, shown_scatters, sway_of
from ..derive.maps import FaceGlow, SurfaceMaps
from ..derive.planting import LayerPlacements
from ..derive.sheets import LaidSheet, blankets_on
from ..derive.shelves import ItemsOnShelf
from ..derive.site import Site
from ..derive.surfaces import MOST_TEXELS, ObjectMesh, ObjectShape, Shape
from ..derive.tiles import MaterialTile
from ..formats.glb import ExportRefused, GlbWriter, opaque
from ..kit.base import CARD
from ..scatter.instances import by_variant
from ..scatter.layer import Scatter
from ..scatter.placements import Placements
from ..scatter.rotations import rotation_matrices
from ..scatter.wind import Sway
from ..site.document import CoverLayer
from ..weather.blanket import Blanket
from ..weather.compose import Maps
from ..weather.tiles import tile_pictures
from .droplets import add_droplets
from .grass import add_grass

_INSTANCING = "EXT_mesh_gpu_instancing"
_STRENGTH = "KHR_materials_emissive_strength"
_MOST_VERTICES = 60_000_000


def _add_surface(writer: GlbWriter, name: str, shape: Shape, maps: Maps, glow: np.ndarray | None) -> int:
    base = writer.texture(maps.base[..., :3], f"{name} base colour")
    orm = writer.texture(maps.orm[..., :3], f"{name} occlusion roughness metalness")
    normal = writer.texture(
        np.where(maps.normal[..., 3:] > 0, maps.normal[..., :3], [128, 128, 255]).astype(np.uint8), f"{name} normal"
    )
    material = opaque(name, baseColorTexture=base, metallicRoughnessTexture=orm)
    material.normalTexture = gltf.NormalMaterialTexture(index=normal.index)
    material.occlusionTexture = gltf.OcclusionTextureInfo(index=orm.index)
    attributes = {
        "POSITION": shape.mesh.corners.reshape(-1, 3),
        "NORMAL": unit(shape.local_normals.reshape(-1, 3)),
        "TANGENT": shape.tangents.reshape(-1, 4),
        "TEXCOORD_0": shape.atlas.uv().reshape(-1, 2),
    }
    glow = np.zeros(len(shape.mesh.faces), np.float32) if glow is None else glow
    pieces: list[tuple[int, dict[str, np.ndarray], np.ndarray | None]] = []
    for strength in np.unique(glow):
        corners = np.repeat(glow == strength, 3)
        made = copy.deepcopy(material)
        if strength > 0:
            made.name = f"{name}, glowing"
            made.emissiveTexture, made.emissiveFactor = gltf.TextureInfo(index=base.index), [1.0, 1.0, 1.0]
            made.extensions = {_STRENGTH: {"emissiveStrength": float(strength)}}
            if _STRENGTH not in writer.file.extensionsUsed:
                writer.file.extensionsUsed.append(_STRENGTH)
        columns = {column: np.ascontiguousarray(values[corners]) for column, values in attributes.items()}
        pieces.append((writer.material(made), columns, None))
    mesh = writer.mesh(name, pieces)
    rotation = Rotation.from_matrix(shape.matrix[:3, :3]).as_quat().tolist()
    return writer.node(name=name, mesh=mesh, translation=shape.matrix[:3, 3].tolist(), rotation=rotation)


class _ItemMaterials:
    """Materials of kit items, each written once: tiles that many share, and each item's own picture of leaves."""

    def __init__(self, writer: GlbWriter, graph: Graph) -> None:
        self.writer, self.graph = writer, graph
        self.written: dict[tuple[str, str], int] = {}

    def of(self, item: str, part: str) -> int:
        """The material of a part of an item."""
        tiled = self.graph.document.has_material(part)
        name = ("", part) if tiled else (item, part)
        if name not in self.written:
            self.written[name] = self.writer.material(self._tiled(part) if tiled else self._own(item, part))
        return self.written[name]

    def coated(self, item: str, part: str) -> int:
        """The material of what a coat hides of a part: its own outline in the colour of each corner."""
        name = (item if part == CARD else "", f"{part} coated")
        if name not in self.written:
            if part == CARD:
                material = self._own(item, part, white=True)
            else:
                material = opaque(f"{part}, coated", roughnessFactor=0.8, metallicFactor=0.0)
            self.written[name] = self.writer.material(material)
        return self.written[name]

    def _tiled(self, part: str) -> gltf.Material:
        tile = self.graph.get(MaterialTile(part))
        base, orm, normal = (
            self.writer.texture(picture, f"{part} {what}", repeats=True)
            for picture, what in zip(tile_pictures(tile), ("base colour", "roughness metalness", "normal"), strict=True)
        )
        material = opaque(part, baseColorTexture=base, metallicRoughnessTexture=orm)
        material.normalTexture = gltf.NormalMaterialTexture(index=normal.index)
        return material

    def _own(self, item: str, part: str, white: bool = False) -> gltf.Material:
        shelf = self.graph.get(ItemsOnShelf((item,)))
        made, card = shelf.item(item), shelf.card(item)
        material = opaque(
            f"{self.graph.get(LookOfItem(item)).title} {part}", roughnessFactor=made.roughness, metallicFactor=0.0
        )
        # Blades and leaves have no thickness.
        material.doubleSided = made.grows or part == CARD
        if part == CARD and card is not None:
            colour = srgb_bytes(card)
            if white:
                colour[..., :3] = 255
                material.name += ", coated"
            material.pbrMetallicRoughness.baseColorTexture = self.writer.texture(colour, f"{material.name} leaves")
            material.alphaMode, material.alphaCutoff = "MASK", 0.5
        return material


def _add_scatter(
    writer: GlbWriter, layer: Scatter, placements: Placements, manner: Manner, materials: _ItemMaterials
) -> list[int]:
    nodes = []
    graph = materials.graph
    coats = graph.get(CoatLooks())
    coats = coats if any(coat.strength > 0 for coat in coats) else []
    amounts = coat_amounts(graph, layer.id) if coats else np.zeros((len(placements), 0), np.float32)
    for item, variant, all_rows in by_variant(placements):
        columns, groups = season_columns(graph, item, variant)
        for rows, lying in alike(all_rows, amounts, manner):
            name = f"{layer.name}: {graph.get(LookOfItem(item)).title} {variant + 1}"
            if len(lying) and lying.max() > 0 and manner == "instanced":
                name += ", coated " + " ".join(f"{value * 100:.0f} %" for value in lying[0])
            merged = manner == "merged"
            copies = _copied(columns, placements, rows, sway_of(graph, item)) if merged else once(columns)
            pieces = pieces_of(graph, copies, groups, coats, lying, item, materials)
            mesh = writer.mesh(name, pieces)
            if merged:
                nodes.append(writer.node(name=name, mesh=mesh))
                continue
            table = {
                "TRANSLATION": placements.positions[rows],
                "ROTATION": leaning(graph, item, placements, rows),
                "SCALE": np.repeat(placements.sizes[rows, None], 3, axis=1),
                # An attribute of our own, as the extension allows: the factor on each copy's colour.
                "_TINT": placements.tints[rows],
            }
            extension = {_INSTANCING: {"attributes": {key: writer.accessor(value) for key, value in table.items()}}}
            nodes.append(writer.node(name=name, mesh=mesh, extensions=extension))
            for used in (writer.file.extensionsUsed, writer.file.extensionsRequired):
                if _INSTANCING not in used:
                    used.append(_INSTANCING)
    return nodes


def _copied(
    columns: dict[str, np.ndarray], placements: Placements, rows: np.ndarray, sway: Sway
) -> dict[str, np.ndarray]:
    """Corner columns of all copies, float32 (R, N, …), in the world and as the wind bends them."""
    turns = rotation_matrices(placements.rotations[rows])
    scaled = turns * placements.sizes[rows, None, None]
    offsets = np.einsum("rij,nj->rni", scaled, columns["position"])
    position = sway.vertices(offsets, placements.positions[rows], placements.sizes[rows])
    tints = placements.tints[rows][:, None]
    return {
        "position": (position + placements.positions[rows, None]).astype(np.float32),
        "normal": np.einsum("rij,nj->rni", turns, columns["normal"]).astype(np.float32),
        "colour": np.clip(columns["colour"][None] * tints, 0, 1).astype(np.float32),
        "shown": np.clip(columns["shown"][None] * tints, 0, 1).astype(np.float32),
        "uv": np.broadcast_to(columns["uv"], (len(rows), *columns["uv"].shape)),
    }


def export_glb(graph: Graph, manner: Manner, texel: float | Mapping[str, float], progress: Progress) -> bytes:
    """Write a dressed site.

    :param manner: ``instanced`` keeps each kit mesh once (EXT_mesh_gpu_instancing); ``merged`` writes every copy out.
    :param texel: wanted side of a texel of the composed maps, metres, for all surfaces or by their ids.
    :param progress: called with (done, total, what); may raise to stop.
    :raises ExportRefused: if it would not fit into a file.
    """
    document, site = graph.document, Site(graph)
    layers = shown_scatters(graph)
    if manner == "merged":
        vertices = sum(
            3 * len(graph.get(ItemMesh(item, variant)).faces) * len(rows)
            for layer in layers
            for item, variant, rows in by_variant(graph.get(LayerPlacements(layer.id)))
        )
        if vertices > _MOST_VERTICES:
            raise ExportRefused(
                f"Merged, the planting comes to {vertices / 3e6:.0f} million triangles, too many for one file. Export it instanced."
            )
    ids = document.surface_ids()
    total = len(ids) + len(layers)
    writer, roots = GlbWriter(), []
    step: Callable[[int, str], None] = lambda done, what: progress(done, total, what)  # noqa: E731
    for done, id in enumerate(ids):
        step(done, f"Maps of {site.title(id)}")
        shape: Shape = graph.get(ObjectShape(id))
        name = "Ground" if id == "ground" else site.title(id)
        wanted = texel[id] if isinstance(texel, Mapping) else texel
        maps = graph.get(SurfaceMaps(id, shape.level_for(wanted, MOST_TEXELS)))
        roots.append(_add_surface(writer, name, shape, maps, graph.get(FaceGlow(id))))
    if document.water.shown:
        roots.append(_add_water(writer, graph))
    materials = _ItemMaterials(writer, graph)
    for cover, blanket in blankets_on(graph):
        roots += _add_blanket(writer, cover, blanket, materials)
    roots += add_droplets(writer, graph)
    roots += add_grass(writer, graph, manner)
    for done, layer in enumerate(layers):
        step(len(ids) + done, layer.name)
        children = _add_scatter(writer, layer, graph.get(LayerPlacements(layer.id)), manner, materials)
        if children:
            roots.append(writer.node(name=layer.name, children=children))
    step(total, "")
    return writer.finish(roots)


def _add_blanket(writer: GlbWriter, layer: CoverLayer, blanket: Blanket, materials: _ItemMaterials) -> list[int]:
    graph = materials.graph
    sheet = graph.get(LaidSheet(layer.id, False))
    if not len(sheet.faces):
        return []
    # Its material repeats as seen from above; to the right in it is east.
    uv = (sheet.positions[:, [0, 2]] * [1, -1] / graph.get(MaterialTile(blanket.of)).size).astype(np.float32)
    normals = sheet.normals.astype(np.float64)
    along = np.array([1.0, 0.0, 0.0]) - normals * normals[:, :1]
    tangents = np.column_stack([unit(along), np.ones(len(along))]).astype(np.float32)
    brightness = layer.cover.look(graph.document.conditions).brightness
    attributes = {
        "POSITION": sheet.positions, "NORMAL": sheet.normals, "TANGENT": tangents, "TEXCOORD_0": uv,
        "COLOR_0": np.full((len(uv), 3), min(brightness, 1), np.float32),
    }  # fmt: skip
    mesh = writer.mesh(f"{layer.name}, sheet", [(materials.of("", blanket.of), attributes, sheet.faces)])
    return [writer.node(name=f"{layer.name}, sheet", mesh=mesh)]


def _add_water(writer: GlbWriter, graph: Graph) -> int:
    water = graph.document.water
    (x0, _, z0), (x1, _, z1) = graph.get(ObjectMesh("ground")).bounds
    corners = np.array([[x0, 0, z0], [x0, 0, z1], [x1, 0, z1], [x1, 0, z0]], np.float32)
    material = opaque("Water", baseColorFactor=[*water.colour, 0.82], roughnessFactor=0.05, metallicFactor=0.0)
    material.alphaMode = "BLEND"
    normals = np.tile(np.array([0, 1, 0], np.float32), (4, 1))
    attributes = {"POSITION": corners, "NORMAL": normals}
    mesh = writer.mesh("Water", [(writer.material(material), attributes, np.array([0, 1, 2, 0, 2, 3]))])
    return writer.node(name="Water", mesh=mesh, translation=[0.0, water.level, 0.0])
