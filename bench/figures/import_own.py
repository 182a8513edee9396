"""``import.own``: how long a mesh of a million triangles with three pictures of 8,192 pixels a side takes to be read, beside unpacking these pictures, and what is kept of it."""

from __future__ import annotations

import io
from collections.abc import Iterator

import numpy as np
import trimesh
from measuring import Figure, seconds
from PIL import Image
from trimesh.visual import TextureVisuals
from trimesh.visual.material import PBRMaterial

from cenote.formats.apart import read_mesh_apart
from cenote.formats.meshes_in import Found

SIDE, ROUND = 8192, 708


def _pictures() -> list[bytes]:
    """Colours, roughness and normals as files, drawn by chance: as dear to unpack as photographs."""
    rng = np.random.default_rng(1)
    out = []
    for tone in ((150, 120, 90), (255, 140, 0), (128, 128, 250)):
        grain = rng.normal(0, 10, (SIDE // 4, SIDE // 4, 3)) + np.array(tone)
        small = Image.fromarray(np.clip(grain, 0, 255).astype(np.uint8))
        image = small.resize((SIDE, SIDE), Image.Resampling.BICUBIC)
        stream = io.BytesIO()
        image.save(stream, "JPEG", quality=90)
        out.append(stream.getvalue())
    return out


def _scan(pictures: list[bytes]) -> bytes:
    """A bumpy sheet of a million triangles."""
    x, z = np.meshgrid(np.linspace(0, 1, ROUND), np.linspace(0, 1, ROUND))
    points = np.column_stack([x.ravel() * 3, np.sin(x * 40).ravel() * np.sin(z * 30).ravel() * 0.05, z.ravel() * 3])
    at = np.arange(ROUND * ROUND).reshape(ROUND, ROUND)
    a, b, c, d = at[:-1, :-1].ravel(), at[:-1, 1:].ravel(), at[1:, 1:].ravel(), at[1:, :-1].ravel()
    faces = np.concatenate([np.column_stack([a, d, b]), np.column_stack([b, d, c])])
    base, packed, normal = (Image.open(io.BytesIO(one)) for one in pictures)
    material = PBRMaterial(baseColorTexture=base, metallicRoughnessTexture=packed, normalTexture=normal)
    visual = TextureVisuals(uv=np.column_stack([x.ravel(), z.ravel()]), material=material)
    return bytes(trimesh.Trimesh(points, faces, visual=visual, process=False).export(file_type="glb"))


def figures() -> Iterator[Figure]:
    """Seconds from a file's bytes to arrays, against an aim of 30, and megabytes that are kept."""
    pictures = _pictures()
    content = _scan(pictures)
    bare = seconds(lambda: [Image.open(io.BytesIO(one)).load() for one in pictures], 1)
    found: list[Found] = []
    took = seconds(lambda: found.append(read_mesh_apart("scan.glb", content, "m", "y")), 1)
    mesh, own = found[0].mesh, found[0].textures
    kept = sum(array.nbytes for array in (*mesh.as_arrays().values(), *(own.as_arrays() if own else {}).values()))
    yield Figure("import.own", took, "s", "aim 30 s")
    yield Figure("import.own against unpacking its pictures", took / max(bare, 1e-9), "×")
    yield Figure("import.own triangles", len(mesh.faces), "")
    yield Figure("import.own file", len(content) / 1e6, "MB")
    yield Figure("import.own kept", kept / 1e6, "MB")
