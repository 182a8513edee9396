"""Sites as a whole, and their history."""

from __future__ import annotations

import copy
from uuid import uuid4

from django.test import TestCase
from helpers import edit, replace, send, signed_in, site_of, user

from cenote.site.document import SiteDocument
from sites.models import Site


class SiteTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)

    def names(self) -> list[str]:
        return [site["name"] for site in self.client.get("/api/sites").json()]

    def test_make_rename_duplicate_delete_and_bring_back(self) -> None:
        made = send(self.client, "post", "/api/sites", {"name": "  Quarry "}).json()
        self.assertEqual(made["name"], "Quarry")
        base = f"/api/sites/{made['id']}"
        state = self.client.get(base).json()
        SiteDocument.model_validate(state["document"])
        self.assertEqual((state["revision"], state["undo"], state["redo"]), (1, None, None))
        self.assertEqual(send(self.client, "patch", base, {"name": "Old quarry"}).json()["name"], "Old quarry")
        copy_ = send(self.client, "post", f"{base}/duplicate").json()
        self.assertEqual(copy_["name"], "Old quarry (copy)")
        self.assertEqual(self.client.get(f"/api/sites/{copy_['id']}").json()["document"], state["document"])
        self.assertEqual(send(self.client, "delete", base).status_code, 204)
        self.assertEqual(self.names(), ["Old quarry (copy)"])
        self.assertEqual(self.client.get(base).status_code, 404)
        send(self.client, "post", f"{base}/restore")
        self.assertEqual(sorted(self.names()), ["Old quarry", "Old quarry (copy)"])
        self.assertEqual(self.client.get(base).json()["document"], state["document"])

    def test_names_that_are_none_are_refused_by_field(self) -> None:
        for name in ("", "   ", "x" * 121):
            answer = send(self.client, "post", "/api/sites", {"name": name})
            self.assertEqual(answer.status_code, 422)
            self.assertEqual(answer.json()["fields"][0]["field"], "name")
        self.assertEqual(self.names(), [])

    def test_a_long_name_can_be_duplicated(self) -> None:
        site = site_of(self.ada, "n" * 120)
        answer = send(self.client, "post", f"/api/sites/{site.pk}/duplicate")
        self.assertEqual(answer.status_code, 200)


class EditTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)
        self.start = copy.deepcopy(self.site.document)

    def state(self) -> dict:
        return self.client.get(f"/api/sites/{self.site.pk}").json()

    def step(self, way: str, revision: int):
        return send(self.client, "post", f"/api/sites/{self.site.pk}/{way}", {"revision": revision})

    def test_every_kind_of_edit_can_be_undone_and_redone(self) -> None:
        states = [self.start]
        layer = self.start["planting"][0] | {"id": "second", "name": "Second"}
        operations = [
            replace("/planting/0/density", 4.5),
            {"op": "add", "path": "/planting/-", "value": layer},
            replace("/weather/0/where/cards/1/full_at", 0.5),
            {"op": "remove", "path": "/structures/0"},
            replace("/climate/years", 60),
            replace("/ground/seed", 9),
        ]
        revision = 1
        for number, operation in enumerate(operations):
            answer = edit(self.client, self.site, revision, operation, label=f"Change {number}")
            self.assertEqual(answer.status_code, 200, answer.content)
            revision = answer.json()["revision"]
            states.append(answer.json()["document"])
            self.assertEqual(answer.json()["undo"], f"Change {number}")
        for expected in reversed(states[:-1]):
            answer = self.step("undo", revision)
            revision = answer.json()["revision"]
            self.assertEqual(answer.json()["document"], expected)
        self.assertIsNone(answer.json()["undo"])
        self.assertEqual(self.step("undo", revision).status_code, 409)
        for expected in states[1:]:
            answer = self.step("redo", revision)
            revision = answer.json()["revision"]
            self.assertEqual(answer.json()["document"], expected)
        self.assertIsNone(answer.json()["redo"])
        # What a reload shows is the same.
        self.assertEqual(self.state(), answer.json())

    def test_layers_that_change_places_go_back_to_them(self) -> None:
        layers = [self.start["weather"][0] | {"id": id, "name": id.title()} for id in ("first", "second", "third")]
        answer = edit(self.client, self.site, 1, replace("/weather", layers))
        before = answer.json()["document"]
        revision = answer.json()["revision"]
        # As the column moves one: taken out and put in elsewhere, which the history keeps as a move.
        turned = [layers[2], *layers[:2]]
        for operations in (
            [{"op": "remove", "path": "/weather/2"}, {"op": "add", "path": "/weather/0", "value": layers[2]}],
            [replace("/weather", turned), replace("/climate/years", 77)],
        ):
            after = edit(self.client, self.site, revision, *operations).json()
            self.assertEqual([layer["id"] for layer in after["document"]["weather"]], ["third", "first", "second"])
            back = self.step("undo", after["revision"]).json()
            self.assertEqual(back["document"], before)
            again = self.step("redo", back["revision"]).json()
            self.assertEqual(again["document"], after["document"])
            revision = self.step("undo", again["revision"]).json()["revision"]

    def test_the_whole_document_can_be_put_in_place_of_another(self) -> None:
        whole = self.start | {"climate": self.start["climate"] | {"years": 3.0}}
        answer = edit(self.client, self.site, 1, replace("", whole))
        self.assertEqual((answer.status_code, answer.json()["document"]), (200, whole))
        self.assertEqual(self.step("undo", 2).json()["document"], self.start)

    def test_a_new_edit_ends_what_could_be_redone(self) -> None:
        edit(self.client, self.site, 1, replace("/climate/years", 30))
        self.step("undo", 2)
        answer = edit(self.client, self.site, 3, replace("/climate/damp", 0.2), label="Drier")
        self.assertEqual((answer.json()["undo"], answer.json()["redo"]), ("Drier", None))
        self.assertEqual(self.step("redo", 4).status_code, 409)

    def test_edits_of_one_gesture_are_one_step(self) -> None:
        revision = 1
        for years in (30, 34, 41):
            answer = edit(self.client, self.site, revision, replace("/climate/years", years), gesture="drag")
            revision = answer.json()["revision"]
        edit(self.client, self.site, revision, replace("/climate/years", 50), gesture="another")
        self.assertEqual(self.step("undo", revision + 1).json()["document"]["climate"]["years"], 41)
        self.assertEqual(self.step("undo", revision + 2).json()["document"], self.start)
        self.assertEqual(self.step("redo", revision + 3).json()["document"]["climate"]["years"], 41)

    def test_nobody_overwrites_what_they_have_not_seen(self) -> None:
        edit(self.client, self.site, 1, replace("/climate/years", 30), label="Thirty years")
        answer = edit(self.client, self.site, 1, replace("/climate/years", 90))
        self.assertEqual(answer.status_code, 409)
        self.assertIn("Thirty years", answer.json()["message"])
        self.assertEqual(answer.json()["revision"], 2)
        self.assertEqual(self.step("undo", 1).status_code, 409)
        self.assertEqual(self.state()["document"]["climate"]["years"], 30)

    def test_a_change_whose_answer_was_lost_is_made_once(self) -> None:
        body = {"revision": 1, "label": "Years", "operations": [replace("/climate/years", 33)], "request": str(uuid4())}
        first = send(self.client, "post", f"/api/sites/{self.site.pk}/edits", body)
        self.assertEqual((first.status_code, first.json()["revision"]), (200, 2))
        again = send(self.client, "post", f"/api/sites/{self.site.pk}/edits", body)
        self.assertEqual((again.status_code, again.json()["revision"]), (200, 2), again.content)
        # Somebody else's change on top: still no conflict with one's own.
        edit(self.client, self.site, 2, replace("/climate/damp", 0.1))
        late = send(self.client, "post", f"/api/sites/{self.site.pk}/edits", body)
        self.assertEqual((late.status_code, late.json()["document"]["climate"]["damp"]), (200, 0.1))
        undo = {"revision": 3, "request": str(uuid4())}
        for _ in range(2):
            answer = send(self.client, "post", f"/api/sites/{self.site.pk}/undo", undo)
            self.assertEqual((answer.status_code, answer.json()["revision"]), (200, 4))
        other = body | {"request": str(uuid4())}
        self.assertEqual(send(self.client, "post", f"/api/sites/{self.site.pk}/edits", other).status_code, 409)

    def test_bad_values_are_refused_by_field_and_nothing_changes(self) -> None:
        for operation, field, words in (
            (replace("/planting/0/density", -3), "planting/0/density", "greater than or equal to 0"),
            (replace("/planting/0/density", "many"), "planting/0/density", "valid number"),
            (replace("/planting/0/mix/1/item", "palm"), "planting/0/mix/1", "no kit item"),
            (replace("/planting/0/mix/0/size", [3, 1]), "planting/0/mix/0", "the least (3) is more"),
            (replace("/weather/0/cover", {"kind": "gold"}), "weather/0/cover", "gold"),
            (replace("/structures/0/source/maker/number", 1000), "number", "less than or equal to 24"),
            (replace("/ground/size", [1, 1]), "ground", "between 2 and 2000 m"),
        ):
            answer = edit(self.client, self.site, 1, operation)
            self.assertEqual(answer.status_code, 422, operation)
            told = answer.json()
            self.assertIn("Nothing was changed", told["message"])
            self.assertIn(field, told["fields"][0]["field"])
            self.assertIn(words, told["fields"][0]["message"])
        self.assertEqual(self.state()["document"], self.start)
        self.assertEqual(Site.objects.get().revision, 1)

    def test_references_to_what_never_was_are_refused_by_field_and_lost_ones_wait(self) -> None:
        card = {"id": "near", "signal": {"kind": "distance", "objects": ["shed"]}, "starts_at": 0, "full_at": 1}
        layer = {"id": "near-shed", "cover": {"kind": "moss"}, "where": {"cards": [card]}, "surfaces": ["ground"]}
        add = {"op": "add", "path": "/weather/-", "value": layer}
        revision = self.site.revision
        answer = edit(self.client, self.site, revision, add)
        self.assertEqual(answer.status_code, 422)
        row = len(self.site.document["weather"])
        self.assertEqual(answer.json()["fields"], [
            {"field": f"weather/{row}/where/cards/0/signal/objects/0", "message": "There is no object called 'shed'"}
        ])  # fmt: skip
        shed = {"id": "shed", "source": {"kind": "kit_piece", "item": "crate"}}
        both = edit(self.client, self.site, revision, {"op": "add", "path": "/structures/-", "value": shed}, add)
        self.assertEqual(both.status_code, 200, both.content)
        place = len(both.json()["document"]["structures"]) - 1
        gone = edit(self.client, self.site, revision + 1, {"op": "remove", "path": f"/structures/{place}"})
        self.assertEqual(gone.status_code, 200, gone.content)
        later = edit(self.client, self.site, revision + 2, replace(f"/weather/{row}/name", "Old moss"))
        self.assertEqual(later.status_code, 200, later.content)
        kept = later.json()["document"]["weather"][row]["where"]["cards"][0]["signal"]["objects"]
        self.assertEqual(kept, ["shed"])

    def test_patches_that_do_not_fit_are_refused(self) -> None:
        for operation in (
            replace("/planting/7/density", 1),
            {"op": "remove", "path": "/nothing"},
            {"op": "add", "path": "/extra", "value": 1},
            {"op": "replace", "path": "", "value": {}},
        ):
            answer = edit(self.client, self.site, 1, operation)
            if operation["path"] == "":
                # The whole document can be replaced, by one that is complete in itself.
                self.assertEqual(answer.status_code, 200)
                continue
            self.assertEqual(answer.status_code, 422, operation)
            self.assertIn("Nothing was changed", answer.json()["message"])

    def test_an_edit_that_changes_nothing_is_no_step(self) -> None:
        answer = edit(self.client, self.site, 1, replace("/climate/years", self.start["climate"]["years"]))
        self.assertEqual((answer.json()["revision"], answer.json()["undo"]), (1, None))
