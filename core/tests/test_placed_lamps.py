"""Lamps in their places."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import graph_of

from cenote.geometry.pose import Pose
from cenote.light.daylight import Light, Panorama, daylight
from cenote.light.lamps.base import adapts_to
from cenote.light.lamps.point import PointLamp
from cenote.light.lamps.spot import SpotLamp
from cenote.render.preview import picture
from cenote.site.document import Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.site.lamps import PlacedLamp, is_dark
from cenote.site.tallow_lock import tallow_lock
from cenote.structures.wall import Wall


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


class SmallPictureTests(unittest.TestCase):
    def test_what_a_lamp_lights_is_seen_and_what_stands_between_is_dark(self) -> None:
        wall = Structure(
            id="wall", source=Made(maker=Wall(length=3, height=1.5)), placement=Placement(position=(0, 0, -1))
        )
        lamp = placed(lamp=PointLamp(lumens=2000, kelvin=2000), placement=Pose(position=(0, 0.8, 0.2)))
        # From above: the near side of the wall is lit, and the ground behind it is not.
        shot = Shot(id="s", position=(0, 9, 0), target=(0, 0, -0.6), lens=33)
        site = SiteDocument(
            ground=Ground(size=(6, 6), relief=0, goes_on=False),
            structures=(wall,),
            light=Light(height=-12),
            lamps=(lamp,),
        )
        lit, none = (
            picture(graph_of(one), shot, 48, 48).astype(int) for one in (site, site.model_copy(update={"lamps": ()}))
        )
        before, behind = lit[26:32, 20:28], lit[8:12, 20:28]
        self.assertGreater(before.mean(), 2 * behind.mean())
        self.assertGreater(before[..., 0].mean(), before[..., 2].mean() * 1.5, "its light is warm")
        before, behind = none[26:32, 20:28], none[8:12, 20:28]
        self.assertLess(before.mean(), 1.5 * behind.mean(), "without it both sides are much alike")
