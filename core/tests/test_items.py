"""What placed items look like: packs, portraits, mean colours; and what of it is written to files."""

from __future__ import annotations

import unittest

import numpy as np
import pygltflib
from shapes import graph_of, small_site

from cenote.colour import srgb_bytes
from cenote.derive.colours import FaceColours
from cenote.derive.items import ItemPack, StandIn
from cenote.derive.maps import SurfaceMaps
from cenote.derive.tiles import MaterialTile
from cenote.export.site_glb import export_glb
from cenote.geometry.build import sphere
from cenote.geometry.mesh import join
from cenote.kit.base import CARD
from cenote.kit.grass_tuft import GrassTuft
from cenote.kit.shelf import SHIPPED, OwnItem
from cenote.kit.wood import worn_box
from cenote.materials.base import MATERIALS
from cenote.materials.own import OwnMaterial, OwnRecipe
from cenote.pictures.stand_in import HEIGHT, PART, WIDTH, stand_ins
from cenote.render.portraits import ItemPortrait, tile_portrait
from cenote.scatter.instances import item_columns
from cenote.scatter.layer import MixItem, Scatter
from cenote.weather.climate import Climate
from cenote.weather.tiles import LaidTile, tile_pictures


def dressed(**changes):
    """A small site that places a fern, a crate and an own grass."""
    own = OwnItem(
        id="own-red",
        name="Red grass",
        source=GrassTuft(root_colour=(0.6, 0, 0), tip_colour=(0.6, 0, 0), dry=0, variety=0),
    )
    mix = (MixItem(item="fern"), MixItem(item="crate"), MixItem(item="own-red"))
    layer = Scatter(id="a", name="Growth", density=2, mix=mix)
    return graph_of(small_site(planting=(layer,), kit=(own,), **changes))


class ItemTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.shop = dressed()

    def test_columns_come_part_by_part_and_texture_in_tiles(self) -> None:
        mesh = SHIPPED.mesh("barrel", 0)
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
        pack, parts = self.shop.get(ItemPack("crate", 0)), SHIPPED.parts("crate")
        for variant in range(SHIPPED.item("crate").variants):
            groups = pack[f"{variant}/groups"]
            self.assertEqual(groups[:, 2].sum(), len(pack[f"{variant}/index"]))
            self.assertLess(groups[:, 0].max(), len(parts))
            self.assertLess(pack[f"{variant}/index"].max(), len(pack[f"{variant}/position"]))

    def test_keys_follow_what_an_item_is_made_of(self) -> None:
        names = {self.shop.key(ItemPack(kind, 0)) for kind in ("fern", "crate", "grass_tuft", "own-red")}
        self.assertEqual(len(names), 4)
        self.assertEqual(self.shop.key(ItemPack("fern", 0)), dressed().key(ItemPack("fern", 0)))

    def test_mean_colours_count_cards_and_tiles(self) -> None:
        red = self.shop.get(FaceColours("own-red", 0))
        np.testing.assert_allclose(red[:, 1:], 0, atol=1e-6)
        fern = self.shop.get(FaceColours("fern", 0)).mean(0)
        self.assertTrue(fern[1] > fern[0] > fern[2])
        crate = self.shop.get(FaceColours("crate", 0)).mean(0)
        wood = MATERIALS["planed_timber"].recipe.bake(64).albedo.mean((0, 1))
        np.testing.assert_allclose(crate / wood, 1, atol=0.15)

    def test_portraits_are_drawn_once_and_show_the_item(self) -> None:
        first = self.shop.get(ItemPortrait("own-red")).astype(int)
        self.assertEqual(first.shape, (160, 200, 3))
        self.assertGreater((first[..., 0] > 1.6 * first[..., 1]).mean(), 0.005)
        np.testing.assert_array_equal(self.shop.get(ItemPortrait("own-red")), first)
        flat = np.zeros((256, 256, 6), np.float32)
        flat[..., :3], flat[..., 4] = (0.5, 0.1, 0.1), 0.9
        portrait = tile_portrait(LaidTile.of(flat, 1, 0, 0)).astype(int)
        self.assertEqual(portrait.shape, (160, 160, 3))
        self.assertGreater(portrait[80, 80, 0], portrait[80, 80, 1] + 40)

    def test_pictures_of_tiles_are_encoded(self) -> None:
        np.testing.assert_array_equal(srgb_bytes(np.array([[[0, 0.21404, 1, 0.5]]]))[0, 0], [0, 127, 255, 128])
        tile = np.zeros((8, 8, 6), np.float32)
        tile[..., 3], tile[..., 4], tile[..., 5] = 0.5, 0.25, 1
        _, orm, normal = tile_pictures(LaidTile.of(tile, 1, 0.1, 0))
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
            return graph_of(document.model_copy(update={"structures": (crates,)}))

        first, second = site(1), site(2)
        self.assertNotEqual(first.key(MaterialTile("own-brick")), second.key(MaterialTile("own-brick")))
        a, b = (one.get(SurfaceMaps("crates", 1)) for one in (first, second))
        self.assertGreater(np.abs(a.base.astype(int) - b.base).mean(), 0.5)
        self.assertIn(CARD, SHIPPED.mesh("fern", 0).part_names)


class StandInTests(unittest.TestCase):
    def test_a_ball_is_two_discs_of_its_size_and_colour(self) -> None:
        ball = sphere(24, 32, "plain").at(y=1.0).coloured((0.5, 0.25, 0.125))
        (mesh,), picture = stand_ins([ball], None, {})
        self.assertEqual((len(mesh.faces), mesh.part_names), (4, (PART,)))
        self.assertEqual(picture.shape, (2 * HEIGHT, WIDTH, 4))
        wide, tall = np.ptp(mesh.positions[:, 0]), np.ptp(mesh.positions[:, 1])
        for half in picture.reshape(2, HEIGHT, WIDTH, 4):
            self.assertAlmostEqual((half[..., 3] ** 2).mean() * wide * tall, np.pi, delta=0.05)
            # Empty pixels have the colour too, so that edges do not darken.
            np.testing.assert_allclose(
                half[..., :3].reshape(-1, 3), np.tile([0.5, 0.25, 0.125], (HEIGHT * WIDTH, 1)), atol=1e-3
            )
            self.assertEqual(half[[0, -1], :, 3].max() + half[:, [0, -1], 3].max(), half[-1, :, 3].max())
        self.assertLess(np.abs(mesh.bounds - ball.bounds).max(), 0.08)

    def test_it_shows_each_side_where_it_is(self) -> None:
        # A post at +x, green, and one at +z, red: each picture is told by the direction it is seen from.
        posts = join([worn_box((0.6, 0, -0.1), (0.8, 2, 0.1), 0.01, "plain").coloured((0, 0.5, 0)),
                      worn_box((-0.1, 0, 0.6), (0.1, 1, 0.8), 0.01, "plain").coloured((0.5, 0, 0))])  # fmt: skip
        (mesh,), picture = stand_ins([posts], None, {})
        for face in (0, 2):
            corners, uv = mesh.corners[face], mesh.uv[mesh.faces[face]]
            self.assertGreater(np.linalg.norm(np.cross(corners[1] - corners[0], corners[2] - corners[0])), 0.1)
            self.assertTrue(((uv >= 0) & (uv <= 1)).all())
        for quad in (0, 1):
            corners, uv = mesh.positions[4 * quad : 4 * quad + 4], mesh.uv[4 * quad : 4 * quad + 4]
            axis = 0 if quad == 0 else 2
            place, colour, height = (0.7, 1, 1.5) if quad == 0 else (0.7, 0, 0.5)
            share = (place - corners[0, axis]) / (corners[1, axis] - corners[0, axis])
            up = (height - corners[0, 1]) / (corners[3, 1] - corners[0, 1])
            u, v = uv[0] + share * (uv[1] - uv[0]) + up * (uv[3] - uv[0])
            seen = picture[int(v * len(picture)), int(u * WIDTH)]
            self.assertEqual(seen[3], 1)
            self.assertEqual(int(seen[:3].argmax()), colour)

    def test_what_is_flat_lies_and_is_seen_from_above(self) -> None:
        low = worn_box((-1, 0, -0.5), (1, 0.1, 0.5), 0.01, "plain").coloured((0.4, 0.4, 0.1))
        mark = worn_box((0.6, 0.1, 0.3), (0.8, 0.12, 0.4), 0.001, "plain").coloured((0.5, 0, 0))
        (mesh,), picture = stand_ins([join([low, mark])], None, {})
        self.assertEqual(len(mesh.faces), 2)
        self.assertLess(np.ptp(mesh.positions[:, 1]), 1e-6)
        self.assertGreater(mesh.positions[0, 1], 0.0)
        self.assertGreater(np.cross(*(mesh.corners[0, k] - mesh.corners[0, 0] for k in (1, 2)))[1], 0)
        (y, x) = np.argwhere((picture[..., 0] > 0.2) & (picture[..., 1] < 0.05) & (picture[..., 3] == 1)).mean(0)
        at = mesh.positions[0] + (x / WIDTH) * (mesh.positions[1] - mesh.positions[0])
        at = at + (1 - y / HEIGHT) * (mesh.positions[3] - mesh.positions[0])
        np.testing.assert_allclose(at[[0, 2]], [0.7, 0.35], atol=0.04)

    def test_only_what_is_dear_far_away_has_one(self) -> None:
        shop = graph_of(small_site(planting=(Scatter(id="a", mix=(MixItem(item="alder"),)),)))
        for kind in ("grass_tuft", "stone"):
            self.assertEqual(shop.get(StandIn(kind)), {})
        found = shop.get(StandIn("alder"))
        for variant in range(SHIPPED.item("alder").variants):
            self.assertEqual(len(found[f"{variant}/index"]), 12)
            whole = SHIPPED.mesh("alder", variant).bounds
            made = found[f"{variant}/position"]
            self.assertLess(np.abs(made.min(0) - np.minimum(whole[0], [9, 0, 9]))[[0, 2]].max(), 0.4)
            self.assertAlmostEqual(made[:, 1].max(), whole[1, 1], delta=0.4)
        winter = graph_of(small_site(climate=Climate(season=1.0)))
        self.assertLess(winter.get(StandIn("alder"))["picture"][..., 3].mean(), 0.4 * found["picture"][..., 3].mean())
        self.assertNotEqual(winter.key(StandIn("alder")), shop.key(StandIn("alder")))
        self.assertEqual(winter.key(StandIn("ivy")), shop.key(StandIn("ivy")))
