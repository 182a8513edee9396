"""What a new user does on the demo site: open, scatter, weather, import, undo, export, come back."""

from __future__ import annotations

import json
import re
import tempfile
from pathlib import Path

from browsing import BrowserCase, changed, wait_until
from helpers import glb_box, small_document
from playwright.sync_api import expect

from cenote.scatter.layer import Scatter
from cenote.site.tallow_lock import tallow_lock


class DemoSiteTests(BrowserCase):
    def test_the_demo_site_opens_lit_and_shaded_and_can_be_looked_at(self) -> None:
        site = self.make_site(tallow_lock(), "Tallow Lock")
        page = self.open_site(site)
        lit = self.canvas()
        # Sky above, brick in the middle, and no more than a few greys: a picture, not an empty view.
        colours = {lit[i] >> 4 << 8 | lit[i + 1] >> 4 << 4 | lit[i + 2] >> 4 for i in range(0, len(lit), 4)}
        self.assertGreater(len(colours), 60)
        page.get_by_role("button", name="Flat", exact=True).click()
        flat = self.canvas()
        self.assertGreater(changed(lit, flat), 0.2)
        page.get_by_role("combobox", name="Shot").click()
        page.get_by_role("option", name="The door").click()
        self.looks_different(flat, 0.4)
        expect(page.get_by_label("Bench")).to_contain_text("m² of surface")
        self.picture("door")
        page.get_by_role("button", name="Lit", exact=True).click()
        page.get_by_role("combobox", name="Shot").click()
        page.get_by_role("option", name="The yard").click()
        self.shadow_falls()

    def all_there(self) -> bytes:
        """The view's pixels once fine maps and the land have come, too: first all is shown coarse."""
        last = None
        while last != (now := self.canvas()):
            last = now
            self.page.wait_for_function(
                """() => new Promise((quiet) => {
                  const asked = () => performance.getEntriesByType("resource").filter(({ name }) => name.includes("key=")).length;
                  let before = asked();
                  const look = () => (asked() === before ? quiet(true) : ((before = asked()), setTimeout(look, 8000)));
                  setTimeout(look, 8000);
                })"""
            )
        return now

    def shadow_falls(self) -> None:
        """What the sun does not see is darker than when it does not shine at all, measured against all of the picture."""
        page = self.page
        sunny = self.all_there()
        self.pick("Light")
        strength = page.get_by_label("Bench").get_by_role("textbox", name=re.compile("^Sun")).first
        strength.fill("0")
        strength.press("Enter")
        self.saved()
        self.eventually(lambda: changed(sunny, self.canvas()) > 0.1, "the sun is put out")
        dull = self.canvas()
        page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: changed(sunny, self.canvas()) < 0.02, "it shines again")
        lit = [sum(sunny[i : i + 3]) - sum(dull[i : i + 3]) for i in range(0, len(dull), 4)]
        below = lit[len(lit) // 2 :]
        # On level ground under one sun there are places that it reaches, and places in the shadow of something.
        self.assertGreater(sum(gain > 60 for gain in below) / len(below), 0.1, "places in the sun")
        self.assertGreater(sum(gain < 12 for gain in below) / len(below), 0.02, "places in the shade")


class ScatterTests(BrowserCase):
    def test_scatter_over_the_ground_and_drag_its_density(self) -> None:
        document = small_document()
        document["planting"] = []
        site = self.make_site(document)
        page = self.open_site(site)
        bare = self.canvas()
        self.pick("Ground")
        page.get_by_role("button", name="Scatter over it").click()
        self.eventually(lambda: self.number("item-count") > 0, "items are counted")
        few = self.number("item-count")
        mix = page.get_by_label("Bench")
        for name in ("Grass tuft", "Wildflower", "Field stone", "Slope", "Distance", "Noise"):
            expect(mix.get_by_text(name, exact=True).first).to_be_visible()
        self.saved()
        begun = self.document_of(site)["planting"][0]
        self.assertEqual(len(begun["mix"]), 5)
        # The count comes before the picture; a machine that draws with its processor thins what it draws.
        self.eventually(lambda: changed(bare, self.canvas()) > 0.0008, "the plants are seen")

        slider = page.get_by_role("slider", name="Density", exact=True)
        box = slider.locator("xpath=..").bounding_box()
        assert box
        thumb = slider.evaluate(
            "(input) => { const b = input.parentElement.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]; }"
        )
        page.mouse.move(*thumb)
        page.mouse.down()
        shown = few
        for step in range(1, 5):
            page.mouse.move(thumb[0] + 14 * step, thumb[1])
            before = shown
            self.eventually(lambda least=before: self.number("item-count") > least, "the count follows while held")
            shown = self.number("item-count")
        page.mouse.up()
        self.saved()
        density = self.document_of(site)["planting"][0]["density"]
        self.assertGreater(density, begun["density"])
        many = self.number("item-count")
        page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.number("item-count") == few, "the first count is back: same seed, same result")
        page.get_by_role("button", name="Redo").click()
        self.eventually(lambda: self.number("item-count") == many, "the second count is back")

    def test_numbers_are_typed_stepped_and_reset_and_nonsense_is_not_taken(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Growth")
        field = page.get_by_label("Density, /m²")
        field.fill("3,5")
        page.keyboard.press("Enter")
        field.press("ArrowUp")
        self.saved()
        self.assertAlmostEqual(self.document_of(site)["planting"][0]["density"], 3.6)
        field.fill("lots")
        page.keyboard.press("Enter")
        expect(field).to_have_value("3.6")
        place = field.bounding_box()
        field.fill("1e9")
        page.keyboard.press("Enter")
        expect(field).to_have_value("60")
        self.saved()
        # What it says about so dense a growth moves nothing away from under the pointer.
        expect(page.get_by_label("Bench")).to_contain_text("allow at most")
        self.assertEqual(place, field.bounding_box())
        page.get_by_role("slider", name="Density", exact=True).dblclick(force=True)
        self.saved()
        usual = Scatter.model_fields["density"].default
        expect(field).to_have_value(f"{usual:g}")
        self.assertEqual(self.document_of(site)["planting"][0]["density"], usual)


class WeatherTests(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.site = self.make_site(small_document())
        self.open_site(self.site)

    def drag(self, handle, by: float) -> None:
        """Drag a handle sideways and hold it."""
        box = handle.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + by / 2, y)
        self.page.mouse.move(x + by, y)

    def test_a_ramp_is_dragged_and_shows_on_all_surfaces_mask_and_coverage(self) -> None:
        page = self.page
        self.pick("Moss")
        self.eventually(lambda: self.number("coverage") > 0, "coverage is measured")
        before, coverage = self.canvas(), self.number("coverage")
        expect(page.get_by_label("Bench")).to_contain_text("% of")
        self.drag(page.get_by_label("Facing card").get_by_role("slider", name="Full at"), 70)
        wait_until(page, "performance.getEntriesByName('cenote-preview').length > 0")
        self.eventually(lambda: self.number("coverage") < coverage, "coverage follows while the hand rests")
        page.mouse.up()
        self.saved()
        self.assertGreater(self.document_of(self.site)["weather"][0]["where"]["cards"][0]["full_at"], 0.5)
        # Saved is not yet drawn: the covers are composed anew meanwhile.
        self.eventually(lambda: changed(before, self.canvas()) > 0.001, "the surfaces follow")
        page.get_by_role("button", name="Mask", exact=True).click()
        page.wait_for_timeout(1500)
        mask = self.canvas()
        grey = sum(abs(mask[i] - mask[i + 1]) < 12 and abs(mask[i] - mask[i + 2]) < 12 for i in range(0, len(mask), 4))
        self.assertGreater(grey / (len(mask) / 4), 0.3, "the mask is black and white")
        page.get_by_role("button", name="Lit", exact=True).click()

    def test_space_peeks_at_the_mask(self) -> None:
        self.pick("Moss")
        lit = self.canvas()
        self.page.keyboard.down("Space")
        self.page.wait_for_timeout(1500)
        self.looks_different(lit, 0.05)
        self.page.keyboard.up("Space")
        self.page.wait_for_timeout(500)
        self.assertLess(changed(lit, self.canvas()), 0.02)

    def test_the_chain_is_made_of_cards(self) -> None:
        page = self.page
        self.pick("Moss")
        page.get_by_role("button", name="Add a signal").click()
        page.get_by_role("menuitem", name=re.compile("^Height How")).click()
        expect(page.get_by_label("Height card")).to_be_visible()
        page.get_by_label("How Height joins").select_option("subtract")
        page.get_by_label("Noise card").get_by_role("button", name="Invert").click()
        page.get_by_label("Crevice card").get_by_role("button", name="On: takes part").click()
        page.get_by_label("Facing card").get_by_role("button", name="Delete Facing").click()
        expect(page.get_by_label("Facing card")).not_to_be_visible()
        self.saved()
        cards = {card["signal"]["kind"]: card for card in self.document_of(self.site)["weather"][0]["where"]["cards"]}
        self.assertEqual(set(cards), {"crevice", "sky", "noise", "height"})
        self.assertEqual(cards["height"]["combine"], "subtract")
        self.assertTrue(cards["noise"]["inverted"])
        self.assertFalse(cards["crevice"]["enabled"])

    def test_the_climate_ages_the_site(self) -> None:
        page = self.page
        before = self.canvas()
        dial = page.get_by_role("slider", name="Years")
        dial.dblclick()
        dial.focus()
        for _ in range(3):
            page.keyboard.press("PageDown")
        self.saved()
        expect(dial).to_have_attribute("aria-valuenow", "0")
        self.looks_different(before, 0.001)


class ImportTests(BrowserCase):
    def test_an_own_mesh_is_sized_placed_and_mossed(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Moss")
        self.eventually(lambda: self.number("coverage") > 0, "coverage is measured")
        mossy = self.number("coverage")
        with tempfile.TemporaryDirectory() as folder:
            good, broken = Path(folder) / "trough.glb", Path(folder) / "broken.glb"
            content = glb_box(140, 60, 50)
            good.write_bytes(content)
            broken.write_bytes(content[:200])
            page.get_by_role("button", name="Add a structure").click()
            page.get_by_role("menuitem", name="Import a mesh").click()
            page.get_by_label("File of a mesh").set_input_files(broken)
            expect(page.get_by_role("alert")).to_contain_text("cut off")
            expect(page.get_by_role("alert")).to_contain_text("Nothing was changed")
            expect(page.get_by_role("button", name="Set it down")).to_be_disabled()
            page.get_by_label("File of a mesh").set_input_files(good)
            expect(page.get_by_test_id("import-size")).to_contain_text("140 m × 60 m × 50 m")
            page.get_by_label("One unit of the file is").click()
            page.get_by_role("option", name="centimetres").click()
            expect(page.get_by_test_id("import-size")).to_contain_text("1.4 m × 0.6 m × 0.5 m")
            self.picture("size")
            page.get_by_role("button", name="Set it down").click()
        expect(page.get_by_role("dialog")).not_to_be_visible()
        expect(page.get_by_label("Column").get_by_role("button", name="trough", exact=True)).to_be_visible()
        page.get_by_role("group", name="Weathered by").get_by_role("button", name="Moss").click()
        self.saved()
        document = self.document_of(site)
        placed = document["structures"][1]
        self.assertIn(placed["id"], document["weather"][0]["surfaces"])
        self.assertLess(abs(placed["placement"]["position"][1]), 0.6, "it stands on the ground")
        self.pick("Moss")
        self.eventually(lambda: self.number("coverage") > mossy + 0.05, "the new surface is covered, too")
        expect(page.get_by_label("Column")).to_contain_text("shared by 3")


class HistoryTests(BrowserCase):
    def test_undo_and_redo_across_a_reload(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Growth")
        page.get_by_role("textbox", name="Name").fill("Tall growth")
        page.keyboard.press("Enter")
        page.get_by_label("Hide Crates").click()
        self.saved()
        page.reload()
        page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.document_of(site)["structures"][0]["shown"], "the crates are back")
        page.keyboard.press("Control+z")
        self.eventually(lambda: self.document_of(site)["planting"][0]["name"] == "Growth", "the name is back")
        expect(page.get_by_role("button", name="Undo")).to_be_disabled()
        page.reload()
        page.get_by_role("button", name="Redo").click()
        self.eventually(lambda: self.document_of(site)["planting"][0]["name"] == "Tall growth", "redone after a reload")
        page.keyboard.press("Control+Shift+z")
        self.eventually(lambda: not self.document_of(site)["structures"][0]["shown"], "hidden again")

    def test_a_tab_closed_in_the_middle_of_a_drag_loses_nothing(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        dial = page.get_by_role("slider", name="Years")
        box = dial.bounding_box()
        assert box
        page.mouse.move(box["x"] + 24, box["y"] + 22)
        page.mouse.down()
        page.mouse.move(box["x"] + 24, box["y"] - 10)
        page.mouse.move(box["x"] + 24, box["y"] - 26)
        held = float(dial.get_attribute("aria-valuenow") or 0)
        self.assertGreater(held, 30)
        page.close(run_before_unload=True)
        self.eventually(lambda: self.document_of(site)["climate"]["years"] == held, "the dragged value is saved")
        self.page = self.open_site(site, self.open_page())
        expect(self.page.get_by_role("slider", name="Years")).to_have_attribute("aria-valuenow", f"{held:g}")
        self.page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.document_of(site)["climate"]["years"] == 25, "it can be undone")

    def test_the_second_of_two_tabs_is_told_and_overwrites_nothing(self) -> None:
        site = self.make_site(small_document())
        first = self.open_site(site)
        second = self.open_site(site, self.open_page())
        first.bring_to_front()
        self.pick("Growth", first)
        field = first.get_by_label("Density, /m²")
        field.fill("5")
        first.keyboard.press("Enter")
        self.saved(first)
        expect(second.get_by_role("alert")).to_contain_text("Changed elsewhere: Growth: density")
        # Now the second tab misses the news: its line to the server is cut.
        second.route("**/events", lambda route: route.abort())
        second.reload()
        expect(second.get_by_role("slider", name="Years")).to_be_visible()
        field.fill("6")
        first.keyboard.press("Enter")
        self.saved(first)
        second.bring_to_front()
        dial = second.get_by_role("slider", name="Years")
        dial.focus()
        second.keyboard.press("ArrowUp")
        expect(second.get_by_role("alert")).to_contain_text("was changed elsewhere")
        document = self.document_of(site)
        self.assertEqual((document["planting"][0]["density"], document["climate"]["years"]), (6, 25))
        second.get_by_role("button", name="Newest with mine on top").click()
        self.saved(second)
        document = self.document_of(site)
        self.assertEqual((document["planting"][0]["density"], document["climate"]["years"]), (6, 26))

    def test_what_is_changed_while_the_server_is_away_is_sent_when_it_answers(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        page.route("**/edits", lambda route: route.abort())
        dial = page.get_by_role("slider", name="Years")
        dial.focus()
        page.keyboard.press("ArrowUp")
        expect(page.get_by_label("Saving")).to_have_text("Not saved yet: kept here")
        page.keyboard.press("ArrowUp")
        page.unroute("**/edits")
        self.eventually(lambda: self.document_of(site)["climate"]["years"] == 27, "both steps arrive")
        self.saved()
        self.complaints.clear()


class ExportTests(BrowserCase):
    def test_the_dressed_site_is_fetched_as_glb_and_valid(self) -> None:
        from test_formats import validated

        site = self.make_site(small_document())
        page = self.open_site(site)
        page.get_by_role("button", name="Export").click()
        instanced: list[bool] = []
        for manner in ("Instanced", "Merged"):
            page.get_by_role("radio", name=manner).check()
            page.get_by_label("Texels of the composed maps").click()
            page.get_by_role("option", name=re.compile("^10 cm")).click()
            page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
            expect(page.get_by_role("alert")).to_contain_text("Written:")
            with page.expect_download() as download:
                page.get_by_role("link", name="Fetch the file").click()
            self.assertEqual(download.value.suggested_filename, "yard.glb")
            content = Path(download.value.path()).read_bytes()
            issues = validated(content)
            self.assertEqual(issues["numErrors"], 0, issues["messages"])
            # The JSON chunk of a binary glTF follows twelve bytes of header and eight of its own.
            written = json.loads(content[20 : 20 + int.from_bytes(content[12:16], "little")])
            instanced.append("EXT_mesh_gpu_instancing" in written.get("extensionsUsed", []))
        self.assertEqual(instanced, [True, False])
