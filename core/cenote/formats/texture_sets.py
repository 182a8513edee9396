"""Texture sets: a material's channels as picture files, read by the habits of their names, written as PNG or EXR."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

import numpy as np
import OpenEXR
from PIL import Image

from ..colour import linear_of, srgb_bytes
from ..materials.relief import heights_of
from ..materials.tile import Tile
from ..refused import ImportRefused
from .pictures_in import open_picture

Format = Literal["png", "exr"]
LEAST_SIDE = 4
MOST_BYTES = 200_000_000
KEPT_SIDE = 1024

# Words that people put into the names of a set's files, by channel; a longer word is looked for first.
_WORDS = {
    "base": ("basecolor", "basecolour", "base_color", "base_colour", "albedo", "diffuse", "colour", "color", "col", "diff", "alb"),
    "normal": ("normal", "normals", "nrm", "nor", "norm", "normalgl", "nor_gl"),
    "roughness": ("roughness", "rough", "rgh"),
    "gloss": ("glossiness", "gloss", "smoothness"),
    "metalness": ("metalness", "metallic", "metal", "mtl"),
    "height": ("height", "displacement", "disp", "bump", "depth"),
    "occlusion": ("ambientocclusion", "ambient_occlusion", "occlusion", "ao", "occ"),
}  # fmt: skip


def channel_of(file_name: str) -> str | None:
    """The channel that a file's name speaks of, None where it speaks of none.

    >>> channel_of("old_wall_BaseColor_2k.png"), channel_of("wall-nrm.jpg"), channel_of("wall.png")
    ('base', 'normal', None)
    """
    stem = re.sub(r"\.[A-Za-z0-9]+$", "", file_name)
    # Words run together with capitals are taken apart as well.
    apart = re.sub(r"(?<=[a-z0-9])(?=[A-Z])", "_", stem).lower()
    words = [word for word in re.split(r"[^a-z]+", apart) if word]
    pairs = words + [a + b for a, b in pairwise(words)]
    pairs += [f"{a}_{b}" for a, b in pairwise(words)]
    for word in sorted(set(pairs), key=lambda one: (-len(one), one)):
        for channel, habits in _WORDS.items():
            if word in habits:
                return channel
    return None


@dataclass
class FoundSet:
    """What was read.

    :ivar packed: float32 (n, n, 6) as :meth:`Tile.packed` gives it. :ivar channels: file name by channel.
    :ivar remarks: what its owner should know.
    """

    packed: np.ndarray
    channels: dict[str, str]
    remarks: list[str] = field(default_factory=list)


def _grey(image: Image.Image) -> Image.Image:
    """One channel of 32-bit floats in [0, 1], from 8 or 16 bits."""
    if image.mode.startswith("I"):
        values = np.asarray(image, np.float32)
        return Image.fromarray(values / (65535 if values.max() > 255 else 255))
    if image.mode == "F":
        return image
    return Image.fromarray(np.asarray(image.convert("L"), np.float32) / 255)


def read_set(files: Mapping[str, bytes]) -> FoundSet:
    """Read a texture set.

    :param files: contents by file name.
    :raises ImportRefused: with words for its owner, if no base colour is among them or one cannot be read.
    """
    channels: dict[str, str] = {}
    remarks: list[str] = []
    if sum(len(content) for content in files.values()) > MOST_BYTES:
        raise ImportRefused(f"Together the files have more than {MOST_BYTES // 1_000_000} MB.")
    for name in sorted(files):
        channel = channel_of(name)
        if channel is None:
            remarks.append(f"{name} was left out: its name does not say what it is.")
        elif channel in channels:
            remarks.append(f"{name} was left out: {channels[channel]} already gives the {channel}.")
        else:
            channels[channel] = name
    if "base" not in channels and len(files) == 1:
        channels, remarks = {"base": next(iter(files))}, ["The one file is taken as the base colour."]
    if "base" not in channels:
        raise ImportRefused(
            "No base colour is among the files. Name it so that it says so, for instance wall_basecolor.png."
        )

    def opened(channel: str) -> Image.Image:
        """One at a time is unpacked, and none is held."""
        return open_picture(channels[channel], files[channels[channel]], LEAST_SIDE, "a material")

    base = opened("base")
    width, height = base.size
    side = min(KEPT_SIDE, 1 << int(np.floor(np.log2(max(min(width, height), 16)))))
    if width != height:
        remarks.append(f"The pictures are {width} × {height}; they were made square.")
    if (side, side) != (width, height):
        remarks.append(f"Kept at {side} × {side} pixels.")

    def scaled(image: Image.Image) -> np.ndarray:
        return np.asarray(image.resize((side, side), Image.Resampling.LANCZOS), np.float32)

    def plane(channel: str, usual: float) -> np.ndarray:
        if channel not in channels:
            return np.full((side, side), usual, np.float32)
        return np.clip(scaled(_grey(opened(channel))), 0, 1)

    shown = scaled(base.convert("RGB")) / 255
    colour = linear_of(shown)
    rough = 1 - plane("gloss", 0.3) if "gloss" in channels and "roughness" not in channels else plane("roughness", 0.8)
    relief = plane("height", 0.5)
    if "height" not in channels and "normal" in channels:
        relief, _ = heights_of(scaled(opened("normal").convert("RGB")) / 127.5 - 1)
        remarks.append("The relief was worked out from the normals.")
    packed = np.dstack([np.clip(colour, 0.004, 0.92), relief, np.clip(rough, 0.03, 1), plane("metalness", 0)])
    return FoundSet(packed.astype(np.float32), channels, remarks)


def _exr(planes: dict[str, np.ndarray]) -> bytes:
    import tempfile
    from pathlib import Path

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "map.exr"
        OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, planes).write(str(path))
        return path.read_bytes()


def _png(pixels: np.ndarray) -> bytes:
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG", compress_level=3)
    return stream.getvalue()


def write_set(tile: Tile, size: float, depth: float, stem: str, kind: Format) -> bytes:
    """All channels of a tile as a zip of picture files.

    PNG: base colour sRGB 8 bits, normals 8 bits (+Y up), the others 16 bits. EXR: 32-bit floats, colour linear.
    """
    normal = tile.normal(size, depth)
    planes = {
        "roughness": tile.roughness,
        "metalness": tile.metalness,
        "height": tile.height,
        "occlusion": tile.occlusion,
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        if kind == "png":
            archive.writestr(f"{stem}_basecolor.png", _png(srgb_bytes(tile.albedo)))
            archive.writestr(f"{stem}_normal.png", _png(np.round(normal * 127.5 + 127.5).astype(np.uint8)))
            for channel, plane in planes.items():
                archive.writestr(f"{stem}_{channel}.png", _png(np.round(plane * 65535).astype(np.uint16)))
        else:
            archive.writestr(f"{stem}_basecolor.exr", _exr({"RGB": np.ascontiguousarray(tile.albedo, np.float32)}))
            archive.writestr(f"{stem}_normal.exr", _exr({"RGB": np.ascontiguousarray(normal, np.float32)}))
            for channel, plane in planes.items():
                archive.writestr(f"{stem}_{channel}.exr", _exr({"Y": np.ascontiguousarray(plane, np.float32)}))
        archive.writestr(
            f"{stem}.txt", f"Side of the tile: {size:g} m. Depth of the relief: {depth:g} m. Normals have +Y up.\n"
        )
    return out.getvalue()
