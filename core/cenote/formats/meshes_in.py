"""Meshes from files: GLB, OBJ, PLY and STL, alone or in a zip with their materials and pictures, checked before and after they are parsed."""

from __future__ import annotations

import io
import logging
import zipfile
import zlib
from collections.abc import Collection
from dataclasses import dataclass, replace

import numpy as np
import trimesh
import trimesh.resolvers
from PIL import Image

from ..geometry.mesh import Mesh, MeshError, checked, join
from ..materials.own_textures import OwnTextures
from ..refused import ImportRefused
from .glb_check import GlbRefused, check_glb
from .glb_plain import plain_glb
from .own_textures_in import Told, Wrapping, kept_within, together, wrapping_of

MOST_BYTES = 200 * 1024**2
MOST_TRIANGLES = 1_000_000
# A parser makes a mesh of each change of material, some milliseconds each.
_MOST_CHANGES = 2_000
_FARTHEST = 1e6
# Formats of meshes, by what their names end in.
KINDS = ("glb", "obj", "ply", "stl")
# What a zip may hold, and pixels of a picture.
_MOST_FILES, MOST_UNPACKED, MOST_PICTURE = 200, 1024**3, 8192 * 8192
UNITS = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048}


@dataclass(frozen=True)
class Found:
    """What a file holds: its mesh in metres standing on y = 0 about the origin, what its parts are wrapped in, and remarks on it.

    :ivar textures: None where the file says nothing of any.
    """

    mesh: Mesh
    remarks: list[str]
    textures: OwnTextures | None = None


def kind_of(name: str, head: bytes) -> str:
    """Tell the format from the content, and check that the name says the same.

    :param head: the first bytes of the file, at least 512 of them where it has them.
    :raises ImportRefused: for other formats, and for files whose content is not what their name says.
    """
    ending = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    if ending not in (*KINDS, "zip"):
        raise ImportRefused(
            f"“{name}” is not a .glb, .obj, .ply, .stl or .zip file. Save it as one of these and try again."
        )
    if ending == "glb" and head[:4] != b"glTF":
        raise ImportRefused(f"“{name}” is called .glb but does not hold binary glTF. Export it again as GLB.")
    if ending == "obj" and (head[:4] == b"glTF" or b"\0" in head):
        raise ImportRefused(f"“{name}” is called .obj but holds binary data. Export it again as OBJ.")
    if ending == "ply" and head[:3] != b"ply":
        raise ImportRefused(f"“{name}” is called .ply but does not begin as one. Export it again as PLY.")
    if ending == "zip" and head[:4] != b"PK\3\4":
        raise ImportRefused(f"“{name}” is called .zip but is none, or is empty. Pack the files again.")
    return ending


def unpacked(name: str, content: bytes) -> tuple[str, dict[str, bytes]]:
    """The name of the one mesh of a zip, and its files by name without their folders.

    :raises ImportRefused: if it holds no mesh or several, or more than may be unpacked.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = [
                one for one in archive.infolist() if not one.is_dir() and not one.filename.startswith("__MACOSX/")
            ]
            if len(entries) > _MOST_FILES or sum(one.file_size for one in entries) > MOST_UNPACKED:
                raise ImportRefused(
                    f"“{name}” holds more than {_MOST_FILES} files or {MOST_UNPACKED // 1024**2} MB. Pack only the mesh, its materials and pictures."
                )
            files = {one.filename.replace("\\", "/").rsplit("/", 1)[-1]: archive.read(one) for one in entries}
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, OSError, EOFError, zlib.error) as error:
        raise ImportRefused(
            f"“{name}” could not be unpacked ({error}). Pack the files again, without a password."
        ) from None
    meshes = [one for one in files if one.rsplit(".", 1)[-1].lower() in KINDS]
    if len(meshes) != 1:
        found = "no mesh" if not meshes else f"{len(meshes)} meshes ({', '.join(sorted(meshes)[:4])})"
        raise ImportRefused(f"“{name}” holds {found}; one .glb, .obj, .ply or .stl is wanted. Pack each by itself.")
    return meshes[0], files


def _check_obj(content: bytes) -> None:
    faces = content.count(b"\nf ") + content.startswith(b"f ")
    if not faces:
        raise ImportRefused("It holds no faces. Export it again with its polygons.")
    if faces > MOST_TRIANGLES:
        raise ImportRefused(f"It has {faces:,} faces; at most {MOST_TRIANGLES:,} are taken. Reduce it and try again.")
    changes = sum(content.count(b"\n" + word) for word in (b"usemtl ", b"g ", b"o "))
    if changes > _MOST_CHANGES:
        raise ImportRefused(
            f"Its faces change their material or group {changes:,} times; at most {_MOST_CHANGES:,} are taken. Join what "
            "is of one material and export it again."
        )


def _check_stl(content: bytes) -> None:
    if len(content) >= 84 and len(content) == 84 + 50 * int.from_bytes(content[80:84], "little"):
        count = int.from_bytes(content[80:84], "little")
    else:
        count = content.count(b"endfacet")
    if not count:
        raise ImportRefused("It holds no triangles, or was cut off. Export it again as STL.")
    if count > MOST_TRIANGLES:
        raise ImportRefused(
            f"It has {count:,} triangles; at most {MOST_TRIANGLES:,} are taken. Reduce it and try again."
        )


def check_file(name: str, content: bytes, unit: str, up: str) -> str:
    """Check what can be told of a file without parsing its geometry. :returns: its format, one of :data:`KINDS` or ``zip``.

    :raises ImportRefused: with the reason, for what cannot be used.
    """
    if unit not in UNITS:
        raise ImportRefused(f"The unit “{unit}” is not one of {', '.join(UNITS)}.")
    if up not in ("y", "z"):
        raise ImportRefused("The upward axis must be y or z.")
    if len(content) > MOST_BYTES:
        raise ImportRefused(f"It is {len(content) / 1e6:.0f} MB; at most {MOST_BYTES // 1024**2} MB are taken.")
    kind = kind_of(name, content[:512])
    if kind == "obj":
        _check_obj(content)
    if kind == "stl":
        _check_stl(content)
    if kind != "glb":
        return kind
    try:
        check_glb(content, MOST_TRIANGLES)
    except GlbRefused as refusal:
        raise ImportRefused(str(refusal)) from None
    return kind


def read_mesh(name: str, content: bytes, unit: str = "m", up: str = "y") -> Found:
    """Read a mesh from a file's content.

    :param unit: a key of :data:`UNITS`: what one unit of the file is.
    :param up: ``y`` or ``z``, the axis that points up in the file.
    :raises ImportRefused: with the reason, for anything that cannot be used.
    """
    kind = check_file(name, content, unit, up)
    files: dict[str, bytes] = {}
    if kind == "zip":
        name, files = unpacked(name, content)
        content = files[name]
        kind = check_file(name, content, unit, up)
    logging.getLogger("trimesh").setLevel(logging.ERROR)
    try:
        scene = _loaded(kind, content, files)
        # What has no materials of its own is given grey ones by the parser.
        told = kind == "glb" or (kind == "obj" and any(one.lower().endswith(".mtl") for one in files))
        pieces, wrappings = _pieces(scene, kind == "glb", told)
    except ImportRefused:
        raise
    except Exception as error:  # whatever a parser stumbles over, it is the file that is at fault
        raise ImportRefused(f"It could not be read ({type(error).__name__}: {error}). Export it again.") from error
    if not pieces:
        raise ImportRefused("It holds no triangles. Lines, points and curves are not taken; convert them to a mesh.")
    whole = found_mesh(join(pieces), UNITS[unit], up)
    if kind == "obj" and not told and b"mtllib " in content:
        whole.remarks.append(
            "Its materials and pictures are files beside it, which did not come along. Pack them into a zip with it, and bring that in."
        )
    if not wrappings:
        return whole
    kept, smaller = kept_within(
        [wrappings[part].texture if part in wrappings else None for part in whole.mesh.part_names]
    )
    remarks = [*whole.remarks, *together(wrappings.values()), *([smaller] if smaller else [])]
    return Found(whole.mesh, remarks, kept)


def _pieces(scene: trimesh.Scene, linear: bool, told: bool) -> tuple[list[Mesh], dict[str, Wrapping]]:
    """The meshes of a file, each a part under a name of its own, and what they are wrapped in by these names.

    :param linear: as for :func:`.own_textures_in.wrapping_of`. :param told: whether the file tells of materials; if not, colours of corners alone are taken over.
    """
    pieces: list[Mesh] = []
    wrappings: dict[str, Wrapping] = {}
    labels: dict[str, str] = {}
    known: dict[int, Told] = {}
    for node in scene.graph.nodes_geometry:
        matrix, geometry_name = scene.graph[node]
        geometry, name = scene.geometry[geometry_name], str(geometry_name)
        if not isinstance(geometry, trimesh.Trimesh) or not len(geometry.faces):
            continue
        if name not in labels:
            labels[name] = _unlike(name[:60] or "part", labels.values())
            plain = not told and geometry.visual is not None and geometry.visual.kind == "texture"
            if not plain and (found := wrapping_of(geometry, linear, known)):
                wrappings[labels[name]] = found
        own = wrappings.get(labels[name])
        wrapped = (None, None) if own is None else (own.colours, own.uv)
        pieces.append(Mesh.of(geometry.vertices, geometry.faces, labels[name], *wrapped).moved(np.asarray(matrix)))
    return pieces, wrappings


def _loaded(kind: str, content: bytes, files: dict[str, bytes]) -> trimesh.Scene:
    """A file as its parser sees it: no file is ever opened but those of its own zip."""
    Image.MAX_IMAGE_PIXELS = MOST_PICTURE
    content = plain_glb(content) if kind == "glb" else content
    resolver = trimesh.resolvers.ZipResolver({name: io.BytesIO(one) for name, one in files.items()})
    return trimesh.load_scene(io.BytesIO(content), file_type=kind, process=False, resolver=resolver)


def _unlike(label: str, others: Collection[str]) -> str:
    """A label that no other has."""
    number, found = 2, label
    while found in others:
        found, number = f"{label[:55]} {number}", number + 1
    return found


def found_mesh(mesh: Mesh, scale: float, up: str) -> Found:
    """Bring a mesh to metres, upright, standing on y = 0 about the origin, and remark on its size.

    :raises ImportRefused: if it cannot be used.
    """
    if len(mesh.faces) > MOST_TRIANGLES:
        raise ImportRefused(
            f"It has {len(mesh.faces):,} triangles; at most {MOST_TRIANGLES:,} are taken. Reduce it and try again."
        )
    if not np.isfinite(mesh.positions).all():
        bad = int((~np.isfinite(mesh.positions)).any(1).sum())
        raise ImportRefused(f"{bad:,} of its vertices are not finite numbers. Repair the mesh and export it again.")
    matrix = np.diag([scale, scale, scale, 1.0])
    if up == "z":
        matrix = matrix @ np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]])
    mesh = mesh.moved(matrix)
    if np.abs(mesh.positions).max() > _FARTHEST:
        raise ImportRefused("It reaches more than 1,000 km from its origin. Check the unit, or move it to its origin.")
    try:
        mesh = checked(mesh)
    except MeshError as error:
        raise ImportRefused(f"It cannot be used: {error}. Repair the mesh and export it again.") from None
    used = np.unique(mesh.faces)
    low, high = mesh.positions[used].min(0), mesh.positions[used].max(0)
    mesh = replace(
        mesh, positions=mesh.positions - np.array([(low[0] + high[0]) / 2, low[1], (low[2] + high[2]) / 2], np.float32)
    )
    size = high - low
    remarks = []
    if size.max() > 500:
        remarks.append(f"It is {size.max():,.0f} m long. If that is too much, its unit is probably not the one chosen.")
    if size.max() < 0.02:
        remarks.append(f"It is only {size.max() * 1000:.1f} mm long. If that is too little, try a larger unit.")
    if size[1] < 0.02 * max(size[0], size[2]) and size[2] > 0:
        remarks.append("It is very flat. If it should stand, choose the other upward axis.")
    return Found(mesh, remarks)
