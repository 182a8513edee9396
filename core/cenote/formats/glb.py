"""Binary glTF 2.0, piece by piece."""

from __future__ import annotations

import io

import numpy as np
import pygltflib as gltf
from PIL import Image

from ..refused import Refused

_COMPONENT = {
    "float32": gltf.FLOAT,
    "uint32": gltf.UNSIGNED_INT,
    "uint8": gltf.UNSIGNED_BYTE,
    "uint16": gltf.UNSIGNED_SHORT,
}
_SHAPE = {(): "SCALAR", (2,): "VEC2", (3,): "VEC3", (4,): "VEC4"}


class ExportRefused(Refused):
    """An export that would not make sense; the message says why and what to do."""


class GlbWriter:
    """Collects the parts of one file. All that is added is given back as its number in the file."""

    def __init__(self) -> None:
        self.file = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="Cenote"), scene=0)
        self.file.scenes.append(gltf.Scene(nodes=[]))
        self.blob = bytearray()

    def view(self, content: bytes, target: int | None = None) -> int:
        """Bytes of the file's one buffer."""
        self.blob += b"\0" * (-len(self.blob) % 4)
        self.file.bufferViews.append(
            gltf.BufferView(buffer=0, byteOffset=len(self.blob), byteLength=len(content), target=target)
        )
        self.blob += content
        return len(self.file.bufferViews) - 1

    def accessor(self, array: np.ndarray, target: int | None = None, bounds: bool = False) -> int:
        """An array (N, …). :param bounds: whether its least and greatest values are told, as positions need."""
        view = self.view(np.ascontiguousarray(array).tobytes(), target)
        entry = gltf.Accessor(
            bufferView=view, componentType=_COMPONENT[array.dtype.name], count=len(array), type=_SHAPE[array.shape[1:]]
        )
        if bounds:
            entry.min, entry.max = array.min(0).tolist(), array.max(0).tolist()
        self.file.accessors.append(entry)
        return len(self.file.accessors) - 1

    def texture(self, pixels: np.ndarray, name: str, repeats: bool = False) -> gltf.TextureInfo:
        """A texture from uint8 (H, W, 3 or 4) pixels, as PNG; it ends at its edges or wraps round."""
        stream = io.BytesIO()
        Image.fromarray(pixels).save(stream, "PNG", compress_level=1)
        image = gltf.Image(bufferView=self.view(stream.getvalue()), mimeType="image/png", name=name)
        self.file.images.append(image)
        if not self.file.samplers:
            for wrap in (gltf.CLAMP_TO_EDGE, gltf.REPEAT):
                self.file.samplers.append(gltf.Sampler(wrapS=wrap, wrapT=wrap, magFilter=gltf.LINEAR,
                                                       minFilter=gltf.LINEAR_MIPMAP_LINEAR))  # fmt: skip
        self.file.textures.append(gltf.Texture(source=len(self.file.images) - 1, sampler=int(repeats)))
        return gltf.TextureInfo(index=len(self.file.textures) - 1)

    def material(self, material: gltf.Material) -> int:
        """A material."""
        self.file.materials.append(material)
        return len(self.file.materials) - 1

    def mesh(self, name: str, pieces: list[tuple[int, dict[str, np.ndarray], np.ndarray | None]]) -> int:
        """A mesh of pieces: each its material, its attributes, each (V, k), and its indices (3M,) if it has any."""
        primitives = []
        for material, attributes, indices in pieces:
            primitive = gltf.Primitive(material=material, attributes=gltf.Attributes())
            for attribute, array in attributes.items():
                row = self.accessor(array, gltf.ARRAY_BUFFER, attribute == "POSITION")
                setattr(primitive.attributes, attribute, row)
            if indices is not None:
                primitive.indices = self.accessor(indices.astype(np.uint32).ravel(), gltf.ELEMENT_ARRAY_BUFFER)
            primitives.append(primitive)
        self.file.meshes.append(gltf.Mesh(name=name, primitives=primitives))
        return len(self.file.meshes) - 1

    def node(self, **fields: object) -> int:
        """A node."""
        self.file.nodes.append(gltf.Node(**fields))
        return len(self.file.nodes) - 1

    def finish(self, roots: list[int]) -> bytes:
        """The whole file. :param roots: the nodes of its scene."""
        self.file.scenes[0].nodes = roots
        self.file.buffers.append(gltf.Buffer(byteLength=len(self.blob)))
        self.file.set_binary_blob(bytes(self.blob))
        return b"".join(self.file.save_to_bytes())


def opaque(name: str, **fields: object) -> gltf.Material:
    """An opaque material."""
    return gltf.Material(name=name, alphaMode="OPAQUE", pbrMetallicRoughness=gltf.PbrMetallicRoughness(**fields))
