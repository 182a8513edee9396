"""Materials and the ground at work: recipes baked while edited, texture sets and height maps in and out, strokes."""

from __future__ import annotations

import io
import zipfile

import numpy as np
from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, send, signed_in, site_of, upload, user
from PIL import Image

from cenote.materials.base import MATERIALS
from jobs.models import Job
from jobs.queue import perform, start


def png(pixels: np.ndarray) -> bytes:
    """A PNG file."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    return stream.getvalue()


class MakingCase(TestCase):
    """A small site of one user."""

    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def recipe(self, kind: str = "brick") -> dict:
        """A shipped recipe, as an own one."""
        return {"kind": "recipe", **MATERIALS[kind].recipe.model_dump(mode="json")}


class MaterialTests(MakingCase):
    def test_a_recipe_is_baked_in_variants_before_it_is_saved(self) -> None:
        answer = send(
            self.client, "post", f"{self.base}/materials/bake", {"recipe": self.recipe(), "pixels": 64, "seeds": [1, 2]}
        )
        arrays, meta = arrays_of(answer)
        self.assertEqual(set(arrays), {f"{row}/{name}" for row in (0, 1) for name in ("base", "orm", "normal")})
        self.assertEqual((arrays["0/base"].shape, meta["size"]), ((64, 64, 4), 1.8))
        self.assertGreater(np.abs(arrays["0/base"].astype(int) - arrays["1/base"]).mean(), 1)

    def test_a_bad_recipe_is_told_by_field(self) -> None:
        recipe = self.recipe() | {"size": -1}
        answer = send(self.client, "post", f"{self.base}/materials/bake", {"recipe": recipe})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("size", str(answer.json()))

    def test_own_materials_are_saved_used_and_kept_while_they_are_used(self) -> None:
        own = {"id": "own-red", "name": "Red", "source": self.recipe()}
        self.assertEqual(
            edit(self.client, self.site, 1, {"op": "add", "path": "/materials/-", "value": own}).status_code, 200
        )
        self.assertEqual(edit(self.client, self.site, 2, replace("/ground/material", "own-red")).status_code, 200)
        refused = edit(self.client, self.site, 3, {"op": "remove", "path": "/materials/0"})
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(refused.json()["fields"][0]["field"], "ground/material")
        self.assertEqual(self.client.get(f"{self.base}/materials/own-red/picture")["Content-Type"], "image/png")

    def test_textures_are_written_by_a_job(self) -> None:
        answer = send(self.client, "post", f"{self.base}/materials/brick/textures", {"pixels": 512, "format": "png"})
        job = answer.json()
        perform(job["id"])
        self.assertEqual(Job.objects.get(pk=job["id"]).state, Job.State.DONE)
        got = self.client.get(f"/api/jobs/{job['id']}/file")
        self.assertIn("brick.zip", got["Content-Disposition"])
        with zipfile.ZipFile(io.BytesIO(b"".join(got.streaming_content))) as archive:
            names = archive.namelist()
            picture = Image.open(io.BytesIO(archive.read("brick_basecolor.png")))
        self.assertEqual(len(names), 7)
        self.assertEqual(picture.size, (512, 512))
        self.assertEqual(send(self.client, "post", f"{self.base}/materials/jelly/textures", {}).status_code, 404)

    def test_a_set_is_read_by_its_names_and_becomes_a_material(self) -> None:
        files = [
            upload("wall_color.png", png(np.full((64, 64, 3), 200, np.uint8))),
            upload("wall_rough.png", png(np.full((64, 64), 51, np.uint8))),
        ]
        found = self.client.post(f"{self.base}/materials/sets", {"files": files}).json()
        self.assertEqual(found["channels"], {"base": "wall_color.png", "roughness": "wall_rough.png"})
        source = {"kind": "texture_set", "maps": found["maps"], "file_names": found["file_names"], "size": 1.5}
        own = {"id": "own-wall", "name": "Wall", "source": source}
        edit(self.client, self.site, 1, {"op": "add", "path": "/materials/-", "value": own})
        arrays, meta = arrays_of(self.client.get(f"{self.base}/materials/own-wall/tile"))
        self.assertEqual(meta["size"], 1.5)
        self.assertEqual((int(arrays["base"][5, 5, 0]), int(arrays["orm"][5, 5, 1])), (200, 51))
        job = send(
            self.client, "post", f"{self.base}/materials/own-wall/textures", {"pixels": 512, "format": "exr"}
        ).json()
        perform(job["id"])
        self.assertEqual(Job.objects.get(pk=job["id"]).state, Job.State.DONE)

    def test_bad_sets_are_refused_in_words(self) -> None:
        for name, content, words in (
            ("a_rough.png", png(np.zeros((8, 8), np.uint8)), "base colour"),
            ("a_color.png", b"no", "not a picture"),
        ):
            files = [upload(name, content), upload("b_metal.png", png(np.zeros((8, 8), np.uint8)))]
            answer = self.client.post(f"{self.base}/materials/sets", {"files": files})
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["message"])
            self.assertIn("Nothing was changed", answer.json()["message"])


class KitTests(MakingCase):
    def test_own_items_are_placed_and_drawn(self) -> None:
        item = {"id": "own-tall", "name": "Tall", "source": {"kind": "grass_tuft", "height": [0.8, 1.0]}}
        edit(self.client, self.site, 1, {"op": "add", "path": "/kit/-", "value": item})
        answer = edit(self.client, self.site, 2, replace("/planting/0/mix/0/item", "own-tall"))
        self.assertEqual(answer.status_code, 200, answer.content)
        arrays, _ = arrays_of(self.client.get(f"{self.base}/kit"))
        self.assertGreater(arrays["item/own-tall/0/0/position"][:, 1].max(), 0.5)
        refused = edit(self.client, self.site, 3, {"op": "remove", "path": "/kit/0"})
        self.assertEqual(refused.json()["fields"][0]["field"], "planting/0/mix/0/item")


class GroundTests(MakingCase):
    def stroke(self, **values):
        """Ask for a stroke that is not saved."""
        usual = {"tool": "raise", "radius": 0.8, "strength": 0.5, "soft": 0.5, "path": [[0, 0], [0.5, 0]]}
        return send(self.client, "post", f"{self.base}/ground/stroke", usual | values)

    def test_a_stroke_shows_only_what_it_moves(self) -> None:
        arrays, meta = arrays_of(self.stroke())
        self.assertEqual(meta["shape"], [17, 17])
        r0, r1, c0, c1 = meta["window"]
        self.assertEqual(arrays["heights"].shape, (r1 - r0, c1 - c0))
        self.assertLess((r1 - r0) * (c1 - c0), 17 * 17)
        self.site.refresh_from_db()
        self.assertEqual(self.site.revision, 1)

    def test_saved_strokes_are_what_the_next_one_begins_from(self) -> None:
        stroke = {"tool": "raise", "radius": 0.8, "strength": 0.5, "path": [[0, 0]]}
        edit(self.client, self.site, 1, {"op": "add", "path": "/ground/strokes/-", "value": stroke})
        once, meta = arrays_of(self.stroke(path=[[0, 0]]))
        r0, _, c0, _ = meta["window"]
        self.assertGreater(once["heights"][8 - r0, 8 - c0], 0.7)

    def test_bad_strokes_are_told_by_field(self) -> None:
        for values, field in (({"radius": -1}, "radius"), ({"path": []}, "path"), ({"tool": "melt"}, "tool")):
            answer = self.stroke(**values)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(field, str(answer.json()))

    def test_height_maps_go_in_and_out(self) -> None:
        ramp = np.tile(np.linspace(0, 65535, 32).astype(np.uint16), (32, 1))
        found = self.client.post(f"{self.base}/ground/maps", {"file": upload("hill.png", png(ramp))}).json()
        self.assertEqual((found["columns"], found["rows"]), (32, 32))
        value = {"map": found["map"], "file_name": "hill.png", "range": [1, 3], "smoothing": 0}
        self.assertEqual(edit(self.client, self.site, 1, replace("/ground/height_map", value)).status_code, 200)
        out = self.client.get(f"{self.base}/ground/map", {"format": "png"})
        self.assertRegex(out["Content-Disposition"], r"ground_1\.\d+m_to_[23]\.\d+m\.png")
        heights = np.asarray(Image.open(io.BytesIO(out.content)))
        self.assertTrue((np.diff(heights[8].astype(int)) >= 0).all())
        self.assertEqual(self.client.get(f"{self.base}/ground/map", {"format": "exr"}).content[:4], b"\x76\x2f\x31\x01")
        bad = self.client.post(f"{self.base}/ground/maps", {"file": upload("one.png", png(np.zeros((1, 1), np.uint8)))})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("too few", bad.json()["message"])

    def test_pools_stand_in_the_scene(self) -> None:
        site = measured_site_of(self.ada)
        hollow = {"centre": [0, 0], "size": [2, 2], "depth": 0.5, "filled": True, "water": 0.1}
        edit(self.client, site, 1, {"op": "add", "path": "/ground/hollows/-", "value": hollow})
        (pool,) = self.client.get(f"/api/sites/{site.pk}/scene").json()["water"]
        self.assertEqual(len(pool["outline"]), 48)
        answer = self.client.get(f"/api/sites/{site.pk}/foam/0", {"key": pool["foam"]})
        arrays, meta = arrays_of(answer)
        self.assertIn("immutable", answer["Cache-Control"])
        self.assertGreater(arrays["cover"].max(), 100)
        self.assertAlmostEqual(meta["low"][0] + arrays["cover"].shape[1] * meta["cell"] / 2, 0, delta=0.1)
        self.assertEqual(self.client.get(f"/api/sites/{site.pk}/foam/3").status_code, 404)
        edit(self.client, site, 2, {"op": "replace", "path": "/water/foam", "value": 0})
        (pool,) = self.client.get(f"/api/sites/{site.pk}/scene").json()["water"]
        self.assertEqual((pool["foam"], pool["foams"]), ("", 0))

    def test_measuring_for_an_older_state_is_given_up(self) -> None:
        old = start("measure", self.site, target="revision 1")
        start("measure", self.site, target="revision 2")
        old.refresh_from_db()
        self.assertTrue(old.cancel_asked)
        perform(old.pk)
        self.assertEqual(Job.objects.get(pk=old.pk).state, Job.State.CANCELLED)
