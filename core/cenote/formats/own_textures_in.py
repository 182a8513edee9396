"""What the materials of a file that is brought in say of its parts: pictures, factors, colours of corners."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import trimesh
from PIL import Image
from trimesh.visual.material import PBRMaterial, SimpleMaterial

from ..colour import linear_of, srgb_bytes
from ..materials.own_textures import OwnTexture, OwnTextures, halved
from ..materials.relief import heights_of
from ..refused import ImportRefused

# A side of a picture that is kept, and pixels of all of them together: 100 million are 700 MB.
MOST_SIDE, MOST_PIXELS = 4096, 100_000_000
# What its pictures may be: a library may know formats that run programs.
FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "BMP")
# A material's texture, none where it says nothing, and what is not taken over.
Told = tuple[OwnTexture | None, tuple[str, ...]]
_USUAL_ROUGH = 0.8
_OPAQUE = 250


@dataclass(frozen=True)
class Wrapping:
    """What a piece of a file is wrapped in.

    :ivar texture: its pictures. :ivar uv: float32 (N, 2) of its corners, v downwards. :ivar colours: linear float32 (N, 3) of its corners; None for white.
    :ivar remarks: what is not taken over of it.
    """

    texture: OwnTexture
    uv: np.ndarray
    colours: np.ndarray | None
    remarks: tuple[str, ...] = ()


def wrapping_of(geometry: trimesh.Trimesh, linear: bool, known: dict[int, Told]) -> Wrapping | None:
    """What a piece of a file is wrapped in; None where it says nothing of that.

    :param linear: whether its corners' colours are light, and not as they are shown. :param known: what was told of materials before, by their identity; it is added to.
    """
    visual: Any = geometry.visual
    count = len(geometry.vertices)
    colours, uv, material = None, None, None
    if visual is None:
        return None
    if visual.kind == "vertex":
        colours = _corners(visual.vertex_colors, linear)
    elif visual.kind == "texture":
        material = visual.material
        uv = None if visual.uv is None or len(visual.uv) != count else np.asarray(visual.uv, np.float32)
        colours = _corners(visual.vertex_attributes.get("color"), linear)
    if material is None and colours is None:
        return None
    if id(material) not in known:
        known[id(material)] = _texture(material)
    texture, remarks = known[id(material)]
    if texture is None and colours is None:
        return None
    if texture is None:
        texture = plain_texture((255, 255, 255))
    # Its pictures begin above.
    flat = np.zeros((count, 2), np.float32) if uv is None else np.column_stack([uv[:, 0], 1 - uv[:, 1]])
    if not np.isfinite(flat).all():
        flat = np.nan_to_num(flat, posinf=0, neginf=0)
        remarks = (
            *remarks,
            "Some texture coordinates are not finite numbers; there its textures are not where they should be.",
        )
    return Wrapping(texture, flat.astype(np.float32), colours, remarks)


def plain_texture(colour: Sequence[int], rough: float = _USUAL_ROUGH, metal: float = 0.0) -> OwnTexture:
    """A texture of one colour, sRGB bytes (3,)."""
    surface = np.round(np.array([[[rough, metal]]]) * 255).astype(np.uint8)
    return OwnTexture(np.array([[colour]], np.uint8), surface, np.full((1, 1), 32768, np.uint16), 0.0)


def kept_within(wanted: Sequence[OwnTexture | None]) -> tuple[OwnTextures, str]:
    """The textures of parts, each once, made smaller by halves until they are few enough pixels together; and what was done, in words; empty for nothing.

    :param wanted: for each part; None for none.
    """
    each = list({id(one): one for one in wanted if one is not None}.values())
    places = {id(one): row for row, one in enumerate(each)}
    rows = np.array([-1 if one is None else places[id(one)] for one in wanted], np.int32)
    halves = 0
    while sum(one.base[..., 0].size + one.surface[..., 0].size + one.height.size for one in each) > 3 * MOST_PIXELS:
        halves += 1
        each = [_smaller(one) for one in each]
    words = f"Its pictures are kept at 1/{2**halves} of their size, so that together they are not too large."
    return OwnTextures(rows, tuple(each)), words if halves else ""


def _corners(colours: Any, linear: bool) -> np.ndarray | None:
    if colours is None or len(colours) == 0:
        return None
    shown = np.asarray(colours)[:, :3]
    shown = shown.astype(np.float32) / (255 if shown.dtype.kind in "ui" else 1)
    return np.asarray(shown if linear else linear_of(shown), np.float32)


def _texture(material: Any) -> Told:
    if isinstance(material, PBRMaterial):
        return _of_pbr(material)
    if isinstance(material, SimpleMaterial):
        return _of_simple(material)
    return None, ()


def _of_pbr(material: PBRMaterial) -> Told:
    """Metalness and roughness, as glTF 2.0 has them (section 3.9.2)."""
    given = [material.baseColorTexture, material.metallicRoughnessTexture, material.normalTexture]
    factor = material.baseColorFactor
    if all(one is None for one in (*given, factor, material.roughnessFactor, material.metallicFactor)):
        return None, ()
    remarks = []
    if material.emissiveTexture is not None or (
        material.emissiveFactor is not None and np.any(material.emissiveFactor)
    ):
        remarks.append("What glows of it does not; give its parts a glow under Grading.")
    base = _bytes(given[0], "RGB", (255, 255, 255))
    cut = None if given[0] is None else _cut_out(given[0], material.alphaMode, material.alphaCutoff)
    if cut is not None:
        remarks.append("It has cut-outs: on an object they are filled; as an item of the kit it stays cut out.")
    if factor is not None and not np.allclose(np.asarray(factor)[:3], 255):
        base = srgb_bytes(np.clip(linear_of(base) * (np.asarray(factor, float)[:3] / 255), 0, 1))
    rough, metal = (1.0 if one is None else float(one) for one in (material.roughnessFactor, material.metallicFactor))
    # Without anything else said, glTF means metal; what has a picture of colours and no word on metal is hardly ever one.
    if material.metallicFactor is None and given[1] is None:
        metal = 0.0
    packed = _bytes(given[1], "RGB", (255, 255, 255))
    surface = np.round(packed[..., 1:3] * np.array([rough, metal])).astype(np.uint8)
    height, span = _relief(given[2])
    return OwnTexture(np.ascontiguousarray(base), surface, height, span, cut), tuple(remarks)


def _of_simple(material: SimpleMaterial) -> Told:
    """As MTL files have it: a picture or a colour, and how sharp its glints are."""
    remarks = []
    if any(name in material.kwargs for name in ("map_bump", "bump", "norm", "map_ks", "map_d")):
        remarks.append(
            "Of its materials the picture of colours alone is taken over. GLB takes over relief and roughness as well."
        )
    sharp = float(np.clip(material.glossiness or 0, 0, 1000))
    rough = float(np.sqrt(2 / (sharp + 2))) if sharp > 0 else _USUAL_ROUGH
    if material.image is None:
        return plain_texture(np.asarray(material.diffuse)[:3].tolist(), rough), tuple(remarks)
    plain = plain_texture((255, 255, 255), rough)
    cut = _cut_out(material.image, "MASK")
    if cut is not None:
        remarks.append("It has cut-outs: on an object they are filled; as an item of the kit it stays cut out.")
    return replace(plain, base=_bytes(material.image, "RGB", (255, 255, 255)), cut=cut), tuple(remarks)


def _bytes(image: Image.Image | None, mode: str, usual: Sequence[int]) -> np.ndarray:
    """A picture as uint8 (h, w, 3), no larger than what is kept; one pixel where there is none."""
    if image is None:
        return np.array([[usual]], np.uint8)
    if image.format is not None and image.format not in FORMATS:
        raise ImportRefused(
            f"One of its pictures is {image.format}, which is not read ({', '.join(FORMATS)} are). Export it again."
        )
    wide = max(image.size)
    found = image if image.mode == mode else image.convert(mode)
    if wide > MOST_SIDE:
        size = tuple(max(1, round(side * MOST_SIDE / wide)) for side in image.size)
        found = found.resize(size, Image.Resampling.BOX)  # type: ignore[arg-type]
    return np.asarray(found)


def _cut_out(image: Image.Image, mode: str | None, cutoff: float | None = None) -> np.ndarray | None:
    """What is there of a picture, uint8 (h, w), cut away below a half; None where nothing is cut away.

    :param mode, cutoff: as glTF 2.0 has them (section 3.9.4).
    """
    if mode not in ("MASK", "BLEND") or "A" not in image.getbands():
        return None
    alpha = _bytes(image.getchannel("A"), "L", (255,))
    if alpha.min() >= _OPAQUE:
        return None
    half = 0.5 if mode == "BLEND" or cutoff is None else float(np.clip(cutoff, 0.01, 0.99))
    return np.clip(alpha * (0.5 / half), 0, 255).astype(np.uint8)


def _relief(image: Image.Image | None) -> tuple[np.ndarray, float]:
    if image is None:
        return np.full((1, 1), 32768, np.uint16), 0.0
    heights, span = heights_of(_bytes(image, "RGB", (128, 128, 255)).astype(np.float32) / 127.5 - 1)
    return np.round(heights * 65535).astype(np.uint16), span


def _smaller(one: OwnTexture) -> OwnTexture:
    height = halved(one.height)
    cut = None if one.cut is None else halved(one.cut)
    return OwnTexture(
        halved(one.base), halved(one.surface), height, one.span * height.shape[1] / one.height.shape[1], cut
    )


def together(found: Iterable[Wrapping | None]) -> list[str]:
    """All remarks on some pieces, each once, in their order."""
    return list(dict.fromkeys(remark for one in found if one for remark in one.remarks))
