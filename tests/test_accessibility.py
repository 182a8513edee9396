"""The page without a mouse and without eyes: what axe-core finds on every screen, and how far the keyboard has to go."""

from __future__ import annotations

from browsing import BrowserCase
from helpers import small_document
from playwright.sync_api import expect


class AccessibilityTests(BrowserCase):
    def test_signing_in_and_the_list_of_sites(self) -> None:
        page = self.page
        self.make_site(small_document())
        page.reload()
        expect(page.get_by_role("heading", name="Yard")).to_be_visible()
        self.sound(page, "sites")
        page.get_by_role("button", name="New site").click()
        page.wait_for_timeout(400)
        self.sound(page, "new site")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        self.sound(page, "signing in")

    def test_a_site_and_each_kind_of_bench(self) -> None:
        page = self.open_site(self.make_site(small_document()))
        self.sound(page, "overview")
        for name in ("Ground", "Light", "Water & air", "Moss", "Growth", "Crates", "First"):
            self.pick(name)
            page.wait_for_timeout(600)
            self.sound(page, f"bench of {name}")
        for name in ("Add a scatter", "Add a cover", "Add a structure"):
            page.get_by_role("button", name=name, exact=True).click()
            page.wait_for_timeout(400)
            # A menu is known by its role, not as a region of the page.
            self.sound(page, name, "[role=menu]")
            page.keyboard.press("Escape")
            page.wait_for_timeout(400)

    def test_kit_materials_stills_and_export(self) -> None:
        page = self.open_site(self.make_site(small_document()))
        page.get_by_role("button", name="Stills", exact=True).click()
        page.wait_for_timeout(400)
        self.sound(page, "stills")
        page.keyboard.press("Escape")
        page.wait_for_timeout(400)
        for name in ("Kit", "Materials", "Export"):
            page.get_by_role("button", name=name, exact=True).click()
            page.wait_for_timeout(2500)
            self.sound(page, name)
            page.keyboard.press("Escape")
            page.wait_for_timeout(500)
        for opener, entry in (("Add a structure", "Import a mesh …"), ("Add a cover", "From the library …")):
            page.get_by_role("button", name=opener, exact=True).click()
            page.get_by_role("menuitem", name=entry).click()
            expect(page.get_by_role("dialog")).to_be_visible()
            page.wait_for_timeout(500)
            self.sound(page, entry, "[role=dialog]")
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).not_to_be_visible()

    def test_scatter_density_moss_and_ramp_by_keyboard_alone(self) -> None:
        document = small_document()
        document["planting"] = []
        site = self.make_site(document)
        page = self.open_site(site)
        pressed = 0

        def press(*keys: str) -> None:
            nonlocal pressed
            for key in keys:
                page.keyboard.press(key)
                pressed += 1

        def focus() -> str:
            return page.evaluate(
                "document.activeElement.getAttribute('aria-label') ?? document.activeElement.innerText"
            )

        def go_to(label: str, key: str = "Tab", most: int = 12) -> None:
            visited = [focus()]
            while visited[-1] != label and len(visited) <= most:
                press(key)
                visited.append(focus())
            self.assertEqual(visited[-1], label, f"not reached by {most} presses of {key}, but: {visited}")

        press("4", "+")
        expect(page.get_by_role("menuitem", name="Scatter over Ground")).to_be_focused()
        press("Enter")
        expect(page.get_by_role("textbox", name="Name", exact=True)).to_be_focused()
        # The menu goes, too: while it faded, the Tab key stayed in what was left of it.
        expect(page.locator("[role=menu]")).to_have_count(0)
        press("F6", "F6")
        go_to("Density, /m²")
        press("ArrowUp", "ArrowUp", "ArrowUp", "Escape")
        self.saved()
        density = self.document_of(site)["planting"][0]["density"]
        self.assertGreater(density, 3)
        expect(page.get_by_role("button", name="Mixed growth", exact=True)).to_be_focused()

        press("5", "+")
        expect(page.get_by_role("menuitem", name="From the library …")).to_be_focused()
        press("m", "Enter")
        expect(page.get_by_role("textbox", name="Name", exact=True)).to_be_focused()
        press("F6")
        go_to("Starts at")
        before = self.document_of(site)["weather"][-1]["where"]["cards"][0]["starts_at"]
        press("ArrowRight", "ArrowRight")
        self.eventually(
            lambda: self.document_of(site)["weather"][-1]["where"]["cards"][0]["starts_at"] != before, "the ramp moved"
        )
        self.assertLessEqual(pressed, 40)
