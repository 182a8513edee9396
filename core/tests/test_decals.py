"""Decals: what each kind draws, and how boxes lay them on surfaces."""

from __future__ import annotations

import io
import unittest
from typing import Any

import numpy as np
from PIL import Image
from pydantic import ValidationError
from shapes import card, changed, graph_of, small_site, where

from cenote.colour import linear_of
from cenote.decals.base import DECALS, Sheet
from cenote.decals.chalk import Chalk
from cenote.decals.laying import Decalled, left_of, picture_of
from cenote.decals.leak import Leak
from cenote.decals.outlines import fitted, to_discs, to_letters, to_lines, width_of
from cenote.decals.own_picture import OwnPicture, levels_of, sampled
from cenote.decals.poster import Poster
from cenote.decals.pothole import Pothole
from cenote.decals.road_marking import RoadMarking
from cenote.decals.stencil import Stencil
from cenote.derive.decals import MOST_SPREAD, LaidDecals, decals_of
from cenote.derive.graph import Graph
from cenote.derive.maps import Composition, SurfaceMaps
from cenote.derive.patches import PatchMaps, cut
from cenote.derive.surfaces import BORDER, PATCH, Grid, ObjectShape
from cenote.derive.wanted import fields_of_site
from cenote.formats.decal_pictures import read_decal_picture
from cenote.geometry.pose import Pose
from cenote.geometry.texels import points_of
from cenote.refused import ImportRefused
from cenote.signals.crevice import Crevice
from cenote.signals.noise import Noise
from cenote.site.decals import PlacedDecal, Spread
from cenote.site.document import CoverLayer, Made, Placement, Repeat, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.site.references import brought, dangling
from cenote.structures.fittings import Crates
from cenote.structures.turned_pieces import Shelf
from cenote.structures.wall import Wall
from cenote.weather.climate import Climate
from cenote.weather.moss import Moss

# A rectangle that fills its box.
SOLID = RoadMarking(shape="line", stroke=2.0, crazed=0, thick=0.001)


def decal(id: str = "one", **values: Any) -> PlacedDecal:
    """A rectangle of paint on the ground about the origin."""
    given = {"decal": SOLID, "width": 1.0, "height": 0.6, "fades": 0.0}
    return PlacedDecal(id=id, **(given | values))


def site(*decals: PlacedDecal, **changes: Any) -> SiteDocument:
    """Level ground with decals, and whatever else is given."""
    values = {"ground": Ground(size=(6, 6), spacing=0.5, relief=0), "structures": (), "weather": (), "decals": decals}
    return small_site(**(values | changes))


def laid(graph: Graph, id: str = "ground", level: int = 1, over: bool = False) -> Decalled:
    """What decals come to on a surface."""
    found: Decalled | None = graph.get(LaidDecals(id, level, over))
    return found or Decalled(np.full(graph.get(Grid(id, level)).faces.shape, -1), np.zeros((0, 8)))


def places_of(graph: Graph, found: Decalled, id: str = "ground", level: int = 1) -> np.ndarray:
    """Where in the world its texels are, float32 (K, 3), in the order of its values."""
    shape, grid = graph.get(ObjectShape(id)), graph.get(Grid(id, level))
    ys, xs = np.nonzero(found.row >= 0)
    return points_of(shape.atlas, grid, shape.corners, shape.normals, ys, xs)[0][np.argsort(found.row[ys, xs])]


def sheet(pixels: int = 64, size: float = 1.0, seed: int = 1) -> Sheet:
    """A square sheet, rows from the top."""
    at = ((np.arange(pixels) + 0.5) / pixels - 0.5) * size
    x, y = np.meshgrid(at, -at)
    return Sheet(x.ravel().astype(np.float32), y.ravel().astype(np.float32), size, size, size / pixels, seed)


class KindTests(unittest.TestCase):
    def test_every_kind_draws_something_within_bounds_and_the_same_each_time(self) -> None:
        for kind in DECALS:
            with self.subTest(kind.__name__):
                ink, again, other = (picture_of(kind(), kind.size, 200, seed) for seed in (3, 3, 4))
                count = len(ink.opacity)
                for values, low, high in ((ink.opacity, 0, 1), (ink.colour, 0, 1), (ink.rough, 0, 1), (ink.metal, 0, 1), (ink.hides, 0, 1), (ink.relief, -1, 1)):  # fmt: skip
                    self.assertTrue(np.isfinite(values).all())
                    self.assertGreaterEqual(np.min(values), low)
                    self.assertLessEqual(np.max(values), high)
                self.assertEqual(np.shape(ink.colour)[-1], 3)
                self.assertIn(np.shape(ink.relief), ((), (count,)))
                self.assertGreater(ink.opacity.max(), 0.3)
                np.testing.assert_array_equal(ink.opacity, again.opacity)
                if kind not in (Stencil, OwnPicture):
                    self.assertGreater(np.abs(ink.opacity - other.opacity).max(), 0.05, "another seed is another decal")

    def test_a_finer_drawing_shows_the_same_decal(self) -> None:
        for kind in DECALS:
            with self.subTest(kind.__name__):
                coarse, fine = (picture_of(kind(), kind.size, pixels) for pixels in (150, 600))
                self.assertAlmostEqual(
                    coarse.opacity.mean(), fine.opacity.mean(), delta=0.03 + 0.12 * fine.opacity.mean()
                )

    def test_every_kind_holds_at_the_ends_of_its_parameters(self) -> None:
        for kind in DECALS:
            for end in ("ge", "le"):
                values = {}
                for name, field in kind.model_fields.items():
                    bound = next((getattr(one, end) for one in field.metadata if hasattr(one, end)), None)
                    if isinstance(field.default, (int, float)) and bound is not None:
                        values[name] = bound
                with self.subTest(kind.__name__, end=end):
                    ink = picture_of(kind(**values), kind.size, 60)
                    self.assertTrue(np.isfinite(ink.opacity).all() and np.isfinite(ink.relief).all())

    def test_what_no_font_can_write_is_refused_by_its_field(self) -> None:
        for kind, field, value in ((Stencil, "text", "\u4e00"), (Stencil, "text", " \n"), (Poster, "heading", "\u4e00"), (Poster, "lines", ""), (Chalk, "text", "")):  # fmt: skip
            with self.assertRaisesRegex(ValidationError, field):
                kind(**{field: value})
        Chalk(marks="tally", text="")

    def test_a_pothole_is_lower_and_a_poster_lies_on_top(self) -> None:
        self.assertLess(np.min(picture_of(Pothole(), Pothole.size, 100).relief), -0.03)
        self.assertGreaterEqual(np.min(picture_of(Poster(), Poster.size, 100).relief), 0)


class PictureTests(unittest.TestCase):
    def test_a_picture_is_upright_linear_and_as_opaque_as_it_says(self) -> None:
        picture = np.zeros((2, 2, 4), np.uint8)
        picture[0, 0], picture[1, 1] = (255, 0, 0, 255), (0, 0, 255, 128)
        at = Sheet(
            np.array([-0.25, 0.25, 0.25], np.float32),
            np.array([0.25, -0.25, 0.25], np.float32),
            1,
            1,
            0.3,
            1,
            levels_of(picture),
        )
        np.testing.assert_allclose(
            sampled(at.picture, at), [[1, 0, 0, 1], [0, 0, 1, 128 / 255], [0, 0, 0, 0]], atol=1e-5
        )
        opacities = {
            how: OwnPicture(opacity_from=how).draw(at).opacity.tolist()
            for how in ("its transparency", "what is bright", "nothing")
        }
        np.testing.assert_allclose(opacities["its transparency"], [1, 0.502, 0], atol=1e-3)
        np.testing.assert_allclose(opacities["what is bright"], [0.2126, 0.0722 * 0.502, 0], atol=2e-3)
        self.assertEqual(opacities["nothing"], [1, 1, 1])

    def test_coarse_texels_see_its_mean(self) -> None:
        picture = np.random.default_rng(1).integers(0, 256, (64, 64, 4)).astype(np.uint8)
        coarse, fine = (
            sampled(levels_of(picture), Sheet(*(np.zeros(1, np.float32),) * 2, 1, 1, texel, 1))
            for texel in (0.9, 0.001)
        )
        self.assertAlmostEqual(coarse[0, 3], picture[..., 3].mean() / 255, delta=0.03)
        self.assertGreater(np.abs(coarse - fine).max(), 0.05)

    def test_it_is_read_in_every_format_and_refused_in_words(self) -> None:
        pixels = np.zeros((6, 9, 4), np.uint8)
        pixels[2:, :5] = (200, 100, 50, 255)
        for kind in ("PNG", "WEBP", "TIFF"):
            stream = io.BytesIO()
            Image.fromarray(pixels).save(stream, kind, **({"lossless": True} if kind == "WEBP" else {}))
            found, remarks = read_decal_picture(f"a.{kind.lower()}", stream.getvalue())
            self.assertEqual((found.shape, remarks), ((6, 9, 4), []))
            np.testing.assert_array_equal(found[2:, :5], pixels[2:, :5])
        grey = io.BytesIO()
        Image.fromarray((np.arange(16).reshape(4, 4) * 4000).astype(np.uint16)).save(grey, "PNG")
        found, remarks = read_decal_picture("grey.png", grey.getvalue())
        self.assertEqual((found[0, 0].tolist(), found[3, 3, 0]), ([0, 0, 0, 255], 60000 // 257))
        self.assertIn("no transparency", remarks[0])
        one = io.BytesIO()
        Image.fromarray(np.full((1, 1, 3), 9, np.uint8)).save(one, "PNG")
        self.assertEqual(read_decal_picture("one.png", one.getvalue())[0].shape, (1, 1, 4))
        wide = io.BytesIO()
        Image.fromarray(np.full((20, 4096), 9, np.uint8)).save(wide, "PNG")
        self.assertEqual(read_decal_picture("wide.png", wide.getvalue())[0].shape, (10, 2048, 4))
        clear = io.BytesIO()
        Image.fromarray(np.zeros((4, 4, 4), np.uint8)).save(clear, "PNG")
        for name, content, words in (("clear.png", clear.getvalue(), "transparent"), ("broken.png", grey.getvalue()[:50], "broken.png"), ("a.png", b"hello", "picture")):  # fmt: skip
            with self.assertRaisesRegex(ImportRefused, words):
                read_decal_picture(name, content)

    def test_one_whose_file_is_lost_is_grey_and_told(self) -> None:
        lost = decal(decal=OwnPicture(source="a" * 64))
        document = site(lost)
        self.assertEqual([(one.field, one.family) for one in brought(document)], [("decals/0/decal/source", "picture")])
        grey = laid(graph_of(document)).values
        self.assertAlmostEqual(float(grey[:, 0].mean()), float(linear_of(np.array(120 / 255))), places=3)


class OutlineTests(unittest.TestCase):
    def test_distances_to_lines_and_discs_are_those_of_geometry(self) -> None:
        at = Sheet(np.array([0, 0, 2, 0.5], np.float32), np.array([0, 1, 0, 0], np.float32), 4, 4, 0.01, 1)
        line = to_lines(at, np.array([[-1, 0, 1, 0, 0.2, 0.4]]))
        np.testing.assert_allclose(line, [-0.15, 0.85, 0.8, -0.175], atol=1e-6)
        np.testing.assert_allclose(to_discs(at, np.array([[0, 0, 0.5]])), [-0.5, 0.5, 1.5, 0], atol=1e-6)
        two = np.array([[-0.6, 0, 0.5], [0.6, 0, 0.5]])
        self.assertLess(to_discs(at, two, 0.5)[0], to_discs(at, two)[0] - 0.05, "near ones run together")

    def test_a_bar_is_within_by_half_its_width(self) -> None:
        there = sheet(128)
        gap = to_letters(there, [("I", 0.8, 0.0, -0.4)], "narrow")
        area = (gap < 0).mean()
        self.assertAlmostEqual(area, 0.8 * width_of("I", "narrow", 0.8), delta=0.02)
        self.assertAlmostEqual(gap.min(), -width_of("I", "narrow", 0.8) / 2, delta=0.02)
        ring = to_letters(there, [("O", 0.8, 0.0, -0.4)], "narrow").reshape(128, 128)
        self.assertGreater(ring[64, 64], 0, "what lies within a ring is outside of it")

    def test_lines_fill_the_place_that_they_are_given(self) -> None:
        for texts in (["7"], ["LOCK", "No 7"], ["a very long line of text indeed"]):
            lines = fitted(texts, "narrow", 1.0, 0.5)
            self.assertLessEqual(max(width_of(text, "narrow", height) for text, height, _, _ in lines), 1.0 + 1e-6)
            top, foot = lines[0][3] + lines[0][1], lines[-1][3]
            self.assertLessEqual(top - foot, 0.5 + 1e-6)
            self.assertAlmostEqual(top + foot, 0, places=6)


class WearTests(unittest.TestCase):
    def test_the_share_that_is_gone_is_gone(self) -> None:
        for gone in (0.1, 0.3, 0.5, 0.8, 1.0):
            left = np.mean([left_of(sheet(160, 2, seed), gone).mean() for seed in range(6)])
            self.assertAlmostEqual(left, 1 - gone, delta=0.06)

    def test_years_wear_it_off_by_half_lives(self) -> None:
        lasting, fading = decal(worn=20), decal(worn=20, lasts=10)
        self.assertEqual([lasting.worn_at(years) for years in (0, 100)], [0.19999999999999996] * 2)
        self.assertAlmostEqual(fading.worn_at(10), 0.6)
        self.assertAlmostEqual(fading.worn_at(20), 0.8)
        graph = graph_of(site(fading, climate=Climate(years=0)))
        later = changed(graph, climate=Climate(years=40))
        self.assertGreater(laid(graph).values[:, 3].sum(), 2 * laid(later).values[:, 3].sum())


class LayingTests(unittest.TestCase):
    def test_it_lies_where_its_box_is_as_large_as_that(self) -> None:
        graph = graph_of(site(decal(placement=Pose(position=(0.5, 0, -1), turn=30))))
        for level in (0, 1, 2):
            found = laid(graph, level=level)
            texel = graph.get(Grid("ground", level)).texel
            self.assertAlmostEqual(found.values[:, 3].sum() * texel**2, 0.6, delta=0.02)
        at = places_of(graph, laid(graph)) - [0.5, 0, -1]
        turn = np.radians(30)
        across, down = (
            at[:, 0] * np.cos(turn) - at[:, 2] * np.sin(turn),
            at[:, 0] * np.sin(turn) + at[:, 2] * np.cos(turn),
        )
        self.assertLess(np.abs(across).max(), 0.53)
        self.assertLess(np.abs(down).max(), 0.33)

    def test_its_picture_stands_upright_on_a_wall_and_reads_from_left_to_right(self) -> None:
        wall = Structure(id="wall", source=Made(maker=Wall()), placement=Placement(position=(0, 0, 0)))
        arrow = decal(
            decal=Stencil(text="L", font="narrow", thin=0, spray=0),
            placement=Pose(position=(0, 0.6, 0.3), tip=90),
            width=0.4,
            height=0.4,
            reach=1.2,
        )
        for mirrored in (False, True):
            graph = graph_of(site(arrow.model_copy(update={"mirrored": mirrored}), structures=(wall,)))
            found = laid(graph, "wall", 2)
            at = places_of(graph, found, "wall", 2)[found.values[:, 3] > 0.5]
            foot = at[at[:, 1] < np.quantile(at[:, 1], 0.12)]
            post = at[at[:, 1] > np.quantile(at[:, 1], 0.6)]
            self.assertGreater((foot[:, 0].mean() - post[:, 0].mean()) * (-1 if mirrored else 1), 0.02)

    def test_side_faces_stay_clear_and_nothing_is_stretched_beyond_its_limit(self) -> None:
        crates = Structure(id="crates", source=Made(maker=Crates(number=1)))
        over_all = decal(width=3, height=3, reach=4, limit=60)
        graph = graph_of(site(over_all, structures=(crates,)))
        for id in ("ground", "crates"):
            found = laid(graph, id)
            shape, grid = graph.get(ObjectShape(id)), graph.get(Grid(id, 1))
            ys, xs = np.nonzero(found.row >= 0)
            ways = points_of(shape.atlas, grid, shape.corners, shape.normals, ys, xs)[1]
            self.assertGreater(len(ys), 100)
            # A texel of the surface shows 1 / cos of the angle as much of it as of the picture.
            self.assertLess((1 / ways[:, 1]).max(), 1 / np.cos(np.radians(60)) + 1e-3)
        both = graph_of(site(over_all.model_copy(update={"both_sides": True}), structures=(crates,)))
        self.assertGreater(len(laid(both, "crates").values), len(laid(graph, "crates").values))

    def test_it_follows_its_object_wherever_that_stands_and_however_large_it_is(self) -> None:
        def crate(**placement: Any) -> Structure:
            return Structure(id="crates", source=Made(maker=Crates(number=1)), placement=Placement(**placement))

        mine = decal(
            object="crates", placement=Pose(position=(0, 0.3, 0)), width=0.4, height=0.3, reach=1.5, only_object=True
        )
        here = laid(graph_of(site(mine, structures=(crate(),))), "crates")
        there = laid(graph_of(site(mine, structures=(crate(position=(1, 0, 2), turn=50),))), "crates")
        self.assertGreater(len(here.values), 50)
        np.testing.assert_array_equal(here.row >= 0, there.row >= 0)
        large = graph_of(site(mine, structures=(crate(size=2),)))
        small = graph_of(site(mine, structures=(crate(),)))
        areas = [
            laid(one, "crates").values[:, 3].sum() * one.get(Grid("crates", 1)).texel ** 2 for one in (large, small)
        ]
        self.assertAlmostEqual(areas[0] / areas[1], 4, delta=0.5)
        copies = crate().model_copy(update={"repeat": Repeat(number=3, step=(1.5, 0, 0))})
        three = graph_of(site(mine, structures=(copies,)))
        area = laid(three, "crates").values[:, 3].sum() * three.get(Grid("crates", 1)).texel ** 2
        self.assertAlmostEqual(area / areas[1], 3, delta=0.25)

    def test_it_is_laid_on_what_it_may_lie_on(self) -> None:
        crates = Structure(id="crates", source=Made(maker=Crates(number=1)))
        wide = {"width": 2, "height": 2, "reach": 3}

        def seen(**values: Any) -> list[str]:
            graph = graph_of(site(decal(**wide, **values), structures=(crates,)))
            return [id for id in ("ground", "crates") if len(laid(graph, id).values)]

        parts = graph_of(site(structures=(crates,))).get(ObjectShape("crates")).mesh.part_names
        self.assertEqual(seen(), ["ground", "crates"])
        self.assertEqual(seen(skips=("crates",)), ["ground"])
        self.assertEqual(seen(skips_parts=tuple(parts)), ["ground"])
        self.assertEqual(seen(only_object=True), ["ground"])
        self.assertEqual(seen(only_object=True, object="crates"), ["crates"])
        self.assertEqual(seen(shown=False), [])
        self.assertEqual(seen(placement=Pose(position=(0, 5, 0))), [])

    def test_one_whose_object_is_gone_is_kept_and_told(self) -> None:
        document = site(decal(object="crates"))
        self.assertEqual([(one.field, one.id) for one in dangling(document)], [("decals/0/object", "crates")])
        self.assertEqual(len(laid(graph_of(document)).values), 0)

    def test_the_uppermost_hides_what_it_lies_on(self) -> None:
        red, blue = (
            decal(id, decal=SOLID.model_copy(update={"colour": colour}))
            for id, colour in (("red", (1, 0, 0)), ("blue", (0, 0, 1)))
        )
        for order, channel in (((red, blue), 2), ((blue, red), 0)):
            found = laid(graph_of(site(*order)))
            middle = found.values[found.values[:, 3] > 0.99]
            self.assertEqual(int(middle[:, :3].mean(0).argmax()), channel)

    def test_covers_grow_over_what_lies_under_the_weather_and_not_over_what_lies_on_it(self) -> None:
        moss = CoverLayer(id="moss", cover=Moss(amount=1.0), surfaces=("ground",))
        white = decal(decal=SOLID.model_copy(update={"colour": (1, 1, 1)}))
        means = []
        for lies in ("under the weather", "over the weather"):
            graph = graph_of(
                site(white.model_copy(update={"lies": lies}), weather=(moss,), climate=Climate(years=80, damp=1))
            )
            index = laid(graph, over=lies.startswith("over")).row
            graph.complete([SurfaceMaps("ground", 1)], lambda *_: None)
            means.append(graph.get(SurfaceMaps("ground", 1)).base[index >= 0][:, :3].mean())
        self.assertGreater(means[1], means[0] + 40)

    def test_patches_show_the_same_as_the_whole(self) -> None:
        spotted = decal(decal=Pothole(), width=2.5, height=2.5, reach=1)
        graph = graph_of(site(spotted, ground=Ground(size=(6, 6), spacing=0.5, relief=0)))
        whole = graph.get(SurfaceMaps("ground", 2)).base
        patch = (1, 1, 1, 1)
        part = cut(graph.get(PatchMaps("ground", 2, patch)).base, patch, (1, 1))
        window = whole[PATCH - BORDER : 2 * PATCH + BORDER, PATCH - BORDER : 2 * PATCH + BORDER]
        rows, columns = window.shape[:2]
        self.assertLess(np.abs(part[:rows, :columns].astype(int) - window).mean(), 0.6)

    def test_moving_one_makes_only_what_it_meets_anew(self) -> None:
        crates = tuple(Structure(id=f"crates{k}", source=Made(maker=Crates(number=1)), placement=Placement(position=(4.0 * k - 2, 0, 0)))
                       for k in (0, 1))  # fmt: skip
        on_first = decal(placement=Pose(position=(-2, 0.5, 0)), width=0.5, height=0.5, reach=0.6, skips=("ground",))
        graph = graph_of(site(on_first, structures=crates))
        graph.complete(fields_of_site(graph), lambda *_: None)
        moved = on_first.model_copy(update={"placement": Pose(position=(-2.1, 0.5, 0))})
        later = changed(graph, decals=(moved,))
        keys = {id: graph.key(Composition(id)) != later.key(Composition(id)) for id in ("ground", "crates0", "crates1")}
        self.assertEqual(keys, {"ground": False, "crates0": True, "crates1": False})
        renamed = changed(graph, decals=(on_first.model_copy(update={"name": "Other", "locked": True}),))
        self.assertEqual(graph.key(Composition("crates0")), renamed.key(Composition("crates0")))

    def test_a_mask_that_is_measured_is_asked_for_with_the_maps(self) -> None:
        crevices = where(card("crevice", Crevice(radius=0.4), 0.05, 0.5))
        graph = graph_of(
            site(decal(where=crevices), decal("spread", where=crevices, spread=Spread(on=True, surfaces=("ground",))))
        )
        graph.complete(fields_of_site(graph), lambda *_: None)
        self.assertTrue(graph.key(SurfaceMaps("ground", 1)))

    def test_a_box_without_extent_is_refused_by_its_field(self) -> None:
        for field in ("width", "height", "reach"):
            with self.assertRaisesRegex(ValidationError, field):
                decal(**{field: 0})


class SpreadTests(unittest.TestCase):
    def ids(self, **values: Any) -> dict[str, np.ndarray]:
        """Where a rule lays a small rectangle on level ground, by id."""
        spread = Spread(on=True, surfaces=("ground",), **{"density": 1.0, "spacing": 0.4, **values})
        graph = graph_of(site(decal(width=0.2, height=0.1, spread=spread)))
        return {id: box.matrix for id, box in decals_of(graph, "one", "ground")}

    def test_more_of_them_leave_those_that_are_there_where_they_are(self) -> None:
        few, many = self.ids(density=0.6), self.ids(density=1.2)
        self.assertAlmostEqual(len(few), 0.6 * 36, delta=9)
        self.assertLess(set(few), set(many))
        for id, matrix in few.items():
            np.testing.assert_array_equal(matrix, many[id])

    def test_a_rule_over_square_kilometres_is_bounded(self) -> None:
        spread = Spread(on=True, surfaces=("ground",), density=200, spacing=0)
        wide = site(decal(width=0.1, height=0.1, spread=spread), ground=Ground(size=(1500, 1500), spacing=20, relief=0))
        graph = graph_of(wide)
        self.assertEqual(len(decals_of(graph, "one", "ground")), MOST_SPREAD)

    def test_they_are_apart_and_upright(self) -> None:
        found = np.array(list(self.ids(density=3, strays=0).values()))
        away = np.linalg.norm(found[:, None, :3, 3] - found[None, :, :3, 3], axis=2)
        self.assertGreaterEqual(away[~np.eye(len(found), dtype=bool)].min(), 0.4 - 1e-6)
        np.testing.assert_allclose(found[:, :3, 1], np.tile([0, 1, 0], (len(found), 1)), atol=1e-6)
        np.testing.assert_allclose(found[:, :3, 2], np.tile([0, 0, 1], (len(found), 1)), atol=1e-6)
        turned = np.array(list(self.ids(upright=False).values()))
        self.assertGreater(np.ptp(turned[:, 0, 0]), 1)

    def test_one_that_is_taken_out_is_gone_and_nothing_else_moves(self) -> None:
        before = self.ids()
        gone = sorted(before)[3]
        after = self.ids(removed=(gone,))
        self.assertEqual(set(before) - set(after), {gone})

    def test_a_stricter_mask_only_removes(self) -> None:
        def where_laid(full: float) -> set[str]:
            spread = Spread(on=True, surfaces=("ground",), density=2, spacing=0.3)
            graph = graph_of(site(decal(spread=spread, where=where(card("noise", Noise(size=1.5), full - 0.3, full)))))
            return {id for id, _ in decals_of(graph, "one", "ground")}

        loose, strict = where_laid(0.5), where_laid(0.75)
        self.assertLess(strict, loose)
        self.assertGreater(len(strict), 0)

    def test_on_a_wall_they_hang_by_their_upper_side_and_are_composed(self) -> None:
        wall = Structure(id="wall", source=Made(maker=Wall()))
        spread = Spread(on=True, surfaces=("wall",), density=1, spacing=0.3, sizes=(1, 1), strays=0)
        lays = {}
        for hangs in ("by its middle", "by its upper side"):
            graph = graph_of(
                site(
                    decal(width=0.2, height=0.4, spread=spread.model_copy(update={"hangs": hangs})), structures=(wall,)
                )
            )
            lays[hangs] = {id: box.matrix for id, box in decals_of(graph, "one", "wall")}
            self.assertGreater(len(laid(graph, "wall").values), 20)
            self.assertEqual(len(laid(graph, "ground").values), 0)
        upright = [
            (lays["by its middle"][id], lower)
            for id, lower in lays["by its upper side"].items()
            if abs(lower[1, 1]) < 0.1
        ]
        self.assertTrue(upright)
        for middle, lower in upright:
            self.assertAlmostEqual(middle[1, 3] - lower[1, 3], 0.2, places=2)

    def test_leaks_begin_below_what_juts_out_of_a_wall(self) -> None:
        wall = Structure(
            id="wall", source=Made(maker=Wall(ruin=0, piers=0)), placement=Placement(position=(0, 0, -0.5))
        )
        sill = Structure(id="sill", source=Made(maker=Shelf()), placement=Placement(position=(0, 0, -0.2)))
        spread = Spread(on=True, surfaces=("wall",), density=60, spacing=0.02, sizes=(1, 1), strays=0, hangs=Leak.hangs)
        one = decal(decal=Leak(), width=0.1, height=0.2, spread=spread, where=Leak.usual_where())
        graph = graph_of(site(one, structures=(wall, sill)))
        boxes = [box for _, box in decals_of(graph, "one", "wall")]
        self.assertGreater(len(boxes), 5)
        # Their upper sides: below the sill, 0.868 m up and 1.1 m wide, or below the wall's own coping; none where its foot is in the ground.
        tops = np.array([box.matrix[:3, 3] - 0.1 * box.matrix[:3, 2] for box in boxes])
        below_sill = (tops[:, 1] > 0.55) & (tops[:, 1] < 0.9) & (np.abs(tops[:, 0]) < 0.6)
        below_coping = tops[:, 1] > 1.4
        self.assertTrue((below_sill | below_coping).all())
        self.assertTrue(below_sill.any() and below_coping.any())

    def test_every_kind_says_where_a_rule_of_it_begins(self) -> None:
        self.assertGreater(sum(bool(kind.usual_where().cards) for kind in DECALS), 6)
        for kind in DECALS:
            rule = Spread(on=True, surfaces=("ground",), hangs=kind.hangs)
            laid_so = decal(decal=kind(), spread=rule, where=kind.usual_where())
            self.assertEqual(PlacedDecal.model_validate(laid_so.model_dump(mode="json")), laid_so)


if __name__ == "__main__":
    unittest.main()
