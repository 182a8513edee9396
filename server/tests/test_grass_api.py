"""Grass as pages are told of it: its blades packed small, what they look like, masks and reasons, what is refused."""

from __future__ import annotations

import numpy as np
from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, send, signed_in, user

from cenote.derive.graph import Graph
from cenote.derive.grass import LyingGrass
from cenote.grass.shapes import KINDS, LEANS, POINTS
from cenote.site.document import SiteDocument
from store.blobs import shared_cache

CLEAR = {"of": "objects", "id": "o", "distance": 0.0, "fade": 0.02}
SLOPE = {"id": "slope", "signal": {"kind": "slope"}, "starts_at": 50, "full_at": 30}
LAYER = {
    "id": "turf",
    "name": "Turf",
    "density": 80,
    "surfaces": ["ground"],
    "keep_clear": [CLEAR],
    "where": {"cards": [SLOPE]},
}


class GrassTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"
        self.state = edit(self.client, self.site, 1, {"op": "add", "path": "/grass/-", "value": LAYER})

    def entry(self) -> dict:
        (entry,) = self.client.get(f"{self.base}/scene").json()["grass"]
        return entry

    def test_blades_come_under_their_key_as_they_lie(self) -> None:
        entry = self.entry()
        self.assertEqual((entry["layer"], entry["surface"], entry["density"], entry["wide"]), ("turf", "ground", 80, 1))
        self.assertEqual(len(entry["look"]["shapes"]), 2 * KINDS * LEANS * POINTS * 3)
        address = f"{self.base}/grass/turf/on/ground"
        answer = self.client.get(address, {"key": entry["blades"]})
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, meta = arrays_of(answer)
        self.site.refresh_from_db()
        laid = Graph(SiteDocument.model_validate(self.site.document), shared_cache()).get(LyingGrass("turf", "ground"))
        self.assertEqual(meta["count"], len(laid.blades))
        self.assertAlmostEqual(meta["count"] / entry["expected"], 1, delta=0.2)
        owner = np.repeat(np.arange(len(arrays["first"]) - 1), np.diff(arrays["first"].astype(int)))
        low, high = arrays["box"][:, :3], arrays["box"][:, 3:]
        there = low[owner] + arrays["place"][:, :3] / 65535 * (high - low)[owner]
        np.testing.assert_allclose(there, laid.blades.positions, atol=0.0005)
        np.testing.assert_allclose(arrays["place"][:, 3] / 65535 * meta["longest"], laid.blades.lengths, atol=1e-5)
        np.testing.assert_array_equal(arrays["look"][:, 1], laid.blades.shapes)
        self.assertEqual(self.client.get(address, {"key": "older"})["Cache-Control"], "no-store")

    def test_colours_and_widths_leave_the_blades_as_they_are_a_height_does_not(self) -> None:
        before = self.entry()
        edit(
            self.client,
            self.site,
            2,
            replace("/grass/0/tip_colour", [0.3, 0.2, 0.1]),
            replace("/grass/0/root_width", 0.006),
        )
        after = self.entry()
        self.assertEqual(after["blades"], before["blades"])
        self.assertNotEqual(after["look"], before["look"])
        edit(self.client, self.site, 3, replace("/grass/0/height", [0.2, 0.3]))
        self.assertNotEqual(self.entry()["blades"], before["blades"])

    def test_the_season_turns_what_lives_and_not_what_is_dead(self) -> None:
        summer = self.entry()["look"]
        edit(self.client, self.site, 2, replace("/climate/season", 1))
        winter = self.entry()["look"]
        self.assertGreater(winter["tip"][0] / summer["tip"][0], 1.2)
        self.assertEqual(winter["dead"], summer["dead"])

    def test_both_masks_are_reported_and_a_point_is_told_why(self) -> None:
        shot = {"id": "s", "name": "S", "position": [0, 3, 6], "target": [0, 0, 0]}
        for chain in ("where", "tall_where"):
            answer = send(self.client, "post", f"{self.base}/where", {"layer": "turf", "chain": chain, "shot": shot})
            self.assertEqual(answer.status_code, 200, answer.content)
        why = send(
            self.client, "post", f"{self.base}/why", {"surface": "ground", "position": [1, 0, 0], "layers": ["turf"]}
        )
        (layer,) = why.json()["layers"]
        self.assertTrue(any(reason["name"] == "Clear of objects" for reason in layer["reasons"]), layer)

    def test_what_is_not_there_is_said_and_what_is_wrong_refused_by_its_field(self) -> None:
        self.assertEqual(self.client.get(f"{self.base}/grass/turf/on/crates").status_code, 404)
        self.assertEqual(self.client.get(f"{self.base}/grass/nothing/on/ground").status_code, 404)
        body = {"revision": 2, "label": "x", "operations": [replace("/grass/0/density", 9000)]}
        answer = send(self.client, "post", f"{self.base}/edits", body)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("density", answer.content.decode())

    def test_presets_are_told_and_can_be_added_as_they_are(self) -> None:
        presets = self.client.get("/api/vocabulary").json()["grass_presets"]
        self.assertGreaterEqual(len(presets), 4)
        for row, preset in enumerate(presets):
            value = preset["layer"] | {"id": f"new{row}", "density": 20}
            edit(self.client, self.site, 2 + row, {"op": "add", "path": "/grass/-", "value": value})
