"""Texture sets go out as files and come in again; names are read by habit, and bad files are refused in words."""

from __future__ import annotations

import io
import tempfile
import unittest
import zipfile
from pathlib import Path

import numpy as np
import OpenEXR
from PIL import Image

from cenote.formats.texture_sets import channel_of, read_set, write_set
from cenote.materials.base import MATERIALS
from cenote.materials.relief import heights_of
from cenote.refused import ImportRefused


def png(pixels: np.ndarray) -> bytes:
    """A PNG file."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    return stream.getvalue()


def grey(value: int, side: int = 32, bits: int = 8) -> bytes:
    """An even grey picture."""
    return png(np.full((side, side), value, np.uint8 if bits == 8 else np.uint16))


def members(content: bytes) -> dict[str, bytes]:
    """The files of a zip."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


class NameTests(unittest.TestCase):
    def test_channels_are_read_from_names(self) -> None:
        for name, channel in (
            ("old_wall_BaseColor_2k.png", "base"), ("Wall-Albedo.jpg", "base"), ("wall_col_1.png", "base"),
            ("wall_diff_4k.png", "base"), ("wall_Normal.png", "normal"), ("wall nrm.tif", "normal"),
            ("wall_nor_gl_2k.png", "normal"), ("wallRoughness.png", "roughness"), ("wall_gloss.png", "gloss"),
            ("wall_metallic.png", "metalness"), ("wall_disp.png", "height"), ("wall_AO.png", "occlusion"),
            ("wall_ambientOcclusion.png", "occlusion"), ("wall.png", None), ("colourful.png", None),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(channel_of(name), channel)


class ReadTests(unittest.TestCase):
    def test_a_set_goes_out_and_comes_in_again(self) -> None:
        recipe = MATERIALS["cobble"].recipe
        tile = recipe.bake(128)
        files = members(write_set(tile, recipe.size, recipe.depth, "cobble", "png"))
        self.assertEqual(len(files), 7)
        found = read_set({name: content for name, content in files.items() if name.endswith(".png")})
        self.assertEqual(set(found.channels), {"base", "normal", "roughness", "metalness", "height", "occlusion"})
        np.testing.assert_allclose(found.packed[..., 3:], tile.packed()[..., 3:], atol=2e-4)
        # Colours pass through eight bits.
        np.testing.assert_allclose(found.packed[..., :3], tile.albedo, atol=0.01)
        self.assertEqual(found.remarks, [])

    def test_exr_keeps_floats(self) -> None:
        recipe = MATERIALS["brick"].recipe
        tile = recipe.bake(64)
        files = members(write_set(tile, recipe.size, recipe.depth, "brick", "exr"))
        with tempfile.TemporaryDirectory() as folder:
            for name, channel, wanted in (
                ("brick_basecolor.exr", "RGB", tile.albedo),
                ("brick_height.exr", "Y", tile.height),
            ):
                path = Path(folder) / name
                path.write_bytes(files[name])
                np.testing.assert_array_equal(OpenEXR.File(str(path)).channels()[channel].pixels, wanted)

    def test_gloss_is_turned_into_roughness_and_16_bits_are_kept(self) -> None:
        found = read_set({"a_base.png": b"", "a_col.png": grey(128), "a_gloss.png": grey(51), "a_height.png": grey(30000, bits=16)}
                         | {"a_base.png": grey(1)})  # fmt: skip
        np.testing.assert_allclose(found.packed[..., 4], 0.8, atol=1e-3)
        np.testing.assert_allclose(found.packed[..., 3], 30000 / 65535, atol=1e-5)
        self.assertIn("a_base.png was left out", found.remarks[0])

    def test_relief_follows_from_normals(self) -> None:
        side = 64
        x = np.linspace(0, 2 * np.pi, side, endpoint=False)
        height = np.sin(x)[None] * np.ones((side, 1))
        slope = np.cos(x)[None] * (2 * np.pi / side) * np.ones((side, 1))
        normal = np.dstack([-slope, np.zeros_like(slope), np.ones_like(slope)])
        normal /= np.linalg.norm(normal, axis=2)[..., None]
        found, _ = heights_of(normal)
        self.assertGreater(np.corrcoef(found.ravel(), height.ravel())[0, 1], 0.999)

    def test_one_picture_alone_is_the_base_colour(self) -> None:
        found = read_set({"photo.png": png(np.full((30, 50, 3), 128, np.uint8))})
        self.assertEqual(found.channels, {"base": "photo.png"})
        self.assertEqual(found.packed.shape, (16, 16, 6))
        self.assertTrue(any("square" in remark for remark in found.remarks))

    def test_bad_files_are_refused_in_words(self) -> None:
        for files, words in (
            ({"a_rough.png": grey(1), "b_metal.png": grey(1)}, "No base colour"),
            ({"a_color.png": b"GIF89a nonsense"}, "a_color.png: it is not a picture"),
            ({"a_color.png": grey(5)[:60]}, "a_color.png: it is not a picture"),
            ({"a_color.png": grey(5, side=2)}, "too few"),
            ({"a_color.png": png(np.zeros((1, 9000), np.uint8))}, "at most 8192"),
        ):
            with self.subTest(words), self.assertRaisesRegex(ImportRefused, words):
                read_set(files)
