"""Structures: buildings, walls, steps, decks, fences, cables and copies are as large as said; bad outlines are refused."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError
from shapes import graph_of, samples, scene, small_site

from cenote.derive.maps import FaceGrades
from cenote.derive.meshes import ObjectMesh
from cenote.derive.surfaces import ObjectSurface
from cenote.geometry.mesh import Mesh, checked, face_normals, pieces
from cenote.geometry.repeat import along_path, along_step, copied
from cenote.kit.shelf import SHIPPED
from cenote.kit.wood import worn_box
from cenote.signals.standing import StandingWater
from cenote.site.document import KitPiece, Made, PartGrade, Repeat, Structure
from cenote.structures.building import Building, Facade
from cenote.structures.cable import Cable, catenary
from cenote.structures.deck import Deck
from cenote.structures.fence import Fence
from cenote.structures.ground_pieces import Path
from cenote.structures.polygons import counter_clockwise, is_convex, offset, ring, signed_area, slab, triangles
from cenote.structures.stairs import Stairs
from cenote.structures.wall import Wall

L_SHAPE = counter_clockwise(np.array([[0, 0], [4, 0], [4, 2], [2, 2], [2, 5], [0, 5]], float))


def volume(mesh: Mesh) -> float:
    """The signed volume of a closed mesh; above 0 where its faces look outwards."""
    a, b, c = mesh.corners.astype(float).transpose(1, 0, 2)
    return float((a * np.cross(b, c)).sum() / 6)


def of_part(mesh: Mesh, part: str) -> np.ndarray:
    """Corners of the faces of a part."""
    return mesh.corners[mesh.parts == mesh.part_names.index(part)]


class PolygonTests(unittest.TestCase):
    def test_triangles_fill_an_outline(self) -> None:
        cut = L_SHAPE[triangles(L_SHAPE)]
        (ux, uz), (vx, vz) = (cut[:, 1] - cut[:, 0]).T, (cut[:, 2] - cut[:, 0]).T
        self.assertAlmostEqual(np.abs(ux * vz - uz * vx).sum() / 2, 14)
        self.assertAlmostEqual(signed_area(L_SHAPE), 14)
        self.assertFalse(is_convex(L_SHAPE))

    def test_slabs_and_rings_have_their_volume(self) -> None:
        self.assertAlmostEqual(volume(slab(L_SHAPE, 1, 3, "a")), 28, places=4)
        self.assertAlmostEqual(volume(slab(L_SHAPE[::-1], 1, 3, "a")), 28, places=4)
        kerb = ring(L_SHAPE, offset(L_SHAPE, -0.5), 0, 1, "a")
        self.assertAlmostEqual(volume(kerb), 14 - signed_area(offset(L_SHAPE, -0.5)), places=4)

    def test_offsets_move_sides_by_so_much(self) -> None:
        square = np.array([[0, 0], [4, 0], [4, 4], [0, 4]], float)
        np.testing.assert_allclose(offset(square, 1), [[-1, -1], [5, -1], [5, 5], [-1, 5]])
        with self.assertRaisesRegex(ValueError, "no room"):
            offset(square, -2.5)


class BuildingTests(unittest.TestCase):
    def test_it_is_as_large_as_its_footprint_and_storeys(self) -> None:
        made = Building(size=(10, 6), storeys=3, storey_height=3, roof="flat", facades=(), eaves=0).build()
        walls = of_part(made, "brick").reshape(-1, 3)
        np.testing.assert_allclose([walls.min(0)[0], walls.max(0)[0]], [-5, 5], atol=1e-4)
        np.testing.assert_allclose([walls.min(0)[2], walls.max(0)[2]], [-3, 3], atol=1e-4)
        self.assertAlmostEqual(walls[:, 1].max(), 0.3 + 9 + 0.55, places=4)

    def test_a_pitched_roof_rises_by_its_pitch_and_faces_outwards(self) -> None:
        for roof in ("pitched", "hipped"):
            made = Building(size=(10, 6), storeys=1, roof=roof, pitch=45, eaves=0, chimney=False, facades=()).build()
            tiles = of_part(made, "roof_tile")
            self.assertAlmostEqual(tiles[..., 1].max(), 0.3 + 2.9 + 3 + 0.14, delta=0.02)
            normals, areas = face_normals(tiles)
            up = normals[:, 1] > 0.5
            self.assertAlmostEqual(areas[up].sum() / (10 * 6 * np.sqrt(2)), 1, delta=0.08)
            np.testing.assert_allclose(normals[up][:, 1], np.sqrt(0.5), atol=0.02)

    def test_openings_are_cut_where_they_are_asked_for(self) -> None:
        blank = Building(size=(10, 6), storeys=2, variety=0, facades=(), chimney=False)
        four = blank.model_copy(update={"facades": (Facade(side=1, storey=1, opening="window", number=4),)})
        solid, cut = (face_normals(of_part(one.build(), "brick")) for one in (blank, four))

        def front(normals: np.ndarray, areas: np.ndarray) -> float:
            return float(areas[normals[:, 2] > 0.99].sum())

        self.assertAlmostEqual(front(*solid) - front(*cut), 4 * 1.0 * 1.35, delta=0.01)
        self.assertIn("pane", four.build().part_names)

    def test_ruin_breaks_more_and_more(self) -> None:
        areas = []
        for ruin in (0, 0.4, 0.8):
            made = Building(ruin=ruin).build()
            corners = of_part(made, "roof_tile") if "roof_tile" in made.part_names else np.zeros((0, 3, 3))
            areas.append(face_normals(corners)[1].sum())
        self.assertTrue(areas[0] > areas[1] > areas[2])

    def test_every_shape_is_built_whole(self) -> None:
        drawn = ((0, 0), (6, 0), (8, 4), (3, 7), (-2, 4))
        for values in ({"footprint": "L"}, {"footprint": "L", "roof": "hipped"}, {"roof": "flat", "columns": 2.5, "storeys": 4},
                       {"footprint": "drawn", "outline": drawn, "roof": "hipped"},
                       {"footprint": "drawn", "outline": drawn[::-1], "roof": "pitched"},
                       {"footprint": "drawn", "outline": tuple(map(tuple, L_SHAPE)), "roof": "flat"}):  # fmt: skip
            with self.subTest(values):
                self.assertGreater(len(checked(Building(**values).build()).faces), 300)
        seeds = {Building(seed=seed).build().digest() for seed in range(4)}
        self.assertEqual(len(seeds), 4)

    def test_what_cannot_be_built_is_refused_by_field(self) -> None:
        bow = ((0, 0), (4, 4), (4, 0), (0, 4))
        for values, words in (
            ({"footprint": "drawn"}, "outline: at least three"),
            ({"footprint": "drawn", "outline": bow}, "cross"),
            ({"footprint": "drawn", "outline": ((0, 0), (3, 0), (6, 0))}, "no area"),
            ({"footprint": "drawn", "outline": tuple(map(tuple, L_SHAPE))}, "roof: over an outline"),
            ({"footprint": "drawn", "outline": ((0, 0), (0.1, 0), (3, 3))}, "shorter than 0.3"),
            ({"size": (2, 2), "walls": 1.0}, "no room"),
            ({"size": (1e9, 2)}, "size"),
            ({"storeys": 0}, "storeys"),
            ({"pitch": float("nan")}, "pitch"),
        ):
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                Building(**values)


class YardTests(unittest.TestCase):
    def test_boards_of_a_deck_leave_their_gaps(self) -> None:
        made = Deck(size=(3, 2), gap=0.02, board=0.15, lost=0, wear=0).build()
        top = made.corners[face_normals(made.corners)[0][:, 1] > 0.99]
        upper = top[top[..., 1].min(1) > 0.44]
        covered = face_normals(upper)[1].sum()
        boards = int((3 + 0.02) / 0.17)
        self.assertAlmostEqual(covered, (3 - boards * 0.02) * 2, delta=0.02)

    def test_steps_climb_as_said(self) -> None:
        made = Stairs(steps=5, rise=0.2, wear=0, cheeks=False).build()
        self.assertAlmostEqual(made.bounds[1][1], 1.0, places=4)
        self.assertGreater(volume(made), 0)

    def test_walls_lose_height_as_they_crumble(self) -> None:
        whole, broken = Wall(ruin=0, piers=0, coping=0).build(), Wall(ruin=0.8, piers=0, coping=0).build()
        self.assertAlmostEqual(whole.bounds[1][1], 1.8, places=4)
        tops = broken.corners[face_normals(broken.corners)[0][:, 1] > 0.9][..., 1]
        self.assertLess(np.median(tops), 1.7)

    def test_fences_lose_pieces(self) -> None:
        for filling in ("rails", "boards", "pales"):
            whole, torn = (Fence(filling=filling, lost=lost).build() for lost in (0, 0.6))
            self.assertLess(len(torn.faces), len(whole.faces))

    def test_a_catenary_has_its_sag_and_is_the_known_curve(self) -> None:
        path = catenary(np.array([0, 2.0, 0]), np.array([4, 2.0, 0]), 0.5, 81)
        self.assertAlmostEqual(path[:, 1].min(), 1.5, places=6)
        np.testing.assert_allclose(path[[0, -1], 1], 2, atol=1e-9)
        # y'' / sqrt(1 + y'²) is constant along a catenary.
        x, y = path[:, 0], path[:, 1]
        first = np.gradient(y, x)
        second = np.gradient(first, x)
        curve = (second / np.sqrt(1 + first**2))[5:-5]
        self.assertLess(curve.std() / curve.mean(), 0.01)
        steep = catenary(np.array([0, 0, 0.0]), np.array([0, 3, 0.0]), 0.5, 5)
        self.assertTrue(np.isfinite(steep).all())

    def test_strands_of_a_cable_are_separate(self) -> None:
        self.assertEqual(len(np.unique(pieces(Cable(strands=4, spread=0.3).build()))), 4)
        with self.assertRaisesRegex(ValidationError, "same place"):
            Cable(start=(0, 1, 0), end=(0, 1, 0))


class PathTests(unittest.TestCase):
    def standing(self, **how) -> tuple[np.ndarray, np.ndarray]:
        """Centimetres of water after rain at places on a path, and how far these are from its middle, in half widths."""
        path = Path(length=20, width=2.4, sunk=0, **how)
        around = scene(ground=path.build().corners)
        x, z = np.meshgrid(np.linspace(-9.5, 9.5, 150), np.linspace(-1, 1, 31))
        origins = np.column_stack([x.ravel(), np.full(x.size, 2.0), z.ravel()]).astype(np.float32)
        down = np.broadcast_to(np.array([0, -1, 0], np.float32), origins.shape)
        origins[:, 1] -= around.rays.distance(origins, down)
        return StandingWater().measure(samples(origins), around), np.abs(z.ravel()) / 1.2

    def test_a_cambered_path_sheds_rain_and_a_worn_one_holds_it(self) -> None:
        shed, _ = self.standing(hollows=0)
        held, _ = self.standing(hollows=0.06)
        self.assertLess((shed > 0.3).mean(), 0.005)
        self.assertGreater((held > 0.3).mean(), 0.04)
        self.assertLess((held > 0.3).mean(), 0.6)
        deeper, _ = self.standing(hollows=0.12)
        self.assertGreater(deeper.sum(), held.sum())

    def test_it_is_closed_and_as_long_and_wide_as_it_says(self) -> None:
        mesh = Path(length=8, width=2, sunk=0.02).build()
        low, high = mesh.bounds
        self.assertAlmostEqual(high[0] - low[0], 8, places=4)
        self.assertAlmostEqual(high[2] - low[2], 2, delta=0.2)
        self.assertGreater(volume(mesh), 0)


class RepeatTests(unittest.TestCase):
    cube = worn_box((-0.5, 0, -0.5), (0.5, 1, 0.5), 0.01)

    def test_copies_along_a_step_and_mirrored(self) -> None:
        row = copied(self.cube, along_step(4, np.array([2, 0, 0]), 0))
        np.testing.assert_allclose(row.bounds, [[-0.5, 0, -0.5], [6.5, 1, 0.5]], atol=1e-5)
        both = copied(self.cube, along_step(2, np.array([2, 0, 0]), 0), "x")
        self.assertAlmostEqual(both.bounds[0][0], -2.5, places=5)
        self.assertAlmostEqual(volume(both), 4 * volume(self.cube), places=4)

    def test_copies_along_a_path_look_along_it(self) -> None:
        first, middle, last = along_path(np.array([[0, 0], [4, 0], [4, 4]]), 3)
        np.testing.assert_allclose(middle[:3, 3], [4, 0, 0], atol=1e-9)
        np.testing.assert_allclose(first[:3, :3] @ [1, 0, 0], [1, 0, 0], atol=1e-9)
        np.testing.assert_allclose(last[:3, :3] @ [1, 0, 0], [0, 0, 1], atol=1e-9)
        with self.assertRaisesRegex(ValidationError, "no length"):
            Repeat(number=3, path=((1, 1), (1, 1)))

    def test_objects_are_repeated_and_kit_pieces_set_down(self) -> None:
        row = Structure(id="row", source=Made(maker=Fence()), repeat=Repeat(number=3, step=(7, 0, 0)))
        barrel = Structure(id="barrel", source=KitPiece(item="barrel", variant=1))
        shop = graph_of(small_site(structures=(row, barrel), weather=()))
        self.assertEqual(len(shop.get(ObjectMesh("row")).faces), 3 * len(checked(Fence().build()).faces))
        surface = shop.get(ObjectSurface("barrel"))
        self.assertEqual(len(surface.mesh.faces), len(SHIPPED.mesh("barrel", 1).faces))
        self.assertEqual(set(surface.materials), {"planed_timber", "iron"})

    def test_pieces_of_a_part_differ_in_brightness_as_far_as_said(self) -> None:
        fence = {"id": "fence", "source": Made(maker=Fence(filling="boards"))}

        def spread(**grades) -> float:
            shop = graph_of(small_site(structures=(Structure(**fence, grades=grades),), weather=()))
            return float(shop.get(FaceGrades("fence"))[:, 0].std())

        self.assertEqual(spread(planed_timber=PartGrade(spread=0)), 0)
        self.assertGreater(spread(planed_timber=PartGrade(spread=0.4)), spread(planed_timber=PartGrade(spread=0.1)))
