"""Long work: imports, exports, pictures; progress, stopping and many workers."""

from __future__ import annotations

import asyncio
import json
from collections import Counter
from unittest.mock import patch

import numpy as np
import pygltflib
import trimesh
from asgiref.sync import sync_to_async
from asgiref.testing import ApplicationCommunicator
from django.core.asgi import get_asgi_application
from django.db import connection, connections
from django.test import AsyncClient, Client, TestCase, TransactionTestCase
from helpers import edit, glb_box, replace, send, signed_in, site_of, upload, user
from PIL import Image
from procrastinate.contrib.django.models import ProcrastinateJob
from trimesh.visual import TextureVisuals
from trimesh.visual.material import PBRMaterial

from cenote.formats.meshes_in import MOST_TRIANGLES
from jobs.events import _Hub, _hubs
from jobs.kinds.measure import Measure
from jobs.models import Job
from jobs.queue import Reporter, perform, put_off, start
from jobs.rescue import MOST_TRIES, SILENT, at_work, rescued
from sites.announce import announce
from sites.models import MeshImport


class ImportTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def send(self, name: str, content: bytes, **choice):
        return self.client.post(f"{self.base}/imports", {"file": upload(name, content), **choice})

    def inspected(self, name: str, content: bytes, **choice) -> dict:
        answer = self.send(name, content, **choice)
        self.assertEqual(answer.status_code, 200, answer.content)
        perform(Job.objects.filter(kind="inspect").latest("created").pk)
        return self.client.get(f"{self.base}/imports/{answer.json()['id']}").json()

    def test_size_is_told_before_anything_is_placed(self) -> None:
        state = self.inspected("Box.glb", glb_box(120, 80, 40), unit="cm")
        self.assertEqual(state["state"], "ready")
        self.assertEqual([round(length, 3) for length in state["size"]], [1.2, 0.8, 0.4])
        self.assertEqual(state["triangles"], 12)
        self.site.refresh_from_db()
        self.assertEqual((self.site.revision, len(self.site.document["structures"])), (1, 1))

    def test_another_unit_reads_the_same_file_again(self) -> None:
        state = self.inspected("box.glb", glb_box(12, 8, 4))
        answer = send(self.client, "patch", f"{self.base}/imports/{state['id']}", {"unit": "in", "up": "z"})
        self.assertEqual(answer.json()["state"], "inspecting")
        perform(Job.objects.filter(kind="inspect").latest("created").pk)
        again = self.client.get(f"{self.base}/imports/{state['id']}").json()
        self.assertEqual([round(length, 4) for length in again["size"]], [0.3048, 0.1016, 0.2032])
        self.assertNotEqual(again["mesh"], state["mesh"])

    def test_a_placed_mesh_takes_the_same_recipe_with_no_layout_of_its_own(self) -> None:
        state = self.inspected("trough.glb", glb_box(1.4, 0.6, 0.5))
        structure = {"id": "trough", "name": "Trough", "source": {"kind": "imported", "mesh": state["mesh"], "file_name": "trough.glb"},
                     "placement": {"position": [-2, 0, 1]}}  # fmt: skip
        answer = edit(
            self.client, self.site, 1, {"op": "add", "path": "/structures/-", "value": structure},
            replace("/weather/0/surfaces", ["crates", "trough"]),
        )  # fmt: skip
        self.assertEqual(answer.status_code, 200, answer.content)
        scene = self.client.get(f"{self.base}/scene").json()
        self.assertIn("trough", [surface["id"] for surface in scene["surfaces"]])
        from helpers import arrays_of

        body = {"surfaces": ["trough"], "mask_of": "moss"}
        arrays, _ = arrays_of(send(self.client, "post", f"{self.base}/preview", body))
        self.assertGreater(arrays["trough/mask"].max(), 100)

    def test_textures_come_along_and_are_seen(self) -> None:
        red = Image.fromarray(np.full((8, 8, 3), (200, 30, 20), np.uint8))
        mesh = trimesh.creation.box((1, 1, 1))
        mesh.visual = TextureVisuals(uv=np.zeros((8, 2)), material=PBRMaterial(baseColorTexture=red))
        state = self.inspected("chest.glb", mesh.export(file_type="glb"))
        self.assertEqual((state["state"], state["wrapped"], len(state["textures"])), ("ready", 1, 64))
        source = {"kind": "imported", "file_name": "chest.glb"} | {one: state[one] for one in ("mesh", "textures")}
        structure = {"id": "chest", "name": "Chest", "source": source, "placement": {"position": [-2, 0, 1]}}
        answer = edit(self.client, self.site, 1, {"op": "add", "path": "/structures/-", "value": structure})
        self.assertEqual(answer.status_code, 200, answer.content)
        from helpers import arrays_of

        scene = self.client.get(f"{self.base}/scene").json()
        entry = next(one for one in scene["surfaces"] if one["id"] == "chest")
        self.assertEqual(entry["wrapped"], [True])
        arrays, _ = arrays_of(self.client.get(f"{self.base}/surfaces/chest/maps?bare=true"))
        base = arrays["base"].reshape(-1, arrays["base"].shape[-1])
        np.testing.assert_allclose(np.median(base[base[:, 3] > 0][:, :3], axis=0), (200, 30, 20), atol=3)
        # Nobody else may name what is theirs.
        other = user("bo")
        foreign = edit(signed_in(other), site_of(other), 1, {"op": "add", "path": "/structures/-", "value": structure})
        self.assertEqual(foreign.status_code, 422)
        self.assertIn("structures/1/source/textures", [one["field"] for one in foreign.json()["fields"]])

    def test_broken_files_are_refused_and_nothing_changes(self) -> None:
        for name, content, words in (
            ("a.fbx", b"x" * 50, "not a .glb, .obj, .ply, .stl or .zip"),
            ("a.glb", b"", "is empty"),
            ("a.glb", b"PK\x03\x04" + b"0" * 600, "does not hold binary glTF"),
        ):
            answer = self.send(name, content)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["message"])
            self.assertIn("Nothing was changed", answer.json()["message"])
        state = self.inspected("a.glb", glb_box(1, 1, 1)[:-40])
        self.assertEqual(state["state"], "refused")
        self.assertIn("cut off", state["message"])
        state = self.inspected("a.obj", b"v 0 0 0\n" + b"f 1 1 1\n" * (MOST_TRIANGLES + 1))
        self.assertIn("at most 1,000,000", state["message"])
        self.assertFalse(MeshImport.objects.filter(state="ready").exists())
        with self.settings(MOST_UPLOAD_BYTES=100):
            self.assertIn("MB are taken", self.send("a.glb", glb_box(1, 1, 1)).json()["message"])

    def test_paths_in_names_lead_nowhere(self) -> None:
        state = self.inspected("../../../etc/box.glb", glb_box(1, 1, 1))
        self.assertEqual(state["file_name"], "box.glb")

    def test_choices_that_are_none_are_refused(self) -> None:
        answer = self.send("a.glb", glb_box(1, 1, 1), unit="mile")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("unit", answer.json()["fields"][0]["field"])


class ExportTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada, "Über yard!")

    def test_an_export_reports_progress_and_gives_a_file(self) -> None:
        answer = send(self.client, "post", f"/api/sites/{self.site.pk}/exports", {"manner": "instanced", "texel": 0.1})
        job = answer.json()
        self.assertEqual(job["state"], "waiting")
        self.assertEqual(self.client.get(f"/api/jobs/{job['id']}/file").status_code, 404)
        with patch("jobs.queue.announce") as told:
            perform(job["id"])
        states = [call.args[1]["job"] for call in told.call_args_list]
        self.assertEqual((states[0]["state"], states[-1]["state"]), ("running", "done"))
        self.assertEqual([s["done"] for s in states], sorted(s["done"] for s in states))
        answer = self.client.get(f"/api/jobs/{job['id']}/file")
        self.assertIn("ber-yard.glb", answer["Content-Disposition"])
        file = pygltflib.GLTF2.load_from_bytes(b"".join(answer.streaming_content))
        self.assertIn("Crates", [node.name for node in file.nodes])
        self.assertEqual(signed_in(user("bob")).get(f"/api/jobs/{job['id']}/file").status_code, 404)

    def test_an_export_is_as_fine_as_a_shot_needs(self) -> None:
        address = f"/api/sites/{self.site.pk}/exports"
        costs = self.client.get(f"{address}/costs", {"rows": 1080}).json()
        self.assertEqual(
            [(one["texel"], one["name"]) for one in costs],
            [(0.1, ""), (0.05, ""), (0.025, ""), (0.0125, ""), (0, "First")],
        )
        texels = [one["texels"] for one in costs]
        self.assertEqual(texels[:4], sorted(texels[:4]))
        self.assertGreater(self.client.get(f"{address}/costs", {"rows": 4320}).json()[4]["texels"], texels[4])
        job = send(self.client, "post", address, {"shot": "first", "rows": 1080}).json()
        perform(job["id"])
        file = Job.objects.get(pk=job["id"])
        self.assertEqual(file.result["about"], "instanced, texels as “First” needs")
        # What was said of its size holds: the maps are most of this file, and its meshes the rest.
        self.assertLess(file.result["bytes"], 3 * costs[4]["bytes"] + 2e6)
        answer = send(self.client, "post", address, {"shot": "none"})
        self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "shot"))

    def test_what_was_made_stays_listed_and_can_be_fetched_later(self) -> None:
        address = f"/api/sites/{self.site.pk}/files"
        self.assertEqual(self.client.get(address).json(), [])
        glb = send(self.client, "post", f"/api/sites/{self.site.pk}/exports", {"manner": "merged", "texel": 0.2}).json()
        send(self.client, "post", f"/api/sites/{self.site.pk}/exports", {"manner": "merged", "texel": 0.2})
        tile = send(self.client, "post", f"/api/sites/{self.site.pk}/materials/brick/textures", {"pixels": 512}).json()
        perform(glb["id"]), perform(tile["id"])
        listed = self.client.get(address).json()
        self.assertEqual([(one["job"], one["ending"]) for one in listed], [(tile["id"], ".zip"), (glb["id"], ".glb")])
        self.assertEqual((listed[1]["title"], listed[1]["about"]), ("Über yard!", "merged, 20 cm texels"))
        self.assertEqual(listed[0]["about"], "512 × 512 pixels, PNG")
        for one in listed:
            content = b"".join(self.client.get(f"/api/jobs/{one['job']}/file").streaming_content)
            self.assertEqual(len(content), one["bytes"])
        self.assertEqual(signed_in(user("bob")).get(address).status_code, 404)

    def test_bad_wishes_are_refused_by_field(self) -> None:
        answer = send(self.client, "post", f"/api/sites/{self.site.pk}/exports", {"texel": 0})
        self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "texel"))


class JobTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)

    def test_a_waiting_job_is_stopped_before_it_starts(self) -> None:
        job = start("export", self.site, {"manner": "merged", "texel": 0.1})
        listed = self.client.get(f"/api/sites/{self.site.pk}/jobs").json()
        self.assertEqual([entry["id"] for entry in listed], [str(job.pk)])
        answer = send(self.client, "post", f"/api/jobs/{job.pk}/cancel").json()
        self.assertEqual(answer["state"], "cancelled")
        perform(job.pk)
        job.refresh_from_db()
        self.assertEqual((job.state, job.result), (Job.State.CANCELLED, {}))
        self.assertEqual(self.client.get(f"/api/sites/{self.site.pk}/jobs").json(), [])

    def test_a_running_job_stops_at_its_next_report(self) -> None:
        job = start("measure", self.site)
        reports = []

        def work(self, job: Job, progress: Reporter) -> dict:
            for done in range(10):
                reports.append(done)
                progress(done, 10, "counting")
                if done == 2:
                    Job.objects.filter(pk=job.pk).update(cancel_asked=True)
            return {}

        with patch.object(Measure, "do", work), patch("jobs.queue._REPORT_EVERY", 0):
            perform(job.pk)
        job.refresh_from_db()
        self.assertEqual((job.state, reports), (Job.State.CANCELLED, [0, 1, 2, 3]))
        self.assertIn("Nothing was changed", job.message)

    def test_an_error_of_ours_is_told_and_ends_the_job(self) -> None:
        job = start("measure", self.site)

        def work(self, job: Job, progress: Reporter) -> dict:
            raise ZeroDivisionError("oh")

        with patch.object(Measure, "do", work), self.assertLogs("cenote.jobs", "ERROR"):
            perform(job.pk)
        job.refresh_from_db()
        self.assertEqual(job.state, Job.State.FAILED)
        self.assertIn("an error of ours (ZeroDivisionError: oh)", job.message)

    def test_an_end_that_is_asked_for_in_the_middle_of_a_report_is_not_lost(self) -> None:
        job = start("measure", self.site)

        def work(self, job: Job, progress: Reporter) -> dict:
            progress(0, 10, "counting")
            # Asked for by a page after the job has looked, and before it writes how far it is.
            theirs = Job.objects.get(pk=job.pk)
            theirs.cancel()
            job.report(1, 10, "writing its own columns")
            progress(10, 10, "done")
            return {}

        with patch.object(Measure, "do", work):
            perform(job.pk)
        job.refresh_from_db()
        self.assertEqual(job.state, Job.State.CANCELLED)

    def test_a_job_is_begun_by_one_worker_alone(self) -> None:
        job = start("measure", self.site)
        self.assertTrue(Job.objects.get(pk=job.pk).begin())
        with patch.object(Measure, "do", side_effect=AssertionError("begun twice")):
            perform(job.pk)
        job.refresh_from_db()
        self.assertEqual(job.state, Job.State.RUNNING)

    def test_what_was_cut_off_waits_again_and_is_done_whole(self) -> None:
        job = self.cut_off()
        self.assertFalse(at_work(job))
        rescued(job)
        job.refresh_from_db()
        self.assertEqual((job.state, job.tries, job.doing), ("waiting", 1, ""))
        perform(job.pk)
        job.refresh_from_db()
        self.assertEqual((job.state, job.tries), ("done", 2))

    def test_what_is_cut_off_again_and_again_ends_with_words(self) -> None:
        job = self.cut_off(tries=MOST_TRIES)
        rescued(job)
        job.refresh_from_db()
        self.assertEqual(job.state, "failed")
        self.assertIn(f"It was cut off {MOST_TRIES} times, the last time at “Sky exposure on Wall”", job.message)

    def test_stopping_ends_what_nobody_runs_and_asks_what_somebody_does(self) -> None:
        job = self.cut_off()
        answer = send(self.client, "post", f"/api/jobs/{job.pk}/cancel")
        self.assertEqual(answer.json()["state"], "cancelled")
        for silent, state in ((5, "running"), (SILENT + 5, "cancelled")):
            with self.subTest(silent=silent):
                job = self.cut_off()
                self.queue_entry(job, silent)
                self.assertEqual(at_work(job), state == "running")
                answer = send(self.client, "post", f"/api/jobs/{job.pk}/cancel")
                self.assertEqual(answer.json()["state"], state)

    def cut_off(self, tries: int = 1) -> Job:
        """A job whose worker was killed while it ran."""
        with patch("jobs.queue.run_job"):
            job = start("export", self.site, {"manner": "instanced", "texel": 0.1})
        Job.objects.filter(pk=job.pk).update(state="running", tries=tries, doing="Sky exposure on Wall")
        job.refresh_from_db()
        return job

    def queue_entry(self, job: Job, silent: float) -> None:
        """What the queue knows of a job that a worker has begun which last told of itself so many seconds ago."""
        with connection.cursor() as cursor:
            cursor.execute(
                "INSERT INTO procrastinate_workers (last_heartbeat) VALUES (now() - %s * interval '1 second') RETURNING id",
                [silent],
            )
            cursor.execute(
                "INSERT INTO procrastinate_jobs (queue_name, task_name, status, args, worker_id, attempts) "
                "VALUES ('work', 'run_job', 'doing', %s, %s, 0)",
                [json.dumps({"job": str(job.pk)}), cursor.fetchone()[0]],
            )

    def test_the_same_target_is_not_worked_on_twice(self) -> None:
        first = start("measure", self.site, target="revision 1")
        self.assertEqual(start("measure", self.site, target="revision 1").pk, first.pk)
        self.assertNotEqual(start("measure", self.site, target="revision 2").pk, first.pk)

    def test_a_picture_that_cannot_be_asked_for_does_not_fail_the_change(self) -> None:
        from django.db import OperationalError

        change = {"op": "replace", "path": "/climate/years", "value": 7}
        body = {"revision": self.site.revision, "label": "Years", "operations": [change]}
        with (
            patch("procrastinate.jobs.JobDeferrer.defer", side_effect=OperationalError("deadlock")),
            self.assertLogs("cenote.jobs", "ERROR"),
        ):
            answer = self.client.post(f"/api/sites/{self.site.pk}/edits", body, content_type="application/json")
        self.assertEqual((answer.status_code, answer.json()["document"]["climate"]["years"]), (200, 7))


class ShareTests(TestCase):
    def test_nobody_waits_for_anothers_heap(self) -> None:
        ada, bob = user("ada"), user("bob")
        for site, number in ((site_of(ada), 12), (site_of(bob), 1)):
            for _ in range(number):
                start("export", site)
        entries = list(ProcrastinateJob.objects.filter(task_name="run_job").order_by("-priority", "id"))
        owners = [Job.objects.get(pk=one.args["job"]).site.owner.username for one in entries]
        self.assertEqual(owners.index("bob"), 1, "after the first of ada's, before all her others")
        lanes = Counter(one.lock for one in entries)
        self.assertEqual(sorted(lanes.values()), [1, 6, 6])

    def test_what_has_time_holds_nothing_up(self) -> None:
        site = site_of(user("ada"))
        for kind in ("prepare", "prepare", "export"):
            start(kind, site)
        entries = list(ProcrastinateJob.objects.filter(task_name="run_job").order_by("-priority", "id"))
        kinds = [Job.objects.get(pk=one.args["job"]).kind for one in entries]
        self.assertEqual(kinds, ["export", "prepare", "prepare"])
        self.assertEqual([one.lock for one in entries][1:], [entries[1].lock] * 2, "one at a time")
        self.assertNotEqual(entries[0].lock, entries[1].lock)

    def test_what_has_time_does_not_begin_while_its_user_waits_for_something(self) -> None:
        ada, bob = user("ada"), user("bob")
        patient, asked = start("near", site_of(ada)), start("measure", site_of(ada))
        start("measure", site_of(bob))
        entries = ProcrastinateJob.objects.filter(task_name="run_job", args__job=str(patient.pk))
        self.assertTrue(put_off(patient.pk))
        patient.refresh_from_db()
        self.assertEqual(patient.state, "waiting")
        later = entries.get(scheduled_at__isnull=False)
        self.assertEqual(later.lock, entries.get(scheduled_at__isnull=True).lock)
        self.assertFalse(put_off(asked.pk), "what somebody waits for begins")
        asked.cancel()
        self.assertFalse(put_off(patient.pk), "another's work is no reason")
        patient.cancel()
        self.assertFalse(put_off(patient.pk), "what is cancelled does not come back")

    def test_what_takes_too_long_is_stopped_in_words(self) -> None:
        job = start("measure", site_of(user("ada")))

        def endless(work, job, progress):
            while True:
                progress(1, 100, "Sky exposure of the wall")

        with patch.object(Measure, "do", endless), self.settings(JOB_MINUTES=0.001):
            perform(job.pk)
        job.refresh_from_db()
        self.assertEqual(job.state, "failed")
        self.assertIn("the last of them at “Sky exposure of the wall”", job.message)


class EventTests(TransactionTestCase):
    def test_what_happens_reaches_those_who_follow_the_site(self) -> None:
        ada = user("ada")
        site, other = site_of(ada), site_of(ada, "Other")

        async def follow() -> list[dict]:
            hub, heard = _Hub(), []
            stream = hub.stream(str(site.pk))
            heard.append(await anext(stream))
            await sync_to_async(announce)(other.pk, {"type": "changed", "revision": 9})
            await sync_to_async(announce)(site.pk, {"type": "changed", "revision": 2})
            heard.append(await anext(stream))
            await stream.aclose()
            hub.listener.cancel()
            await sync_to_async(connections.close_all)()
            return [json.loads(text.removeprefix("data: ")) for text in heard]

        connected, changed = asyncio.run(follow())
        self.assertEqual(connected, {"type": "connected"})
        self.assertEqual((changed["site"], changed["revision"]), (str(site.pk), 2))

    def test_a_stream_holds_no_connection_and_ends_with_its_session(self) -> None:
        ada = user("ada")
        site, client = site_of(ada), signed_in(ada)

        def held() -> int:
            with connection.cursor() as cursor:
                cursor.execute("SELECT count(*) FROM pg_stat_activity WHERE datname = current_database()")
                return cursor.fetchone()[0]

        async def line() -> ApplicationCommunicator:
            """A stream as a server opens it: in a context of its own, whose threads have connections of their own."""
            cookies = "; ".join(f"{name}={morsel.value}" for name, morsel in client.cookies.items())
            scope = {"type": "http", "method": "GET", "path": f"/api/sites/{site.pk}/events", "query_string": b"",
                     "headers": [(b"host", b"localhost"), (b"cookie", cookies.encode())]}  # fmt: skip
            out = ApplicationCommunicator(get_asgi_application(), scope)
            await out.send_input({"type": "http.request"})
            self.assertEqual((await out.receive_output(10))["status"], 200)
            self.assertIn(b"connected", (await out.receive_output(10))["body"])
            return out

        async def follow() -> tuple[int, int, list[bool]]:
            alone = await sync_to_async(held)()
            lines = [await line() for _ in range(8)]
            open_ = await sync_to_async(held)()
            hub = _hubs[asyncio.get_running_loop()]
            stranger = hub.stream(str(site.pk), "another session")
            await anext(stranger)
            await sync_to_async(client.delete)("/api/session")
            ended = [not (await one.receive_output(10)).get("more_body") for one in lines]
            await sync_to_async(announce)(site.pk, {"type": "changed", "revision": 2})
            self.assertIn("changed", await anext(stranger))
            await stranger.aclose()
            hub.listener.cancel()
            await sync_to_async(connections.close_all)()
            return alone, open_, ended

        alone, open_, ended = asyncio.run(follow())
        # One listens for all; another may just be closing.
        self.assertLess(open_, alone + 4)
        self.assertEqual(ended, [True] * 8)

    def test_a_stream_ends_when_its_site_may_not_be_seen_any_more(self) -> None:
        ada = user("ada")
        site, client = site_of(ada), signed_in(ada)

        async def follow() -> list[str]:
            browser = AsyncClient()
            browser.cookies = client.cookies
            answer = await browser.get(f"/api/sites/{site.pk}/events")
            stream = aiter(answer.streaming_content)
            await anext(stream)
            await sync_to_async(client.delete)(f"/api/sites/{site.pk}")
            rest = [one.decode() async for one in stream]
            _hubs.pop(asyncio.get_running_loop()).listener.cancel()
            await sync_to_async(connections.close_all)()
            return rest

        with patch("jobs.events._BREATH", 0.05):
            rest = asyncio.run(follow())
        self.assertEqual({one.strip() for one in rest}, {": still here"})

    def test_a_change_that_is_rolled_back_is_not_told(self) -> None:
        client: Client = signed_in(user("eve"))
        site = site_of(user("fay"))
        with patch("sites.history.announce") as told:
            self.assertEqual(edit(client, site, 1, replace("/climate/years", 3)).status_code, 404)
        told.assert_not_called()
