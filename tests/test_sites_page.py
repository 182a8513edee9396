"""Signing in, and the list of sites."""

from __future__ import annotations

from browsing import BrowserCase, browser
from helpers import small_document
from playwright.sync_api import Locator, Response, expect

from sites.models import Site


class SitesPageTests(BrowserCase):
    def test_a_wrong_password_is_told_and_the_right_one_opens_the_list(self) -> None:
        page = self.page
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Name").fill(self.name)
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not go together")
        self.sign_in(page)
        expect(page.get_by_text("No sites yet")).to_be_visible()

    def test_signing_in_loads_little_and_nothing_that_draws(self) -> None:
        context = browser().new_context()
        page = context.new_page()
        sent: dict[str, tuple[int, str]] = {}

        def note(response: Response) -> None:
            if "/assets/" in response.url and response.url.endswith(".js"):
                sent[response.url] = (
                    response.request.sizes()["responseBodySize"],
                    response.headers.get("content-encoding", ""),
                )

        page.on("response", note)
        page.goto(self.server.address)
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        page.wait_for_timeout(1000)
        context.close()
        self.assertTrue(sent)
        self.assertEqual({encoding for _, encoding in sent.values()}, {"gzip"})
        self.assertLess(sum(size for size, _ in sent.values()), 250_000, sent)
        self.assertFalse([url for url in sent if "SitePage" in url])

    def test_new_rename_duplicate_delete_with_undo_and_a_picture(self) -> None:
        page = self.page
        page.get_by_role("button", name="New site").click()
        page.get_by_role("dialog").get_by_label("Name").fill("Quarry")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Quarry")).to_be_visible()
        self.assertTrue(page.url.split("/")[-1] == str(Site.objects.get().pk))
        page.get_by_label("All sites").click()
        expect(page.locator("li img")).to_be_visible()
        wide = page.locator("li img").evaluate("(one) => one.decode().then(() => one.naturalWidth)")
        self.assertGreater(wide, 200, "the picture is one")
        page.get_by_role("button", name="Rename").click()
        page.get_by_role("dialog").get_by_label("Name").fill("Old quarry")
        page.get_by_role("dialog").get_by_role("button", name="Rename").click()
        expect(page.get_by_role("heading", name="Old quarry")).to_be_visible()
        page.get_by_role("button", name="Duplicate").click()
        expect(page.get_by_role("heading", name="Old quarry (copy)")).to_be_visible()
        page.get_by_role("listitem").filter(has_text="(copy)").get_by_role("button", name="Delete").click()
        expect(page.get_by_role("heading", name="Old quarry (copy)")).not_to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("heading", name="Old quarry (copy)")).to_be_visible()
        self.assertEqual(Site.objects.filter(deleted=None).count(), 2)

    def test_another_users_site_cannot_be_opened_by_its_address(self) -> None:
        from helpers import site_of, user

        site = site_of(user("somebody-else"))
        self.page.goto(f"{self.server.address}/sites/{site.pk}")
        expect(self.page.get_by_role("alert")).to_contain_text("no such site among yours")
        self.page.get_by_role("link", name="To your sites").click()
        expect(self.page.get_by_role("heading", name="Sites")).to_be_visible()

    def tab_to(self, control: Locator, most: int) -> None:
        """Go on by Tab until a control has the focus, after so many presses at most."""
        for _ in range(most):
            if control.evaluate("(one) => one === document.activeElement"):
                break
            self.page.keyboard.press("Tab")
        expect(control).to_be_focused()

    def test_everything_is_reached_by_keyboard_and_has_a_name(self) -> None:
        site = self.make_site(small_document())
        page = self.open_site(site)
        self.pick("Moss")
        expect(page.get_by_test_id("coverage")).not_to_have_text("…")
        nameless = page.evaluate(
            """() => [...document.querySelectorAll('button, input, select, a, [role=slider], [role=combobox], canvas[role=img]')]
              .filter((element) => element.offsetParent !== null || element instanceof SVGElement)
              .filter((element) => !(element.getAttribute('aria-label') || element.getAttribute('aria-labelledby') || element.textContent.trim()
                || (element.labels && element.labels.length) || element.getAttribute('aria-hidden') || element.title))
              .map((element) => element.outerHTML.slice(0, 160))"""
        )
        self.assertEqual(nameless, [])
        dial = page.get_by_role("slider", name="Years")
        page.keyboard.press("F6")
        self.tab_to(dial, 15)
        for _ in range(3):
            page.keyboard.press("ArrowUp")
        expect(dial).to_have_attribute("aria-valuenow", "28")
        ramp = page.get_by_label("Facing card").get_by_role("slider", name="Full at")
        page.keyboard.press("F6")
        page.keyboard.press("F6")
        self.tab_to(ramp, 6)
        page.keyboard.press("ArrowRight")
        self.saved()
        document = self.document_of(site)
        self.assertEqual(document["climate"]["years"], 28)
        self.assertGreater(document["weather"][0]["where"]["cards"][0]["full_at"], 0.35)
