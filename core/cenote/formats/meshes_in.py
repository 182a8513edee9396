"""Meshes from files: GLB and OBJ, checked before and after they are parsed."""

from __future__ import annotations

import io
import logging
from dataclasses import dataclass, replace

import numpy as np
import trimesh

from ..geometry.mesh import Mesh, MeshError, checked, join
from ..refused import Refused
from .glb_check import GlbRefused, check_glb

MOST_BYTES = 200 * 1024**2
MOST_TRIANGLES = 1_000_000
# A parser makes a mesh of each change of material, some milliseconds each.
_MOST_CHANGES = 2_000
_FARTHEST = 1e6
UNITS = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048}


class ImportRefused(Refused):
    """A file that cannot be taken in. The message says what is wrong with it and what to do."""


@dataclass(frozen=True)
class Found:
    """What a file holds: its mesh in metres standing on y = 0 about the origin, and remarks on its size."""

    mesh: Mesh
    remarks: list[str]


def kind_of(name: str, head: bytes) -> str:
    """Tell the format from the content, and check that the name says the same.

    :param head: the first bytes of the file, at least 512 of them where it has them.
    :raises ImportRefused: for other formats, and for files whose content is not what their name says.
    """
    ending = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    if ending not in ("glb", "obj"):
        raise ImportRefused(f"“{name}” is not a .glb or .obj file. Save it as one of these and try again.")
    if ending == "glb" and head[:4] != b"glTF":
        raise ImportRefused(f"“{name}” is called .glb but does not hold binary glTF. Export it again as GLB.")
    if ending == "obj" and (head[:4] == b"glTF" or b"\0" in head):
        raise ImportRefused(f"“{name}” is called .obj but holds binary data. Export it again as OBJ.")
    return ending


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


def check_file(name: str, content: bytes, unit: str, up: str) -> str:
    """Check what can be told of a file without parsing its geometry. :returns: its format, ``glb`` or ``obj``.

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
    logging.getLogger("trimesh").setLevel(logging.ERROR)
    try:
        # Materials and pictures are left out: no file beside this one is ever opened.
        scene = trimesh.load_scene(io.BytesIO(content), file_type=kind, skip_materials=True, process=False)
        pieces = []
        for node in scene.graph.nodes_geometry:
            matrix, geometry_name = scene.graph[node]
            geometry = scene.geometry[geometry_name]
            if isinstance(geometry, trimesh.Trimesh) and len(geometry.faces):
                piece = Mesh.of(geometry.vertices, geometry.faces, str(geometry_name)[:60])
                pieces.append(piece.moved(np.asarray(matrix)))
    except Exception as error:  # whatever a parser stumbles over, it is the file that is at fault
        raise ImportRefused(f"It could not be read ({type(error).__name__}: {error}). Export it again.") from error
    if not pieces:
        raise ImportRefused("It holds no triangles. Lines, points and curves are not taken; convert them to a mesh.")
    return found_mesh(join(pieces), UNITS[unit], up)


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
