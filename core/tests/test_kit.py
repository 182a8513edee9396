"""Kit items: every one is built whole, upright, in variants and levels of detail; shelves find them."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.geometry.build import limb, sphere
from cenote.geometry.mesh import Mesh, corner_normals, corner_tangents, corner_uv, face_normals, join, pieces
from cenote.geometry.simplify import decimated
from cenote.kit.base import CARD, DETAILS, KIT, Dice
from cenote.kit.cards import LeafShape, blank, finished, leaf, stem
from cenote.kit.grass_tuft import GrassTuft
from cenote.kit.shelf import SHIPPED, ImportedItem, OwnItem, Shelf
from cenote.kit.wood import board, worn_box
from cenote.materials.base import MATERIALS
from cenote.pictures.item import item_picture
from cenote.registry import kind_of


def volume(mesh: Mesh) -> float:
    """The signed volume of a closed mesh; above 0 where its faces look outwards."""
    a, b, c = mesh.corners.astype(float).transpose(1, 0, 2)
    return float((a * np.cross(b, c)).sum() / 6)


class ItemTests(unittest.TestCase):
    def test_there_is_what_a_yard_needs(self) -> None:
        wanted = {"grass_tuft", "nettle", "fern", "reed", "ivy", "bramble", "wildflower", "alder", "birch", "dead_leaves",
                  "twigs", "stone", "boulder", "pebbles", "plank", "crate", "barrel", "pallet", "bucket", "rope_coil",
                  "bollard", "hand_winch", "lamp_post", "bench", "railing", "bricks", "rubble"}  # fmt: skip
        self.assertLessEqual(wanted, {kind_of(item) for item in KIT})

    def test_every_item_is_built_whole_upright_and_lighter_from_afar(self) -> None:
        for item in KIT:
            made = item()
            with self.subTest(made.kind):
                self.assertGreaterEqual(made.variants, 3)
                digests = set()
                for variant in range(made.variants):
                    meshes = [made.build(variant, detail) for detail in DETAILS]
                    whole = meshes[0]
                    digests.add(whole.digest())
                    counts = [len(mesh.faces) for mesh in meshes]
                    self.assertEqual(counts, sorted(counts, reverse=True))
                    self.assertTrue(np.isfinite(whole.positions).all())
                    low, high = whole.bounds
                    self.assertLess(abs(low[1]), 0.35)
                    self.assertGreater(high[1], 0.01)
                    if whole.colours is not None:
                        self.assertTrue((whole.colours >= 0).all() and (whole.colours <= 1.8).all())
                    for mesh in meshes[1:]:
                        tall = mesh.bounds[1][1] / high[1]
                        self.assertTrue(0.5 < tall < 1.7, f"a simpler form is {tall:.2f} times as tall")
                self.assertEqual(made.build(0).digest(), item().build(0).digest())
                self.assertEqual(len(digests), made.variants, "variants that are the same")

    def test_cards_are_there_where_parts_are_cut_out_of_them(self) -> None:
        for item in KIT:
            made = item()
            mesh = made.build(0)
            with self.subTest(made.kind):
                card = made.card()
                self.assertEqual(CARD in mesh.part_names, card is not None)
                if card is None:
                    continue
                alpha = card[..., 3]
                self.assertTrue(0.05 < (alpha > 0.5).mean() < 0.95)
                self.assertTrue((card >= 0).all() and (card <= 1).all())
                rows = mesh.parts == mesh.part_names.index(CARD)
                uv = corner_uv(mesh)[rows]
                self.assertTrue((uv >= -1e-4).all() and (uv <= 1.0001).all())

    def test_plants_follow_their_parameters(self) -> None:
        low = GrassTuft(height=(0.05, 0.1)).build(0).bounds[1][1]
        high = GrassTuft(height=(0.4, 0.6)).build(0).bounds[1][1]
        self.assertLess(low * 3, high)
        few, many = (len(GrassTuft(blades=blades).build(0).faces) for blades in (10, 40))
        self.assertEqual(few * 4, many)
        red = GrassTuft(root_colour=(1, 0, 0), tip_colour=(1, 0, 0), variety=0, dry=0).build(0)
        self.assertEqual(red.colours[:, 1:].max(), 0)


class PartTests(unittest.TestCase):
    def test_a_worn_box_is_closed_and_as_large_as_a_box_but_for_its_edges(self) -> None:
        solid = worn_box((0, 0, 0), (1, 2, 3), 0.1)
        self.assertEqual(len(solid.faces), 44)
        np.testing.assert_allclose(solid.bounds, [[0, 0, 0], [1, 2, 3]], atol=1e-6)
        # Twelve edges lose a triangle prism of 0.1² / 2 each, corners are counted but once.
        self.assertTrue(6 - 24 * 0.005 - 0.01 < volume(solid) < 6 - 20 * 0.005)

    def test_grain_runs_along_a_board_however_it_lies(self) -> None:
        for size in ((2, 0.1, 0.2), (0.1, 2, 0.2), (0.2, 0.1, 2)):
            mesh = board((0, 0, 0), size, Dice("b"), detail=2)
            long = int(np.argmax(size))
            uv, corners = corner_uv(mesh), mesh.corners
            sides = np.abs(face_normals(corners)[0][:, long]) < 0.5
            edges, along = np.diff(corners, axis=1)[sides], np.diff(uv, axis=1)[sides]
            np.testing.assert_allclose(np.abs(along[..., 0]), np.abs(edges[..., long]), atol=1e-5)

    def test_texture_goes_round_a_limb_without_a_tear(self) -> None:
        path = np.column_stack([np.zeros(5), np.linspace(0, 2, 5), np.zeros(5)])
        mesh = limb(path, np.full(5, 0.1), 8)
        uv = mesh.uv.reshape(5, 9, 2)
        np.testing.assert_allclose(uv[:, -1, 0] - uv[:, 0, 0], 16 * np.sin(np.pi / 8) * 0.1, rtol=1e-5)
        np.testing.assert_allclose(uv[-1, :, 1], 2, rtol=1e-5)
        outward = (corner_normals(mesh) * (mesh.corners * [1, 0, 1])).sum(2)
        self.assertTrue((outward > 0).all())

    def test_joined_meshes_fill_in_what_some_lack(self) -> None:
        plain, tinted = sphere(4, 6, "a"), sphere(4, 6, "b").coloured((0.2, 0.3, 0.4))
        both = join([plain, tinted.at(x=3)])
        self.assertTrue((both.colours[: len(plain.positions)] == 1).all())
        with_uv = Mesh.of(tinted.positions, tinted.faces, "b", uv=np.zeros((len(tinted.positions), 2)))
        mixed = join([plain, with_uv])
        self.assertTrue(np.isnan(mixed.uv[: len(plain.positions)]).all())
        self.assertTrue(np.isfinite(corner_uv(mixed)).all())
        self.assertEqual(len(np.unique(pieces(both))), 2)

    def test_tangents_follow_the_texture(self) -> None:
        mesh = Mesh.of([[0, 0, 0], [1, 0, 0], [0, 0, -1]], [[0, 1, 2]], uv=[[0, 0], [1, 0], [0, 1]])
        tangent = corner_tangents(mesh.corners, corner_normals(mesh), corner_uv(mesh))[0, 0]
        # In glTF v runs downwards, so that here the bitangent n × t · w must be −v: w is −1.
        np.testing.assert_allclose(tangent, [1, 0, 0, -1], atol=1e-6)


class CardTests(unittest.TestCase):
    def test_a_leaf_has_its_length_and_width(self) -> None:
        card = blank(200, 200)
        leaf(card, (100, 190), np.pi / 2, 160, LeafShape(width=0.5, veins=0), (0.1, 0.2, 0.1), (0.2, 0.4, 0.2))
        ys, xs = np.nonzero(card[..., 3] > 0.5)
        self.assertAlmostEqual(np.ptp(ys), 158, delta=6)
        self.assertAlmostEqual(np.ptp(xs), 80, delta=4)
        self.assertAlmostEqual(xs.mean(), 99.5, delta=1)

    def test_teeth_and_lobes_cut_into_a_leaf(self) -> None:
        t = np.linspace(0.01, 0.99, 400)
        self.assertLess(LeafShape(teeth=9, depth=0.3).half(t).sum(), LeafShape().half(t).sum())
        self.assertLess(LeafShape(lobes=3).half(t).sum(), LeafShape().half(t).sum())

    def test_empty_parts_take_the_colour_of_what_is_near(self) -> None:
        card = blank(64, 64)
        stem(card, [(10, 60), (10, 4)], (6, 6), (0.4, 0.2, 0.1))
        out = finished(card)
        self.assertEqual(out[32, 16, 3], 0)
        self.assertGreater(out[32, 16, 0], 0.1)


class ShelfTests(unittest.TestCase):
    def test_own_items_stand_beside_the_shipped_ones(self) -> None:
        tall = OwnItem(id="own-tall", name="Tall grass", source=GrassTuft(height=(0.8, 1.0)))
        shelf = Shelf((tall,))
        self.assertIn("own-tall", shelf)
        self.assertIn("fern", shelf)
        self.assertNotIn("own-short", shelf)
        self.assertEqual(shelf.title("own-tall"), "Tall grass")
        self.assertEqual(shelf.kinds()[0], "own-tall")
        self.assertGreater(shelf.mesh("own-tall", 0).bounds[1][1], 2 * SHIPPED.mesh("grass_tuft", 0).bounds[1][1])
        with self.assertRaisesRegex(KeyError, "no kit item called 'own-short'"):
            shelf.item("own-short")

    def test_imported_items_get_simpler_forms(self) -> None:
        ball = sphere(24, 32, "anything")
        item = OwnItem(id="own-ball", name="Ball", source=ImportedItem(mesh="0" * 64, material="rust"))
        shelf = Shelf((item,), {item.source.mesh: ball})
        counts = [len(shelf.mesh("own-ball", 0, detail).faces) for detail in DETAILS]
        self.assertEqual(counts[0], len(ball.faces))
        self.assertAlmostEqual(counts[1] / counts[0], 0.3, delta=0.03)
        self.assertLess(counts[2], counts[0] * 0.08)
        self.assertEqual(shelf.mesh("own-ball", 0).part_names, ("rust",))
        self.assertAlmostEqual(volume(shelf.mesh("own-ball", 0, 2)) / volume(ball), 1, delta=0.15)
        with self.assertRaisesRegex(KeyError, "missing"):
            Shelf((item,)).mesh("own-ball", 0)

    def test_few_triangles_are_left_alone(self) -> None:
        mesh = worn_box((0, 0, 0), (1, 1, 1), 0.1)
        self.assertIs(decimated(mesh, 0.1), mesh)


class PictureTests(unittest.TestCase):
    def test_a_picture_shows_the_item_and_its_shadow(self) -> None:
        mesh = sphere(12, 16, "plain").at(y=1.0).coloured((0.5, 0.02, 0.02))
        picture = item_picture(mesh, None, {}, 60, 48, samples=1).astype(int)
        red = (picture[..., 0] > 2 * picture[..., 1]).mean()
        self.assertTrue(0.2 < red < 0.7)
        paper = picture[0, 0].sum()
        shade = (picture.sum(2) < 0.8 * paper) & (picture[..., 0] < 1.5 * picture[..., 1])
        self.assertGreater(shade.mean(), 0.01)

    def test_rays_pass_through_the_empty_parts_of_leaves(self) -> None:
        corners = [[-1, 0, 0], [1, 0, 0], [-1, 2, 0], [1, 2, 0]]
        mesh = Mesh.of(corners, [[0, 1, 2], [1, 3, 2]], CARD, np.ones((4, 3)), [(0, 1), (1, 1), (0, 0), (1, 0)])
        card = np.zeros((8, 8, 4), np.float32)
        card[..., :3] = 0, 0.5, 0
        empty = item_picture(mesh, card, {}, 40, 40, samples=1).astype(int)
        card[:, :4, 3] = 1
        half = item_picture(mesh, card, {}, 40, 40, samples=1).astype(int)
        green = lambda picture: (picture[..., 1] > 1.5 * picture[..., 0]).mean()  # noqa: E731
        self.assertEqual(green(empty), 0)
        self.assertTrue(0.1 < green(half) < 0.45)

    def test_parts_named_after_a_material_show_it(self) -> None:
        from cenote.weather.tiles import LaidTile

        tile = np.zeros((4, 4, 6), np.float32)
        tile[..., 2] = 0.6
        mesh = worn_box((-0.5, 0, -0.5), (0.5, 1, 0.5), 0.02, "rock")
        picture = item_picture(mesh, None, {"rock": LaidTile.of(tile, 1, 0.01, 0)}, 40, 40, samples=1).astype(int)
        self.assertGreater((picture[..., 2] > 2 * picture[..., 0]).mean(), 0.1)
        self.assertIn("rock", MATERIALS)
