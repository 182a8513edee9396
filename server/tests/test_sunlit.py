"""The sun's shafts through fog, as pages are sent them."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, signed_in, user

from sites.models import Site


class SunlitTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def scene_with(self, **values: Any) -> dict[str, Any]:
        revision = Site.objects.get(pk=self.site.pk).revision
        changes = [replace(f"/{path.replace('__', '/')}", value) for path, value in values.items()]
        self.assertEqual(edit(self.client, self.site, revision, *changes).status_code, 200)
        return self.client.get(f"{self.base}/scene").json()

    def test_without_fog_or_sun_there_is_nothing_to_show(self) -> None:
        self.assertEqual(self.client.get(f"{self.base}/scene").json()["sunlit"], "")
        answer = self.client.get(f"{self.base}/sunlit")
        self.assertEqual((answer.status_code, answer.json()["message"][:23]), (404, "There is no fog that th"))
        dark = self.scene_with(air__fog="low", light__by="hand", light__clouds=1)
        self.assertEqual(dark["sunlit"], "")

    def test_air_behind_the_crates_is_in_their_shade(self) -> None:
        low = self.scene_with(air__fog="low", light__by="hand", light__height=20, light__bearing=90, light__clouds=0)
        answer = self.client.get(f"{self.base}/sunlit", {"key": low["sunlit"]})
        self.assertEqual(answer.status_code, 200, (low["sunlit"], answer.content[:300]))
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, _ = arrays_of(answer)
        lit, (least, span) = arrays["lit"], arrays["box"]
        cell = span[0] / lit.shape[2]
        np.testing.assert_allclose(span, np.array(lit.shape[::-1]) * cell, rtol=1e-5)
        # The sun is in the east: what is west of the crate, which stands a metre east of the middle, has none of it.
        at = tuple(((np.array([0.4, 0.3, 0]) - least) / cell).astype(int)[::-1])
        east = tuple(((np.array([1.8, 0.3, 0]) - least) / cell).astype(int)[::-1])
        self.assertEqual((int(lit[at]), int(lit[east])), (0, 255))
        self.assertNotEqual(self.scene_with(light__bearing=180)["sunlit"], low["sunlit"])
        self.assertEqual(self.scene_with(light__bearing=90, air__fog_visibility=70)["sunlit"], low["sunlit"])
