"""What pages are sent: scenes, packs, previews and reports."""

from __future__ import annotations

from unittest.mock import patch

import numpy as np
from django.contrib.auth.models import User
from django.http import HttpResponse
from django.test import TestCase, TransactionTestCase
from helpers import arrays_of, edit, measured_site_of, radius_never_measured, replace, send, signed_in, user

from cenote.derive.fields import ComputedField
from cenote.derive.graph import Graph
from cenote.derive.maps import SurfaceMaps
from cenote.derive.surfaces import BORDER, PATCH
from cenote.derive.tiles import MaterialTile
from cenote.derive.wanted import near_tiles
from cenote.weather.base import Film
from cenote.weather.tiles import film_tile
from derived.warm import ReadAhead, warm
from jobs.models import Job
from jobs.queue import perform
from sites.history import parsed
from sites.models import Site
from store.blobs import shared_cache


class SceneTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def scene(self, **query) -> dict:
        answer = self.client.get(f"{self.base}/scene", query)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def test_a_scene_is_of_the_revision_that_is_asked_for_or_a_later_one(self) -> None:
        revision = self.scene()["revision"]
        self.assertEqual(self.scene(revision=revision)["revision"], revision)
        self.assertEqual(self.scene(revision=revision - 1)["revision"], revision)
        answer = self.client.get(f"{self.base}/scene", {"revision": revision + 1})
        self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "revision"))

    def test_a_scene_lists_what_there_is_by_key(self) -> None:
        scene = self.scene(texel=0.05)
        self.assertEqual([s["id"] for s in scene["surfaces"]], ["ground", "crates"])
        self.assertEqual([s["id"] for s in scene["scatters"]], ["growth"])
        self.assertIsNone(scene["measuring"])
        for surface in scene["surfaces"]:
            self.assertTrue(surface["maps"] and surface["coarse"] and surface["mesh"])
            self.assertLessEqual(surface["texel"], 0.05)
        self.assertAlmostEqual(scene["surfaces"][0]["area"], 16, delta=1)

    def test_materials_are_drawn_finely_before_somebody_waits_for_them(self) -> None:
        layout = self.scene()["surfaces"][0]["patches"]
        one = {"surface": "ground", "level": layout["finest"], "row": 0, "column": 0}
        for _ in range(2):
            answer = self.client.post(f"{self.base}/patches", {"patches": [one]}, content_type="application/json")
            self.assertEqual(answer.status_code, 200)
        job = Job.objects.get(kind="near")
        graph = Graph(parsed(self.site.document), shared_cache())
        self.assertTrue(near_tiles(graph))
        with patch.object(MaterialTile, "make", return_value=film_tile(Film((0.2, 0.2, 0.2)))):
            perform(job.pk)
        self.assertTrue(all(graph.has(one) for one in near_tiles(graph)))
        self.client.post(f"{self.base}/patches", {"patches": [one]}, content_type="application/json")
        self.assertEqual(Job.objects.filter(kind="near").count(), 1)

    def test_patches_are_parts_of_the_maps_and_say_what_of(self) -> None:
        ground = self.scene(texel=0.05)["surfaces"][0]
        layout = ground["patches"]
        self.assertGreater(layout["finest"], layout["level"])
        level = layout["level"] + 1
        asked = [{"surface": "ground", "level": level, "row": 0, "column": column} for column in (0, 1)]

        def patches(some: list) -> HttpResponse:
            return self.client.post(f"{self.base}/patches", {"patches": some}, content_type="application/json")

        arrays, meta = arrays_of(patches(asked))
        self.assertEqual([(one["column"], one["of"]) for one in meta["patches"]], [(k, layout["of"]) for k in (0, 1)])
        side = PATCH + 2 * BORDER
        self.assertEqual(arrays["base"].shape, (2 * side, side, 4))
        graph = Graph(parsed(self.site.document), shared_cache())
        whole = graph.get(SurfaceMaps("ground", level))
        seen = np.s_[BORDER : BORDER + PATCH]
        for name in ("base", "orm", "normal"):
            for column in (0, 1):
                found = arrays[name][column * side : (column + 1) * side][seen, seen]
                there = getattr(whole, name)[:PATCH, column * PATCH : (column + 1) * PATCH]
                shown = whole.base[:PATCH, column * PATCH : (column + 1) * PATCH, 3] == 255
                np.testing.assert_array_equal(found[shown], there[shown], f"{name} {column}")
        answer = patches([asked[0], asked[0] | {"row": 1 << 20}])
        self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "patches/1"))
        self.assertEqual(patches([asked[0] | {"surface": "nothing"}]).status_code, 404)

    def test_packs_hold_what_the_keys_say_and_may_be_kept_for_ever(self) -> None:
        ground = self.scene(texel=0.05)["surfaces"][0]
        address = f"{self.base}/surfaces/ground"
        answer = self.client.get(f"{address}/mesh", {"key": ground["mesh"]})
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, _ = arrays_of(answer)
        self.assertEqual(len(arrays["index"]), 3 * ground["triangles"])
        self.assertEqual(arrays["tangent"].shape[1], 4)
        self.assertTrue((arrays["uv"] >= 0).all() and (arrays["uv"] <= 1).all())
        answer = self.client.get(f"{address}/maps", {"key": ground["maps"], "texel": 0.05})
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, meta = arrays_of(answer)
        self.assertEqual(arrays["base"].shape, arrays["normal"].shape)
        self.assertEqual(meta["texel"], ground["texel"])
        stale = self.client.get(f"{address}/maps", {"key": "older", "texel": 0.05})
        self.assertEqual(stale["Cache-Control"], "no-store")

    def test_only_what_changes_gets_a_new_key(self) -> None:
        before = self.scene()
        edit(self.client, self.site, 1, replace("/weather/0/where/cards/0/full_at", 0.9))
        after = self.scene()
        self.assertEqual([s["mesh"] for s in before["surfaces"]], [s["mesh"] for s in after["surfaces"]])
        self.assertTrue(all(a["maps"] != b["maps"] for a, b in zip(before["surfaces"], after["surfaces"], strict=True)))
        placements = [[layer["placements"] for layer in scene["scatters"]] for scene in (before, after)]
        self.assertEqual(*placements)
        # What lies on items follows the same masks.
        self.assertNotEqual(before["scatters"][0]["coats"], after["scatters"][0]["coats"])
        edit(self.client, self.site, 2, replace("/planting/0/density", 3))
        last = self.scene()
        self.assertEqual([s["maps"] for s in last["surfaces"]], [s["maps"] for s in after["surfaces"]])
        self.assertNotEqual(last["scatters"], after["scatters"])

    def test_much_missing_is_measured_by_a_job(self) -> None:
        edit(self.client, self.site, 1, replace("/weather/0/where/cards/1/signal/radius", radius_never_measured()))
        with patch("derived.graphs._RAYS_AT_ONCE", 0):
            scene = self.scene()
            again = self.scene()
        self.assertEqual(scene["measuring"], again["measuring"], "the same work was started twice")
        self.assertEqual([s["maps"] for s in scene["surfaces"]], ["", ""])
        perform(scene["measuring"])
        job = Job.objects.get(pk=scene["measuring"])
        self.assertEqual((job.state, job.done), (Job.State.DONE, job.total))
        with patch("derived.graphs._RAYS_AT_ONCE", 0):
            self.assertIsNone(self.scene()["measuring"])

    def test_placements_and_their_meta(self) -> None:
        key = self.scene()["scatters"][0]["placements"]
        arrays, meta = arrays_of(self.client.get(f"{self.base}/scatters/growth/placements", {"key": key}))
        self.assertEqual(len(arrays["position"]), meta["count"])
        self.assertEqual(meta["items"], ["grass_tuft", "fern", "stone"])
        self.assertGreater(meta["triangles"], meta["count"])
        self.assertEqual(self.client.get(f"{self.base}/scatters/none/placements").status_code, 404)

    def test_what_is_not_there_is_told(self) -> None:
        self.assertEqual(self.client.get(f"{self.base}/surfaces/none/mesh").status_code, 404)
        self.assertEqual(self.client.get(f"{self.base}/surfaces/ground/maps", {"texel": "wide"}).status_code, 422)
        self.assertEqual(self.client.get(f"{self.base}/kit/palm/picture").status_code, 404)

    def test_the_kit_and_the_vocabulary(self) -> None:
        vocabulary = self.client.get("/api/vocabulary").json()
        kinds = {entry["kind"]: entry for entry in vocabulary["kit"]}
        slope = next(entry for entry in vocabulary["signals"] if entry["kind"] == "slope")
        self.assertEqual((slope["unit"], slope["low"], slope["high"]), ("°", 0, 180))
        self.assertTrue(all(entry["help"] for entry in vocabulary["covers"] + vocabulary["makers"]))
        scene = self.scene()
        entries = {item["kind"]: item for item in scene["items"]}
        self.assertEqual(set(entries), {"grass_tuft", "fern", "stone"})
        self.assertEqual(entries["fern"]["parts"], ["card", "stand_in"])
        self.assertEqual(scene["tiles"], ["river_stone"])
        answer = self.client.get(f"{self.base}/kit", {"key": scene["kit"]})
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, _ = arrays_of(answer)
        for variant in range(kinds["fern"]["variants"]):
            near, far = (arrays[f"item/fern/{detail}/{variant}/index"] for detail in (0, 2))
            self.assertGreater(len(near), len(far))
        self.assertEqual(len(arrays["item/fern/0/0/index"]), 3 * kinds["fern"]["triangles"][0])
        self.assertEqual(arrays["item/fern/0/0/groups"][:, 2].sum(), len(arrays["item/fern/0/0/index"]))
        self.assertEqual(arrays["item/fern/card"].shape[2], 4)
        self.assertEqual(arrays["tile/river_stone/base"].shape, (512, 512, 4))
        plain, _ = arrays_of(self.client.get(f"{self.base}/kit", {"plain": "true"}))
        self.assertEqual(plain["tile/river_stone/base"].shape, (256, 256, 4))
        self.assertNotIn("tile/river_stone/normal", plain)

    def test_the_land_goes_on_beyond_the_ground_unless_it_is_to_end(self) -> None:
        entry = self.client.get(f"{self.base}/scene").json()["surroundings"]
        answer = self.client.get(f"{self.base}/surroundings", {"key": entry["land"]})
        arrays, _ = arrays_of(answer)
        self.assertIn("immutable", answer["Cache-Control"])
        self.assertEqual(arrays["position"].shape, arrays["colour"].shape)
        self.assertLess(int(arrays["index"].max()), len(arrays["position"]))
        site = Site.objects.get(pk=self.base.split("/")[-1])
        site.document["ground"]["goes_on"] = False
        site.revision += 1
        site.save()
        self.assertIsNone(self.client.get(f"{self.base}/scene").json()["surroundings"])
        self.assertEqual(self.client.get(f"{self.base}/surroundings").status_code, 404)

    def test_an_opening_that_the_page_has_already_is_not_sent_again(self) -> None:
        first = self.client.get(f"{self.base}/opening")
        self.assertEqual(first["Cache-Control"], "private, no-cache")
        again = self.client.get(f"{self.base}/opening", headers={"if-none-match": first["ETag"]})
        self.assertEqual((again.status_code, again.content), (304, b""))
        other = self.client.get(f"{self.base}/opening", headers={"if-none-match": 'W/"0"'})
        self.assertEqual(other.content, first.content)

    def test_what_a_page_opens_with_comes_in_one_piece(self) -> None:
        scene = self.scene()
        arrays, keys = arrays_of(self.client.get(f"{self.base}/opening"))
        for surface in scene["surfaces"]:
            id = surface["id"]
            self.assertEqual(keys[id], {"mesh": surface["mesh"], "maps": surface["coarse"]})
            alone, _ = arrays_of(self.client.get(f"{self.base}/surfaces/{id}/mesh"))
            for name, array in alone.items():
                np.testing.assert_array_equal(arrays[f"{id}/mesh/{name}"], array)
            alone, _ = arrays_of(self.client.get(f"{self.base}/surfaces/{id}/maps"))
            np.testing.assert_array_equal(arrays[f"{id}/maps/base"], alone["base"])
        edit(self.client, self.site, 1, replace("/weather/0/where/cards/1/signal/radius", radius_never_measured()))
        _, keys = arrays_of(self.client.get(f"{self.base}/opening"))
        self.assertNotIn("maps", keys["ground"])

    def test_tiles_and_pictures_of_items_and_materials(self) -> None:
        tile, meta = arrays_of(self.client.get(f"{self.base}/materials/brick/tile"))
        self.assertEqual({name: array.shape[2] for name, array in tile.items()}, {"base": 4, "orm": 4, "normal": 4})
        self.assertEqual(meta["size"], 1.8)
        for address in ("kit/stone/picture", "materials/brick/picture"):
            answer = self.client.get(f"{self.base}/{address}")
            self.assertEqual(answer["Content-Type"], "image/png")
            self.assertEqual(answer.content[:4], b"\x89PNG")
        for address in ("kit/palm/picture", "materials/jelly/picture", "materials/jelly/tile"):
            self.assertEqual(self.client.get(f"{self.base}/{address}").status_code, 404)

    def test_warming_up_does_no_harm_without_sites(self) -> None:
        with patch("derived.warm.connection"), self.assertNoLogs("cenote.warm", "WARNING"):
            warm()
            self.site.delete()
            warm()

    def test_a_site_that_is_opened_is_got_ready_for_a_drag_once(self) -> None:
        ahead = ReadAhead(waits=0)
        self.assertIsNone(ahead.opened(self.site), "only servers read ahead")
        ahead.on = True
        made = patch.object(ComputedField, "make", side_effect=ComputedField.make)
        with patch("derived.warm.connection"), patch("derived.warm.threading.Thread") as thread, made as made:
            self.assertIsNotNone(ahead.opened(self.site))
            shared_cache().memory._values.clear()
            # Here and now, on the connection of the test.
            thread.call_args.kwargs["target"](*thread.call_args.kwargs["args"])
            self.assertGreater(made.call_count, 0)
            self.assertIsNone(ahead.opened(self.site), "it was ready already")
            started = thread.call_count
            ahead.heard({"opened": str(self.site.pk)})
            thread.call_args.kwargs["target"](*thread.call_args.kwargs["args"])
            self.assertEqual((thread.call_count, made.call_count), (started + 1, made.call_count))
            other = ReadAhead(waits=0)
            other.on = True
            other.heard({"site": "x", "type": "changed"})
            self.assertEqual(thread.call_count, started + 1, "that was something else")
            with patch.object(other, "_read") as read:
                other._elsewhere(str(self.site.pk))
                other._elsewhere(str(self.site.pk))
            read.assert_called_once_with(self.site.document)
            made.reset_mock()
            ids = [entry["id"] for entry in self.scene()["surfaces"]]
            answer = send(self.client, "post", f"{self.base}/preview", {"surfaces": ids, "coarser": 1})
            self.assertEqual(answer.status_code, 200)
            self.assertEqual(made.call_count, 0, "the first drag had signals to compute")


class PreviewTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"
        self.client.get(f"{self.base}/scene")

    def preview(self, *operations, **wanted):
        answer = send(self.client, "post", f"{self.base}/preview", {"operations": list(operations), **wanted})
        self.assertEqual(answer.status_code, 200, answer.content)
        return arrays_of(answer)

    def test_a_ramp_shows_on_all_surfaces_and_nothing_is_saved(self) -> None:
        ids = ["ground", "crates"]
        before, _ = self.preview(surfaces=ids)
        off = replace("/weather/0/where/cards/0/starts_at", 1.0), replace("/weather/0/where/cards/0/full_at", 1.0)
        after, _ = self.preview(*off, surfaces=ids)
        for id in ids:
            self.assertGreater(np.abs(before[f"{id}/base"].astype(int) - after[f"{id}/base"]).max(), 10)
        self.site.refresh_from_db()
        self.assertEqual(self.site.revision, 1)

    def test_a_drag_that_is_saved_on_its_way_looks_the_same_after_it(self) -> None:
        ids = ["ground", "crates"]
        revision, shown = 1, []
        for years in (3, 40, 40):
            drag = replace("/climate/years", years)
            before, _ = self.preview(drag, surfaces=ids)
            saved = edit(self.client, self.site, revision, drag, gesture="drag").json()
            revision = saved["revision"]
            after, _ = self.preview(drag, surfaces=ids)
            for id in ids:
                np.testing.assert_array_equal(before[f"{id}/base"], after[f"{id}/base"])
            shown.append(before["crates/base"])
        self.assertTrue((shown[0] != shown[1]).any())
        np.testing.assert_array_equal(shown[1], shown[2])

    def test_a_preview_leaves_what_is_saved_alone(self) -> None:
        self.preview(replace("/climate/years", 90), {"op": "remove", "path": "/weather/0"}, surfaces=["ground"])
        self.site.refresh_from_db()
        self.assertEqual(self.client.get(f"{self.base}").json()["document"], self.site.document)
        plain, _ = self.preview(surfaces=["ground"])
        again, _ = self.preview(replace("/weather/0/shown", True), surfaces=["ground"])
        np.testing.assert_array_equal(plain["ground/base"], again["ground/base"])

    def test_coarser_previews_are_smaller(self) -> None:
        whole, _ = self.preview(surfaces=["ground"])
        small, _ = self.preview(surfaces=["ground"], coarser=2)
        self.assertEqual(small["ground/base"].shape[0] * 4, whole["ground/base"].shape[0])
        covered = whole["ground/base"][..., 3] > 0, small["ground/base"][..., 3] > 0
        means = whole["ground/base"][covered[0]].mean(0), small["ground/base"][covered[1]].mean(0)
        np.testing.assert_allclose(*means, atol=6)

    def test_density_follows_and_only_adds(self) -> None:
        few, meta = self.preview(scatters=["growth"])
        many, more = self.preview(replace("/planting/0/density", 6), scatters=["growth"])
        self.assertGreater(more["scatters"]["growth"]["count"], 2 * meta["scatters"]["growth"]["count"])
        first = {tuple(p) for p in few["growth/position"].round(4)}
        self.assertLessEqual(first, {tuple(p) for p in many["growth/position"].round(4)})

    def test_masks_are_black_and_white(self) -> None:
        arrays, _ = self.preview(surfaces=["ground", "crates"], mask_of="moss")
        self.assertEqual(set(arrays), {"ground/mask", "crates/mask"})
        self.assertEqual(arrays["crates/mask"].dtype, np.uint8)

    def test_bad_changes_are_refused(self) -> None:
        body = {"operations": [replace("/planting/0/density", -1)], "surfaces": ["ground"]}
        self.assertEqual(send(self.client, "post", f"{self.base}/preview", body).status_code, 422)
        self.assertEqual(send(self.client, "post", f"{self.base}/preview", {"scatters": ["none"]}).status_code, 404)
        self.assertEqual(send(self.client, "post", f"{self.base}/preview", {"coarser": 9}).status_code, 422)

    def test_where_reports_histograms_coverage_and_pictures(self) -> None:
        body = {
            "layer": "moss",
            "shot": {"id": "a", "position": [4, 3, 5], "target": [0, 0, 0]},
            "width": 64,
            "height": 40,
        }
        arrays, meta = arrays_of(send(self.client, "post", f"{self.base}/where", body))
        self.assertEqual(meta["surfaces"], 2)
        self.assertTrue(0 < meta["covered"] < meta["area"])
        self.assertEqual(len(meta["cards"]), 4)
        np.testing.assert_allclose(arrays["histograms"].sum(1), meta["area"], rtol=1e-3)
        self.assertEqual(arrays["cards"].shape, (4, 40, 64))
        self.assertEqual(arrays["whole"].shape, (40, 64))
        scatter, meta = arrays_of(send(self.client, "post", f"{self.base}/where", body | {"layer": "growth"}))
        self.assertEqual((len(scatter["cards"]), meta["covered"]), (0, meta["area"]))
        self.assertEqual(send(self.client, "post", f"{self.base}/where", body | {"layer": "none"}).status_code, 404)


class StoreTests(TransactionTestCase):
    def test_one_cache_a_process(self) -> None:
        self.assertIs(shared_cache(), shared_cache())


class SentTests(TestCase):
    """What is sent of a table of placements, and how."""

    def setUp(self) -> None:
        self.client = signed_in(user("ada"))
        self.site = measured_site_of(User.objects.get(username="ada"))
        grass = {"id": "wide", "density": 3, "spacing": 0.2, "mix": [{"item": "grass_tuft"}],
                 "keep_clear": [{"of": "objects", "id": "o", "distance": 0.3}]}  # fmt: skip
        changes = [replace("/ground/size", [40, 40]), replace("/ground/spacing", 0.5), replace("/weather", []),
                   {"op": "add", "path": "/planting/-", "value": grass}]  # fmt: skip
        self.assertEqual(edit(self.client, self.site, 1, *changes).status_code, 200)
        self.address = f"/api/sites/{self.site.pk}/scatters/wide/placements"

    def key(self) -> str:
        scatters = self.client.get(f"/api/sites/{self.site.pk}/scene").json()["scatters"]
        return next(one["placements"] for one in scatters if one["id"] == "wide")

    def test_after_a_move_only_the_parts_that_differ_are_sent(self) -> None:
        first = self.key()
        answer = self.client.get(self.address, {"key": first})
        before, _ = arrays_of(answer)
        self.assertEqual(before["first"][-1], len(before["item"]))
        self.assertGreater(len(before["mark"]), 8)
        edit(self.client, self.site, 2, replace("/structures/0/placement/position", [1.5, 0, 0]))
        second = self.key()
        part = self.client.get(self.address, {"key": second, "known": first})
        whole, meta = arrays_of(self.client.get(self.address, {"key": second}))
        sent, told = arrays_of(part)
        self.assertEqual(meta, told)
        self.assertLess(len(sent["item"]), 0.2 * len(whole["item"]))
        self.assertLess(len(part.content), 0.3 * len(answer.content))
        self.assertIn("immutable", part["Cache-Control"])
        # Put together as the page does it.
        for name in ("item", "position", "id", "tint"):
            parts, at = [], 0
            for row, came in enumerate(sent["from"]):
                size = sent["first"][row + 1] - sent["first"][row]
                if came < 0:
                    parts.append(sent[name][at : at + size])
                    at += size
                else:
                    parts.append(before[name][before["first"][came] : before["first"][came + 1]])
            np.testing.assert_array_equal(np.concatenate(parts), whole[name])

    def test_an_earlier_table_that_is_not_known_gives_all(self) -> None:
        key = self.key()
        for known in ("", key, "PlacementsPack-" + "0" * 32, "../../etc/passwd", "x" * 5000):
            arrays, _ = arrays_of(self.client.get(self.address, {"key": key, "known": known}))
            self.assertNotIn("from", arrays)

    def test_tables_are_compressed_where_that_can_be_read(self) -> None:
        import gzip

        import zstandard

        plain = self.client.get(self.address)
        self.assertNotIn("Content-Encoding", plain)
        for name, read in (("gzip", gzip.decompress), ("gzip, zstd", zstandard.decompress)):
            answer = self.client.get(self.address, headers={"accept-encoding": name})
            self.assertEqual(answer["Content-Encoding"], name.rpartition(" ")[2])
            self.assertLess(len(answer.content), 0.9 * len(plain.content))
            self.assertEqual(read(answer.content), plain.content)


class UnsavedTests(TestCase):
    def test_what_is_tried_is_measured_as_it_is_tried(self) -> None:
        client = signed_in(user("ada"))
        site = measured_site_of(User.objects.get(username="ada"))
        radius = "/weather/0/where/cards/1/signal/radius"
        wanted = {"surfaces": ["ground"], "operations": [replace(radius, radius_never_measured())]}
        with patch("derived.graphs._RAYS_AT_ONCE", 0):
            answer = arrays_of(send(client, "post", f"/api/sites/{site.pk}/preview", wanted))[1]
            again = arrays_of(send(client, "post", f"/api/sites/{site.pk}/preview", wanted))[1]
            self.assertEqual(answer["measuring"], again["measuring"])
            perform(answer["measuring"])
            arrays, meta = arrays_of(send(client, "post", f"/api/sites/{site.pk}/preview", wanted))
            self.assertIsNone(meta["measuring"], "it was the saved state that was measured")
            self.assertIn("ground/base", arrays)
        other = {"surfaces": ["ground"], "operations": [replace(radius, radius_never_measured())]}
        with patch("derived.graphs._RAYS_AT_ONCE", 0):
            job = arrays_of(send(client, "post", f"/api/sites/{site.pk}/preview", other))[1]["measuring"]
            edit(client, site, 1, replace("/climate/years", 3))
            perform(job)
        self.assertEqual(Job.objects.get(pk=job).state, Job.State.DONE)

    def test_an_own_items_stiffness_is_told_while_it_is_dragged(self) -> None:
        client = signed_in(user("ada"))
        site = measured_site_of(User.objects.get(username="ada"))
        own = {"id": "own-fern", "source": {"kind": "fern"}, "stiffness": 2}
        changes = [replace("/kit", [own]), replace("/planting/0/mix/1/item", "own-fern")]
        self.assertEqual(edit(client, site, 1, *changes).status_code, 200)

        def told(stiffness: float) -> float:
            wanted = {"operations": [replace("/kit/0/stiffness", stiffness)]}
            return arrays_of(send(client, "post", f"/api/sites/{site.pk}/preview", wanted))[1]["items"]["own-fern"][
                "stiffness"
            ]

        self.assertAlmostEqual(told(4) / told(1), 4)

    def test_the_triangles_of_a_layer_follow_the_season(self) -> None:
        client = signed_in(user("ada"))
        site = measured_site_of(User.objects.get(username="ada"))
        trees = {"id": "trees", "density": 0.5, "mix": [{"item": "birch"}]}
        edit(client, site, 1, {"op": "add", "path": "/planting/-", "value": trees}, replace("/climate/season", 0.4))
        address = f"/api/sites/{site.pk}/scatters/trees/placements"

        def key() -> str:
            return client.get(f"/api/sites/{site.pk}/scene").json()["scatters"][-1]["placements"]

        summer = key()
        leafy = arrays_of(client.get(address, {"key": summer}))[1]["triangles"]
        edit(client, site, 2, replace("/climate/season", 1.0))
        winter = key()
        self.assertNotEqual(summer, winter)
        self.assertLess(arrays_of(client.get(address, {"key": winter}))[1]["triangles"], leafy)
