"""Binary glTF whose numbers are packed, as plain floats: what parsers that know no packing read.

Quantised attributes (KHR_mesh_quantization) become floats; what a picture is shifted, turned and scaled by (KHR_texture_transform) goes into the texture
coordinates of what is wrapped in it.
"""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np

from ..refused import ImportRefused

# What a component is, and what stands for 1 where it is normalised.
_DTYPES = {5120: ("i1", 127), 5121: ("u1", 255), 5122: ("<i2", 32767), 5123: ("<u2", 65535), 5126: ("<f4", 1)}
_FLOAT, _WIDTHS = 5126, {"VEC2": 2, "VEC3": 3, "VEC4": 4}
_PACKED = ("POSITION", "NORMAL", "TEXCOORD_0")
_DRACO, _TRANSFORM, _QUANTISED = "KHR_draco_mesh_compression", "KHR_texture_transform", "KHR_mesh_quantization"


def plain_glb(content: bytes) -> bytes:
    """A GLB that says the same without packed numbers; itself where it has none.

    :param content: a file that :func:`cenote.formats.glb_check.check_glb` has let through.
    :raises ImportRefused: if its numbers are packed and do not lie in its own binary part.
    """
    size = struct.unpack_from("<I", content, 12)[0]
    head: dict[str, Any] = json.loads(content[20 : 20 + size])
    there = memoryview(content)[28 + size :]
    if not {_TRANSFORM, _QUANTISED} & {*head.get("extensionsUsed", ()), *head.get("extensionsRequired", ())}:
        return content
    if "uri" in head["buffers"][0] or len(head["buffers"]) > 1:
        raise ImportRefused("Its numbers are packed, and do not lie in one binary part. Export it again as one GLB.")
    binary = bytearray(there)
    # Many primitives may share what they read: each is made plain once.
    plain: dict[tuple[int, bytes], int] = {}
    for mesh in head.get("meshes", ()):
        for primitive in mesh.get("primitives", ()):
            if _DRACO in primitive.get("extensions", {}):
                continue
            matrix = _transform(head, primitive.get("material"))
            for name in _PACKED:
                row = primitive.get("attributes", {}).get(name)
                moved = matrix if name == "TEXCOORD_0" else None
                if row is None or (head["accessors"][row]["componentType"] == _FLOAT and moved is None):
                    continue
                at = row, b"" if moved is None else moved.tobytes()
                if at not in plain:
                    values = _floats(head, there, row)
                    if moved is not None:
                        values = (values @ moved[:, :2].T + moved[:, 2]).astype(np.float32)
                    plain[at] = _added(head, binary, values)
                primitive["attributes"][name] = plain[at]
    head["extensionsRequired"] = [
        one for one in head.get("extensionsRequired", ()) if one not in (_TRANSFORM, _QUANTISED)
    ]
    head["buffers"][0]["byteLength"] = len(binary)
    text = json.dumps(head).encode()
    text += b" " * (-len(text) % 4)
    whole = 12 + 8 + len(text) + 8 + len(binary)
    return b"".join([struct.pack("<4sII", b"glTF", 2, whole), struct.pack("<I4s", len(text), b"JSON"), text,
                     struct.pack("<I4s", len(binary), b"BIN\0"), bytes(binary)])  # fmt: skip


def _floats(head: dict[str, Any], binary: memoryview, row: int) -> np.ndarray:
    """The numbers of an accessor, float32 (N, k)."""
    accessor = head["accessors"][row]
    name, one = _DTYPES[accessor["componentType"]]
    dtype, width = np.dtype(name), _WIDTHS[accessor["type"]]
    count = accessor["count"]
    if "bufferView" not in accessor:
        return np.zeros((count, width), np.float32)
    view = head["bufferViews"][accessor["bufferView"]]
    start = view.get("byteOffset", 0) + accessor.get("byteOffset", 0)
    stride = view.get("byteStride") or dtype.itemsize * width
    found = np.ndarray((count, width), dtype, binary, start, (stride, dtype.itemsize)).astype(np.float32)
    return np.asarray(np.maximum(found / np.float32(one), -1)) if accessor.get("normalized") else found


def _added(head: dict[str, Any], binary: bytearray, values: np.ndarray) -> int:
    """Add float32 (N, k) to a file. :returns: the row of its accessor."""
    binary.extend(b"\0" * (-len(binary) % 4))
    head["bufferViews"].append({"buffer": 0, "byteOffset": len(binary), "byteLength": values.nbytes})
    binary.extend(np.ascontiguousarray(values).tobytes())
    kind = next(name for name, width in _WIDTHS.items() if width == values.shape[1])
    accessor: dict[str, Any] = {
        "bufferView": len(head["bufferViews"]) - 1,
        "componentType": _FLOAT,
        "count": len(values),
        "type": kind,
    }
    if len(values):
        accessor |= {"min": values.min(0).tolist(), "max": values.max(0).tolist()}
    head["accessors"].append(accessor)
    return len(head["accessors"]) - 1


def _transform(head: dict[str, Any], material: int | None) -> np.ndarray | None:
    """What texture coordinates of a material's colours go through, float (2, 3); None for nothing. Its other pictures are taken to be shifted as these are."""
    if material is None:
        return None
    texture = head.get("materials", [])[material].get("pbrMetallicRoughness", {}).get("baseColorTexture", {})
    given = texture.get("extensions", {}).get(_TRANSFORM)
    if given is None:
        return None
    (x, y), (across, down), turn = given.get("offset", (0, 0)), given.get("scale", (1, 1)), given.get("rotation", 0.0)
    c, s = np.cos(turn), np.sin(turn)
    return np.array([[c * across, s * down, x], [-s * across, c * down, y]], float)
