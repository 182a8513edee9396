"""What a GLB says of itself, checked before anything is allocated for it (glTF 2.0, sections 3 and 4.4)."""

from __future__ import annotations

import json
import struct
from typing import Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..refused import Refused

# Bytes of a component by its code, and components of an element by the accessor's type.
_COMPONENTS = {5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4}
_ELEMENTS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
_TRIANGLES, _STRIP, _FAN = 4, 5, 6
# What a file may need to be read; of finer points of materials no more is read than there is room for.
_READ = {
    "EXT_texture_webp",
    "KHR_draco_mesh_compression",
    "KHR_mesh_quantization",
    "KHR_texture_transform",
    "KHR_lights_punctual",
}
# Nodes may lie in one another so deep.
_DEEPEST = 200
# A parser takes some 150 kB for each mesh that is placed.
_MOST_PLACED = 10_000
_MOST = 1_000_000
_INT = Field(ge=0, le=2**31 - 1)


class GlbRefused(Refused):
    """A GLB whose description does not hold together. The message says where."""


class _Part(BaseModel):
    """A part of the description, as far as geometry needs it."""

    model_config = ConfigDict(extra="ignore", strict=True)


class _Buffer(_Part):
    byteLength: int = _INT
    uri: str | None = None


class _View(_Part):
    buffer: int = _INT
    byteLength: int = _INT
    byteOffset: int = Field(0, ge=0, le=2**31 - 1)
    byteStride: int = Field(0, ge=0, le=252)


class _Accessor(_Part):
    count: int = _INT
    type: str
    componentType: int
    bufferView: int | None = Field(None, ge=0)
    byteOffset: int = Field(0, ge=0, le=2**31 - 1)


class _Primitive(_Part):
    attributes: dict[str, int] = Field(default_factory=dict)
    indices: int | None = Field(None, ge=0)
    mode: int = Field(_TRIANGLES, ge=0, le=6)


class _Mesh(_Part):
    primitives: list[_Primitive] = Field(max_length=10_000)


class _Node(_Part):
    mesh: int | None = Field(None, ge=0)
    children: list[int] = Field(default_factory=list)


class _Document(_Part):
    extensionsRequired: list[str] = Field(default_factory=list)
    buffers: list[_Buffer] = Field(default_factory=list, max_length=1000)
    bufferViews: list[_View] = Field(default_factory=list, max_length=_MOST)
    accessors: list[_Accessor] = Field(default_factory=list, max_length=_MOST)
    meshes: list[_Mesh] = Field(default_factory=list, max_length=100_000)
    nodes: list[_Node] = Field(default_factory=list, max_length=_MOST)


def check_glb(content: bytes, most_triangles: int) -> None:
    """Check the frame of a GLB, its announced sizes against its content, and how many triangles it comes to.

    :param content: the whole file. :param most_triangles: over all nodes, each with the meshes it shows.
    :raises GlbRefused: with what is wrong and where.
    """
    document, binary = _read(content)
    unread = [one for one in document.extensionsRequired if one not in _READ and not one.startswith("KHR_materials_")]
    if unread:
        needed = ", ".join(sorted(unread))[:200]
        raise GlbRefused(f"It needs {needed}, which is not read here. Export it without compression.")
    if any(one.uri is not None and not one.uri.startswith("data:") for one in document.buffers):
        raise GlbRefused("Its geometry lies in other files. Export it as one GLB with everything embedded.")
    lengths = [len(one.uri) if one.uri is not None else binary for one in document.buffers]
    for row, view in enumerate(document.bufferViews):
        _among(view.buffer, document.buffers, f"bufferViews/{row}/buffer")
        if view.byteOffset + view.byteLength > lengths[view.buffer]:
            raise GlbRefused(_beyond(f"bufferViews/{row}"))
    for row, accessor in enumerate(document.accessors):
        _check_accessor(row, accessor, document)
    triangles = [sum(_triangles(row, k, one, document) for k, one in enumerate(mesh.primitives))
                 for row, mesh in enumerate(document.meshes)]  # fmt: skip
    total = _shown(document, triangles)
    if total > most_triangles:
        raise GlbRefused(f"It has {total:,} triangles; at most {most_triangles:,} are taken. Reduce it and try again.")


def _read(content: bytes) -> tuple[_Document, int]:
    """The description, and the length of the binary chunk."""
    if len(content) < 20:
        raise GlbRefused("The file ends before its header does. It was probably cut off; export or copy it again.")
    _, version, length = struct.unpack_from("<4sII", content)
    if version != 2:
        raise GlbRefused(f"It is glTF version {version}; version 2 is wanted. Export it again as glTF 2.0.")
    if length != len(content):
        raise GlbRefused(
            f"It says it is {length} bytes long but is {len(content)}. It was probably cut off; export or copy it again."
        )
    size, kind = struct.unpack_from("<I4s", content, 12)
    if kind != b"JSON" or 20 + size > len(content):
        raise GlbRefused("Its description is missing or cut off. Export it again.")
    try:
        found: Any = json.loads(content[20 : 20 + size])
    except (ValueError, RecursionError):
        raise GlbRefused("Its description is not readable JSON. Export it again.") from None
    if not isinstance(found, dict):
        raise GlbRefused("Its description is no glTF: it must be an object. Export it again.")
    try:
        document = _Document.model_validate(found)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False, include_input=False)[0]
        where = "/".join(str(step) for step in first["loc"])[:120]
        raise GlbRefused(
            f"Its description does not hold together at {where}: {first['msg']}. Export it again."
        ) from None
    rest = content[20 + size :]
    return document, struct.unpack_from("<I", rest)[0] if len(rest) >= 8 and rest[4:8] == b"BIN\0" else 0


def _among(row: int, entries: list[Any], where: str) -> None:
    if not 0 <= row < len(entries):
        raise GlbRefused(f"Its description does not hold together at {where}: there is no {row}. Export it again.")


def _beyond(where: str) -> str:
    return (
        f"Its description does not hold together at {where}: it reaches beyond the data of the file. Export it again."
    )


def _check_accessor(row: int, accessor: _Accessor, document: _Document) -> None:
    where = f"accessors/{row}"
    if accessor.componentType not in _COMPONENTS or accessor.type not in _ELEMENTS:
        raise GlbRefused(
            f"Its description does not hold together at {where}: no such type of numbers. Export it again."
        )
    element = _COMPONENTS[accessor.componentType] * _ELEMENTS[accessor.type]
    if accessor.bufferView is None:
        # Zeros, or sparse values over zeros: nothing in the file stands against their number.
        if accessor.count > 3 * _MOST:
            raise GlbRefused(_beyond(f"{where}/count"))
        return
    _among(accessor.bufferView, document.bufferViews, f"{where}/bufferView")
    view = document.bufferViews[accessor.bufferView]
    stride = view.byteStride or element
    if accessor.count and accessor.byteOffset + (accessor.count - 1) * stride + element > view.byteLength:
        raise GlbRefused(_beyond(f"{where}/count"))


def _triangles(mesh: int, row: int, primitive: _Primitive, document: _Document) -> int:
    where = f"meshes/{mesh}/primitives/{row}"
    for name, accessor in primitive.attributes.items():
        _among(accessor, document.accessors, f"{where}/attributes/{name[:40]}")
    index = primitive.indices if primitive.indices is not None else primitive.attributes.get("POSITION")
    if index is None or primitive.mode < _TRIANGLES:
        return 0
    _among(index, document.accessors, f"{where}/indices")
    count = document.accessors[index].count
    return count // 3 if primitive.mode == _TRIANGLES else max(0, count - 2)


def _shown(document: _Document, triangles: list[int]) -> int:
    """Triangles over all nodes, each with its mesh; meshes that no node shows count once.

    :raises GlbRefused: for nodes that lie in themselves.
    """
    shown = set[int]()
    total = 0
    parents = [0] * len(document.nodes)
    for row, node in enumerate(document.nodes):
        if node.mesh is not None:
            _among(node.mesh, document.meshes, f"nodes/{row}/mesh")
            shown.add(node.mesh)
            total += triangles[node.mesh]
        for child in node.children:
            _among(child, document.nodes, f"nodes/{row}/children")
            parents[child] += 1
            if parents[child] > 1:
                raise GlbRefused(f"Its description does not hold together at nodes/{row}/children: {child} lies in two "
                                 "nodes. Export it again.")  # fmt: skip
    placed = sum(node.mesh is not None for node in document.nodes)
    if placed > _MOST_PLACED:
        raise GlbRefused(f"It shows its meshes {placed:,} times; at most {_MOST_PLACED:,} are taken. Join them and export it "
                         "again, or bring one of them in and repeat it here.")  # fmt: skip
    layer, depth, seen = [row for row, count in enumerate(parents) if not count], 0, 0
    while layer:
        seen += len(layer)
        depth += 1
        layer = [child for row in layer for child in document.nodes[row].children]
        if depth > _DEEPEST:
            raise GlbRefused(f"Its nodes lie in one another more than {_DEEPEST} deep. Export it again with fewer.")
    if seen < len(document.nodes):
        raise GlbRefused("Its description does not hold together at nodes: some lie in themselves. Export it again.")
    return total + sum(count for row, count in enumerate(triangles) if row not in shown)
