"""Why something is here, masks of a scatter, matches of colour, and documents of older sites."""

from __future__ import annotations

from typing import Any

from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, send, signed_in, small_document, user

from cenote.signals.slope import Slope
from sites.models import Site


def add(path: str, value: Any) -> dict[str, Any]:
    """An operation that adds."""
    return {"op": "add", "path": path, "value": value}


SLOPE = {"id": "slope", "signal": Slope().model_dump(mode="json"), "starts_at": 80, "full_at": 90}


class WhyTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def ask(self, status: int = 200, **values: Any) -> dict[str, Any]:
        body = {"surface": "ground", "position": [-1, 0, -1], **values}
        answer = send(self.client, "post", f"{self.base}/why", body)
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def test_each_card_is_told_with_its_value_weight_and_share(self) -> None:
        edit(self.client, self.site, 1, add("/planting/0/where/cards/-", SLOPE))
        found = self.ask(layers=["growth"])
        self.assertEqual(found["surface"], "the ground")
        (layer,) = found["layers"]
        self.assertEqual((layer["mask"], layer["reaches"]), (0, True))
        self.assertIn("Nothing of Growth comes here, most of all for slope", layer["words"])
        (reason,) = layer["reasons"]
        self.assertLess(reason["value"], 60)
        self.assertEqual((reason["unit"], reason["weight"], reason["share"]), ("°", 0, 1))
        self.assertIn("so here it says no", reason["words"])

    def test_without_a_layer_all_that_lie_on_the_surface_answer(self) -> None:
        found = self.ask()
        self.assertEqual([layer["name"] for layer in found["layers"]], ["Growth", "Moss"])
        self.assertEqual(found["layers"][0]["mask"], 1)
        on_crates = self.ask(surface="crates", position=[1, 0.5, 0], layers=["growth"])
        self.assertIn("is not laid on Crates", on_crates["layers"][0]["words"])

    def test_hands_and_clearances_are_told_as_well(self) -> None:
        edit(
            self.client, self.site, 1,
            add("/planting/0/where/cards/-", SLOPE),
            add("/planting/0/strokes/-", {"path": [[-1, 0, -1]], "radius": 1, "soft": 0, "strength": 0.5}),
        )  # fmt: skip
        words = [reason["words"] for reason in self.ask(layers=["growth"])["layers"][0]["reasons"]]
        self.assertIn("It was sown here by hand: 0 % became 50 %.", words)
        zone = {"id": "bed", "name": "Bed", "radius": 3, "centre": [-1, -1]}
        clear = {"of": "zones", "id": "bed", "distance": 0.2}
        edit(self.client, self.site, 2, add("/zones/-", zone), add("/planting/0/keep_clear/-", clear))
        layer = self.ask(layers=["growth"])["layers"][0]
        self.assertEqual(layer["mask"], 0)
        self.assertIn("It is kept 0.2 m clear of zones: nothing may stand here.", layer["reasons"][-1]["words"])

    def test_a_placed_item_is_told_by_its_id(self) -> None:
        scene = self.client.get(f"{self.base}/scene").json()
        key = scene["scatters"][0]["placements"]
        arrays, meta = arrays_of(self.client.get(f"{self.base}/scatters/growth/placements", {"key": key}))
        self.assertEqual(set(arrays["origin"].tolist()), {0})
        low, high = arrays["id"][0].tolist()
        name = f"{high:08x}{low:08x}"
        found = self.ask(layers=["growth"], placed=name, position=arrays["position"][0].tolist())
        self.assertRegex(found["item"], r"^(Grass tuft|Fern|Stone), \d+ cm high and \d+ cm wide, placed by rule\.$")
        self.ask(404, layers=["growth"], placed="0" * 16)
        # Taken away by hand it stays away, whatever the density.
        edit(self.client, self.site, 1, replace("/planting/0/removed", [name]), replace("/planting/0/density", 3))
        arrays, _ = arrays_of(self.client.get(f"{self.base}/scatters/growth/placements"))
        self.assertNotIn([low, high], arrays["id"].tolist())
        self.assertGreater(len(arrays["id"]), meta["count"])

    def test_what_is_not_there_is_said(self) -> None:
        self.ask(404, surface="gone")
        self.assertIn("no layer “gone”", str(self.ask(404, layers=["gone"])))
        stranger = signed_in(user("bob"))
        answer = send(stranger, "post", f"{self.base}/why", {"surface": "ground", "position": [0, 0, 0]})
        self.assertEqual(answer.status_code, 404)

    def test_each_chain_of_a_scatter_has_its_report(self) -> None:
        edit(self.client, self.site, 1, add("/planting/0/mix/1/where/cards/-", SLOPE))
        shot = self.site.document["shots"][0]
        for chain, cards in (("where", 0), ("size_where", 0), ("mix/1/where", 1)):
            answer = send(self.client, "post", f"{self.base}/where", {"layer": "growth", "shot": shot, "chain": chain})
            _, meta = arrays_of(answer)
            self.assertEqual(len(meta["cards"]), cards, chain)
        for chain, status in (("mix/9/where", 404), ("elsewhere", 422)):
            answer = send(self.client, "post", f"{self.base}/where", {"layer": "growth", "shot": shot, "chain": chain})
            self.assertEqual(answer.status_code, status)

    def test_a_match_is_computed_from_the_surfaces(self) -> None:
        address = f"{self.base}/scatters/growth/match"
        found = send(self.client, "post", address, {"row": 0}).json()
        self.assertTrue(0.1 <= found["brightness"] <= 4 and 0 < found["tinted"] < 100)
        answer = edit(self.client, self.site, 1, replace("/planting/0/mix/0/match", found))
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(send(self.client, "post", address, {"row": 9}).status_code, 404)

    def test_bad_values_are_refused_by_their_field_and_change_nothing(self) -> None:
        row = {"id": "row", "path": [[0, 0, 0]], "spacing": 0}
        cases = [
            (add("/planting/0/rows/-", row), "planting/0/rows/0/spacing"),
            (add("/planting/0/rows/-", {"id": "row", "path": []}), "planting/0/rows/0/path"),
            (add("/planting/0/strokes/-", {"path": [[0, 0, 0]], "items": [7]}), "planting/0"),
            (add("/planting/0/planted/-", {"id": "one", "item": "palm"}), "planting/0/planted/0/item"),
            (replace("/planting/0/removed", ["not an id"]), "planting/0/removed/0"),
            (replace("/budget/triangles", 0), "budget/triangles"),
            (add("/zones/-", {"id": "z", "shape": "drawn", "outline": [[0, 0], [1, 0]]}), "zones/0"),
            (add("/zones/-", {"id": "z", "shape": "drawn", "outline": [[0, 0], [1, 1], [1, 0], [0, 1]]}), "zones/0"),
            (add("/planting/0/keep_clear/-", {"of": "planting", "id": "c", "layers": ["growth"]}), "planting/0"),
        ]
        for operation, field in cases:
            with self.subTest(field):
                answer = edit(self.client, self.site, 1, operation)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertTrue(answer.json()["fields"][0]["field"].startswith(field), answer.json())
        self.site.refresh_from_db()
        self.assertEqual(self.site.revision, 1)


class OlderDocumentTests(TestCase):
    def test_a_document_of_an_older_shape_is_edited_as_one_of_today(self) -> None:
        old = small_document()
        old["planting"][0]["surface"] = "ground"
        for name in ("surfaces", "keep_clear", "strokes", "rows", "planted", "removed", "size_where"):
            del old["planting"][0][name]
        del old["zones"], old["wheres"]
        ada = user("ada")
        site = Site.objects.create(owner=ada, name="Old", document=old)
        client = signed_in(ada)
        today = client.get(f"/api/sites/{site.pk}").json()["document"]
        self.assertEqual(today["planting"][0]["surfaces"], ["ground"])
        mask = {"id": "damp", "name": "Damp", "cards": []}
        answer = edit(client, site, 1, add("/wheres/-", mask))
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["document"], today | {"wheres": [mask]})
        back = send(client, "post", f"/api/sites/{site.pk}/undo", {"revision": 2})
        self.assertEqual(back.json()["document"], today)


class WeatherOnItemsTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def snowed(self) -> dict[str, Any]:
        snow = {"id": "snow", "name": "Snow", "cover": {"kind": "snow"}, "surfaces": ["ground"]}
        edit(self.client, self.site, 1, add("/weather/-", snow))
        answer = edit(self.client, self.site, 2, replace("/climate/snow", 0.2))
        self.assertEqual(answer.status_code, 200, answer.content)
        return self.client.get(f"{self.base}/scene").json()

    def test_the_scene_tells_what_lies_on_items_and_gives_their_masks(self) -> None:
        scene = self.snowed()
        snow = scene["coats"][-1]
        self.assertEqual((snow["cover"], snow["above"]), ("snow", 1.0))
        self.assertGreater(snow["strength"], 1)
        entry = scene["scatters"][0]
        answer = self.client.get(f"{self.base}/scatters/{entry['id']}/coats?key={entry['coats']}")
        self.assertIn("immutable", answer["Cache-Control"])
        masks = arrays_of(answer)[0]["masks"]
        placed, _ = arrays_of(
            self.client.get(f"{self.base}/scatters/{entry['id']}/placements?key={entry['placements']}")
        )
        self.assertEqual(masks.shape, (len(placed["item"]), 4))
        # All stand in the open; what grows holds 55 % of the snow that a stone does.
        self.assertEqual(set(masks[:, len(scene["coats"]) - 1].tolist()) - {140, 255}, set())
        other = signed_in(user("eve")).get(f"{self.base}/scatters/{entry['id']}/coats")
        self.assertEqual(other.status_code, 404)

    def test_a_preview_tells_season_wind_and_what_lies_on_items(self) -> None:
        operations = [replace("/climate/season", 1.0), replace("/wind/strength", 9)]
        answer = send(self.client, "post", f"{self.base}/preview", {"operations": operations})
        self.assertEqual(answer.status_code, 200, answer.content)
        _, meta = arrays_of(answer)
        self.assertEqual(meta["wind"]["strength"], 9)
        self.assertEqual(len(meta["wind"]["waves"]), 5)
        for life in meta["items"].values():
            self.assertEqual(len(life["colour"]), 3)
        self.assertEqual(self.client.get(f"{self.base}/scene").json()["wind"]["strength"], 0)
