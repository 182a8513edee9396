"""The sky that the page asks for."""

from __future__ import annotations

import json

import numpy as np
from django.test import TestCase
from helpers import arrays_of, user


class DaylightTests(TestCase):
    def setUp(self) -> None:
        self.client.force_login(user("ada"))

    def ask(self, **light: object):
        return self.client.get("/api/daylight", {"light": json.dumps(light)})

    def test_it_is_what_sun_and_sky_send_as_a_light_is_set(self) -> None:
        arrays, noon = arrays_of(self.ask(bearing=90, height=45))
        self.assertEqual(arrays["around"].shape, (64, 128, 4))
        self.assertTrue((arrays["around"][..., :3] > 0).all())
        np.testing.assert_allclose(noon["direction"], [0.7071, 0.7071, 0], atol=1e-3)
        _, low = arrays_of(self.ask(bearing=90, height=3))
        self.assertGreater(low["direct"][0] / low["direct"][2], 3 * noon["direct"][0] / noon["direct"][2])

    def test_what_cannot_be_used_is_told_by_its_field(self) -> None:
        for light, field in (({"height": 400}, "light/height"), ({"clouds": "many"}, "light/clouds")):
            answer = self.ask(**light)
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, field))
        self.assertEqual(self.client.get("/api/daylight", {"light": "no"}).status_code, 422)
        self.assertEqual(self.client.get("/api/daylight").status_code, 422)

    def test_strangers_are_told_nothing(self) -> None:
        self.client.logout()
        self.assertEqual(self.ask().status_code, 401)
