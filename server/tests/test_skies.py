"""The sky that the page asks for."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

import numpy as np
import OpenEXR
from django.test import TestCase
from helpers import arrays_of, edit, replace, site_of, upload, user

from sites.models import Brought


def exr(pixels: np.ndarray) -> bytes:
    """An EXR of pixels (rows, columns, 3)."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.exr"
        planes = {"RGB": np.ascontiguousarray(pixels, np.float32)}
        OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, planes).write(str(path))
        return path.read_bytes()


class DaylightTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client.force_login(self.ada)

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

    def test_air_is_told_with_it_and_banks_where_fog_gathers_in_them(self) -> None:
        ask = lambda **air: self.client.get("/api/daylight", {"light": "{}", "air": json.dumps(air)})  # noqa: E731 - asked thrice
        arrays, clear = arrays_of(ask(visibility=300))
        self.assertAlmostEqual(clear["air"]["haze"], np.log(20) / 300)
        self.assertEqual((clear["air"]["fog"], "banks" in arrays), (0, False))
        arrays, foggy = arrays_of(ask(fog="deep", fog_visibility=30, banks=20))
        self.assertEqual(arrays["banks"].shape, (128, 128))
        self.assertLess(max(foggy["direct"]), 0.1 * max(clear["direct"]))
        self.assertGreater(min(foggy["fog"]), 0)
        refused = ask(visibility=0)
        self.assertEqual((refused.status_code, refused.json()["fields"][0]["field"]), (422, "air/visibility"))

    def test_what_falls_is_told_with_the_air_and_where_it_is_kept_off_by_the_site(self) -> None:
        asked = {"light": "{}", "air": json.dumps({"rain": 8, "snowfall": 0.5, "leaves": 40, "embers": 5})}
        _, wet = arrays_of(self.client.get("/api/daylight", asked))
        self.assertEqual([one["kind"] for one in wet["drifts"]], ["rain", "snow", "leaves", "embers"])
        site = site_of(self.ada)
        key = self.client.get(f"/api/sites/{site.pk}/scene").json()["shelter"]
        answer = self.client.get(f"/api/sites/{site.pk}/shelter", {"key": key})
        arrays, meta = arrays_of(answer)
        self.assertIn("immutable", answer["Cache-Control"])
        self.assertGreater(arrays["tops"].max(), arrays["tops"].min() + 0.3)
        self.assertAlmostEqual(float(np.linalg.norm(meta["source"])), 1, places=5)
        other = self.client.get(f"/api/sites/{site.pk}/shelter", {"key": "0"})
        self.assertEqual(other["Cache-Control"], "no-store")

    def test_what_is_above_is_clouds_and_discs_and_stars_and_is_sent_once(self) -> None:
        asked = {"light": json.dumps({"height": -12, "clouds": 0.3})}
        first = self.client.get("/api/above", asked)
        arrays, meta = arrays_of(first)
        self.assertEqual(arrays["dome"].shape, (320, 2048, 8))
        halves = np.ascontiguousarray(arrays["dome"]).view(np.float16)
        self.assertTrue(np.isfinite(halves).all())
        self.assertLess(halves[..., 3].min(), 0.1, "a cloud hides what is behind it")
        self.assertGreater(len(arrays["stars"]), 1000)
        self.assertEqual([one["lit_from"] is not None for one in meta["discs"]], [True])
        again = self.client.get("/api/above", asked, headers={"If-None-Match": first["ETag"]})
        self.assertEqual((again.status_code, again.content), (304, b""))
        other = self.client.get("/api/above", {"light": "{}"}, headers={"If-None-Match": first["ETag"]})
        self.assertEqual(other.status_code, 200)

    def test_strangers_are_told_nothing(self) -> None:
        self.client.logout()
        self.assertEqual(self.ask().status_code, 401)


class PanoramaTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client.force_login(self.ada)
        self.site = site_of(self.ada)

    def send(self, content: bytes):
        address = f"/api/sites/{self.site.id}/light/panoramas"
        return self.client.post(address, {"file": upload("sky.exr", content)})

    def take(self, source: str):
        value = {"source": source, "file_name": "sky.exr", "turn": 90}
        return edit(self.client, self.site, 1, replace("/light/panorama", value), replace("/light/by", "panorama"))

    def test_one_is_read_kept_and_lights_a_site(self) -> None:
        pixels = np.full((32, 64, 3), 0.5)
        pixels[8, 10] = 900
        found = self.send(exr(pixels))
        self.assertEqual(found.status_code, 200, found.content)
        self.assertEqual((found.json()["columns"], found.json()["rows"]), (64, 32))
        self.assertEqual(self.take(found.json()["source"]).status_code, 200)
        self.site.refresh_from_db()
        light = json.dumps(self.site.document["light"])
        _, lit = arrays_of(self.client.get("/api/daylight", {"light": light}))
        self.assertGreater(lit["direct"][1], 0)
        self.assertEqual(self.client.get("/api/above", {"light": light}).status_code, 200)
        # Whose it is not is told nothing of it, and cannot use it.
        other = user("bob")
        self.client.force_login(other)
        for address in ("/api/daylight", "/api/above"):
            answer = self.client.get(address, {"light": light})
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "light/panorama/source"))
        self.site = site_of(other)
        self.assertEqual(self.take(found.json()["source"]).status_code, 422)

    def test_what_cannot_be_used_is_told_and_nothing_is_kept(self) -> None:
        for content, words in ((b"no", "neither a Radiance"), (exr(np.ones((32, 32, 3))), "twice as wide")):
            answer = self.send(content)
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "file"))
            self.assertIn(words, answer.json()["fields"][0]["message"])
        self.assertFalse(Brought.objects.exists())
        # Nor can a sky be taken from one that is not there.
        self.assertEqual(edit(self.client, self.site, 1, replace("/light/by", "panorama")).status_code, 422)


IES = b"IESNA:LM-63-2002\nTILT=NONE\n1 1000 1 2 1 1 2 0 0 0\n1 1 10\n0 90\n0\n318 0\n"


class LampTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client.force_login(self.ada)
        self.site = site_of(self.ada)

    def beams(self, lamps: list[dict], **light: object):
        return self.client.get("/api/beams", {"lamps": json.dumps(lamps), "light": json.dumps(light)})

    def test_it_is_told_how_each_shines_and_whether_it_is_dark(self) -> None:
        asked = [{"kind": "point_lamp", "lumens": 1000}, {"kind": "spot_lamp", "angle": 40, "soft": 0.5}]
        found = self.beams(asked, height=-5).json()
        point, spot = found["beams"]
        self.assertEqual((point["outer"], spot["outer"], spot["inner"]), (180, 20, 10))
        self.assertAlmostEqual(
            np.dot(point["intensity"], [0.2126, 0.7152, 0.0722]) * 128_000, 1000 / (4 * np.pi), places=2
        )
        self.assertTrue(found["dark"])
        self.assertGreater(found["levels"][1], found["levels"][0])
        self.assertFalse(self.beams(asked, height=20).json()["dark"])
        # All that is shown is exposed for it: a street that is lit at night looks no brighter than one by day.
        light = json.dumps({"height": -14})
        (_, dark), (_, lit) = (
            arrays_of(self.client.get("/api/daylight", {"light": light, "lamplight": one}))
            for one in (0, found["levels"][0])
        )
        self.assertLess(lit["scale"], 0.3 * dark["scale"])
        self.assertAlmostEqual(lit["glow"] / lit["scale"], dark["glow"] / dark["scale"])

    def test_a_photometric_file_gives_a_lamp_its_shape_and_is_its_owners_alone(self) -> None:
        address = f"/api/sites/{self.site.id}/lamps/photometry"
        found = self.client.post(address, {"file": upload("lamp.ies", IES)})
        self.assertEqual(found.status_code, 200, found.content)
        lamp = {"kind": "measured_lamp", "source": found.json()["source"], "lumens": found.json()["lumens"]}
        (beam,) = self.beams([lamp]).json()["beams"]
        self.assertGreater(len(beam["profile"]), 10)
        placed = {"id": "one", "name": "Lamp", "lamp": lamp}
        self.assertEqual(
            edit(self.client, self.site, 1, {"op": "add", "path": "/lamps/-", "value": placed}).status_code, 200
        )
        self.client.force_login(user("bob"))
        self.assertEqual(self.beams([lamp]).status_code, 422)

    def test_what_cannot_be_used_is_told_by_its_field(self) -> None:
        for lamps, field in (
            ([{"kind": "torch"}], "lamps/0"),
            ([{"kind": "spot_lamp", "angle": 400}], "lamps/0/spot_lamp/angle"),
        ):
            answer = self.beams(lamps)
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, field))
        self.assertEqual(self.beams([{"kind": "point_lamp"}] * 501).status_code, 422)
        answer = self.client.post(f"/api/sites/{self.site.id}/lamps/photometry", {"file": upload("lamp.ies", IES[:-9])})
        self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "file"))
        self.assertFalse(Brought.objects.exists())
