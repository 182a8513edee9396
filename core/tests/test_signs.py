"""Signs: letters as solid shapes, from the shipped fonts, glowing; drawn parameters."""

from __future__ import annotations

import sys
import unittest
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import numpy as np
from pydantic import ValidationError
from shapes import graph_of, small_site

from cenote.derive.maps import FaceGlow, SurfaceMaps
from cenote.derive.surfaces import Grid, ObjectSurface
from cenote.geometry.mesh import checked, face_normals
from cenote.materials.base import MATERIALS
from cenote.site.document import Made, PartGrade, Placement, Structure
from cenote.structures import lettering
from cenote.structures.lettering import FONTS, letter_contours, missing_letters, solid_letter
from cenote.structures.sign import BACKING, LETTERS, Sign


class LetteringTests(unittest.TestCase):
    def test_every_font_writes_its_capitals_at_their_height(self) -> None:
        for font in FONTS:
            with self.subTest(font):
                height = max(float(c[:, 1].max()) for c in letter_contours("H", font, 0.2, 0)[0])
                self.assertAlmostEqual(height, 0.2, delta=0.02)
                self.assertEqual(missing_letters("Åéß 0–9 & Q", font), "")

    def test_a_font_is_read_by_many_threads_at_once(self) -> None:
        interval = sys.getswitchinterval()
        sys.setswitchinterval(1e-6)
        self.addCleanup(sys.setswitchinterval, interval)
        together = Barrier(8)

        def read(font: str) -> str:
            together.wait()
            return missing_letters("Tallow Lock 1904", font)

        for font in list(FONTS) * 4:
            lettering._font.cache_clear()
            lettering._known.cache_clear()
            with ThreadPoolExecutor(8) as threads:
                self.assertEqual(list(threads.map(read, [font] * 8)), [""] * 8)

    def test_letters_follow_each_other(self) -> None:
        first, second = letter_contours("II", "narrow", 1, 0)
        wide = letter_contours("II", "narrow", 1, 0.5)[1]
        self.assertGreater(second[0][:, 0].min(), first[0][:, 0].max())
        self.assertAlmostEqual(wide[0][:, 0].min() - second[0][:, 0].min(), 0.5, places=6)

    def test_a_ring_is_solid_with_a_hole(self) -> None:
        def ring(radius: float, turned: int) -> np.ndarray:
            angles = np.linspace(0, 2 * np.pi, 64, endpoint=False)[::turned]
            return np.column_stack([np.cos(angles), np.sin(angles)]) * radius

        area = 32 * np.sin(2 * np.pi / 64)
        for turned in (1, -1):
            made = solid_letter([ring(1, turned), ring(0.5, turned)], 0.1, "letters")
            assert made is not None
            normals, areas = face_normals(made.corners)
            front = areas[normals[:, 2] > 0.9].sum()
            self.assertAlmostEqual(front, area * 0.75, places=3)
            # Sides look outwards, and into the hole: away from the ring's middle line.
            sides = np.abs(normals[:, 2]) < 0.1
            middle = made.corners[sides].mean(1)[:, :2]
            from_line = middle - middle / np.linalg.norm(middle, axis=1, keepdims=True) * 0.75
            self.assertGreater((normals[sides, :2] * from_line).sum(1).min(), 0)

    def test_an_island_in_a_hole_is_solid_again(self) -> None:
        def square(half: float) -> np.ndarray:
            return np.array([[-half, -half], [half, -half], [half, half], [-half, half]])

        made = solid_letter([square(3), square(2), square(1)], 0.1, "letters")
        assert made is not None
        normals, areas = face_normals(made.corners)
        self.assertAlmostEqual(areas[normals[:, 2] > 0.9].sum(), 36 - 16 + 4, places=4)

    def test_a_blank_is_nothing(self) -> None:
        self.assertIsNone(solid_letter([], 0.1, "letters"))


class SignTests(unittest.TestCase):
    def test_signs_are_built_of_what_they_say(self) -> None:
        for font in FONTS:
            for backing in ("boards", "plate", "none"):
                with self.subTest(font=font, backing=backing):
                    sign = Sign(text="Quay 8\nBoats & tea", font=font, backing=backing)
                    mesh = checked(sign.build())
                    self.assertEqual(BACKING in mesh.part_names, backing != "none")
                    self.assertIn(LETTERS, mesh.part_names)
                    self.assertAlmostEqual(mesh.bounds[0, 0], -mesh.bounds[1, 0], delta=0.05)

    def test_its_lower_edge_is_as_high_as_asked(self) -> None:
        mesh = Sign(holders="none", raised=2, backing="plate").build()
        self.assertAlmostEqual(mesh.bounds[0, 1], 2, places=4)

    def test_letters_stand_out_of_the_backing(self) -> None:
        mesh = Sign(relief=0.07, holders="none").build()
        letters = mesh.corners[mesh.parts == mesh.part_names.index(LETTERS)]
        backing = mesh.corners[mesh.parts == mesh.part_names.index(BACKING)]
        self.assertAlmostEqual(letters[..., 2].max(), 0.07, places=5)
        self.assertLessEqual(backing[..., 2].max(), 1e-6)

    def test_what_a_font_lacks_and_nothing_at_all_are_refused(self) -> None:
        for text, words in (
            ("", "at least one letter"),
            ("  \n ", "at least one letter"),
            ("Ж水", "Ж 水"),
            ("x" * 81, "80"),
        ):
            with self.subTest(text), self.assertRaisesRegex(ValidationError, words):
                Sign(text=text)

    def test_it_glows_and_is_tinted_until_it_is_graded_otherwise(self) -> None:
        structure = Structure(
            id="sign", source=Made(maker=Sign(glow=5, letter_colour=(0.9, 0.1, 0.1))), placement=Placement()
        )
        shop = graph_of(small_site(structures=(structure,)))
        surface = shop.get(ObjectSurface("sign"))
        glow = shop.get(FaceGlow("sign"))
        assert glow is not None
        letters = surface.mesh.parts == surface.mesh.part_names.index(LETTERS)
        self.assertEqual((set(glow[letters]), set(glow[~letters])), ({np.float32(5)}, {np.float32(0)}))
        self.assertEqual(surface.materials[surface.mesh.part_names.index(LETTERS)], "enamel")
        self.assertTrue(all(material in MATERIALS for material in surface.materials))
        base = shop.get(SurfaceMaps("sign", 0)).base
        faces = shop.get(Grid("sign", 0)).faces
        red = base[(faces >= 0) & letters[np.maximum(faces, 0)]].astype(float).mean(0)
        self.assertGreater(red[0], 2 * red[1])
        graded = structure.model_copy(update={"grades": {LETTERS: PartGrade(glow=0)}})
        self.assertIsNone(graph_of(small_site(structures=(graded,))).get(FaceGlow("sign")))

    def test_what_glows_is_not_in_the_maps(self) -> None:
        dark = Structure(id="sign", source=Made(maker=Sign(glow=0)))
        lit = Structure(id="sign", source=Made(maker=Sign(glow=9)), grades={LETTERS: PartGrade(glow=9)})
        also = lit.model_copy(update={"grades": {LETTERS: PartGrade(glow=3)}})
        names = []
        for one in (lit, also):
            shop = graph_of(small_site(structures=(one,)))
            shop.get(SurfaceMaps("sign", 0))
            names.append(shop.key(SurfaceMaps("sign", 0)))
        self.assertEqual(*names)
        self.assertIsNone(graph_of(small_site(structures=(dark,))).get(FaceGlow("sign")))
