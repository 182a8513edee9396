"""Open formats in and out."""

from __future__ import annotations

import io
import json
import struct
import subprocess
import tempfile
import unittest
from pathlib import Path

import numpy as np
import pygltflib
import trimesh
from PIL import Image
from shapes import graph_of, placed_by, small_site

from cenote.derive.droplets import DropletMesh
from cenote.derive.graph import Cancelled
from cenote.derive.grass import LyingGrass
from cenote.derive.maps import SurfaceMaps
from cenote.derive.reports import report
from cenote.derive.surfaces import ObjectShape
from cenote.droplets.beads import Beads
from cenote.export.site_glb import export_glb
from cenote.formats.glb import ExportRefused
from cenote.formats.meshes_in import kind_of, read_mesh
from cenote.formats.pack import pack, unpack
from cenote.geometry.build import box, sphere
from cenote.geometry.compass import towards
from cenote.grass.layer import Grass
from cenote.refused import ImportRefused
from cenote.render.preview import look, mask_pictures, picture
from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import CoverLayer, Made, Placement, Shot, Structure, Water
from cenote.site.droplets import DropletLayer
from cenote.structures.sign import Sign
from cenote.weather.climate import Climate
from cenote.weather.snow import Snow

ROOT = Path(__file__).resolve().parents[2]
VALIDATE = """
const { validateBytes } = require("gltf-validator");
const bytes = new Uint8Array(require("fs").readFileSync(process.argv[1]));
validateBytes(bytes, { maxIssues: 50 }).then((report) => console.log(JSON.stringify(report.issues)));
"""


def validated(content: bytes) -> dict:
    """The issues that Khronos' validator finds in a GLB."""
    with tempfile.NamedTemporaryFile(suffix=".glb") as file:
        file.write(content)
        file.flush()
        command = ["node", "-e", VALIDATE, file.name]
        done = subprocess.run(command, cwd=ROOT / "web", capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


def glb_of(mesh) -> bytes:
    """A GLB as another program would write it."""
    return trimesh.Scene({"thing": trimesh.Trimesh(mesh.positions, mesh.faces, process=False)}).export(file_type="glb")


def obj_of(mesh) -> bytes:
    """An OBJ as another program would write it."""
    return trimesh.Trimesh(mesh.positions, mesh.faces, process=False).export(file_type="obj").encode()


class PackTests(unittest.TestCase):
    def test_there_and_back(self) -> None:
        arrays = {
            "a": np.arange(5, dtype=np.uint8),
            "b": np.ones((2, 3, 4), np.float32),
            "none": np.zeros((0, 3), np.int16),
        }
        rows = np.cumsum(np.ones((40, 300, 4), np.uint8), axis=1, dtype=np.uint8)
        arrays["picture"] = rows + np.arange(4, dtype=np.uint8)
        back, meta = unpack(pack(arrays, {"x": [1, "ü"]}))
        self.assertEqual(meta, {"x": [1, "ü"]})
        for name, array in arrays.items():
            np.testing.assert_array_equal(back[name], array)
            self.assertEqual(back[name].dtype, array.dtype)

    def test_what_does_not_travel_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            pack({"a": np.zeros(2)})
        with self.assertRaises(ValueError):
            unpack(b"PNG?")


class ImportTests(unittest.TestCase):
    def test_glb_and_obj_come_in_metres_upright_on_the_ground(self) -> None:
        solid = box((10, 20, 30), (12, 23, 31))
        for name, content in (("a.glb", glb_of(solid)), ("b.obj", obj_of(solid))):
            found = read_mesh(name, content)
            np.testing.assert_allclose(found.mesh.bounds, [[-1, 0, -0.5], [1, 3, 0.5]], atol=1e-5)
            self.assertEqual(len(found.mesh.faces), 12)
            self.assertEqual(found.remarks, [])

    def test_unit_and_upward_axis(self) -> None:
        solid = box((0, 0, 0), (100, 50, 300))
        found = read_mesh("a.obj", obj_of(solid), "cm", "z")
        low, high = found.mesh.bounds
        np.testing.assert_allclose(high - low, [1, 3, 0.5], atol=1e-5)

    def test_strange_sizes_are_remarked_on(self) -> None:
        self.assertIn("1,000 m long", read_mesh("a.obj", obj_of(box((0, 0, 0), (1000, 500, 900)))).remarks[0])
        self.assertIn("mm long", read_mesh("a.obj", obj_of(box((0, 0, 0), (0.01, 0.01, 0.01)))).remarks[0])
        self.assertIn("very flat", read_mesh("a.obj", obj_of(box((0, 0, 0), (4, 0.01, 4)))).remarks[0])

    def refused(self, name: str, content: bytes, words: str) -> None:
        with self.assertRaisesRegex(ImportRefused, words):
            read_mesh(name, content)

    def test_broken_files_are_refused_in_words(self) -> None:
        good = glb_of(sphere())
        self.refused("a.fbx", good, "is not a .glb, .obj, .ply, .stl or .zip")
        self.refused("a.glb", obj_of(sphere()), "does not hold binary glTF")
        self.refused("a.obj", good, "holds binary data")
        self.refused("a.glb", good[:500], "cut off")
        self.refused("a.glb", b"glTF", "ends before its header")
        self.refused("a.glb", struct.pack("<4sII", b"glTF", 1, 20) + b"\0" * 8, "version 1")
        self.refused("a.obj", b"v 0 0 0\nv 1 0 0\nl 1 2\n", "no faces")
        self.refused("a.obj", b"v 0 0 0\nv 0 0 0\nv 0 0 0\nf 1 2 3\n", "zero area|no triangles")
        self.refused("a.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "not finite|could not be read")
        self.refused("a.obj", b"v 0 0 0\nv 1e9 0 0\nv 0 1e9 0\nf 1 2 3\n", "1,000 km")
        self.refused("a.obj", b"f 1 2 99\n", "could not be read|not there|no triangles")

    def with_description(self, change) -> bytes:
        good = glb_of(box((0, 0, 0), (1, 1, 1)))
        size = struct.unpack_from("<I", good, 12)[0]
        document = json.loads(good[20 : 20 + size])
        change(document)
        text = json.dumps(document).encode()
        text += b" " * (-len(text) % 4)
        rest = good[20 + size :]
        return struct.pack("<4sIII4s", b"glTF", 2, 20 + len(text) + len(rest), len(text), b"JSON") + text + rest

    def test_files_that_ask_for_more_than_they_hold_are_refused_before_anything_is_made(self) -> None:
        def many(document: dict) -> None:
            for accessor in document["accessors"]:
                accessor["count"] = 2**31

        def outside(document: dict) -> None:
            document["buffers"][0]["uri"] = "/etc/passwd"

        def packed(document: dict) -> None:
            document["extensionsRequired"] = ["EXT_meshopt_compression"]

        self.refused("a.glb", self.with_description(many), "accessors/0/count")
        self.refused("a.glb", self.with_description(outside), "other files")
        self.refused("a.glb", self.with_description(packed), "EXT_meshopt_compression")
        self.refused("a.glb", self.with_description(lambda d: d.pop("meshes")), "nodes/0/mesh: there is no 0")

    def test_obj_never_opens_other_files(self) -> None:
        content = b"mtllib ../../../../etc/passwd\nusemtl x\n" + obj_of(box((0, 0, 0), (1, 1, 1)))
        self.assertEqual(len(read_mesh("a.obj", content).mesh.faces), 12)

    def test_the_name_is_not_believed(self) -> None:
        self.assertEqual(kind_of("x.y.GLB", b"glTF" + b"\0" * 600), "glb")
        with self.assertRaises(ImportRefused):
            kind_of("glb", b"glTF")


class ExportTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        layer = Scatter(id="a", density=1.5, mix=(MixItem(item="fern"), MixItem(item="stone")))
        cls.shop = graph_of(small_site(planting=(layer,), water=Water(shown=True, level=-0.2)))
        cls.layer = layer
        cls.files = {m: export_glb(cls.shop, m, 0.05, lambda *_: None) for m in ("instanced", "merged")}

    def test_the_validator_finds_no_errors(self) -> None:
        for manner, content in self.files.items():
            with self.subTest(manner):
                issues = validated(content)
                self.assertEqual(issues["numErrors"], 0, issues["messages"])
                self.assertEqual(issues["numWarnings"], 0, issues["messages"])

    def test_what_glows_and_what_is_tipped_over_travels(self) -> None:
        sign = Structure(
            id="sign",
            name="Sign",
            source=Made(maker=Sign(glow=3)),
            placement=Placement(position=(0, 1, 0), turn=40, tip=25, roll=-70),
        )
        shop = graph_of(small_site(structures=(sign,)), self.shop.cache)
        content = export_glb(shop, "instanced", 0.1, lambda *_: None)
        issues = validated(content)
        self.assertEqual((issues["numErrors"], issues["numWarnings"]), (0, 0), issues["messages"])
        file = pygltflib.GLTF2.load_from_bytes(content)
        glowing = [material for material in file.materials if material.extensions]
        self.assertEqual([material.name for material in glowing], ["Sign, glowing"])
        self.assertEqual(glowing[0].extensions["KHR_materials_emissive_strength"], {"emissiveStrength": 3.0})
        found = trimesh.load_scene(io.BytesIO(content), file_type="glb")
        names = [name for name in found.graph.nodes_geometry if "Sign" in name]
        there = np.concatenate(
            [
                trimesh.transform_points(found.geometry[found.graph[name][1]].vertices, found.graph[name][0])
                for name in names
            ]
        )
        wanted = shop.get(ObjectShape("sign")).corners.reshape(-1, 3)
        np.testing.assert_allclose(there.min(0), wanted.min(0), atol=1e-3)
        np.testing.assert_allclose(there.max(0), wanted.max(0), atol=1e-3)

    def test_the_validator_does_find_errors(self) -> None:
        broken = bytearray(self.files["instanced"])
        at = broken.find(b'"byteOffset"')
        broken[at : at + 12] = b'"byteOffsfu"'
        broken = broken.replace(b'"componentType":5126', b'"componentType":9999', 1)
        self.assertGreater(validated(bytes(broken))["numErrors"], 0)

    def test_what_was_composed_is_inside(self) -> None:
        file = pygltflib.GLTF2.load_from_bytes(self.files["instanced"])
        surface = self.shop.get(ObjectShape("crates"))
        maps = self.shop.get(SurfaceMaps("crates", surface.level_for(0.05)))
        material = next(m for m in file.materials if m.name == "Crates")
        texture = file.textures[material.pbrMetallicRoughness.baseColorTexture.index]
        view = file.bufferViews[file.images[texture.source].bufferView]
        blob = file.binary_blob()
        pixels = np.asarray(Image.open(io.BytesIO(blob[view.byteOffset : view.byteOffset + view.byteLength])))
        np.testing.assert_array_equal(pixels, maps.base[..., :3])
        self.assertIsNotNone(material.normalTexture)
        self.assertIsNotNone(material.occlusionTexture)

    def test_every_placed_item_is_there_in_both_manners(self) -> None:
        count = len(placed_by(self.shop, self.layer))
        instanced = pygltflib.GLTF2.load_from_bytes(self.files["instanced"])
        tables = [n.extensions["EXT_mesh_gpu_instancing"]["attributes"] for n in instanced.nodes if n.extensions]
        self.assertEqual(sum(instanced.accessors[t["TRANSLATION"]].count for t in tables), count)
        self.assertEqual(instanced.extensionsRequired, ["EXT_mesh_gpu_instancing"])
        merged = pygltflib.GLTF2.load_from_bytes(self.files["merged"])
        self.assertFalse(merged.extensionsRequired)
        self.assertGreater(len(self.files["merged"]), len(self.files["instanced"]))
        found = trimesh.load_scene(io.BytesIO(self.files["merged"]), file_type="glb")
        self.assertAlmostEqual(found.extents[0], 8, delta=2)

    def test_what_is_hidden_stays_out(self) -> None:
        hidden = small_site(planting=(self.layer.model_copy(update={"shown": False}),))
        file = pygltflib.GLTF2.load_from_bytes(
            export_glb(graph_of(hidden, self.shop.cache), "instanced", 0.1, lambda *_: None)
        )
        self.assertEqual([file.nodes[n].name for n in file.scenes[0].nodes], ["Ground", "Crates"])

    def test_snow_travels_on_items_and_as_a_sheet(self) -> None:
        ids = ("ground", "crates")
        snow = CoverLayer(id="snow", name="Snow", cover=Snow(), where=Snow.usual_where(), surfaces=ids)
        alder = Scatter(id="trees", density=0.05, mix=(MixItem(item="alder"),))
        site = small_site(planting=(self.layer, alder), weather=(snow,), climate=Climate(snow=0.2, season=0.4))
        shop = graph_of(site, self.shop.cache)
        for manner in ("instanced", "merged"):
            content = export_glb(shop, manner, 0.1, lambda *_: None)
            issues = validated(content)
            self.assertEqual((issues["numErrors"], issues["numWarnings"]), (0, 0), issues["messages"])
            file = pygltflib.GLTF2.load_from_bytes(content)
            names = [material.name for material in file.materials]
            self.assertIn("Alder leaves, coated", [n.replace(" card", " leaves") for n in names])
            self.assertIn("bark_alder, coated" if "bark_alder" in names else "bark, coated", names)
            self.assertIn("Snow, sheet", [node.name for node in file.nodes])
            placed = sum(len(placed_by(shop, layer)) for layer in (self.layer, alder))
            if manner == "instanced":
                tables = [n.extensions["EXT_mesh_gpu_instancing"]["attributes"] for n in file.nodes if n.extensions]
                self.assertEqual(sum(file.accessors[t["TRANSLATION"]].count for t in tables), placed)
            # Of a stone, what looks up is hidden by snow, and the rest is stone.
            found = trimesh.load_scene(io.BytesIO(content), file_type="glb")
            stones = {name: mesh for name, mesh in found.geometry.items() if "Field stone" in name}
            white = [mesh for mesh in stones.values() if mesh.visual.material.name.endswith(", coated")]
            bare = [mesh for mesh in stones.values() if not mesh.visual.material.name.endswith(", coated")]
            up = [np.concatenate([mesh.face_normals[:, 1] for mesh in some]) for some in (white, bare)]
            self.assertGreater(up[0].min(), -0.35)
            self.assertGreater(up[0].mean(), up[1].mean() + 0.5)

    def test_drops_travel_as_clear_water(self) -> None:
        rain = DropletLayer(
            id="rain", name="Rain", droplets=Beads(number=0.2), surfaces=("crates",), follows_damp=False
        )
        wet = graph_of(small_site(droplets=(rain,)), self.shop.cache)
        content = export_glb(wet, "instanced", 0.1, lambda *_: None)
        issues = validated(content)
        self.assertEqual((issues["numErrors"], issues["numWarnings"]), (0, 0), issues["messages"])
        file = pygltflib.GLTF2.load_from_bytes(content)
        (water,) = [material for material in file.materials if material.name == "Drops of water"]
        self.assertEqual(water.extensions["KHR_materials_transmission"], {"transmissionFactor": 1.0})
        found = trimesh.load_scene(io.BytesIO(content), file_type="glb")
        drops = [found.geometry[name] for name in found.geometry if name.startswith("Rain on")]
        self.assertEqual(sum(len(one.faces) for one in drops), len(wet.get(DropletMesh("rain", "crates", True)).faces))

    def test_grass_travels_as_shapes_and_their_copies_or_as_ribbons(self) -> None:
        turf = Grass(id="turf", name="Turf", density=30, keep_clear=())
        green = graph_of(small_site(grass=(turf,)), self.shop.cache)
        blades = green.get(LyingGrass("turf", "ground")).blades
        for manner in ("instanced", "merged"):
            content = export_glb(green, manner, 0.1, lambda *_: None)
            issues = validated(content)
            self.assertEqual((issues["numErrors"], issues["numWarnings"]), (0, 0), issues["messages"])
            file = pygltflib.GLTF2.load_from_bytes(content)
            named = [node for node in file.nodes if node.name.startswith("Turf on") and node.mesh is not None]
            if manner == "instanced":
                tables = [node.extensions["EXT_mesh_gpu_instancing"]["attributes"] for node in named]
                self.assertEqual(sum(file.accessors[table["TRANSLATION"]].count for table in tables), len(blades))
            else:
                found = trimesh.load_scene(io.BytesIO(content), file_type="glb")
                (mesh,) = [found.geometry[name] for name in found.geometry if name.startswith("Turf on")]
                self.assertEqual(len(mesh.faces), len(blades) * 8)

    def test_it_can_be_stopped(self) -> None:
        def stop(done: int, total: int, what: str) -> None:
            raise Cancelled

        with self.assertRaises(Cancelled):
            export_glb(self.shop, "instanced", 0.1, stop)

    def test_what_would_burst_is_refused_in_words(self) -> None:
        from unittest.mock import patch

        with (
            patch("cenote.export.site_glb._MOST_VERTICES", 100),
            self.assertRaisesRegex(ExportRefused, "Export it instanced"),
        ):
            export_glb(self.shop, "merged", 0.1, lambda *_: None)


class PreviewTests(unittest.TestCase):
    def test_rays_go_through_the_middle_and_spread_by_the_angle(self) -> None:
        shot = Shot(id="a", position=(0, 0, 5), target=(0, 0, 0), lens=12)
        origins, directions = shot.camera(101 / 51).rays(101, 51)
        np.testing.assert_allclose(directions.reshape(51, 101, 3)[25, 50], [0, 0, -1], atol=1e-6)
        top = directions.reshape(51, 101, 3)[0, 50]
        self.assertAlmostEqual(np.degrees(np.arctan2(top[1], -top[2])), np.degrees(np.arctan(50 / 51)), places=3)
        np.testing.assert_array_equal(origins[0], [0, 0, 5])

    def test_the_sun_stands_where_it_is_told(self) -> None:
        np.testing.assert_allclose(towards(90, 2)[[0, 1]], [0.9994, 0.0349], atol=1e-3)
        np.testing.assert_allclose(towards(215, 90), [0, 1, 0], atol=1e-6)

    def test_a_picture_shows_sky_above_and_site_below(self) -> None:
        shop = graph_of()
        shot = Shot(id="a", position=(0, 3, 9), target=(0, 1.5, 0))
        pixels = picture(shop, shot, 96, 60)
        self.assertEqual(pixels.shape, (60, 96, 3))
        self.assertGreater(pixels[:5].mean(), pixels[-10:].mean() + 30)
        self.assertGreater(pixels[0, :, 2].mean(), pixels[0, :, 0].mean())

    def test_masks_in_pictures_are_those_of_the_surfaces(self) -> None:
        shop = graph_of()
        rule = shop.document.weather[0].where
        view = look(shop, Shot(id="a", position=(0, 6, 8), target=(0, 0, 0)), 80, 50)
        cards, whole = mask_pictures(shop, rule, report(shop, rule, ["ground"]).masks, view)
        self.assertEqual(cards.shape, (len(rule.cards), 50, 80))
        on_ground = (view.which == view.ids.index("ground")).reshape(50, 80)
        self.assertTrue((whole[~on_ground] == 60).all())
        self.assertLess(whole[on_ground].mean(), cards[0][on_ground].mean() + 1)
