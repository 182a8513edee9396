"""Lamps in their places."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.geometry.pose import Pose
from cenote.light.daylight import Light, Panorama, daylight
from cenote.light.lamps.base import adapts_to
from cenote.light.lamps.point import PointLamp
from cenote.light.lamps.spot import SpotLamp
from cenote.site.document import SiteDocument
from cenote.site.lamps import PlacedLamp, is_dark
from cenote.site.tallow_lock import tallow_lock


def placed(**given: object) -> PlacedLamp:
    return PlacedLamp.model_validate({"id": "one", **given})


class PlacedLampTests(unittest.TestCase):
    def test_it_shines_down_until_it_is_tipped_and_turned(self) -> None:
        np.testing.assert_allclose(placed().axis(), [0, -1, 0], atol=1e-9)
        level = placed(placement=Pose(tip=-90))
        np.testing.assert_allclose(level.axis(), [0, 0, 1], atol=1e-9)
        np.testing.assert_allclose(placed(placement=Pose(tip=-90, turn=90)).axis(), [1, 0, 0], atol=1e-9)

    def test_it_is_lit_when_it_is_wanted(self) -> None:
        noon, dusk = Light(height=40), Light(height=-3)
        for burns, wanted in (("at dusk", (False, True)), ("always", (True, True)), ("never", (False, False))):
            lamp = placed(burns=burns)
            self.assertEqual((lamp.lit(noon), lamp.lit(dusk)), wanted)
        self.assertFalse(placed(burns="always", shown=False).lit(dusk))
        self.assertTrue(is_dark(Light(by="time", latitude=52, day=355, hour=18)))
        self.assertFalse(is_dark(Light(by="panorama", panorama=Panorama(source="a" * 64), height=-10)))

    def test_an_eye_among_lamps_sees_less_of_the_night(self) -> None:
        none, strong = adapts_to([]), adapts_to([PointLamp().beam(), SpotLamp(lumens=5000).beam()])
        self.assertEqual(none, 0)
        self.assertGreater(strong, adapts_to([PointLamp().beam()]))
        night = Light(height=-14)
        self.assertLess(daylight(night, 16, lamplight=strong).scale, daylight(night, 16).scale)
        noon = Light(height=50)
        self.assertAlmostEqual(daylight(noon, 16, lamplight=strong).scale / daylight(noon, 16).scale, 1, places=2)

    def test_documents_keep_them_and_tallow_lock_has_some(self) -> None:
        document = SiteDocument(lamps=(placed(lamp=SpotLamp(angle=30)),))
        self.assertEqual(SiteDocument.model_validate_json(document.model_dump_json()), document)
        with self.assertRaisesRegex(ValueError, "lamps: two have the same id"):
            SiteDocument(lamps=(placed(), placed()))
        self.assertGreater(len(tallow_lock().lamps), 3)
