"""Finishes: each step against what is known of it."""

from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from scipy.ndimage import map_coordinates

from cenote.colour import LUMINANCE
from cenote.finish.base import STEPS, Backdrop, Negative, Step, finished
from cenote.finish.masks import MEASURED_KINDS, Masks
from cenote.finish.table import BENDS, MOST, SIDE, left_out, table_of
from cenote.finish.tones import VIEW_EXPOSURE, light_of, shown_of, toned


def negative(picture: np.ndarray, depth: float | np.ndarray = 5.0, **lights: np.ndarray) -> Negative:
    """A picture at a depth."""
    far = np.broadcast_to(np.asarray(depth, np.float32), picture.shape[:2])
    return Negative(picture.astype(np.float32), lights, far, masks(np.isfinite(far)))


def masks(cover: np.ndarray, things: dict[tuple[str, str], np.ndarray] | None = None) -> Masks:
    """Masks by what is where, bool (h, w) each: by id and kind of the things; all else is ground."""
    things = things or {}
    kinds = np.zeros((*cover.shape, 2), np.float32)
    number = np.zeros(cover.shape, int)
    for row, ((_, kind), there) in enumerate(things.items()):
        number[there] = row + 1
        if kind in MEASURED_KINDS:
            kinds[there, MEASURED_KINDS.index(kind)] = 1
    return Masks(cover.astype(np.float32), kinds, number, [("ground", "ground"), *things])


def drawn(seed: int = 0, height: int = 24, width: int = 36) -> np.ndarray:
    """A picture of chance, tones in [0, 1]."""
    return np.random.default_rng(seed).random((height, width, 3)).astype(np.float32)


def step(kind: str, **values: Any) -> Step:
    """A step."""
    return STEPS[kind](**values)


def done(kind: str, picture: np.ndarray, **values: Any) -> np.ndarray:
    """A picture after one step."""
    return step(kind, **values).done(picture, negative(picture))


class TableTests(unittest.TestCase):
    """What a view draws with."""

    def read(self, table: np.ndarray, light: np.ndarray) -> np.ndarray:
        """The table as a card reads it: straight between its colours."""
        at = np.log1p(np.clip(light, 0, MOST) * BENDS) / np.log1p(MOST * BENDS) * (SIDE - 1)
        return np.stack(
            [map_coordinates(table[..., k], at.T[::-1], order=1, mode="nearest") for k in range(3)], axis=-1
        )

    def test_it_shows_what_the_finish_makes_of_a_picture(self) -> None:
        steps = [step("exposure", stops=0.7), step("white_balance", kelvin=5200), step("curves", black=0.03, dark=0.2),
                 step("contrast", contrast=20, saturation=15), step("tint", amount=40), step("levels", between=(0.02, 0.97))]  # fmt: skip
        light = np.random.default_rng(3).random((40, 50, 3)) ** 2 * 3
        told = self.read(table_of(steps), light.reshape(-1, 3)).reshape(light.shape)
        whole = finished(negative(light), steps)
        # Colours as glaring as these are the hardest: where one of red, green and blue is cut off.
        self.assertLess(np.abs(told - whole).max(), 0.05)
        self.assertLess(np.abs(told - whole).mean(), 0.003)

    def test_steps_that_need_more_than_a_colour_are_told_apart(self) -> None:
        steps = [step("exposure", stops=1), step("vignette"), step("contrast", within="sky"), step("bloom", on=False),
                 step("film_grain"), step("tint")]  # fmt: skip
        self.assertEqual(left_out(steps), [1, 2, 4])
        np.testing.assert_array_equal(table_of(steps), table_of([steps[0], steps[5]]))

    def test_whatever_says_so_goes_by_a_colour_alone(self) -> None:
        picture = drawn(5)
        other = picture[::-1, ::-1]
        for one in STEPS:
            if one.by_colour:
                made = one(**({"stops": 1} if one is STEPS["exposure"] else {}))
                there, turned = made.done(picture, negative(picture)), made.done(other, negative(other, 900.0))
                np.testing.assert_array_equal(there[::-1, ::-1], turned)


class StackTests(unittest.TestCase):
    def test_tones_are_those_of_the_published_curve(self) -> None:
        # Grey below the shoulder keeps its value, but for the foot of 0.04; white never gets above 1.
        grey = np.full((1, 3), 0.5 / VIEW_EXPOSURE)
        np.testing.assert_allclose(toned(grey), 0.46, atol=1e-6)
        bright = toned(np.array([[1.0, 2, 4], [50, 80, 90], [1e6, 1e6, 1e6]]))
        self.assertTrue((bright <= 1).all() and (np.diff(bright.max(1)) >= 0).all())
        steps = toned(np.linspace(0, 8, 200)[:, None] * np.ones(3))[:, 0]
        self.assertTrue((np.diff(steps) >= -1e-9).all())

    def test_as_they_are_given_most_steps_change_nothing(self) -> None:
        picture = drawn()
        changes = {"bloom", "distance_haze", "film_grain", "letterbox", "tint", "vignette"}
        for one in STEPS:
            after = one().done(picture, negative(picture))
            self.assertEqual(after.dtype, np.float32, one)
            changed = np.abs(after - picture).max() > 2e-3
            self.assertEqual(changed, one.model_fields["kind"].default in changes, one)

    def test_light_comes_before_tones_whatever_the_order(self) -> None:
        picture = drawn()
        steps = [step("contrast", contrast=30), step("exposure", stops=1)]
        np.testing.assert_array_equal(finished(negative(picture), steps), finished(negative(picture), steps[::-1]))
        one, other = step("levels", between=(0.2, 1)), step("contrast", contrast=40)
        self.assertGreater(
            np.abs(finished(negative(picture), [one, other]) - finished(negative(picture), [other, one])).max(), 0.01
        )
        np.testing.assert_allclose(finished(negative(picture), []), shown_of(toned(picture)), atol=1e-6)

    def test_a_step_that_is_off_or_of_no_amount_does_nothing(self) -> None:
        picture = drawn()
        for values in ({"on": False}, {"amount": 0}):
            np.testing.assert_array_equal(done("exposure", picture, stops=3, **values), picture)
        np.testing.assert_allclose(done("exposure", picture, stops=1, amount=50), picture * 1.5, rtol=1e-5)

    def test_steps_count_where_they_are_to(self) -> None:
        picture = np.ones((2, 5, 3), np.float32)
        depth = np.array([[1, 9, 10, 11, np.inf]] * 2, np.float32)
        for within, expected in (
            ("nearer", [2, 2, 1.5, 1, 1]), ("farther", [1, 1, 1.5, 2, 2]), ("things", [2, 2, 2, 2, 1]), ("sky", [1, 1, 1, 1, 2]), ("all", [2] * 5),
        ):  # fmt: skip
            after = step("exposure", stops=1, within=within, distance=10, soft=0.1).done(
                picture, negative(picture, depth)
            )
            np.testing.assert_allclose(after[0, :, 0], expected, atol=1e-5, err_msg=within)

    def test_steps_count_on_kinds_of_things_and_on_chosen_ones(self) -> None:
        columns = np.broadcast_to(np.arange(40), (5, 40))
        where = masks(columns < 32, {("wall", "structures"): columns < 8, ("shed", "structures"): (columns >= 8) & (columns < 16),
                                     ("wall", "planting"): (columns >= 16) & (columns < 24)})  # fmt: skip
        lit = Negative(np.ones((5, 40, 3), np.float32), {}, np.ones((5, 40), np.float32), where)
        for values, expected in (
            ({"within": "structures"}, range(16)), ({"within": "planting"}, range(16, 24)), ({"within": "ground"}, range(24, 32)),
            ({"within": "water"}, ()), ({"within": "chosen", "objects": ("shed", "gone")}, range(8, 16)),
            ({"within": "chosen", "objects": ("ground",), "layers": ("wall",)}, range(16, 32)), ({"within": "chosen"}, ()),
        ):  # fmt: skip
            after = step("exposure", stops=1, **values).done(lit.radiance, lit)[2, :, 0] - 1
            inside = np.isin(np.arange(40), expected)
            # Two things of one kind go over into one another within a pixel.
            edges = np.isin(np.arange(40), (7, 8)) & ("objects" in values)
            np.testing.assert_allclose(after[~edges], inside[~edges], atol=1e-5, err_msg=str(values))

    def test_steps_count_on_chosen_covers_by_their_shares(self) -> None:
        here, share = np.zeros((2, 4), np.float32), np.array([[0, 0.25, 0.5, 1]] * 2, np.float32)
        where = replace(masks(here < 1), covers={"moss": share, "snow": share[:, ::-1]})
        lit = Negative(np.ones((2, 4, 3), np.float32), {}, here + 1, where)
        for covers, expected in ((("moss",), share[0]), (("moss", "snow"), [1, 0.625, 0.625, 1]), (("gone",), here[0])):
            after = step("exposure", stops=1, within="chosen", covers=covers).done(lit.radiance, lit)[0, :, 0] - 1
            np.testing.assert_allclose(after, expected, atol=1e-6, err_msg=str(covers))

    def test_tones_go_there_and_back(self) -> None:
        np.testing.assert_allclose(light_of(shown_of(drawn())), drawn(), atol=1e-5)

    def test_what_is_out_of_range_is_refused(self) -> None:
        for kind, values in (
            ("exposure", {"stops": 99}),
            ("film_grain", {"size": 0}),
            ("levels", {"between": (0.8, 0.2)}),
            ("tint", {"blend": "x"}),
        ):
            with self.assertRaises(ValueError):
                step(kind, **values)


class LightTests(unittest.TestCase):
    def test_a_mix_makes_each_light_brighter_for_itself(self) -> None:
        sun, sky = drawn(1), drawn(2)
        given = negative(sun + sky, sun=sun, sky=sky)
        after = step("light_mix", sun=1, sky_tint=(1, 0.5, 0)).done(given.radiance, given)
        np.testing.assert_allclose(after, 2 * sun + sky * [1, 0.5, 0], rtol=1e-4, atol=1e-5)

    def test_white_of_a_temperature_becomes_white(self) -> None:
        from cenote.light.spectrum import blackbody

        lamp = np.tile(blackbody(2700).astype(np.float32), (2, 2, 1))
        after = done("white_balance", lamp, kelvin=2700)[0, 0]
        usual = blackbody(6500)
        np.testing.assert_allclose(after / after[1], usual / usual[1], rtol=0.02)

    def test_bloom_keeps_all_light_and_spreads_it(self) -> None:
        picture = np.zeros((101, 101, 3), np.float32)
        picture[50, 50] = 1000
        after = done("bloom", picture, spread=20, width=4)
        self.assertAlmostEqual(float(after.sum() / picture.sum()), 1, delta=0.02)
        self.assertAlmostEqual(float(after[50, 50, 0] / 1000), 0.8, delta=0.06)
        row = after[50, 52:90, 0]
        self.assertTrue((np.diff(row) <= 0).all() and row[-1] > 0)

    def test_another_sky_stands_where_the_sky_was_seen_and_nowhere_else(self) -> None:
        # Nothing, half a thing, a whole one; each before a sky of 4.
        cover = np.broadcast_to([0, 0.5, 1], (2, 3)).astype(np.float32)
        sky = np.float32(4) * (1 - cover)[..., None] * np.ones(3, np.float32)
        picture = sky + cover[..., None] * np.float32(0.2)
        ways = np.broadcast_to(np.array([0, 0.6, -0.8], np.float32), (2, 3, 3))
        there = replace(negative(picture), masks=masks(cover), backdrop=Backdrop(sky, ways))
        plain = dict.fromkeys(("high", "middle", "low"), (0.25, 0.5, 1.0))
        after = step("sky_behind", clouds=0, brightness=2, **plain).done(picture, there)
        for column, thing in ((0, 0.0), (1, 0.1), (2, 0.2)):
            np.testing.assert_allclose(
                after[0, column], thing + (1 - cover[0, column]) * np.array([1, 2, 4]), rtol=1e-5
            )
        # What was done before stays done to what stands.
        brighter = step("sky_behind", clouds=0, brightness=1, **plain).done(picture * 2, there)
        np.testing.assert_allclose(brighter[0, 2], 0.4, rtol=1e-5)
        np.testing.assert_allclose(brighter[0, 1], 0.2 + 0.5 * np.array([0.5, 1, 2]), rtol=1e-5)
        cloudy = step("sky_behind", clouds=60, cloud=(1, 1, 1), **plain).done(picture, there)
        np.testing.assert_array_equal(cloudy[:, 2], picture[:, 2])

    def test_a_panorama_behind_is_turned_and_as_bright_as_the_sky_that_it_stands_for(self) -> None:
        picture = np.full((1, 2, 3), 3, np.float32)
        # North, and east; the panorama is red in the north and blue in the east.
        ways = np.array([[[0, 0.1, -1], [1, 0.1, 0]]], np.float32)
        panorama = np.zeros((16, 32, 3), np.float32)
        panorama[:, [*range(4), *range(28, 32)], 0] = 7
        panorama[:, 4:12, 2] = 7
        seen = Backdrop(picture, ways, panorama)
        there = replace(negative(picture, np.inf), backdrop=seen)
        after = step("sky_behind", of="panorama").done(picture, there)
        self.assertEqual([np.argmax(after[0, column]) for column in (0, 1)], [0, 2])
        self.assertAlmostEqual(float((after @ LUMINANCE).mean()), 3, delta=0.01)
        turned = step("sky_behind", of="panorama", turn=90).done(picture, there)
        self.assertEqual(np.argmax(turned[0, 1]), 0)
        self.assertEqual(turned[0, 0].max(), 0)
        none = replace(there, backdrop=replace(seen, panorama=None))
        np.testing.assert_array_equal(step("sky_behind", of="panorama").done(picture, none), picture)

    def test_haze_leaves_a_twentieth_at_its_distance(self) -> None:
        picture = np.ones((2, 2, 3), np.float32)
        after = step("distance_haze", visibility=100, colour=(0, 0, 0)).done(picture, negative(picture, 100.0))
        np.testing.assert_allclose(after, 0.05, rtol=1e-3)
        sky = step("distance_haze", visibility=100, colour=(0, 0, 0)).done(picture, negative(picture, np.inf))
        np.testing.assert_array_equal(sky, picture)

    def test_what_is_in_focus_stays_and_what_is_not_spreads(self) -> None:
        picture = np.zeros((60, 90, 3), np.float32)
        picture[30, [20, 70]] = 100
        depth = np.where(np.arange(90) < 45, 8.0, 200.0) * np.ones((60, 1))
        after = step("depth_of_field", focus=8, blur=5).done(picture, negative(picture, depth))
        np.testing.assert_allclose(after[30, 20], 100, rtol=1e-4)
        self.assertLess(after[30, 70].max(), 20)
        self.assertAlmostEqual(float(after[:, 55:].sum() / picture[:, 55:].sum()), 1, delta=0.05)

    def test_corners_darken_by_the_fourth_power_of_the_cosine(self) -> None:
        picture = np.ones((200, 300, 3), np.float32)
        after = done("vignette", picture, angle=40)
        self.assertAlmostEqual(float(after[100, 150, 0]), 1, delta=1e-3)
        self.assertAlmostEqual(float(after[0, 0, 0]), float(np.cos(np.radians(40)) ** 4), delta=0.01)

    def test_a_barrel_draws_the_corners_in_and_fringes_part_colours(self) -> None:
        y, x = np.mgrid[0:41, 0:61]
        ring = (np.abs(np.hypot(x - 30, y - 20) - 15) < 1).astype(np.float32)
        picture = np.repeat(ring[..., None], 3, axis=2)
        inwards = done("distortion", picture, barrel=20)
        reach = lambda one: float((np.hypot(x - 30, y - 20) * one).sum() / one.sum())  # noqa: E731
        self.assertLess(reach(inwards[..., 0]), reach(ring) - 0.2)
        parted = done("distortion", picture, fringe=2)
        self.assertGreater(reach(parted[..., 2]), reach(parted[..., 0]) + 0.1)


class ToneTests(unittest.TestCase):
    def test_a_letterbox_has_the_ratio_that_it_is_told(self) -> None:
        for shape, ratio in (((100, 300), 2.0), ((200, 200), 2.5)):
            after = done("letterbox", np.ones((*shape, 3), np.float32), ratio=ratio)[..., 0]
            rows, columns = after.any(1).sum(), after.any(0).sum()
            self.assertAlmostEqual(columns / rows, ratio, delta=0.05)

    def test_levels_and_curves_go_through_their_points(self) -> None:
        tones = np.array([0.1, 0.2, 0.5, 0.8, 0.9], np.float32)[None, :, None] * np.ones(3, np.float32)
        np.testing.assert_allclose(done("levels", tones, between=(0.2, 0.8))[0, :, 0], [0, 0, 0.5, 1, 1], atol=1e-6)
        np.testing.assert_allclose(done("levels", tones, middle=2)[0, 2], 0.5**0.5, rtol=1e-5)
        points = np.array([0, 0.25, 0.5, 0.75, 1], np.float32)[None, :, None] * np.ones(3, np.float32)
        given = {"black": 0.1, "dark": 0.2, "middle": 0.6, "light": 0.8, "white": 0.9}
        np.testing.assert_allclose(done("curves", points, **given)[0, :, 0], list(given.values()), atol=1e-6)

    def test_contrast_keeps_black_white_and_its_tone_and_saturation_ends_at_grey(self) -> None:
        tones = np.array([0, 0.2, 0.45, 0.8, 1], np.float32)[None, :, None] * np.ones(3, np.float32)
        after = done("contrast", tones, contrast=50)[0, :, 0]
        np.testing.assert_allclose(after[[0, 2, 4]], [0, 0.45, 1], atol=1e-6)
        self.assertTrue(after[1] < 0.2 and after[3] > 0.8)
        grey = done("contrast", drawn(), saturation=-100)
        np.testing.assert_allclose(grey.std(2), 0, atol=1e-6)
        np.testing.assert_allclose(grey[..., 0], drawn() @ LUMINANCE, atol=1e-5)

    def test_balance_and_tints_follow_their_published_formulas(self) -> None:
        tones = drawn()
        after = done("colour_balance", tones, slope=(1, 0.5, 0), strength=100)
        np.testing.assert_allclose(after, np.clip(tones * [2, 1, 0.5], 0, 1), atol=1e-5)
        np.testing.assert_allclose(
            done("tint", tones, blend="multiply", colour=(1, 0.5, 0)), tones * [1, 0.5, 0], atol=1e-6
        )
        np.testing.assert_allclose(done("tint", tones, colour=(0.5, 0.5, 0.5)), tones, atol=1e-6)
        ends = np.array([[[0.0] * 3, [1.0] * 3]], np.float32)
        np.testing.assert_allclose(done("tint", ends, colour=(0.9, 0.1, 0.7)), ends, atol=1e-6)

    def test_grain_is_as_strong_as_it_is_told_and_the_same_each_time(self) -> None:
        grey = np.full((128, 128, 3), 0.5, np.float32)
        after = done("film_grain", grey, strength=4, coloured=0)
        self.assertAlmostEqual(float(after.std()), 0.04, delta=0.003)
        np.testing.assert_array_equal(after, done("film_grain", grey, strength=4, coloured=0))
        self.assertGreater(np.abs(after - done("film_grain", grey, strength=4, coloured=0, seed=1)).max(), 0.01)
        for end in (0.0, 1.0):
            np.testing.assert_array_equal(done("film_grain", np.full((8, 8, 3), end, np.float32)), end)


if __name__ == "__main__":
    unittest.main()
