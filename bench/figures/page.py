"""``page.weight``: what signing in, the first opening of Tallow Lock and the next one send, compressed as they are sent."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from live_page import live_page, wait_until
from measuring import Figure

# Milliseconds until nothing more is asked for once the site is shown: its fine maps have come.
SETTLED = 25_000


def figures() -> Iterator[Figure]:
    """Megabytes on the wire, by the browser's own count."""
    with live_page(before=True) as page:
        line = page.context.new_cdp_session(page)
        line.send("Network.enable")
        sent = {"bytes": 0.0, "answers": 0}

        def note(event: dict[str, Any]) -> None:
            sent["bytes"] += event["encodedDataLength"]
            sent["answers"] += 1

        def weight() -> float:
            """Megabytes since this was asked last."""
            found = sent["bytes"] / 1e6
            sent["bytes"] = 0.0
            return found

        line.on("Network.loadingFinished", note)
        page.goto("/")
        page.get_by_role("button", name="Sign in").wait_for()
        page.wait_for_timeout(2000)
        yield Figure("page.weight.signing_in", weight(), "MB", " until one can sign in")
        page.get_by_label("Name").fill("demo")
        page.get_by_label("Password").fill("tallow-lock")
        page.get_by_role("button", name="Sign in").click()
        for name, aim in (("first", 35), ("next", 1)):
            page.get_by_label("Open Tallow Lock").wait_for()
            page.wait_for_timeout(9000)
            weight()
            sent["answers"] = 0
            page.get_by_label("Open Tallow Lock").click()
            wait_until(page, "performance.getEntriesByName('cenote-site-shown').length > 0", 300)
            page.wait_for_timeout(SETTLED)
            told = f" the {name} opening of Tallow Lock, {sent['answers']} answers; the aim is at most {aim}"
            yield Figure(f"page.weight.{name}", weight(), "MB", told)
            page.goto("/")
