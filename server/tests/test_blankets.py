"""Sheets of deep snow, what covers take, and a site before its weather, as pages are sent them."""

from __future__ import annotations

import numpy as np
from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, send, signed_in, user

from cenote.weather.snow import Snow
from jobs.models import Job
from jobs.queue import perform


class DeepSnowTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"
        snow = {"id": "snow", "name": "Snow", "cover": {"kind": "snow"}, "surfaces": ["ground", "crates"],
                "where": Snow.usual_where().model_dump(mode="json")}  # fmt: skip
        add = {"op": "add", "path": "/weather/-", "value": snow}
        edit(self.client, self.site, 1, add)
        edit(self.client, self.site, 2, replace("/climate/snow", 0.2))

    def scene(self) -> dict:
        return self.client.get(f"{self.base}/scene").json()

    def measured(self) -> dict:
        for job in Job.objects.filter(kind="measure", state=Job.State.WAITING):
            perform(str(job.pk))
        return self.scene()

    def test_the_scene_names_the_sheet_and_it_is_fetched_by_its_key(self) -> None:
        self.scene()
        (entry,) = self.measured()["blankets"]
        self.assertEqual((entry["layer"], entry["material"]), ("snow", "snow"))
        answer = self.client.get(f"{self.base}/blankets/snow", {"key": entry["sheet"]})
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, _ = arrays_of(answer)
        self.assertEqual(arrays["position"].shape, arrays["normal"].shape)
        self.assertLess(int(arrays["index"].max()), len(arrays["position"]))
        self.assertGreater(arrays["position"][:, 1].max(), 0.2)
        stale = self.client.get(f"{self.base}/blankets/snow", {"key": "older"})
        self.assertEqual(stale["Cache-Control"], "no-store")

    def test_without_snow_there_is_none_and_the_address_says_so(self) -> None:
        self.measured()
        edit(self.client, self.site, 3, replace("/climate/snow", 0))
        self.assertEqual(self.scene()["blankets"], [])
        answer = self.client.get(f"{self.base}/blankets/snow")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("deep enough", answer.json()["message"])

    def test_a_preview_brings_it_where_it_is_asked_for(self) -> None:
        self.measured()
        deeper = [replace("/climate/snow", 0.5)]

        def asked(blankets: bool) -> tuple[dict, dict]:
            body = {"operations": deeper, "surfaces": [], "scatters": [], "blankets": blankets}
            return arrays_of(send(self.client, "post", f"{self.base}/preview", body))

        arrays, meta = asked(True)
        self.assertEqual([(one["layer"], one["sheet"]) for one in meta["blankets"]], [("snow", "")])
        self.assertGreater(arrays["snow/sheet/position"][:, 1].max(), 0.5)
        arrays, meta = asked(False)
        self.assertNotIn("blankets", meta)
        self.assertEqual(arrays, {})

    def test_what_covers_take_follows_the_dials(self) -> None:
        self.measured()
        taken = {one["layer"]: one for one in self.client.get(f"{self.base}/coverage").json()["covers"]}
        self.assertGreater(taken["snow"]["covered"] / taken["snow"]["area"], 0.3)
        edit(self.client, self.site, 3, replace("/climate/snow", 0))
        edit(self.client, self.site, 4, replace("/weather/0/shown", False))
        after = self.client.get(f"{self.base}/coverage").json()["covers"]
        self.assertEqual([(one["layer"], one["covered"]) for one in after], [("snow", 0)])

    def test_before_the_weather_has_maps_of_its_own(self) -> None:
        ground = self.measured()["surfaces"][0]
        self.assertNotEqual(ground["bare"], ground["maps"])

        def fetched(**query):
            return self.client.get(f"{self.base}/surfaces/ground/maps", {"texel": ground["texel"], **query})

        answer = fetched(key=ground["bare"], bare=True)
        self.assertIn("immutable", answer["Cache-Control"])
        bare, dressed = arrays_of(answer)[0]["base"], arrays_of(fetched(key=ground["maps"]))[0]["base"]
        inside = dressed[..., 3] > 0
        self.assertGreater(dressed[inside][:, :3].mean(), bare[inside][:, :3].mean() + 40)
        self.assertEqual(np.shape(bare), np.shape(dressed))
