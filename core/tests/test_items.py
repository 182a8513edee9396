"""What placed items look like: packs, portraits, mean colours; and what of it is written to files."""

from __future__ import annotations

import unittest

import numpy as np
import pygltflib
from shapes import small_site, workshop

from cenote.formats.glb import export_glb
from cenote.kit.base import CARD
from cenote.kit.grass_tuft import GrassTuft
from cenote.kit.shelf import OwnItem
from cenote.kit.wood import worn_box
from cenote.materials.base import MATERIALS
from cenote.materials.own import OwnMaterial, OwnRecipe
from cenote.render.portraits import item_portrait, tile_portrait
from cenote.scatter.instances import item_columns
from cenote.scatter.layer import MixItem, Scatter
from cenote.weather.compose import LaidTile, encoded, tile_pictures


def dressed(**changes):
    """A small site that places a fern, a crate and an own grass."""
    own = OwnItem(
        id="own-red",
        name="Red grass",
        source=GrassTuft(root_colour=(0.6, 0, 0), tip_colour=(0.6, 0, 0), dry=0, variety=0),
    )
    mix = (MixItem(item="fern"), MixItem(item="crate"), MixItem(item="own-red"))
    layer = Scatter(id="a", name="Growth", density=2, mix=mix)
    return workshop(small_site(planting=(layer,), kit=(own,), **changes))


class ItemTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.shop = dressed()

    def test_columns_come_part_by_part_and_texture_in_tiles(self) -> None:
        mesh = self.shop.shelf.mesh("barrel", 0)
        columns, groups = item_columns(mesh, lambda part: 2.0 if part == "iron" else None)
        self.assertEqual([part for part, _, _ in groups], list(mesh.part_names))
        self.assertEqual(sum(count for _, _, count in groups), 3 * len(mesh.faces))
        for part, start, count in groups:
            rows = mesh.corners[mesh.parts == mesh.part_names.index(part)].reshape(-1, 3)
            np.testing.assert_array_equal(columns["position"][start : start + count], rows)
        box = worn_box((0, 0, 0), (1, 1, 1), 0.01, "rock")
        metres, tiles = (item_columns(box, lambda _, size=size: size)[0]["uv"] for size in (None, 0.5))
        np.testing.assert_allclose(tiles, metres * 2, atol=1e-6)

    def test_packs_hold_every_variant_with_its_parts(self) -> None:
        pack, parts = self.shop.items.pack("crate", 0), self.shop.items.parts("crate")
        for variant in range(self.shop.shelf.item("crate").variants):
            groups = pack[f"{variant}/groups"]
            self.assertEqual(groups[:, 2].sum(), len(pack[f"{variant}/index"]))
            self.assertLess(groups[:, 0].max(), len(parts))
            self.assertLess(pack[f"{variant}/index"].max(), len(pack[f"{variant}/position"]))

    def test_keys_follow_what_an_item_is_made_of(self) -> None:
        names = {self.shop.items.name(kind) for kind in ("fern", "crate", "grass_tuft", "own-red")}
        self.assertEqual(len(names), 4)
        self.assertEqual(self.shop.items.name("fern"), dressed().items.name("fern"))

    def test_mean_colours_count_cards_and_tiles(self) -> None:
        red = self.shop.items.looks("own-red", self.shop.shelf.mesh("own-red", 0))
        np.testing.assert_allclose(red[:, 1:], 0, atol=1e-6)
        fern = self.shop.items.looks("fern", self.shop.shelf.mesh("fern", 0)).mean(0)
        self.assertTrue(fern[1] > fern[0] > fern[2])
        crate = self.shop.items.looks("crate", self.shop.shelf.mesh("crate", 0)).mean(0)
        wood = MATERIALS["planed_timber"].recipe.bake(64).albedo.mean((0, 1))
        np.testing.assert_allclose(crate / wood, 1, atol=0.15)

    def test_portraits_are_drawn_once_and_show_the_item(self) -> None:
        first = item_portrait(self.shop, "own-red").astype(int)
        self.assertEqual(first.shape, (160, 200, 3))
        self.assertGreater((first[..., 0] > 1.6 * first[..., 1]).mean(), 0.005)
        np.testing.assert_array_equal(item_portrait(self.shop, "own-red"), first)
        flat = np.zeros((256, 256, 6), np.float32)
        flat[..., :3], flat[..., 4] = (0.5, 0.1, 0.1), 0.9
        portrait = tile_portrait(LaidTile(flat, 1, 0, 0)).astype(int)
        self.assertEqual(portrait.shape, (160, 160, 3))
        self.assertGreater(portrait[80, 80, 0], portrait[80, 80, 1] + 40)

    def test_pictures_of_tiles_are_encoded(self) -> None:
        np.testing.assert_array_equal(encoded(np.array([[[0, 0.21404, 1, 0.5]]]))[0, 0], [0, 127, 255, 128])
        tile = np.zeros((8, 8, 6), np.float32)
        tile[..., 3], tile[..., 4], tile[..., 5] = 0.5, 0.25, 1
        _, orm, normal = tile_pictures(LaidTile(tile, 1, 0.1, 0))
        np.testing.assert_array_equal(orm[0, 0], [255, 64, 255])
        np.testing.assert_array_equal(normal[0, 0], [128, 128, 255])


class FileTests(unittest.TestCase):
    def test_files_carry_parts_leaves_and_shared_tiles(self) -> None:
        file = pygltflib.GLTF2.load_from_bytes(export_glb(dressed(), "instanced", 0.1, lambda *_: None))
        materials = {material.name: material for material in file.materials}
        leaves = materials["Fern card"]
        self.assertEqual((leaves.alphaMode, leaves.doubleSided), ("MASK", True))
        self.assertIsNotNone(leaves.pbrMetallicRoughness.baseColorTexture)
        self.assertEqual(sum(material.name == "planed_timber" for material in file.materials), 1)
        self.assertEqual(file.samplers[1].wrapS, pygltflib.REPEAT)
        self.assertTrue(any("Red grass" in (node.name or "") for node in file.nodes))
        crate = next(mesh for mesh in file.meshes if "Crate" in mesh.name and ":" in mesh.name)
        self.assertIsNotNone(crate.primitives[0].attributes.TANGENT)


class OwnMaterialTests(unittest.TestCase):
    def test_a_material_of_ones_own_is_composed_and_keyed_by_its_recipe(self) -> None:
        def site(seed: int):
            recipe = MATERIALS["brick"].recipe.model_dump() | {"kind": "recipe", "seed": seed}
            own = OwnMaterial(id="own-brick", name="Old brick", source=OwnRecipe.model_validate(recipe))
            document = small_site(materials=(own,), weather=())
            crates = document.structures[0].model_copy(update={"materials": {"planed_timber": "own-brick"}})
            return workshop(document.model_copy(update={"structures": (crates,)}))

        first, second = site(1), site(2)
        self.assertNotEqual(first.tile_name("own-brick"), second.tile_name("own-brick"))
        a, b = (one.maps(one.surface("crates"), 1) for one in (first, second))
        self.assertGreater(np.abs(a.base.astype(int) - b.base).mean(), 0.5)
        self.assertIn(CARD, dressed().shelf.mesh("fern", 0).part_names)
