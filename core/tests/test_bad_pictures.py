"""Pictures and OBJ files that are damaged or made to do harm: refused with words, or taken as what they still hold."""

from __future__ import annotations

import io
import random
import struct
import tempfile
import tracemalloc
import unittest
import weakref
import zlib
from collections.abc import Iterator
from pathlib import Path
from unittest.mock import patch

import numpy as np
import OpenEXR
from PIL import Image

from cenote.formats.apart import read_height_map_apart, read_set_apart
from cenote.formats.height_maps import read_height_map
from cenote.formats.meshes_in import read_mesh
from cenote.formats.pictures_in import open_picture
from cenote.formats.texture_sets import read_set
from cenote.refused import ImportRefused

RAMP = (np.add.outer(np.arange(24), np.arange(24)) * 900).astype(np.uint16)


def picture(kind: str, pixels: np.ndarray, **how) -> bytes:
    """A picture file."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, kind, **how)
    return stream.getvalue()


def exr(values: np.ndarray) -> bytes:
    """An EXR of one channel."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.exr"
        OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, {"Y": values}).write(
            str(path)
        )
        return path.read_bytes()


GOOD = {
    "png": picture("PNG", RAMP),
    "tif": picture("TIFF", RAMP),
    "jpg": picture("JPEG", (RAMP >> 8).astype(np.uint8)),
    "webp": picture("WEBP", np.dstack([(RAMP >> 8).astype(np.uint8)] * 3), lossless=True),
    "exr": exr((RAMP / 65535).astype(np.float32)),
}


def claimed(side: int) -> dict[str, bytes]:
    """Small files whose headers claim so many pixels a side."""
    png = bytearray(GOOD["png"])
    png[16:24] = struct.pack(">II", side, side)
    # The check sum of the header goes with it.
    png[29:33] = struct.pack(">I", zlib.crc32(png[12:29]))
    window = struct.pack("<4i", 0, 0, 23, 23)
    assert GOOD["exr"].count(window) == 2
    return {"png": bytes(png), "exr": GOOD["exr"].replace(window, struct.pack("<4i", 0, 0, side - 1, side - 1))}


def damaged() -> Iterator[tuple[str, bytes]]:
    """Every kind of picture cut off at a tenth, two tenths and so on, and with a few bytes changed, always the same ones."""
    chance = random.Random(7)
    for ending, content in GOOD.items():
        for tenth in range(10):
            yield f"a.{ending}", content[: len(content) * tenth // 10]
        for _ in range(12):
            broken = bytearray(content)
            for _ in range(4):
                broken[chance.randrange(len(broken))] = chance.randrange(256)
            yield f"a.{ending}", bytes(broken)


# What reads a single picture; each gives the numbers that it found.
READERS = (
    lambda name, content: read_height_map(name, content)[0],
    lambda name, content: read_set({name: content}).packed,
)


class PictureTests(unittest.TestCase):
    def test_what_is_damaged_is_refused_in_words_or_taken_whole(self) -> None:
        refused = 0
        for row, (name, content) in enumerate(damaged()):
            with self.subTest(f"{row}: {name}"):
                for read in READERS:
                    try:
                        values = read(name, content)
                    except ImportRefused as refusal:
                        refused += 1
                        self.assertLess(len(str(refusal)), 500)
                        self.assertIn(name, str(refusal))
                    else:
                        self.assertTrue(np.isfinite(values).all())
        self.assertGreater(refused, 100)

    def test_no_other_format_is_opened(self) -> None:
        eps = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 64 64\n%%EndComments\nshowpage\n"
        others = [picture(kind, (RAMP >> 8).astype(np.uint8)) for kind in ("GIF", "BMP", "PPM", "TGA", "ICO", "PCX")]
        with patch("subprocess.Popen", side_effect=AssertionError("a program was looked for")):
            for content in (eps, b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"", b"\0" * 4000, *others):
                for read in READERS:
                    with self.assertRaisesRegex(ImportRefused, "a.png"):
                        read("a.png", content)

    def test_a_size_is_looked_at_before_a_pixel_is_unpacked(self) -> None:
        for ending, content in claimed(30_000).items():
            tracemalloc.start()
            with self.assertRaisesRegex(ImportRefused, "pixels.*; at most 8192 a side"):
                read_height_map(f"a.{ending}", content)
            _, peak = tracemalloc.get_traced_memory()
            tracemalloc.stop()
            self.assertLess(peak, 20 * 1024**2)

    def test_numbers_that_are_none_are_refused(self) -> None:
        values = np.linspace(0, 1, 64, dtype=np.float32).reshape(8, 8)
        for bad in (np.nan, np.inf):
            values[3, 3] = bad
            for name, content in (("a.exr", exr(values)), ("a.tif", picture("TIFF", values))):
                with self.assertRaisesRegex(ImportRefused, "not finite"):
                    read_height_map(name, content)
            files = {"a_col.png": GOOD["png"], "a_rough.tif": picture("TIFF", values)}
            with self.assertRaisesRegex(ImportRefused, r"a_rough\.tif.*not finite"):
                read_set(files)

    def test_channels_are_unpacked_one_after_another(self) -> None:
        large = picture("PNG", np.zeros((2048, 2048, 3), np.uint8), compress_level=1)
        names = ("col", "normal", "roughness", "metalness", "height", "ao")
        alive, most = set[int](), list[int]()

        def watched(*arguments):
            image = open_picture(*arguments)
            alive.add(id(image))
            weakref.finalize(image, alive.discard, id(image))
            most.append(len(alive))
            return image

        with patch("cenote.formats.texture_sets.open_picture", side_effect=watched):
            read_set({f"a_{name}.png": large for name in names})
        self.assertGreaterEqual(len(most), 4)
        # The base colour, and the one that is being read.
        self.assertLessEqual(max(most), 3)


class ApartTests(unittest.TestCase):
    def test_pictures_come_back_as_they_are_read_here(self) -> None:
        here, there = read_height_map("a.png", GOOD["png"]), read_height_map_apart("a.png", GOOD["png"])
        np.testing.assert_array_equal(here[0], there[0])
        self.assertEqual(here[1], there[1])
        files = {"a_col.png": GOOD["png"], "a_rough.png": GOOD["png"], "other.png": GOOD["png"]}
        one, other = read_set(files), read_set_apart(files)
        np.testing.assert_array_equal(one.packed, other.packed)
        self.assertEqual((one.channels, one.remarks), (other.channels, other.remarks))

    def test_refusals_come_back_in_the_same_words(self) -> None:
        with self.assertRaisesRegex(ImportRefused, "No base colour"):
            read_set_apart({"a_rough.png": GOOD["png"], "b_rough.png": GOOD["png"]})
        with self.assertRaisesRegex(ImportRefused, "ended its reader"):
            large = picture("PNG", np.zeros((6000, 6000), np.uint16), compress_level=1)
            read_height_map_apart("a.png", large, memory=100 * 1024**2)


CORNERS = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\n"
TRIANGLE = "f 1 2 3\n"
# Texts of OBJ files, and how many triangles are taken of them; None where they are refused.
OBJ: dict[str, tuple[str | bytes, int | None]] = {
    "nothing": ("", None),
    "no faces": (CORNERS, None),
    "no corners": (TRIANGLE, None),
    "corners after": (TRIANGLE + CORNERS, 1),
    "index zero": (CORNERS + "f 0 1 2\n", None),
    "index too large": (CORNERS + "f 1 2 9\n", None),
    "index huge": (CORNERS + "f 1 2 99999999999999999999\n", None),
    "index from the end": (CORNERS + "f -4 -3 -2\n", 1),
    "index before the start": (CORNERS + "f -9 -3 -2\n", None),
    "index of letters": (CORNERS + "f a b c\n", None),
    "index with a fraction": (CORNERS + "f 1.5 2 3\n", None),
    "two corners": (CORNERS + "f 1 2\n", None),
    "one corner": (CORNERS + "f 1\n", None),
    "an empty face": (CORNERS + "f \n", None),
    "a flat face": (CORNERS + "f 1 1 1\n", None),
    "letters": ("v a b c\n" * 3 + TRIANGLE, None),
    "nan": ("v nan 0 0\nv 1 0 0\nv 0 1 0\n" + TRIANGLE, None),
    "inf": ("v inf 0 0\nv 1 0 0\nv 0 1 0\n" + TRIANGLE, None),
    "beyond doubles": ("v 1e999 0 0\nv 1 0 0\nv 0 1 0\n" + TRIANGLE, None),
    "far away": ("v 1e30 0 0\nv 1 0 0\nv 0 1 0\n" + TRIANGLE, None),
    "two numbers": ("v 0 0\nv 1 0\nv 0 1\n" + TRIANGLE, None),
    "seven numbers": ("v 0 0 0 1 1 1 1\nv 1 0 0 1 1 1 1\nv 0 1 0 1 1 1 1\n" + TRIANGLE, 1),
    "texture corners that are not there": (CORNERS + "f 1/9/9 2/9/9 3/9/9\n", 1),
    "many slashes": (CORNERS + "f 1//// 2//// 3////\n", 1),
    "a nul": (CORNERS.encode() + b"\0" + TRIANGLE.encode(), None),
    "latin letters": (b"o Mauer \xfc\xdf\n" + CORNERS.encode() + TRIANGLE.encode(), 1),
    "half a surrogate": (b"o \xed\xa0\x80\n" + CORNERS.encode() + TRIANGLE.encode(), 1),
    "utf-16": ((CORNERS + TRIANGLE).encode("utf-16"), None),
    "a mark at its start": (b"\xef\xbb\xbf" + CORNERS.encode() + TRIANGLE.encode(), 1),
    "lines that go on": (CORNERS + "f 1 \\\n2 \\\n3\n", 1),
    "a line that goes on for ever": (CORNERS + TRIANGLE + "f 1 2 \\", 1),
    "old line ends": ((CORNERS + TRIANGLE).replace("\n", "\r"), None),
    "other line ends": ((CORNERS + TRIANGLE).replace("\n", "\r\n"), 1),
    "tabs": ((CORNERS + TRIANGLE).replace(" ", "\t"), None),
    "a long name": ("o " + "x" * 100_000 + "\n" + CORNERS + TRIANGLE, 1),
    "a library beside it": ("mtllib /etc/passwd\nusemtl a\n" + CORNERS + TRIANGLE, 1),
    "a polygon of many corners": ("".join(f"v {k} {k * k} 0\n" for k in range(500)) + "f " + " ".join(map(str, range(1, 501))) + "\n", 498),
    "free forms": (CORNERS + "cstype bspline\ndeg 3\ncurv 0 1 1 2 3\nend\n", None),
    "lines": (CORNERS + "l 1 2 3\n", None),
    "a program": ("#!/bin/sh\nrm -rf /\n", None),
}  # fmt: skip


class ObjTests(unittest.TestCase):
    def test_each_is_refused_in_words_or_taken_as_it_stands(self) -> None:
        for name, (text, triangles) in OBJ.items():
            with self.subTest(name):
                content = text.encode() if isinstance(text, str) else text
                try:
                    found = read_mesh("a.obj", content)
                except ImportRefused as refusal:
                    self.assertIsNone(triangles, str(refusal))
                    self.assertLess(len(str(refusal)), 500)
                else:
                    self.assertEqual(len(found.mesh.faces), triangles)
                    self.assertTrue(np.isfinite(found.mesh.positions).all())


if __name__ == "__main__":
    unittest.main()
