"""Making things in the page: a material of one's own, the kit browser, the ground under the brush, parts and grading."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
from browsing import BrowserCase, wait_until
from helpers import small_document
from PIL import Image
from playwright.sync_api import expect


class MaterialBenchTests(BrowserCase):
    def test_a_recipe_is_made_ones_own_edited_and_used(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        page.get_by_role("button", name="Materials", exact=True).click()
        bench = page.get_by_role("dialog")
        expect(bench.get_by_role("button", name="Cobble")).to_be_visible()
        bench.get_by_label("Find a material").fill("bri")
        expect(bench.get_by_role("button", name="Cobble")).not_to_be_visible()
        bench.get_by_role("button", name="Make it the site's own, to change it").click()
        bench.get_by_label("Find a material").fill("")
        self.saved()
        own = self.document_of(site)["materials"][0]
        self.assertEqual((own["name"], own["source"]["kind"]), ("Brick, own", "recipe"))
        layers = len(own["source"]["layers"])
        bench.get_by_role("button", name="Add a layer").click()
        page.get_by_role("menuitem", name="Scratches").click()
        expect(bench.get_by_role("button", name="Layer scratches")).to_be_visible()
        bench.get_by_role("button", name="Add relief").click()
        self.saved()
        made = self.document_of(site)["materials"][0]["source"]["layers"]
        self.assertEqual(len(made), layers + 1)
        self.assertEqual(made[-1]["drawn"]["pattern"]["kind"], "scratches")
        self.assertIsNotNone(made[-1]["relief"])
        bench.get_by_role("button", name="Back to the site").click()
        self.pick("Crates")
        page.get_by_role("combobox", name="Material of planed timber").click()
        page.get_by_role("option", name="Brick, own").click()
        self.saved()
        self.assertEqual(self.document_of(site)["structures"][0]["materials"]["planed_timber"], own["id"])
        page.get_by_role("button", name="Grade planed timber").click()
        page.get_by_role("button", name="Grade this part").click()
        self.saved()
        self.assertIn("planed_timber", self.document_of(site)["structures"][0]["grades"])

    def test_a_texture_set_comes_in_from_files(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        page.get_by_role("button", name="Materials", exact=True).click()
        with tempfile.TemporaryDirectory() as folder:
            files = []
            for name, value in (("wall_color.png", 180), ("wall_roughness.png", 90)):
                path = Path(folder) / name
                Image.fromarray(np.full((64, 64, 3), value, np.uint8)).save(path)
                files.append(path)
            page.get_by_label("Files of a texture set").set_input_files(files)
            expect(page.get_by_text("Read base, roughness.")).to_be_visible()
        self.saved()
        self.assertEqual(self.document_of(site)["materials"][0]["source"]["kind"], "texture_set")


class KitBrowserTests(BrowserCase):
    def test_items_are_found_set_down_and_made_ones_own(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        page.get_by_role("button", name="Kit", exact=True).click()
        kit = page.get_by_role("dialog")
        kit.get_by_label("Find by name or tag").fill("barrel")
        expect(kit.get_by_role("listitem")).to_have_count(1)
        kit.get_by_role("button", name="Barrel").click()
        expect(kit.get_by_text("triangles: near, farther, far.")).to_be_visible()
        kit.get_by_role("button", name="Set one down in view").click()
        self.saved()
        placed = self.document_of(site)["structures"][-1]
        self.assertEqual((placed["name"], placed["source"]["item"]), ("Barrel", "barrel"))
        page.get_by_role("button", name="Kit", exact=True).click()
        kit.get_by_label("Find by name or tag").fill("grass tuft")
        kit.get_by_role("button", name="Grass tuft").click()
        kit.get_by_role("button", name="Make it the site's own, to change it").click()
        expect(kit.get_by_label("Blades").first).to_be_visible()
        self.saved()
        self.assertEqual(self.document_of(site)["kit"][0]["source"]["kind"], "grass_tuft")

    def test_a_mix_takes_items_from_the_browser(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Growth")
        page.get_by_role("button", name="Add a kind").click()
        kit = page.get_by_role("dialog")
        kit.get_by_label("Find by name or tag").fill("nettle")
        kit.get_by_role("button", name="Nettle").click()
        kit.get_by_role("button", name="Add to the mix").click()
        self.saved()
        self.assertEqual([entry["item"] for entry in self.document_of(site)["planting"][0]["mix"]][-1], "nettle")


class GroundTests(BrowserCase):
    def test_a_stroke_raises_the_ground_at_once_and_is_undone(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Ground")
        page.get_by_role("button", name="Raise", exact=True).click()
        before = self.canvas()
        box = page.get_by_label("The site in three dimensions").bounding_box()
        assert box
        x, y = box["x"] + box["width"] * 0.45, box["y"] + box["height"] * 0.62
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 60, y + 5, steps=6)
        wait_until(page, "performance.getEntriesByName('cenote-dab').length > 0")
        page.wait_for_timeout(500)
        self.looks_different(before, 0.003)
        page.mouse.up()
        self.saved()
        strokes = self.document_of(site)["ground"]["strokes"]
        self.assertEqual((len(strokes), strokes[0]["tool"]), (1, "raise"))
        page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: not self.document_of(site)["ground"]["strokes"], "the stroke is undone")

    def test_a_material_is_painted_and_taken_away(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Ground")
        page.get_by_role("button", name="Paint a material").click()
        self.saved()
        box = page.get_by_label("The site in three dimensions").bounding_box()
        assert box
        x, y = box["x"] + box["width"] * 0.45, box["y"] + box["height"] * 0.62
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 80, y, steps=5)
        page.mouse.up()
        self.saved()
        paint = self.document_of(site)["ground"]["paints"][0]
        self.assertEqual((paint["material"], len(paint["strokes"])), ("mud", 1))
        self.assertGreater(len(paint["strokes"][0]["path"]), 1)
        page.keyboard.press("Escape")
