"""Drops of water in binary glTF 2.0: closed pieces that light goes through."""

from __future__ import annotations

import pygltflib as gltf

from ..derive.droplets import DropletMesh, wet_surfaces
from ..derive.graph import Graph
from ..derive.site import Site
from ..formats.glb import GlbWriter, opaque

# Ratified extensions: light through it, its refractive index, and that it has a thickness, metres.
_WATER = {
    "KHR_materials_transmission": {"transmissionFactor": 1.0},
    "KHR_materials_ior": {"ior": 1.333},
    "KHR_materials_volume": {"thicknessFactor": 0.002},
}


def add_droplets(writer: GlbWriter, graph: Graph) -> list[int]:
    """Write a site's drops: the nodes of its layers, each with a mesh for every surface that they lie on."""
    site, nodes, material = Site(graph), dict[str, list[int]](), -1
    names = {}
    for layer, id in wet_surfaces(graph):
        mesh = graph.get(DropletMesh(layer.id, id, True))
        if not len(mesh.faces):
            continue
        if material < 0:
            material = writer.material(_water())
            for name in _WATER:
                if name not in writer.file.extensionsUsed:
                    writer.file.extensionsUsed.append(name)
        attributes = {"POSITION": mesh.positions, "NORMAL": mesh.normals}
        title = f"{layer.name} on {site.title(id)}"
        written = writer.mesh(title, [(material, attributes, mesh.faces)])
        nodes.setdefault(layer.id, []).append(writer.node(name=title, mesh=written))
        names[layer.id] = layer.name
    return [writer.node(name=names[layer], children=children) for layer, children in nodes.items()]


def _water() -> gltf.Material:
    material = opaque("Drops of water", baseColorFactor=[1.0, 1.0, 1.0, 1.0], roughnessFactor=0.0, metallicFactor=0.0)
    material.extensions = {name: dict(value) for name, value in _WATER.items()}
    return material
