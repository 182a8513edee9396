"""Files that are damaged or made to do harm: each is refused with words, soon, and without taking much."""

from __future__ import annotations

import json
import struct
import sys
import time
import tracemalloc
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from unittest.mock import patch

import trimesh

from cenote.formats.apart import read_mesh_apart
from cenote.formats.meshes_in import check_file, read_mesh
from cenote.refused import ImportRefused


def parts_of(content: bytes) -> tuple[dict[str, Any], bytes]:
    """The description of a GLB and its data."""
    size = struct.unpack_from("<I", content, 12)[0]
    return json.loads(content[20 : 20 + size]), content[28 + size :]


def glb_of(document: Any, data: bytes = b"") -> bytes:
    """A GLB whose frame is right, whatever its description says."""
    return framed(document if isinstance(document, bytes) else json.dumps(document).encode(), data)


def framed(text: bytes, data: bytes) -> bytes:
    text += b" " * (-len(text) % 4)
    data += b"\0" * (-len(data) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if data:
        chunks += struct.pack("<I4s", len(data), b"BIN\0") + data
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


GOOD = trimesh.Scene(trimesh.creation.box((1, 2, 3))).export(file_type="glb")
DOCUMENT, DATA = parts_of(GOOD)
# What stands in place of a number, a list, an object, a text.
WRONG = (None, "abc", -1, 2**40, 1.5, [], {}, [[]], "\x00", True)


def altered(change: Any) -> bytes:
    """The good file with its description changed."""
    document = json.loads(json.dumps(DOCUMENT))
    return glb_of(change(document) or document, DATA)


def put(path: str, value: Any) -> bytes:
    """The good file with one value of its description in place of another."""

    def change(document: Any) -> None:
        *steps, last = [int(step) if step.isdigit() else step for step in path.split("/")]
        for step in steps:
            document = document[step]
        document[last] = value

    return altered(change)


def corpus() -> Iterator[tuple[str, bytes]]:
    """Bad GLBs by name."""
    yield "empty", b""
    yield "only a magic", b"glTF"
    for length in range(4, len(GOOD), max(1, len(GOOD) // 23)):
        yield f"cut off after {length} bytes", GOOD[:length]
    for text in (b"[]", b"null", b"1", b'"x"', b"{", b"", b"\xff\xfe", b"[" * 200_000, b'{"a":' * 100_000, b"NaN"):
        yield f"a description that is {text[:12]!r}", glb_of(text)
    for path in ("accessors", "bufferViews", "meshes", "nodes", "buffers", "accessors/0/count", "accessors/0/type",
                 "accessors/0/componentType", "accessors/0/bufferView", "bufferViews/0/byteLength", "bufferViews/0/buffer",
                 "meshes/0/primitives", "meshes/0/primitives/0/attributes", "meshes/0/primitives/0/indices",
                 "nodes/0/children"):  # fmt: skip
        for value in WRONG:
            yield f"{path} = {value!r}", put(path, value)
    yield "an accessor of 300 million", put("accessors/0/count", 300_000_000)
    yield (
        "300 million zeros that lie nowhere",
        altered(
            lambda d: d["accessors"][0].update(count=300_000_000) or (d["accessors"][0].pop("bufferView") and None)
        ),
    )
    yield "a view beyond its buffer", put("bufferViews/0/byteLength", 10**6)
    yield "a buffer that lies elsewhere", put("buffers/0/uri", "../../etc/passwd")
    yield "compression that is not read", put("extensionsRequired", ["EXT_unheard_of"])
    yield "100,000 nodes of one mesh", altered(lambda d: d.update(nodes=[{"mesh": 0}] * 100_000))
    yield "a node within itself", altered(lambda d: d.update(nodes=[{"mesh": 0, "children": [0]}]))
    yield "nodes in a ring", altered(lambda d: d.update(nodes=[{"children": [1]}, {"children": [0]}]))
    deep = [{"children": [row + 1]} for row in range(5000)] + [{"mesh": 0}]
    yield "nodes 5,000 deep", altered(lambda d: d.update(nodes=deep))


# A list of no children is as good as none.
HARMLESS = {"nodes/0/children = []"}


class CorpusTests(unittest.TestCase):
    def test_each_is_refused_in_words_and_nothing_else_happens(self) -> None:
        count = 0
        for name, content in corpus():
            with self.subTest(name):
                count += 1
                try:
                    read_mesh("a.glb", content)
                except ImportRefused as refusal:
                    self.assertRegex(str(refusal), r"^[A-Z“].*\.$")
                    self.assertLess(len(str(refusal)), 500)
                else:
                    self.assertIn(name, HARMLESS, "it was taken")
        self.assertGreaterEqual(count, 190)

    def test_the_good_one_is_taken(self) -> None:
        self.assertEqual(len(read_mesh("a.glb", GOOD).mesh.faces), 12)
        self.assertEqual(check_file("a.glb", altered(lambda d: None), "m", "y"), "glb")

    def test_what_a_small_file_claims_costs_next_to_nothing(self) -> None:
        for content in (
            put("accessors/0/count", 300_000_000),
            altered(lambda d: d.update(nodes=[{"mesh": 0}] * 40_000)),
        ):
            tracemalloc.start()
            began = time.perf_counter()
            with self.assertRaises(ImportRefused):
                check_file("a.glb", content, "m", "y")
            _, peak = tracemalloc.get_traced_memory()
            tracemalloc.stop()
            self.assertLess(peak, 200 * 1024**2)
            # No figure of speed: an order of magnitude of what a parser took.
            self.assertLess(time.perf_counter() - began, 30)

    def test_an_obj_that_changes_its_material_ten_thousand_times_is_not_begun(self) -> None:
        corners = b"v 0 0 0\nv 1 0 0\nv 0 1 0\n"
        many = corners + b"".join(b"usemtl m%d\nf 1 2 3\n" % k for k in range(10_000))
        with self.assertRaisesRegex(ImportRefused, "change their material or group 10,000 times"):
            read_mesh("a.obj", many)
        few = corners + b"usemtl a\nf 1 2 3\nusemtl b\nf 1 3 2\n"
        self.assertEqual(len(read_mesh("a.obj", few).mesh.faces), 2)


class ApartTests(unittest.TestCase):
    def test_a_good_file_comes_back_as_it_is_read_here(self) -> None:
        here, there = read_mesh("a.glb", GOOD, "cm", "z"), read_mesh_apart("a.glb", GOOD, "cm", "z")
        self.assertTrue((here.mesh.positions == there.mesh.positions).all())
        self.assertEqual((here.remarks, here.mesh.part_names), (there.remarks, there.mesh.part_names))

    def test_what_is_refused_there_is_refused_here_in_the_same_words(self) -> None:
        points = b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 9\n"
        with self.assertRaises(ImportRefused) as here:
            read_mesh("a.obj", points)
        with self.assertRaises(ImportRefused) as there:
            read_mesh_apart("a.obj", points, "m", "y")
        self.assertEqual(str(here.exception), str(there.exception))

    def test_a_reader_that_takes_too_much_or_too_long_ends_alone(self) -> None:
        def instead(code: str, **limits: Any) -> str:
            script = Path(self.enterContext(__import__("tempfile").TemporaryDirectory())) / "reader"
            script.write_text(f"#!{sys.executable}\n{code}\n")
            script.chmod(0o755)
            with patch("cenote.formats.apart.sys.executable", str(script)), self.assertRaises(ImportRefused) as caught:
                read_mesh_apart("a.glb", GOOD, "m", "y", **limits)
            return str(caught.exception)

        self.assertIn("longer than 1 seconds", instead("import time; time.sleep(60)", seconds=1))
        with self.assertRaisesRegex(ImportRefused, "took more than 0 GB, or ended its reader"):
            # Less than its libraries have taken already.
            read_mesh_apart("a.glb", GOOD, "m", "y", memory=100 * 1024**2)
        self.assertIn("ended its reader", instead("import os; os.kill(os.getpid(), 11)"))


if __name__ == "__main__":
    unittest.main()
