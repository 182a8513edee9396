"""Shots: lenses in millimetres, the proportions of pictures, and walls that stay upright."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.geometry.camera import Camera
from cenote.site.shot import RATIOS, Shot


def seen(camera: Camera, point: tuple[float, float, float]) -> tuple[float, float]:
    """Where a point is in a picture: from -1 to 1 across and upwards."""
    at = np.array(point) - camera.eye
    depth = at @ camera.ahead
    return (
        float(at @ np.cross(camera.ahead, camera.up) / depth / camera.width),
        float((at @ camera.up / depth - camera.shift) / camera.height),
    )


class ShotTests(unittest.TestCase):
    def test_a_normal_lens_sees_as_much_as_it_does(self) -> None:
        across, upright = Shot(id="a", lens=50).tangents
        # 39.6° across and 27° upright on 36 × 24 mm.
        self.assertAlmostEqual(2 * np.degrees(np.arctan(across)), 39.6, delta=0.05)
        self.assertAlmostEqual(2 * np.degrees(np.arctan(upright)), 27.0, delta=0.05)

    def test_other_proportions_take_as_much_as_fits_into_the_picture(self) -> None:
        for frame, ratio in RATIOS.items():
            across, upright = Shot(id="a", frame=frame, lens=24).tangents
            self.assertAlmostEqual(across / upright, ratio)
            self.assertLessEqual(across, 36 / 48 + 1e-12)
            self.assertLessEqual(upright, 0.5 + 1e-12)
            self.assertTrue(np.isclose(across, 36 / 48) or np.isclose(upright, 0.5))

    def test_its_picture_fits_whole_into_what_is_drawn(self) -> None:
        shot = Shot(id="a", frame="16:9")
        for aspect in (0.7, 16 / 9, 3.0):
            camera = shot.camera(aspect)
            self.assertAlmostEqual(camera.width / camera.height, aspect)
            across, upright = shot.tangents
            self.assertGreaterEqual(camera.width, across - 1e-12)
            self.assertGreaterEqual(camera.height, upright - 1e-12)

    def test_an_angle_of_before_becomes_the_lens_that_has_it(self) -> None:
        shot = Shot.model_validate({"id": "a", "field_of_view": 40})
        self.assertAlmostEqual(2 * np.degrees(np.arctan(shot.tangents[1])), 40)
        self.assertEqual(Shot.model_validate({"id": "a", "field_of_view": 170}).lens, 7)
        with self.assertRaises(ValueError):
            Shot.model_validate({"id": "a", "lens": 0})

    def test_an_open_lens_blurs_what_is_not_in_focus(self) -> None:
        shot = Shot(id="a", position=(0, 1, 5), target=(0, 1, 0), lens=50)
        self.assertEqual((shot.blur()[0], shot.focus), (0.0, (0, 1, 0)))
        open_ = shot.model_copy(update={"aperture": 2.0, "focus": (3.0, 1.0, 1.0)})
        radius, focus = open_.blur()
        # 50 mm at f/2 is an opening of 25 mm; what counts is how far ahead it lies, not to the side.
        self.assertAlmostEqual(radius, 0.0125)
        self.assertAlmostEqual(focus, 4)
        behind = open_.model_copy(update={"focus": (0.0, 1.0, 9.0)})
        self.assertGreater(behind.blur()[1], 0)
        for aperture in (-1, 40):
            with self.assertRaises(ValueError):
                Shot.model_validate({"id": "a", "aperture": aperture})

    def test_walls_stay_upright_and_the_middle_stays_the_middle(self) -> None:
        aims = {"position": (0, 1.6, 10), "target": (0, 5, 0)}
        tilted, upright = (Shot(id="a", upright=on, **aims).camera() for on in (False, True))
        wall = [(3.0, 0.5, 0.0), (3.0, 8.0, 0.0)]
        leaning = [seen(tilted, point)[0] for point in wall]
        self.assertGreater(abs(leaning[0] - leaning[1]), 0.1)
        straight = [seen(upright, point)[0] for point in wall]
        self.assertAlmostEqual(straight[0], straight[1])
        for camera in (tilted, upright):
            np.testing.assert_allclose(seen(camera, aims["target"]), 0, atol=1e-9)
        # Its rays go through the same points.
        origins, ways = upright.rays(30, 20)
        at = seen(upright, tuple(origins[0] + 7 * ways[30 * 4 + 21]))
        np.testing.assert_allclose(at, [2 * 21.5 / 30 - 1, 1 - 2 * 4.5 / 20], atol=1e-5)

    def test_looking_steeply_no_lens_is_shifted_so_far(self) -> None:
        down = Shot(id="a", upright=True, position=(0, 9, 1), target=(0, 0, 0)).camera()
        self.assertEqual(down.shift, 0)
        self.assertLess(down.ahead[1], -0.9)


if __name__ == "__main__":
    unittest.main()
