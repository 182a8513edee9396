"""Textures that come with brought meshes: what is read of files, and where it comes to lie."""

from __future__ import annotations

import hashlib
import io
import json
import struct
import unittest
import zipfile

import numpy as np
import trimesh
from PIL import Image
from trimesh.visual import TextureVisuals
from trimesh.visual.material import PBRMaterial

from cenote.colour import linear_of, srgb_bytes
from cenote.derive.cache import memory_cache
from cenote.derive.graph import Graph
from cenote.derive.maps import SurfaceMaps
from cenote.derive.masks import part_natures
from cenote.derive.own_textures import wrapped_parts
from cenote.derive.site import Site
from cenote.derive.sources import MESH, OWN_TEXTURES, source_name
from cenote.derive.store import pack_arrays
from cenote.derive.surfaces import ObjectShape
from cenote.formats.apart import read_mesh_apart
from cenote.formats.glb_plain import plain_glb
from cenote.formats.meshes_in import Found, read_mesh
from cenote.geometry.texels import texel_grid
from cenote.kit.shelf import ImportedItem, Shelf
from cenote.materials.own_textures import OwnTextures, is_wrapped, metres_a_width, relief_of, texels_of
from cenote.refused import ImportRefused
from cenote.site.document import Imported, SiteDocument, Structure
from cenote.site.ground import Ground


def picture(width: int = 64, height: int = 64) -> np.ndarray:
    """Red to the right, green downwards, blue half."""
    x, y = np.meshgrid(np.linspace(0, 1, width), np.linspace(0, 1, height))
    return np.round(np.dstack([x, y, np.full_like(x, 0.5)]) * 255).astype(np.uint8)


def board(**given: object) -> trimesh.Trimesh:
    """An upright board of 2 m × 1 m, wrapped once: its upper left is the picture's."""
    points = np.array([[-1, 0, 0], [1, 0, 0], [1, 1, 0], [-1, 1, 0]], float)
    material = PBRMaterial(**given)
    visual = TextureVisuals(uv=np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float), material=material)
    return trimesh.Trimesh(points, [[0, 1, 2], [0, 2, 3]], visual=visual, process=False)


def glb(**given: object) -> bytes:
    return board(**given).export(file_type="glb")


def read_at(found: Found, places: np.ndarray, cell: float = 0.02) -> np.ndarray:
    """The texels at places of a board, float (N, 6) in [0, 1]. :param places: float (N, 2), shares to the right and downwards."""
    from cenote.geometry.charts import charted

    atlas = charted(found.mesh, cell)
    grid = texel_grid(atlas, 1)
    texels = texels_of(found.mesh, is_wrapped(found.mesh), found.textures, atlas, grid)
    corners = found.mesh.corners
    out = []
    for right, down in places:
        point = np.array([right * 2 - 1, 1 - down])
        # The face that holds it, by barycentric weights on the board.
        for face, triangle in enumerate(corners[..., :2].astype(float)):
            weights = np.linalg.solve(np.vstack([triangle.T, np.ones(3)]), np.append(point, 1))
            if (weights > -1e-9).all():
                x, y = (weights @ atlas.corners[face].astype(float)) * 2**grid.level
                out.append(texels[int(y) - grid.origin[0], int(x) - grid.origin[1]] / 65535)
                break
    return np.array(out)


def parted(content: bytes) -> tuple[dict, bytearray]:
    """The description of a GLB, and its numbers."""
    size = struct.unpack_from("<I", content, 12)[0]
    return json.loads(content[20 : 20 + size]), bytearray(content[28 + size :])


def joined(head: dict, binary: bytes) -> bytes:
    """A GLB of a description and numbers."""
    head["buffers"][0]["byteLength"] = len(binary)
    text = json.dumps(head).encode()
    text += b" " * (-len(text) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text + struct.pack("<I4s", len(binary), b"BIN\0") + bytes(binary)
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def quantised(content: bytes) -> bytes:
    """A board with places as normalised shorts, and texture coordinates as bytes of half the picture that a transform brings back."""
    head, binary = parted(content)
    (primitive,) = head["meshes"][0]["primitives"]

    def packed(name: str, dtype: type, scale: float) -> None:
        accessor = head["accessors"][primitive["attributes"][name]]
        view = head["bufferViews"][accessor["bufferView"]]
        width = {"VEC2": 2, "VEC3": 3}[accessor["type"]]
        start = view.get("byteOffset", 0) + accessor.get("byteOffset", 0)
        values = np.frombuffer(bytes(binary), np.float32, accessor["count"] * width, start).reshape(-1, width)
        most = np.iinfo(dtype).max
        # Four bytes a row, or eight, as glTF wants it.
        rows = np.zeros((len(values), 4), dtype)
        rows[:, :width] = np.round(values * scale * most)
        binary.extend(b"\0" * (-len(binary) % 4))
        head["bufferViews"].append(
            {"buffer": 0, "byteOffset": len(binary), "byteLength": rows.nbytes, "byteStride": rows.itemsize * 4}
        )
        binary.extend(rows.tobytes())
        accessor.update(bufferView=len(head["bufferViews"]) - 1, byteOffset=0, normalized=True,
                        componentType={np.int16: 5122, np.uint8: 5121}[dtype])  # fmt: skip
        accessor.pop("min", None)
        accessor.pop("max", None)

    packed("POSITION", np.int16, 1.0)
    packed("TEXCOORD_0", np.uint8, 0.5)
    texture = head["materials"][0]["pbrMetallicRoughness"]["baseColorTexture"]
    texture["extensions"] = {"KHR_texture_transform": {"scale": [2, 2]}}
    head["extensionsUsed"] = head["extensionsRequired"] = ["KHR_mesh_quantization", "KHR_texture_transform"]
    return joined(head, binary)


PLACES = np.array([[0.1, 0.1], [0.9, 0.15], [0.2, 0.85], [0.6, 0.5], [0.5, 0.75]])


class ReadTests(unittest.TestCase):
    def told(self, found: Found) -> None:
        """A picture on the board is where it was on it."""
        texels = read_at(found, PLACES)
        np.testing.assert_allclose(srgb_bytes(texels[:, :3])[:, :2] / 255, PLACES, atol=0.04)

    def test_pictures_lie_on_a_mesh_as_they_did(self) -> None:
        found = read_mesh("board.glb", glb(baseColorTexture=Image.fromarray(picture())))
        self.assertEqual(is_wrapped(found.mesh).tolist(), [True])
        self.assertAlmostEqual(metres_a_width(found.mesh, 0), np.sqrt(2), places=5)
        self.told(found)

    def test_factors_roughness_and_metalness_are_taken_over(self) -> None:
        packed = np.zeros((4, 4, 3), np.uint8)
        packed[..., 1], packed[..., 2] = 128, 255
        found = read_mesh("board.glb", glb(
            baseColorTexture=Image.fromarray(np.full((4, 4, 3), 200, np.uint8)), baseColorFactor=[255, 128, 0, 255],
            metallicRoughnessTexture=Image.fromarray(packed), roughnessFactor=0.5, metallicFactor=1.0))  # fmt: skip
        texels = read_at(found, PLACES)
        whole = linear_of(np.float32(200 / 255))
        np.testing.assert_allclose(texels[:, :3], [[whole, whole * 128 / 255, 0]] * len(PLACES), atol=0.01)
        np.testing.assert_allclose(texels[:, 4:], [[0.25, 1]] * len(PLACES), atol=0.01)

    def test_normals_become_relief_of_their_depth(self) -> None:
        # Waves of 4 mm along the board's 2 m, which are eight to its width.
        x = np.linspace(0, 2 * np.pi, 256, endpoint=False)[None] * np.ones((256, 1))
        slope = 0.002 * 8 * np.pi * np.cos(8 * x)
        normal = np.dstack([-slope, np.zeros_like(slope), np.ones_like(slope)])
        normal /= np.linalg.norm(normal, axis=2, keepdims=True)
        shown = Image.fromarray(np.round((normal + 1) * 127.5).astype(np.uint8))
        found = read_mesh("board.glb", glb(baseColorTexture=Image.fromarray(picture()), normalTexture=shown))
        # The picture is as wide as high, the board twice: metres are by the mean of both.
        deep = relief_of(found.textures.of(0), metres_a_width(found.mesh, 0))
        self.assertAlmostEqual(deep / (0.004 / np.sqrt(2)), 1, delta=0.12)
        low, high = np.percentile(found.textures.of(0).height, [2, 98])
        self.assertGreater(high - low, 50_000)

    def test_a_zip_of_obj_materials_and_pictures_is_read(self) -> None:
        stream = io.BytesIO()
        Image.fromarray(picture()).save(stream, "PNG")
        obj = ("mtllib paint.mtl\nv -1 0 0\nv 1 0 0\nv 1 1 0\nv -1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl paint\n"
               "f 1/1 2/2 3/3\nf 1/1 3/3 4/4\n")  # fmt: skip
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr("barn/board.obj", obj)
            archive.writestr("barn/paint.mtl", "newmtl paint\nKd 0.8 0.8 0.8\nmap_Kd paint.png\nmap_Bump b.png\n")
            archive.writestr("barn/paint.png", stream.getvalue())
        found = read_mesh("board.zip", packed.getvalue())
        self.told(found)
        self.assertTrue(any("relief" in one for one in found.remarks))

    def test_parts_that_share_a_material_share_its_pictures(self) -> None:
        one = board(baseColorTexture=Image.fromarray(picture()))
        other = one.copy()
        other.visual = TextureVisuals(uv=one.visual.uv, material=one.visual.material)
        other.apply_translation([0, 0, 2])
        plain = trimesh.creation.box((1, 1, 1))
        content = trimesh.Scene({"a": one, "b": other, "c": plain}).export(file_type="glb")
        found = read_mesh("boards.glb", content)
        self.assertEqual(len(found.textures.textures), 1)
        self.assertEqual(sorted(found.textures.rows.tolist()), [-1, 0, 0])
        self.assertEqual((found.textures.rows >= 0).tolist(), is_wrapped(found.mesh).tolist())

    def test_packed_numbers_are_read_as_plain_ones(self) -> None:
        content = glb(baseColorTexture=Image.fromarray(picture()))
        packed = quantised(content)
        self.told(read_mesh("board.glb", packed))
        # What several primitives share is made plain once.
        head, binary = parted(packed)
        head["meshes"][0]["primitives"] *= 3
        again, _ = parted(plain_glb(joined(head, binary)))
        self.assertEqual(len(again["accessors"]), len(head["accessors"]) + 2)
        head["buffers"][0]["uri"] = "data:,"
        with self.assertRaisesRegex(ImportRefused, "one binary part"):
            plain_glb(joined(head, binary))

    def test_draco_and_webp_are_read(self) -> None:
        one = board(baseColorTexture=Image.fromarray(picture()))
        content = one.export(file_type="glb", extension_draco=True)
        self.assertIn(b"KHR_draco_mesh_compression", content)
        self.told(read_mesh("board.glb", content))
        webp = one.export(file_type="glb", extension_webp=True)
        self.assertIn(b"EXT_texture_webp", webp)
        self.told(read_mesh("board.glb", webp))

    def test_what_cannot_be_unpacked_is_refused_by_its_name(self) -> None:
        head, binary = parted(glb(baseColorTexture=Image.fromarray(picture())))
        head["extensionsRequired"] = ["EXT_meshopt_compression", "KHR_materials_unlit"]
        with self.assertRaisesRegex(ImportRefused, "It needs EXT_meshopt_compression, which"):
            read_mesh("board.glb", joined(head, binary))

    def test_materials_that_did_not_come_along_are_asked_for(self) -> None:
        obj = "v -1 0 0\nv 1 0 0\nv 1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nusemtl paint\nf 1/1 2/2 3/3\n"
        for content, asks in ((obj, False), ("mtllib paint.mtl\n" + obj, True)):
            found = read_mesh("board.obj", content.encode())
            self.assertIsNone(found.textures)
            self.assertEqual(any("zip" in one for one in found.remarks), asks)

    def test_colours_of_corners_are_taken_over(self) -> None:
        mesh = trimesh.creation.box((1, 1, 1))
        mesh.visual.vertex_colors = np.tile(np.array([[200, 100, 50, 255]], np.uint8), (8, 1))
        for name, linear in (("box.ply", False), ("box.glb", True)):
            found = read_mesh(name, mesh.export(file_type=name[-3:]))
            colour = np.array([200, 100, 50]) / 255
            np.testing.assert_allclose(found.mesh.colours[0], colour if linear else linear_of(colour), atol=0.005)
            self.assertEqual(found.textures.of(0).base.shape, (1, 1, 3))

    def test_meshes_without_any_are_read_as_before(self) -> None:
        for name in ("box.stl", "box.ply", "box.obj"):
            found = read_mesh(name, _bytes(trimesh.creation.box((1, 2, 3)).export(file_type=name[-3:])))
            self.assertEqual(len(found.mesh.faces), 12)
            self.assertFalse(found.textures or is_wrapped(found.mesh).any())

    def test_what_is_left_out_is_said(self) -> None:
        holes = np.dstack([picture(), np.where(np.arange(64)[None] < 32, 0, 255) * np.ones((64, 1))]).astype(np.uint8)
        found = read_mesh("leaf.glb", glb(
            baseColorTexture=Image.fromarray(holes), alphaMode="MASK", emissiveFactor=[1.0, 0.5, 0.2]))  # fmt: skip
        self.assertTrue(any("cut-outs" in one for one in found.remarks))
        self.assertTrue(any("glows" in one for one in found.remarks))

    def test_cut_outs_come_along_and_are_kept(self) -> None:
        leaf = np.dstack([picture(), np.full((64, 64), 255, np.uint8)])
        leaf[:, :32, 3] = 40
        content = glb(baseColorTexture=Image.fromarray(leaf), alphaMode="MASK", alphaCutoff=0.25)
        found = read_mesh("leaf.glb", content)
        (texture,) = found.textures.textures
        self.assertEqual((int(texture.cut[0, 0] > 127), int(texture.cut[0, -1] > 127)), (0, 1))
        again = OwnTextures.from_arrays(found.textures.as_arrays()).textures[0]
        np.testing.assert_array_equal(again.cut, texture.cut)
        self.assertIn("item of the kit", " ".join(found.remarks))
        opaque = read_mesh("leaf.glb", glb(baseColorTexture=Image.fromarray(leaf))).textures.textures[0]
        self.assertIsNone(opaque.cut)

    def test_a_process_of_its_own_gives_the_same(self) -> None:
        content = glb(baseColorTexture=Image.fromarray(picture()), normalTexture=Image.fromarray(picture()))
        here, there = read_mesh("b.glb", content), read_mesh_apart("b.glb", content, "m", "y")
        np.testing.assert_array_equal(here.mesh.uv, there.mesh.uv)
        for one, other in zip(here.textures.textures, there.textures.textures, strict=True):
            np.testing.assert_array_equal(one.base, other.base)
            np.testing.assert_array_equal(one.height, other.height)
            self.assertAlmostEqual(one.span, other.span, places=3)

    def test_bad_archives_are_refused_in_words(self) -> None:
        def packed(**files: bytes) -> bytes:
            stream = io.BytesIO()
            with zipfile.ZipFile(stream, "w") as archive:
                for name, content in files.items():
                    archive.writestr(name.replace("_", "."), content)
            return stream.getvalue()

        stl = _bytes(trimesh.creation.box().export(file_type="stl"))
        cases = [
            ("a.zip", b"PK\3\4 and nothing", "could not be unpacked"),
            ("a.zip", b"no zip at all", "is called .zip but is none"),
            ("a.zip", packed(notes_txt=b"hello"), "holds no mesh"),
            ("a.zip", packed(a_stl=stl, b_stl=stl), "holds 2 meshes"),
            ("a.ply", b"obj", "does not begin as one"),
            ("a.stl", b"solid nothing", "holds no triangles"),
        ]
        for name, content, words in cases:
            with self.assertRaisesRegex(ImportRefused, words):
                read_mesh(name, content)


class SurfaceTests(unittest.TestCase):
    def setUp(self) -> None:
        found = read_mesh("board.glb", glb(baseColorTexture=Image.fromarray(picture())))
        mesh, textures = pack_arrays(found.mesh.as_arrays()), pack_arrays(found.textures.as_arrays())
        digests = [hashlib.sha256(one).hexdigest() for one in (mesh, textures)]
        self.cache = memory_cache()
        self.cache.sources.write(source_name(MESH, digests[0]), mesh)
        self.cache.sources.write(source_name(OWN_TEXTURES, digests[1]), textures)
        self.board = Structure(id="board", name="Board", source=Imported(mesh=digests[0], textures=digests[1]))

    def maps(self, **given: object) -> tuple[Graph, np.ndarray]:
        board = self.board.model_copy(update=given)
        graph = Graph(SiteDocument(ground=Ground(size=(6, 6)), structures=(board,)), self.cache)
        return graph, graph.get(SurfaceMaps("board", graph.get(ObjectShape("board")).level_for(0.02), bare=True)).base

    def test_maps_show_it_and_a_material_takes_its_place(self) -> None:
        graph, own = self.maps()
        self.assertEqual(wrapped_parts(Site(graph), "board"), (True,))
        shown = own[own[..., 3] > 0][:, :3]
        np.testing.assert_allclose(shown[:, 2], 128, atol=3)
        self.assertGreater(np.ptp(shown[:, 0].astype(int)), 200)
        part = graph.document.structures[0]
        name = graph.get(ObjectShape("board")).mesh.part_names[0]
        other, rock = self.maps(materials={name: "brick"})
        self.assertEqual(wrapped_parts(Site(other), part.id), (False,))
        self.assertFalse(np.allclose(rock[rock[..., 3] > 0][:, 2], 128, atol=3))

    def test_it_weathers_as_it_is_told_and_keeps_its_look(self) -> None:
        graph, own = self.maps()
        name = graph.get(ObjectShape("board")).mesh.part_names[0]
        iron, same = self.maps(weathers_as={name: "iron"})
        np.testing.assert_array_equal(own, same)
        natures = [part_natures(Site(one), "board") for one in (graph, iron)]
        self.assertNotEqual(*natures)

    def test_where_the_file_is_lost_materials_stand_in(self) -> None:
        lost = self.board.source.model_copy(update={"textures": "0" * 64})
        graph, maps = self.maps(source=lost)
        self.assertEqual(wrapped_parts(Site(graph), "board"), ())
        self.assertTrue((maps[..., 3] > 0).any())

    def test_as_a_kit_item_it_is_of_its_material_alone(self) -> None:
        mesh = read_mesh("board.glb", glb(baseColorTexture=Image.fromarray(picture()))).mesh
        item = ImportedItem(mesh="a" * 64, material="iron")
        made = Shelf.of({"own-board": item}, {item.mesh: mesh}).mesh("own-board", 0)
        self.assertEqual(made.part_names, ("iron",))
        self.assertTrue(made.uv is None and made.colours is None)

    def test_arrays_bring_back_the_same(self) -> None:
        found = read_mesh("board.glb", glb(baseColorTexture=Image.fromarray(picture(32, 16))))
        again = OwnTextures.from_arrays(found.textures.as_arrays())
        np.testing.assert_array_equal(again.of(0).base, found.textures.of(0).base)
        self.assertEqual(again.of(0).height.shape, found.textures.of(0).height.shape)


def _bytes(content: str | bytes) -> bytes:
    return content.encode() if isinstance(content, str) else content


if __name__ == "__main__":
    unittest.main()
