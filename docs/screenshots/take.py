"""Takes the pictures of the README anew, from the demo site of a running, freshly reset Cenote.

./cenote reset && ./cenote start        in one terminal
var/venv/bin/python docs/screenshots/take.py
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from io import BytesIO
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).resolve().parent
sys.path.insert(0, str(FOLDER.parents[1]))
from launch.common import state
from launch.live import CHROMIUM, CHROMIUM_ARGUMENTS, wait_until


def take(page: Page, name: str, rest: int = 4000) -> None:
    """Wait for the view to come to rest, and keep a picture."""
    page.wait_for_timeout(rest)
    page.screenshot(path=str(FOLDER / f"{name}.png"))
    print(name)


def states(page: Page) -> None:
    """The view in each kept state of the dials; and before and after of the last one: six in one picture."""
    shown = []
    for name in ("New", "Forty years", "After rain", "First snow"):
        page.get_by_label("State", exact=True).select_option(label=name)
        page.wait_for_timeout(25_000)
        page.get_by_text("Drawn lightly").wait_for(state="hidden")
        shown.append(the_view(page))
    page.get_by_role("button", name="Before/after").click()
    page.mouse.move(640, 700)
    page.wait_for_timeout(20_000)
    shown.append(the_view(page))
    page.get_by_label("State", exact=True).select_option(label="Forty years")
    page.wait_for_timeout(25_000)
    shown.append(the_view(page))
    page.get_by_role("button", name="Before/after").click()
    sheet(shown, "states")


MOODS = ("First light", "Even grey", "Thick fog", "Late gold", "After sunset", "Nightfall")


def moods(page: Page) -> None:
    """The view under moods: six in one picture."""
    shown = []
    for mood in MOODS:
        page.get_by_role("group", name="Moods").get_by_role("button", name=mood, exact=True).click()
        page.wait_for_timeout(25_000)
        shown.append(the_view(page))
    for _ in MOODS:
        page.get_by_role("button", name="Undo").click()
        page.wait_for_timeout(2000)
    sheet(shown, "moods")


def close_ups(page: Page, go_to: Callable[[str], None]) -> None:
    """What the weather looks like from near: six in one picture."""
    page.get_by_role("combobox", name="Finest texel").click()
    page.get_by_role("option", name="Near: down to 1 mm").click()
    shown = []
    for state_name, shot in (("Forty years", "Moss in the joints"), ("Forty years", "Old iron"), ("Forty years", "The winch"),
                             ("After rain", "Cobbles"), ("First snow", "By the seat"), ("First snow", "The door")):  # fmt: skip
        page.get_by_label("State", exact=True).select_option(label=state_name)
        go_to(shot)
        # What is measured for a state comes first, what is near last.
        page.wait_for_timeout(10_000)
        page.get_by_role("status", name="Work going on").wait_for(state="detached")
        page.wait_for_timeout(25_000)
        shown.append(the_view(page))
    page.get_by_role("combobox", name="Finest texel").click()
    page.get_by_role("option", name="Near: as all the rest").click()
    sheet(shown, "close-ups")


def the_view(page: Page) -> Image.Image:
    """The view alone."""
    box = page.get_by_role("region", name="View").bounding_box()
    assert box
    return Image.open(BytesIO(page.screenshot(clip=box)))


def sheet(shown: list[Image.Image], name: str) -> None:
    """Pictures of the view side by side, two in a row."""
    rows = -(-len(shown) // 2)
    whole = Image.new("RGB", (1280, 324 * rows - 4), "white")
    for row, one in enumerate(shown):
        whole.paste(one.resize((638, 320), Image.Resampling.LANCZOS), (642 * (row % 2), 324 * (row // 2)))
    whole.save(FOLDER / f"{name}.png")
    print(name)


def main() -> None:
    """Go through the main views."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.set_default_timeout(120_000)
        page.goto(state()["address"])
        page.get_by_label("Name").fill("demo")
        page.get_by_label("Password").fill("tallow-lock")
        page.get_by_role("button", name="Sign in").click()
        page.get_by_label("Open Tallow Lock").wait_for()
        take(page, "sites", 1500)
        page.get_by_label("Open Tallow Lock").click()
        for what in ("site", "sky"):
            wait_until(page, f"performance.getEntriesByName('cenote-{what}-shown').length > 0", 240)
        take(page, "site", 15_000)

        def pick(name: str) -> None:
            page.get_by_label("Column").get_by_role("button", name=name, exact=True).click()

        def go_to(shot: str) -> None:
            # While the processor draws a frame, a press may be taken late; then it is given again.
            while shot not in page.get_by_role("combobox", name="Shot", exact=True, include_hidden=True).inner_text():
                if not page.get_by_role("option", name=shot).is_visible():
                    page.get_by_role("combobox", name="Shot", exact=True).click()
                page.get_by_role("option", name=shot).click()
                page.wait_for_timeout(1500)

        pick("Light")
        moods(page)
        pick("Old moss")
        take(page, "bench-cover", 15_000)
        page.get_by_role("button", name="Mask", exact=True).click()
        page.mouse.move(700, 300)
        take(page, "mask", 6000)
        page.get_by_role("button", name="Lit", exact=True).click()
        page.mouse.move(700, 300)
        pick("Tufts and flowers")
        take(page, "bench-scatter")
        page.get_by_role("button", name="Why here", exact=True).click()
        page.mouse.move(400, 440)
        page.mouse.move(404, 442)
        page.get_by_role("dialog", name="Why here").wait_for()
        take(page, "why-here", 1500)
        page.keyboard.press("Escape")
        states(page)
        close_ups(page, go_to)
        page.get_by_label("State", exact=True).select_option(label="Forty years")
        page.wait_for_timeout(9000)
        pick("Lock-keeper's house")
        go_to("The door")
        take(page, "bench-structure", 7000)
        pick("Barrel by the door")
        page.get_by_label("Column").get_by_role("button", name="Second barrel", exact=True).click(modifiers=["Shift"])
        take(page, "placing", 5000)
        go_to("Old boards")
        pick("Heap of old boards")
        page.wait_for_timeout(4000)
        page.get_by_role("button", name="Drop them another way").click()
        wait_until(page, "performance.getEntriesByName('cenote-falling').some((one) => one.detail.pieces > 14)")
        take(page, "dropping", 0)
        # What is said at the end is gone again after some seconds.
        page.wait_for_timeout(25_000)
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Stills", exact=True).click()
        page.get_by_role("button", name="Take a test").click()
        page.get_by_role("button", name="Go on to 16").wait_for(timeout=300_000)
        take(page, "stills", 3000)
        page.get_by_role("button", name="Close").click()
        page.get_by_role("button", name="Kit", exact=True).click()
        page.get_by_role("button", name="Barrel", exact=True).click()
        take(page, "kit", 25_000)
        page.get_by_role("button", name="Close").click()
        page.get_by_role("button", name="Materials", exact=True).click()
        page.get_by_role("button", name="Make it the site's own, to change it").click()
        page.get_by_role("button", name="Bricks courses", exact=True).click()
        take(page, "materials", 8000)
        page.get_by_role("button", name="Back to the site").click()
        page.get_by_role("button", name="Undo").click()
        go_to("The yard")
        pick("Ground")
        page.get_by_role("button", name="Raise", exact=True).click()
        page.wait_for_timeout(2000)
        page.mouse.move(340, 470)
        page.mouse.down()
        page.mouse.move(470, 510, steps=8)
        take(page, "sculpting", 4000)
        page.keyboard.press("Escape")
        page.mouse.up()
        for name, file in (("Bell after rain", "bell"), ("Gravel reach", "gravel-reach")):
            page.goto(state()["address"])
            page.get_by_label(f"Open {name}").click()
            page.wait_for_timeout(20_000)
            if file == "bell":
                go_to("Drops on brass")
                pick("Fallen rain")
            take(page, file, 20_000)
        browser.close()


if __name__ == "__main__":
    main()
