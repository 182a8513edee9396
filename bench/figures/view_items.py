"""``view.items``: a frame with ten, fifty and two hundred thousand placed items, drawn by the processor, and what of them."""

from __future__ import annotations

import re
from collections.abc import Iterator

from live_page import frame_time, live_page, wait_until
from measuring import Figure
from playwright.sync_api import Page

from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import Shot, SiteDocument
from cenote.site.ground import Ground

COUNTS = (0, 10_000, 50_000, 200_000)


def _site(count: int) -> SiteDocument:
    """A hectare with about so many tufts, flowers and stones."""
    mix = tuple(MixItem(item=kind) for kind in ("grass_tuft", "wildflower", "stone"))
    layer = Scatter(id="many", name="Many", density=max(count, 1) / 1e4, spacing=0, mix=mix, shown=count > 0)
    shot = Shot(id="over", position=(0, 14, 58), target=(0, 0, 0))
    return SiteDocument(ground=Ground(size=(100, 100), spacing=1.0, relief=1), planting=(layer,), shots=(shot,))


def _made(page: Page, count: int) -> str:
    """Make such a site; its address."""
    token = next(cookie["value"] for cookie in page.context.cookies() if cookie["name"].startswith("cenote_token"))
    headers = {"X-CSRFToken": token, "Referer": page.url}
    made = page.request.post("/api/sites", data={"name": f"{count} items"}, headers=headers).json()
    document = _site(count).model_dump(mode="json")
    operations = [
        {"op": "replace", "path": f"/{name}", "value": document[name]} for name in ("ground", "planting", "shots")
    ]
    change = {"revision": 1, "label": "Made", "operations": operations}
    answer = page.request.post(f"/api/sites/{made['id']}/edits", data=change, headers=headers)
    assert answer.ok, answer.text()
    return f"/sites/{made['id']}"


# Remembers when the page was not to be spoken to.
BUSY = """
window.busy = [];
new PerformanceObserver((list) => window.busy.push(...list.getEntries())).observe({ type: "longtask", buffered: true });
"""
# The longest of these times, milliseconds: of all, and of those in which no frame was drawn, which takes the processor as long here.
LONGEST = """
(() => {
  const frames = performance.getEntriesByName("cenote-frame").map(({ startTime }) => startTime);
  const longest = (some) => Math.max(0, ...some.map(({ duration }) => duration));
  const draws = ({ startTime, duration }) => frames.some((at) => at >= startTime && at <= startTime + duration);
  return [longest(window.busy), longest(window.busy.filter((task) => !draws(task)))];
})()
"""


def figures() -> Iterator[Figure]:
    """Milliseconds a frame against that of the bare ground; the page itself says how many items it drew."""
    with live_page() as page:
        bare = 0.0
        page.add_init_script(BUSY)
        for count in COUNTS:
            page.goto(_made(page, count))
            shown = "performance.getEntriesByName('cenote-site-shown').length > 0"
            wait_until(page, shown, 240)
            page.wait_for_timeout(6000)
            with_frames, longest = page.evaluate(LONGEST)
            sorted_times = page.evaluate("performance.getEntriesByName('cenote-chunks').length")
            took = frame_time(page)
            bare = bare or took
            said = page.get_by_role("region", name="View").get_by_role("status").inner_text()
            drawn = re.search(r"([\d,]+) of ([\d,]+)", said)
            what = f"{drawn[1]} of {drawn[2]} in sight drawn" if drawn else "all of it drawn"
            yield Figure(f"view.items.{count // 1000}k", took, "ms", f" {what}; {took / bare:.1f} × the bare ground")
            told = (
                f" the longest that the page was busy while it opened and drew nothing, {with_frames:.0f} with frames;"
                f" its items were sorted {sorted_times} times"
            )
            yield Figure(f"view.items.{count // 1000}k.block", longest, "ms", told)
