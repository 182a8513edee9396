"""``view.lit``: what each effect of light and air costs in a frame of the demo site, drawn by the processor."""

from __future__ import annotations

from collections.abc import Iterator

from live_page import frame_time, live_page, wait_until
from measuring import Figure
from playwright.sync_api import Page

# Moods stand for the effects that they bring; the others are measured against the first one, without shadows or fog.
MOODS = {
    "Even grey": "soft light alone",
    "Clear forenoon": "shadows",
    "First light": "shadows, low fog in banks",
    "Thick fog": "deep fog in banks",
    "Nightfall": "low fog and lamps",
}
RESTS = 25_000


def _rested(page: Page) -> float:
    page.wait_for_timeout(RESTS)
    return frame_time(page)


def figures() -> Iterator[Figure]:
    """Milliseconds of a frame under each mood, and with the water hidden, against one of even light."""
    with live_page() as page:
        page.get_by_label("Open Tallow Lock").click()
        wait_until(page, "performance.getEntriesByName('cenote-sky-shown').length > 0", 240)
        page.get_by_label("Column").get_by_role("button", name="Light", exact=True).click()
        moods = page.get_by_role("group", name="Moods")
        plain = 0.0
        for mood, brings in MOODS.items():
            moods.get_by_role("button", name=mood, exact=True).click()
            taken = _rested(page)
            plain = plain or taken
            yield Figure("view.lit", taken, "ms", f" {mood}: {brings}; {taken / plain:.2f} × even light")
        moods.get_by_role("button", name="Even grey", exact=True).click()
        page.get_by_role("button", name="Hide Water & air").click()
        taken = _rested(page)
        yield Figure("view.lit", taken, "ms", f" even light without water; {taken / plain:.2f} × with it")
