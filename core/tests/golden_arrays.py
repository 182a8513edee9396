"""Every family's arrays on the small sites, by name."""

from __future__ import annotations

import numpy as np
from golden_sites import covers_site, each_cover, every_signal, planted_site, signals_site

from cenote.decals.base import DECALS
from cenote.decals.laying import picture_of
from cenote.derive.cache import memory_cache
from cenote.derive.coats import CoatLooks, CoatMasks, coat_amounts
from cenote.derive.colours import AverageColour, FaceColours
from cenote.derive.fields import CellField, ComputedField
from cenote.derive.graph import Graph
from cenote.derive.ground import GroundHeights, Pools
from cenote.derive.items import ItemPack, StandIn
from cenote.derive.maps import PreviewMaps, SurfaceMaps
from cenote.derive.matching import suggested_for
from cenote.derive.planting import LayerPlacements
from cenote.derive.reports import Histogram, covered, report
from cenote.derive.sheets import LaidSheet, blankets_on
from cenote.derive.surfaces import ObjectAtlas, ObjectCells, ObjectMesh, ObjectShape
from cenote.derive.tiles import MaterialTile
from cenote.droplets.base import DROPLETS, Moment
from cenote.droplets.drops import Wetted
from cenote.geometry.mesh import corner_normals
from cenote.kit.base import KIT
from cenote.kit.shelf import SHIPPED
from cenote.materials.base import MATERIALS
from cenote.registry import kind_of
from cenote.structures.base import MAKERS
from cenote.structures.turned_pieces import Bell

Arrays = dict[str, np.ndarray]
_MAPS = ("base", "orm", "normal", "height")


def _mesh(mesh, prefix: str) -> Arrays:
    return {f"{prefix}/{name}": getattr(mesh, name) for name in ("positions", "faces", "parts")}


def families() -> Arrays:
    """Structures, kit items, materials and decals, as they are by themselves."""
    out: Arrays = {}
    for maker in MAKERS:
        out |= _mesh(maker().build(), f"structures/{maker.model_fields['kind'].default}")
    for item in KIT:
        kind = str(item.model_fields["kind"].default)
        for detail in (0, 2):
            out |= _mesh(SHIPPED.mesh(kind, 0, detail), f"kit/{kind}/{detail}")
    graph = Graph(planted_site(), memory_cache())
    for material in MATERIALS:
        out[f"tiles/{material.kind}"] = graph.get(MaterialTile(material.kind)).pixels
    mesh = Bell().build()
    angles = np.tile([1.5, 0.8, 1.0], (len(mesh.part_names), 1))
    bell = Wetted(mesh.corners, corner_normals(mesh), mesh.parts, angles, lambda faces, weights: np.ones(len(faces)))
    for way in DROPLETS:
        given = {"after": 0.1} if "after" in way.model_fields else {}
        drops = way.model_validate({"kind": kind_of(way)} | given).lie(bell, np.uint64(9), Moment(0.3))
        out[f"droplets/{kind_of(way)}"] = np.column_stack([drops.positions, drops.volumes * 1e6]).astype(np.float32)
    for decal in DECALS:
        ink = picture_of(decal(), decal.size, 96)
        count = len(ink.opacity)
        rows = [np.broadcast_to(ink.colour, (count, 3)).T, *(np.broadcast_to(one, (1, count)) for one in (ink.opacity, ink.rough, ink.relief, ink.hides))]  # fmt: skip
        out[f"decals/{decal.model_fields['kind'].default}"] = np.concatenate(rows).astype(np.float32)
    return out


def planted() -> Arrays:
    """What is placed, and what it looks like."""
    out: Arrays = {}
    graph = Graph(planted_site(), memory_cache())
    for kind in ("fern", "alder", "barrel", "own-fern", "dead_leaves"):
        out |= {f"items/{kind}/{name}": array for name, array in graph.get(ItemPack(kind, 1)).items()}
        out |= {f"stand-ins/{kind}/{name}": array for name, array in graph.get(StandIn(kind)).items()}
        out[f"items/{kind}/looks"] = graph.get(FaceColours(kind, 0))
        out[f"items/{kind}/average"] = graph.get(AverageColour(kind))
    for layer in graph.document.planting:
        placed = graph.get(LayerPlacements(layer.id))
        for name in ("ids", "items", "variants", "positions", "rotations", "sizes", "tints", "origins"):
            out[f"placements/{layer.id}/{name}"] = getattr(placed, name)
    match = suggested_for(graph, graph.document.planting[1], 0)
    out["placements/match"] = np.array([*match.tint, match.tinted, match.brightness, match.saturation])
    return out


def measured() -> Arrays:
    """The ground, layouts, and every signal on every surface."""
    out: Arrays = {}
    graph = Graph(signals_site(), memory_cache())
    out["ground/heights"] = graph.get(GroundHeights()).heights
    for k, (level, corners) in enumerate(graph.get(Pools())):
        out[f"ground/pool {k}"] = np.append(corners.ravel(), level)
    for id in graph.document.surface_ids():
        out |= _mesh(graph.get(ObjectMesh(id)), f"surfaces/{id}")
        out[f"surfaces/{id}/atlas"] = graph.get(ObjectAtlas(id)).corners
        out[f"surfaces/{id}/areas"] = graph.get(ObjectCells(id)).areas
        for signal in every_signal():
            name = f"signals/{signal.kind}/{id}"
            out[name] = graph.get(CellField(id, signal, 0))
            if id == "crates":
                if not signal.on_cells:
                    out[f"{name} on texels"] = graph.get(ComputedField(id, signal, 1))
                out[f"{name} coarse"] = graph.get(CellField(id, signal, -1))
                out[f"{name} histogram"] = graph.get(Histogram(id, signal))
    return out


def weathered() -> Arrays:
    """Every cover by itself, and all of them over one another."""
    out: Arrays = {}
    cache = memory_cache()
    for id, document in each_cover():
        graph = Graph(document, cache)
        for surface in ("ground", "wall", "barrel"):
            maps = graph.get(SurfaceMaps(surface, graph.get(ObjectShape(surface)).coarsest_level))
            out |= {f"covers/{id}/{surface}/{name}": getattr(maps, name) for name in _MAPS}
        out[f"covers/{id}/covered"] = np.array(covered(graph, document.weather[0]))
    document = covers_site()
    graph = Graph(document, cache)
    for surface in ("ground", "wall", "barrel"):
        for level in (0, 1):
            maps = graph.get(SurfaceMaps(surface, level))
            out |= {f"maps/{surface}/{level}/{name}": getattr(maps, name) for name in _MAPS}
        out[f"maps/{surface}/preview"] = graph.get(PreviewMaps(surface, -1)).base
        out[f"maps/{surface}/bare"] = graph.get(SurfaceMaps(surface, 0, bare=True)).base
    for layer, _ in blankets_on(graph):
        for coarse in (True, False):
            sheet = graph.get(LaidSheet(layer.id, coarse))
            out |= {f"sheets/{layer.id}/{coarse}/{name}": getattr(sheet, name) for name in ("positions", "faces")}
    meadow = document.planting[0]
    out["coats/masks"] = graph.get(CoatMasks(meadow.id))
    out["coats/amounts"] = coat_amounts(graph, meadow.id)
    looks = graph.get(CoatLooks())
    out["coats/looks"] = np.array([[c.strength, *c.colour, c.opacity, c.soak, c.above] for c in looks])
    found = report(graph, document.weather[0].where, ["ground", "wall"], document.weather[0])
    out["reports/covered"] = np.array([found.covered, found.area])
    out |= {f"reports/card {k}": card.histogram for k, card in enumerate(found.cards)}
    return out


def arrays() -> Arrays:
    """All of them."""
    return families() | planted() | measured() | weathered()
