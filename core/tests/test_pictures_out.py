"""Finished pictures as files: what is written is what others read."""

from __future__ import annotations

import io
import tempfile
import unittest
from pathlib import Path

import numpy as np
import OpenEXR
import png
import tifffile
from PIL import Image

from cenote.colour import linear_of
from cenote.formats.pictures_out import write_picture

TONES = np.random.default_rng(5).random((12, 20, 3)).astype(np.float32)


class PicturesOutTests(unittest.TestCase):
    def test_eight_bits_are_the_tones_rounded(self) -> None:
        read = np.asarray(Image.open(io.BytesIO(write_picture(TONES, "png"))))
        np.testing.assert_array_equal(read, np.round(TONES * 255).astype(np.uint8))
        rough = np.asarray(Image.open(io.BytesIO(write_picture(np.full_like(TONES, 0.4), "jpeg"))))
        np.testing.assert_allclose(rough, 102, atol=2)

    def test_sixteen_bits_are_finer(self) -> None:
        fine = np.round(TONES * 65535).astype(np.uint16)
        width, height, rows, told = png.Reader(bytes=write_picture(TONES, "png16")).read()
        self.assertEqual((width, height, told["bitdepth"]), (20, 12, 16))
        np.testing.assert_array_equal(np.vstack([np.array(row, np.uint16) for row in rows]).reshape(12, 20, 3), fine)
        np.testing.assert_array_equal(tifffile.imread(io.BytesIO(write_picture(TONES, "tiff"))), fine)

    def test_exr_is_linear(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.exr"
            path.write_bytes(write_picture(TONES, "exr"))
            with OpenEXR.File(str(path)) as file:
                pixels = np.array(file.channels()["RGB"].pixels)
        self.assertEqual(pixels.dtype, np.float16)
        np.testing.assert_allclose(pixels, linear_of(TONES), atol=1e-3)


if __name__ == "__main__":
    unittest.main()
