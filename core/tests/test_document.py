"""The document of a site: what refers to what, parts of objects, and what is refused by its field."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError
from shapes import card, graph_of, shape_in, small_site, where

from cenote.derive.surfaces import ObjectAtlas, ObjectShape, ObjectSurface
from cenote.drop.heap import Drop, DropShare, Heap, HeapPiece
from cenote.geometry.mesh import placement_matrix
from cenote.kit.shelf import SHIPPED
from cenote.masks.shared import SharedWhere
from cenote.masks.where import Where
from cenote.scatter.layer import MixItem, Scatter
from cenote.signals.slope import Slope
from cenote.site.document import (
    CoverLayer,
    Imported,
    KitPiece,
    Made,
    PartGrade,
    Placement,
    Repeat,
    Shot,
    SiteDocument,
    Structure,
    problem_in_words,
)
from cenote.structures.sign import Sign
from cenote.structures.wall import Wall
from cenote.weather.moss import Moss


def _structure(id: str = "one", **more) -> Structure:
    return Structure(id=id, source=Made(maker=Wall(length=2)), **more)


class ReferenceTests(unittest.TestCase):
    def refused(self, **values) -> list[dict[str, str]]:
        with self.assertRaises(ValidationError) as caught:
            SiteDocument(**values)
        return problem_in_words(caught.exception.errors(include_url=False, include_context=False))

    def test_ids_are_unique_in_each_list(self) -> None:
        moss = CoverLayer(id="a", cover=Moss())
        for name, entry in (("structures", _structure("a")), ("weather", moss), ("shots", Shot(id="a"))):
            with self.subTest(name):
                self.assertEqual(self.refused(**{name: (entry, entry)})[0]["field"], name)

    def test_the_ground_keeps_its_id(self) -> None:
        found = self.refused(structures=(_structure("ground"),))
        self.assertEqual(found[0]["field"], "structures")

    def test_materials_and_items_that_are_not_there_are_named_by_their_field(self) -> None:
        grated = _structure(materials={"brick": "cheese"})
        kettle = Structure(id="k", source=KitPiece(item="kettle"))
        heap = Structure(
            id="h", source=Heap(drop=Drop(mix=(DropShare(item="kettle"),)), pieces=(HeapPiece(item="plank"),))
        )
        for structure, field in (
            (grated, "structures/0/materials/brick"),
            (kettle, "structures/0/source/item"),
            (heap, "structures/0/source/drop/mix/0/item"),
        ):
            with self.subTest(field):
                self.assertEqual(self.refused(structures=(structure,))[0]["field"], field)

    def test_a_heap_of_nothing_is_none(self) -> None:
        with self.assertRaisesRegex(ValidationError, "pieces"):
            Heap(pieces=())
        with self.assertRaisesRegex(ValidationError, "mix"):
            Drop(mix=())

    def test_repeats_along_absurd_paths_are_refused(self) -> None:
        for path, words in ((((0, 0), (5000, 0)), "within 2000 m"), (((1, 1), (1, 1)), "path")):
            with self.subTest(path), self.assertRaisesRegex(ValidationError, words):
                Repeat(number=3, path=path)

    def test_absurd_places_are_refused(self) -> None:
        for bad in ({"position": (1e6, 0, 0)}, {"turn": 721}, {"tip": 181}, {"size": 0}, {"size": float("inf")}):
            with self.subTest(str(bad)), self.assertRaises(ValidationError):
                Placement(**bad)


class PlacementTests(unittest.TestCase):
    def test_a_placement_rolls_tips_turns_and_moves(self) -> None:
        placement = Placement(position=(1, 2, 3), turn=90, tip=90, roll=90)
        matrix = placement.matrix()
        # Rolled, its x points up; tipped, forwards; turned, to the right.
        np.testing.assert_allclose(matrix[:3, :3] @ [1, 0, 0], [1, 0, 0], atol=1e-12)
        np.testing.assert_allclose(matrix[:3, 3], [1, 2, 3])
        self.assertAlmostEqual(np.linalg.det(matrix[:3, :3]), 1)

    def test_size_is_in_the_matrix_only_where_it_is_asked_for(self) -> None:
        self.assertAlmostEqual(np.linalg.det(Placement(size=3).matrix()[:3, :3]), 1)
        self.assertAlmostEqual(np.linalg.det(placement_matrix((0, 0, 0), 10, 3, 20, 30)[:3, :3]), 27)

    def test_a_tipped_object_stands_as_its_matrix_tells(self) -> None:
        upright, fallen = (
            shape_in(small_site(structures=(_structure(placement=Placement(tip=tip)),)), "one") for tip in (0, 90)
        )
        tall = float(np.ptp(upright.corners[..., 1]))
        self.assertAlmostEqual(float(np.ptp(fallen.corners[..., 2])), tall, places=4)
        lengths = np.linalg.norm(fallen.normals, axis=2)
        np.testing.assert_allclose(lengths, 1, atol=1e-4)


class PartTests(unittest.TestCase):
    def test_parts_are_of_their_own_material_until_another_is_chosen(self) -> None:
        wall = _structure()
        self.assertEqual(wall.part_material("brick"), "brick")
        self.assertEqual(wall.part_material("unheard of"), "rock")
        self.assertEqual(_structure(materials={"brick": "plaster"}).part_material("brick"), "plaster")
        sign = Structure(id="s", source=Made(maker=Sign(backing_material="slate")))
        self.assertEqual([sign.part_material(part) for part in ("letters", "backing")], ["enamel", "slate"])

    def test_pieces_differ_unless_they_come_from_a_file_or_are_graded_not_to(self) -> None:
        spreads = [
            Structure(id="a", source=source).part_grade("brick").spread
            for source in (
                Made(maker=Wall()),
                KitPiece(item="crate"),
                Heap(pieces=(HeapPiece(item="plank"),)),
                Imported(mesh="0" * 64),
            )
        ]
        self.assertGreater(min(spreads[:3]), 0.1)
        self.assertEqual(spreads[3], 0)
        graded = _structure(grades={"brick": PartGrade(spread=0, glow=2)})
        self.assertEqual((graded.part_grade("brick").spread, graded.part_grade("brick").glow), (0, 2))
        self.assertGreater(graded.usual_grade("brick").spread, 0)


class HeapTests(unittest.TestCase):
    def test_a_heap_is_one_surface_of_all_its_pieces(self) -> None:
        pieces = (
            HeapPiece(item="plank", position=(0, 0, 0)),
            HeapPiece(item="plank", variant=5, position=(0, 1, 0), turn=90),
            HeapPiece(item="stone", position=(2, 0, 0)),
        )
        heap = Structure(id="heap", source=Heap(pieces=pieces), placement=Placement(position=(1, 0, 1), size=2))
        surface = graph_of(small_site(structures=(heap,))).get(ObjectSurface("heap"))
        self.assertEqual(len(surface.mesh.faces), sum(len(SHIPPED.mesh(p.item, p.variant % 4).faces) for p in pieces))
        self.assertAlmostEqual(surface.mesh.bounds[1, 1], 2 * (1 + SHIPPED.mesh("plank", 1).bounds[1, 1]), places=4)
        self.assertEqual(len(set(surface.materials)), 2)

    def test_moving_a_heap_keeps_its_layout_and_dropping_another_does_not(self) -> None:
        def keys(x: float, at: float):
            source = Heap(pieces=(HeapPiece(item="plank", position=(0, at, 0)),))
            structure = Structure(id="heap", source=source, placement=Placement(position=(x, 0, 0)))
            return graph_of(small_site(structures=(structure,)))

        one, moved, other = keys(0, 0), keys(3, 0), keys(0, 0.5)
        self.assertEqual(one.key(ObjectAtlas("heap")), moved.key(ObjectAtlas("heap")))
        self.assertNotEqual(one.key(ObjectShape("heap")), moved.key(ObjectShape("heap")))
        self.assertNotEqual(one.key(ObjectAtlas("heap")), other.key(ObjectAtlas("heap")))

    def test_it_is_kept_as_it_is_through_the_document(self) -> None:
        piece = HeapPiece(item="crate", variant=2, position=(0.1, 0.2, 0.3), turn=-12.5, tip=80, roll=179.99)
        document = SiteDocument(structures=(Structure(id="h", source=Heap(pieces=(piece,))),))
        again = SiteDocument.model_validate(document.model_dump(mode="json"))
        self.assertEqual(again, document)
        self.assertEqual(again.structures[0].source.pieces[0], piece)


class SharedMaskTests(unittest.TestCase):
    def shared(self, full: float = 20.0) -> SharedWhere:
        return SharedWhere(id="flat", name="Flat", cards=where(card("slope", Slope(), 40, full)).cards)

    def test_all_that_follow_have_its_cards_and_only_they(self) -> None:
        follows, own = Where(shared="flat"), where(card("own", Slope(), 1, 2))
        mix = (MixItem(item="fern", where=follows), MixItem(item="reed", where=own))
        layer = Scatter(id="ferns", where=own, size_where=follows, mix=mix)
        moss = CoverLayer(id="moss", cover=Moss(), where=follows)
        for full in (20.0, 5.0):
            site = SiteDocument(wheres=(self.shared(full),), planting=(layer,), weather=(moss,))
            placed = site.planting[0]
            for chain in (placed.size_where, placed.mix[0].where, site.weather[0].where):
                self.assertEqual((chain.shared, chain.cards[0].full_at), ("flat", full))
            self.assertEqual((placed.where, placed.mix[1].where), (own, own))
            self.assertEqual(SiteDocument.model_validate(site.model_dump(mode="json")), site)
        # Cards of another time give way to the shared ones.
        old = site.model_dump(mode="json")
        old["wheres"][0]["cards"] = []
        self.assertEqual(SiteDocument.model_validate(old).weather[0].where.cards, ())

    def test_a_mask_that_is_not_there_is_told_by_its_field(self) -> None:
        for values, field in (
            (
                {"planting": (Scatter(id="a", mix=(MixItem(item="fern", where=Where(shared="gone")),)),)},
                "planting/0/mix/0/where/shared",
            ),
            ({"weather": (CoverLayer(id="m", cover=Moss(), where=Where(shared="gone")),)}, "weather/0/where/shared"),
        ):
            with self.subTest(field), self.assertRaises(ValidationError) as caught:
                SiteDocument(**values)
            found = problem_in_words(caught.exception.errors(include_url=False, include_context=False))
            self.assertEqual(found[0]["field"], field)

    def test_two_of_the_same_id_are_refused(self) -> None:
        with self.assertRaises(ValidationError):
            SiteDocument(wheres=(self.shared(), self.shared()))
