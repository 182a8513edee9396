"""Brought meshes with textures as kit items: one picture, cut-outs kept, simpler forms, light through leaves."""

from __future__ import annotations

import unittest

import numpy as np
from PIL import Image

from cenote.formats.own_textures_in import _cut_out
from cenote.geometry.mesh import Mesh, face_normals
from cenote.kit.base import CARD
from cenote.kit.seasons import season_colour
from cenote.kit.shelf import ImportedItem, OwnItem, Shelf
from cenote.kit.textured import in_one_picture, simpler
from cenote.materials.own_textures import OwnTexture, OwnTextures

RED, BLUE = (200, 20, 10), (10, 20, 200)


def texture(colour: tuple[int, int, int], cut: np.ndarray | None = None, side: int = 8) -> OwnTexture:
    base = np.broadcast_to(np.array(colour, np.uint8), (side, side, 3)).copy()
    return OwnTexture(base, np.full((1, 1, 2), 128, np.uint8), np.full((1, 1), 32768, np.uint16), 0.0, cut)


def cards(count: int, part: int = 0) -> Mesh:
    """Upright quads of 10 cm beside each other, each showing all of its texture."""
    quad = np.array([[0, 0, 0], [0.1, 0, 0], [0.1, 0.1, 0], [0, 0.1, 0]], np.float32)
    positions = np.concatenate(
        [quad + np.array([0.3 * (k % 30), 0.3 * (k // 30), 0.01 * k]) for k in range(count)]
    ).astype(np.float32)
    faces = np.concatenate([np.array([[0, 1, 2], [0, 2, 3]]) + 4 * k for k in range(count)]).astype(np.int32)
    uv = np.tile(np.array([[0, 1], [1, 1], [1, 0], [0, 0]], np.float32), (count, 1))
    return Mesh(positions, faces, np.full(len(faces), part, np.int32), ("a", "b"), uv=uv)


def colours_at(mesh: Mesh, picture: np.ndarray) -> np.ndarray:
    """What each face shows at its middle, float (M, 4)."""
    uv = mesh.uv[mesh.faces].mean(1) * np.array(picture.shape[1::-1])
    return picture[uv[:, 1].astype(int), uv[:, 0].astype(int)]


class PictureTests(unittest.TestCase):
    def test_each_part_shows_its_own_texture_in_one_picture(self) -> None:
        mesh = cards(4)
        mesh.parts[4:] = 1
        made, picture = in_one_picture(mesh, OwnTextures(np.array([0, 1], np.int32), (texture(RED), texture(BLUE))))
        self.assertEqual(made.part_names, (CARD,))
        found = colours_at(made, picture)
        self.assertTrue((found[:4, 0] > 5 * found[:4, 2]).all())
        self.assertTrue((found[4:, 2] > 5 * found[4:, 0]).all())
        np.testing.assert_allclose(made.corners, mesh.corners)

    def test_what_is_cut_away_stays_cut_away_and_has_the_colour_of_what_is_not(self) -> None:
        cut = np.full((8, 8), 255, np.uint8)
        cut[:, 4:] = 0
        one = texture(RED, cut)
        one.base[:, 4:] = 255
        _, picture = in_one_picture(cards(1), OwnTextures(np.array([0, 0], np.int32), (one,)))
        middle = picture.shape[0] // 2
        self.assertEqual((picture[middle, 1, 3], picture[middle, -2, 3]), (1, 0))
        np.testing.assert_allclose(picture[middle, -2, :3], picture[middle, 1, :3], atol=0.02)

    def test_a_texture_that_repeats_does_so_in_its_cell(self) -> None:
        mesh, striped = cards(1), texture(RED, side=64)
        striped.base[:32] = BLUE
        mesh.uv[:] *= 3
        mesh.uv[:] -= 1
        made, picture = in_one_picture(mesh, OwnTextures(np.array([0, 0], np.int32), (striped,)))
        column = picture[:, picture.shape[1] // 2]
        changes = np.count_nonzero(np.diff((column[:, 0] > column[:, 2]).astype(int)))
        self.assertEqual(changes, 5)
        self.assertTrue((made.uv >= 0).all() and (made.uv <= 1).all())

    def test_the_edge_of_a_cut_out_is_where_the_file_has_it(self) -> None:
        ramp = Image.fromarray(
            np.dstack([np.zeros((1, 256, 3), np.uint8), np.arange(256, dtype=np.uint8)[None]]), "RGBA"
        )
        for mode, cutoff, edge in (("MASK", 0.25, 64), ("MASK", None, 128), ("BLEND", 0.25, 128)):
            cut = _cut_out(ramp, mode, cutoff)
            self.assertAlmostEqual(int(np.argmax(cut[0] >= 127)), edge, delta=2)
        self.assertIsNone(_cut_out(ramp, "OPAQUE"))


class SimplerTests(unittest.TestCase):
    def test_foliage_loses_whole_leaves_and_the_rest_are_larger(self) -> None:
        made, _ = in_one_picture(cards(240), OwnTextures(np.array([0, 0], np.int32), (texture(RED),)))
        few = simpler(made, 0.3)
        self.assertAlmostEqual(len(few.faces) / len(made.faces), 0.3, delta=0.02)

        def area(mesh: Mesh) -> float:
            return float(face_normals(mesh.corners)[1].sum())

        self.assertAlmostEqual(area(few) / area(made), 1, delta=0.1)
        self.assertGreaterEqual(few.positions[:, 1].min(), made.positions[:, 1].min())

    def test_what_is_whole_keeps_its_texture_where_it_was(self) -> None:
        n = 24
        x, y = np.meshgrid(np.linspace(0, 1, n), np.linspace(0, 1, n))
        positions = np.column_stack([x.ravel(), 0.1 * np.sin(3 * x.ravel()), y.ravel()]).astype(np.float32)
        at = np.arange(n * n).reshape(n, n)
        a, b, c, d = at[:-1, :-1].ravel(), at[:-1, 1:].ravel(), at[1:, 1:].ravel(), at[1:, :-1].ravel()
        faces = np.concatenate([np.column_stack([a, d, b]), np.column_stack([b, d, c])]).astype(np.int32)
        uv = positions[:, [0, 2]].copy()
        mesh = Mesh(positions, faces, np.zeros(len(faces), np.int32), ("a",), uv=uv)
        made, _ = in_one_picture(mesh, OwnTextures(np.array([0], np.int32), (texture(RED, side=256),)))
        few = simpler(made, 0.1)
        self.assertLess(len(few.faces), 0.15 * len(mesh.faces))
        middle, places = few.uv[few.faces].mean(1), few.corners.mean(1)[:, [0, 2]]
        self.assertLess(np.abs(middle - places).max(), 0.12)


class ItemTests(unittest.TestCase):
    def shelf(self, **values: object) -> Shelf:
        item = ImportedItem(mesh="1" * 64, textures="2" * 64, **values)
        textures = OwnTextures(np.array([0, 0], np.int32), (texture(RED),))
        return Shelf([OwnItem(id="own-x", source=item)], {"1" * 64: cards(60)}, {"2" * 64: textures})

    def test_it_shows_its_textures_at_each_level_of_detail(self) -> None:
        shelf = self.shelf()
        self.assertEqual([shelf.mesh("own-x", 0, detail).part_names for detail in (0, 1, 2)], [(CARD,)] * 3)
        self.assertEqual([len(shelf.mesh("own-x", 0, detail).faces) for detail in (0, 1)], [120, 36])
        self.assertEqual(shelf.card("own-x").shape[2], 4)

    def test_a_plant_lives_with_the_season_and_the_wind_and_nothing_else_does(self) -> None:
        for lives in (False, True):
            item = self.shelf(lives=lives).item("own-x")
            self.assertEqual((item.grows, item.is_thin(CARD), np.isfinite(item.stiffness)), (lives, lives, lives))
            self.assertEqual(bool((season_colour(item, 1.0) != 1).any()), lives)

    def test_where_its_textures_are_lost_it_is_of_its_material(self) -> None:
        item = ImportedItem(mesh="1" * 64, textures="3" * 64)
        shelf = Shelf([OwnItem(id="own-x", source=item)], {"1" * 64: cards(60)})
        self.assertEqual(shelf.mesh("own-x", 0).part_names, ("planed_timber",))
        self.assertIsNone(shelf.card("own-x"))


if __name__ == "__main__":
    unittest.main()
