"""Finished pictures as files."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Literal

import numpy as np
import OpenEXR
import png
import tifffile
from PIL import Image

from ..colour import linear_of
from ..finish.tones import eight_bits

Format = Literal["png", "png16", "jpeg", "tiff", "exr"]
_QUALITY = 94


def write_picture(tones: np.ndarray, format: Format) -> bytes:
    """A picture as a file.

    :param tones: float32 (h, w, 3), sRGB, in [0, 1]. :param format: ``png`` and ``jpeg`` have 8 bits a colour, ``png16`` and ``tiff`` 16;
        ``exr`` is linear sRGB in half floats.
    """
    stream = io.BytesIO()
    if format in ("png", "jpeg"):
        picture = Image.fromarray(eight_bits(tones))
        picture.save(stream, format.upper(), quality=_QUALITY)
        return stream.getvalue()
    fine = np.round(tones * 65535).astype(np.uint16)
    height, width = tones.shape[:2]
    if format == "png16":
        png.Writer(width, height, greyscale=False, bitdepth=16, compression=4).write(stream, fine.reshape(height, -1))
        return stream.getvalue()
    if format == "tiff":
        tifffile.imwrite(stream, fine, photometric="rgb", compression="zlib")
        return stream.getvalue()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "picture.exr"
        linear = linear_of(tones).astype(np.float16)
        header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
        OpenEXR.File(header, {"RGB": np.ascontiguousarray(linear)}).write(str(path))
        return path.read_bytes()
