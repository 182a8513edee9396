"""Decals over the API: pictures that are brought in, what lies where, and what a mask is asked on."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from django.test import TestCase
from helpers import edit, measured_site_of, send, signed_in, upload, user
from PIL import Image

from cenote.decals.own_picture import OwnPicture
from cenote.decals.pothole import Pothole
from cenote.derive.decals import decals_of
from cenote.derive.graph import Graph
from cenote.geometry.pose import Pose
from cenote.site.decals import PlacedDecal, Spread
from cenote.site.document import SiteDocument
from sites.models import Brought
from store.blobs import shared_cache


def png(pixels: np.ndarray) -> bytes:
    """A picture file."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    return stream.getvalue()


def added(decal: PlacedDecal) -> dict[str, Any]:
    """An operation that lays a decal."""
    return {"op": "add", "path": "/decals/-", "value": decal.model_dump(mode="json")}


class DecalTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def keys(self) -> dict[str, str]:
        """The keys of what is seen, by surface."""
        return {one["id"]: one["maps"] for one in self.client.get(f"{self.base}/scene").json()["surfaces"]}

    def test_the_vocabulary_tells_how_large_each_kind_is_and_how_it_lies(self) -> None:
        found = {one["kind"]: one for one in self.client.get("/api/vocabulary").json()["decals"]}
        self.assertEqual(found["leak"]["lies"], "over the weather")
        self.assertEqual(found["pothole"]["lies"], "under the weather")
        self.assertTrue(all(min(*one["size"], one["reach"]) > 0 and one["help"] for one in found.values()))

    def test_a_picture_is_kept_for_its_owner_and_shown(self) -> None:
        pixels = np.full((8, 16, 4), (255, 0, 0, 255), np.uint8)
        found = self.client.post(f"{self.base}/decals/pictures", {"file": upload("red.png", png(pixels))})
        self.assertEqual(found.status_code, 200, found.content)
        told = found.json()
        self.assertEqual((told["columns"], told["rows"], told["file_name"], told["remarks"]), (16, 8, "red.png", []))
        self.assertEqual(Brought.objects.get(owner=self.ada).family, "picture")
        before = self.keys()
        decal = PlacedDecal(
            id="sign",
            decal=OwnPicture(source=told["source"], file_name="red.png"),
            placement=Pose(position=(-1, 0, -1)),
        )
        self.assertEqual(edit(self.client, self.site, 1, added(decal)).status_code, 200)
        after = self.keys()
        self.assertNotEqual(before["ground"], after["ground"])
        self.assertEqual(before["crates"], after["crates"])
        bob = signed_in(user("bob"))
        self.assertEqual(
            bob.post(f"{self.base}/decals/pictures", {"file": upload("red.png", png(pixels))}).status_code, 404
        )

    def test_what_is_no_picture_is_refused_by_its_field(self) -> None:
        for content in (b"hello", png(np.zeros((4, 4, 4), np.uint8)), png(np.zeros((4, 4, 3), np.uint8))[:40]):
            answer = self.client.post(f"{self.base}/decals/pictures", {"file": upload("a.png", content)})
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "file"))
        self.assertFalse(Brought.objects.exists())

    def test_another_users_picture_is_nobody_elses(self) -> None:
        decal = PlacedDecal(id="sign", decal=OwnPicture(source="b" * 64))
        answer = edit(self.client, self.site, 1, added(decal))
        self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "decals/0/decal/source"))

    def test_a_point_tells_which_decals_lie_there_and_why_not(self) -> None:
        decal = PlacedDecal(id="hole", name="Hole", decal=Pothole(), placement=Pose(position=(-1, 0, -1)), worn=40)
        edit(self.client, self.site, 1, added(decal))

        def ask(at: list[float], **more: Any) -> dict[str, Any]:
            body = {"surface": "ground", "position": at, **more}
            return send(self.client, "post", f"{self.base}/why", body).json()

        found = {one["name"]: one for one in ask([-1, 0, -1])["layers"]}
        self.assertIn("lies here, under the weather", found["Hole"]["words"])
        self.assertEqual([one["name"] for one in found["Hole"]["reasons"]], ["Angle", "Worn"])
        self.assertNotIn("Hole", {one["name"] for one in ask([1, 0, 1])["layers"]})
        (away,) = ask([1, 0, 1], layers=["hole"])["layers"]
        self.assertIn("does not reach", away["words"])

    def test_one_of_a_rule_is_found_where_it_lies(self) -> None:
        spread = Spread(on=True, surfaces=("ground",), density=3, spacing=0.5)
        rule = PlacedDecal(id="holes", decal=Pothole(), width=0.4, height=0.4, spread=spread)
        edit(self.client, self.site, 1, added(rule))
        graph = Graph(SiteDocument.model_validate(self.client.get(self.base).json()["document"]), shared_cache())
        id, box = decals_of(graph, "holes", "ground")[2]

        def ask(position: list[float], status: int = 200, decal: str = "holes", surface: str = "ground") -> Any:
            body = {"surface": surface, "position": position}
            answer = send(self.client, "post", f"{self.base}/decals/{decal}/at", body)
            self.assertEqual(answer.status_code, status, answer.content)
            return answer.json()

        found = ask(box.matrix[:3, 3].tolist())["found"]
        self.assertEqual((found["id"], found["seed"]), (id, box.seed))
        np.testing.assert_allclose(np.array(found["matrix"]).reshape(4, 4), box.matrix, atol=1e-9)
        self.assertIsNone(ask([50, 0, 50])["found"])
        ask([0, 0, 0], 404, decal="gone")
        ask([0, 0, 0], 404, surface="gone")

    def test_a_mask_is_asked_on_the_surfaces_that_it_lies_on(self) -> None:
        edit(
            self.client,
            self.site,
            1,
            added(PlacedDecal(id="hole", decal=Pothole(), placement=Pose(position=(-1, 0, -1)))),
        )
        shot = self.client.get(self.base).json()["document"]["shots"][0]
        answer = send(self.client, "post", f"{self.base}/where", {"layer": "hole", "shot": shot})
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertIn(b'"surfaces": 1', answer.content.replace(b'"surfaces":1', b'"surfaces": 1'))
