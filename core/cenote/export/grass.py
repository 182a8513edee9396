"""Grass in binary glTF 2.0: each shape of blade once, and where all its copies stand; or as ribbons."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..derive.copies import Manner
from ..derive.graph import Graph
from ..derive.grass import LyingGrass, grown_surfaces, season_of, sown, sway_of_grass
from ..derive.site import Site
from ..formats.glb import ExportRefused, GlbWriter, opaque
from ..grass.blades import Blades
from ..grass.layer import Grass
from ..grass.strands import Ribbons, ribbons

_INSTANCING = "EXT_mesh_gpu_instancing"
# Ribbons that a file takes, at most.
_MOST_RIBBONS = 1_500_000


def add_grass(writer: GlbWriter, graph: Graph, manner: Manner) -> list[int]:
    """Write a site's grass: a node for each layer, with one for every surface and, where it is instanced, every shape.

    :raises ExportRefused: if merged ribbons are more than a file takes.
    """
    site, nodes, material = Site(graph), dict[str, list[int]](), -1
    names: dict[str, str] = {}
    for layer, id in grown_surfaces(graph):
        blades: Blades = graph.get(LyingGrass(layer.id, id)).blades
        if not len(blades):
            continue
        if material < 0:
            found = opaque("Grass", roughnessFactor=0.6, metallicFactor=0.0)
            found.doubleSided = True
            material = writer.material(found)
        wide, season = sown(site, layer.id, id).wide, season_of(site)
        title = f"{layer.name} on {site.title(id)}"
        if manner == "merged":
            if len(blades) > _MOST_RIBBONS:
                raise ExportRefused(
                    f"Merged, “{layer.name}” comes to {len(blades) / 1e6:.1f} million blades, too many for one file. Export it instanced."
                )
            made = ribbons(layer, blades, season, wide, sway_of_grass(site, layer))
            found_nodes = [writer.node(name=title, mesh=writer.mesh(title, [(material, _columns(made), made.faces)]))]
        else:
            found_nodes = _instanced(writer, layer, blades, season, wide, material, title)
        nodes.setdefault(layer.id, []).extend(found_nodes)
        names[layer.id] = layer.name
    return [writer.node(name=names[layer], children=children) for layer, children in nodes.items()]


def _columns(made: Ribbons) -> dict[str, np.ndarray]:
    return {"POSITION": made.positions, "NORMAL": made.normals, "COLOR_0": made.colours}


def _instanced(
    writer: GlbWriter, layer: Grass, blades: Blades, season: np.ndarray, wide: float, material: int, title: str
) -> list[int]:
    """A mesh for each shape, alive and dead, of a blade as long as their mean, and its copies."""
    out = []
    for dead in (False, True):
        for shape in np.unique(blades.shapes[blades.dead == dead]):
            mine = blades.only((blades.shapes == shape) & (blades.dead == dead))
            mean = float(mine.lengths.mean())
            one = replace(
                mine.only(np.zeros(1, np.int64)),
                positions=np.zeros((1, 3), np.float32),
                normals=np.array([[0, 1, 0]], np.float32),
                turns=np.zeros(1, np.float32),
                lengths=np.full(1, mean, np.float32),
                tones=np.ones(1, np.float32),
            )
            made = ribbons(layer, one, season, wide)
            name = f"{title}, blade {shape + 1}" + (", dead" if dead else "")
            mesh = writer.mesh(name, [(material, _columns(made), made.faces)])
            half = mine.turns.astype(np.float64) / 2
            still = np.zeros(len(mine))
            # A blade is as wide as it is, whatever its length.
            scale = np.column_stack([np.ones(len(mine)), mine.lengths / mean, mine.lengths / mean])
            table = {
                "TRANSLATION": mine.positions,
                "ROTATION": np.column_stack([still, np.sin(half), still, np.cos(half)]).astype(np.float32),
                "SCALE": scale.astype(np.float32),
                # As for all placed items: the factor on each copy's colour.
                "_TINT": np.repeat(mine.tones[:, None], 3, axis=1),
            }
            extension = {_INSTANCING: {"attributes": {key: writer.accessor(value) for key, value in table.items()}}}
            out.append(writer.node(name=name, mesh=mesh, extensions=extension))
    for used in (writer.file.extensionsUsed, writer.file.extensionsRequired):
        if _INSTANCING not in used:
            used.append(_INSTANCING)
    return out
