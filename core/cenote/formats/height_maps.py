"""Height maps: grey pictures in (PNG and TIFF of 8, 16 or 32 bits, EXR), and out (16-bit PNG, EXR)."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Literal

import numpy as np
import OpenEXR
from PIL import Image

from .pictures_in import is_exr, open_picture, read_exr

LEAST_SIDE, KEPT_SIDE = 2, 2048
_USE = "a height map"


def read_height_map(name: str, content: bytes) -> tuple[np.ndarray, list[str]]:
    """Read a height map.

    :returns: float32 (rows, columns) in [0, 1], at most 2048 a side, its least value 0 and its greatest 1 where it held
        floats; and remarks for its owner.
    :raises cenote.formats.meshes_in.ImportRefused: with words for its owner.
    """
    remarks: list[str] = []
    if is_exr(content):
        values = read_exr(name, content, LEAST_SIDE, _USE)
    else:
        values = _read_picture(name, content, remarks)
    rows, columns = values.shape
    if np.issubdtype(values.dtype, np.floating):
        low, high = float(values.min()), float(values.max())
        if high > low:
            remarks.append(f"Its values from {low:g} to {high:g} are taken as black and white.")
            values = (values - low) / (high - low)
        else:
            values = np.zeros_like(values)
    else:
        values = values.astype(np.float32) / (65535 if values.dtype == np.uint16 else 255)
    if values.min() == values.max():
        remarks.append("It is all of one height.")
    if max(rows, columns) > KEPT_SIDE:
        scale = KEPT_SIDE / max(rows, columns)
        wide, high_ = max(2, round(columns * scale)), max(2, round(rows * scale))
        small = Image.fromarray(values.astype(np.float32)).resize((wide, high_), Image.Resampling.BOX)
        values = np.asarray(small)
        remarks.append(f"Kept at {wide} × {high_} points.")
    return np.clip(values, 0, 1).astype(np.float32), remarks


def _read_picture(name: str, content: bytes, remarks: list[str]) -> np.ndarray:
    with open_picture(name, content, LEAST_SIDE, _USE) as image:
        if image.mode in ("RGB", "RGBA", "P", "CMYK", "LA", "YCbCr"):
            remarks.append("It is in colour; its brightness is taken as height, in 256 steps.")
            return np.asarray(image.convert("L"))
        values = np.asarray(image)
    if values.dtype == np.int32 and values.max() <= 65535:
        return values.astype(np.uint16)
    if values.dtype in (np.uint8, np.uint16):
        if values.dtype == np.uint8:
            remarks.append("It has 256 steps of height; with 16 bits slopes are smoother.")
        return values
    return values.astype(np.float32)


def write_height_map(heights: np.ndarray, kind: Literal["png", "exr"]) -> tuple[bytes, float, float]:
    """Write heights as a picture.

    :param heights: float (rows, columns), metres.
    :returns: the file; and the heights in metres of black and white. EXR holds metres themselves.
    """
    low, high = float(heights.min()), float(heights.max())
    if kind == "png":
        scaled = (heights - low) / max(high - low, 1e-9)
        stream = io.BytesIO()
        Image.fromarray(np.round(scaled * 65535).astype(np.uint16)).save(stream, "PNG")
        return stream.getvalue(), low, high
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "map.exr"
        planes = {"Y": np.ascontiguousarray(heights, np.float32)}
        OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, planes).write(str(path))
        return path.read_bytes(), low, high
