"""``patches.rest`` and ``patches.memory``: from rest to all that is near at a texel a pixel, on the demo site."""

from __future__ import annotations

from collections.abc import Iterator

from live_page import frame_time, live_page, wait_until
from measuring import Figure

# The yard is what is seen first: to come to it again the camera has to move.
SHOTS = ("The door", "Moss in the joints", "Cobbles", "The winch", "Old iron", "The yard")
THERE = "performance.getEntriesByName('cenote-patches-there').at(-1)"


def figures() -> Iterator[Figure]:
    """Milliseconds from the look to the last patch, the first time and when it is looked at again, against one frame."""
    with live_page() as page:
        page.get_by_label("Open Tallow Lock").click()
        wait_until(page, "performance.getEntriesByName('cenote-site-shown').length > 0", 240)
        page.wait_for_timeout(10_000)
        page.get_by_role("combobox", name="Finest texel").click()
        page.get_by_role("option", name="Near: down to 1 mm").click()
        wait_until(page, f"{THERE} !== undefined", 120)
        taken: dict[str, list[float]] = {}
        told = {}
        for shot in (*SHOTS, *SHOTS):
            page.evaluate("performance.clearMarks()")
            page.get_by_role("button", name=shot, exact=True).click()
            wait_until(page, f"{THERE} !== undefined", 120)
            marks = "performance.getEntriesByName('cenote-patches').at(-1)"
            taken.setdefault(shot, []).append(page.evaluate(f"{THERE}.startTime - {marks}.startTime"))
            told[shot] = page.evaluate(f"{THERE}.detail")
        frame = frame_time(page)
        pixels = page.evaluate("(({ width, height }) => width * height)(document.querySelector('canvas'))")
        for shot in SHOTS:
            first, again = taken[shot]
            remark = (
                f" {shot}, {first / frame:.1f} frames; again {again:.0f} ms;"
                f" {told[shot]['wanted']} patches, {told[shot]['texels'] / pixels:.2f} texels a pixel"
            )
            yield Figure("patches.rest", first, "ms", remark)
        yield Figure(
            "patches.memory", told[SHOTS[0]]["bytes"] / 1e6, "MB", " at most, on a page drawn by the processor"
        )
