"""``load.users``: twenty users who edit and try out at the same time; ``load.memory``: what the web process holds after it."""

from __future__ import annotations

import json
import os
import subprocess
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np
import requests
from live_page import DATABASE, STORE, demo
from measuring import Figure, resident

from launch.common import ROOT, python
from launch.live import LiveServer

USERS, SECONDS, ALONE = 20, 120.0, 15.0
PREVIEWS_AN_EDIT = 3
PASSWORD = "a long enough secret"
# Makes the users, each with a copy of a demo site, and prints their sites.
_MAKE = f"""
from django.contrib.auth import get_user_model
from sites.models import Site
like = Site.objects.get(name="Bell after rain")
for row in range({USERS}):
    user = get_user_model().objects.create_user(username=f"user-{{row}}", password={PASSWORD!r})
    print(Site.objects.create(owner=user, name="Bell", document=like.document).pk)
"""


@dataclass
class User:
    """One who edits and tries out until told to end.

    :ivar edits: seconds of each edit. :ivar previews: of each preview. :ivar errors: statuses of what failed.
    :ivar years: the last value that was acknowledged. :ivar made: how many edits were acknowledged.
    """

    address: str
    name: str
    site: str
    session: requests.Session = field(default_factory=requests.Session)
    edits: list[float] = field(default_factory=list)
    previews: list[float] = field(default_factory=list)
    errors: list[int] = field(default_factory=list)
    years: float = 0.0
    made: int = 0

    def sign_in(self) -> None:
        """Get a session, and look at the site as its page does."""
        token = self.session.get(f"{self.address}/api/session").json()["csrf"]
        credentials = {"user": self.name, "password": PASSWORD}
        answer = self.session.post(f"{self.address}/api/session", json=credentials, headers={"X-CSRFToken": token})
        self.session.headers["X-CSRFToken"] = answer.json()["csrf"]
        scene = self.session.get(f"{self.address}/api/sites/{self.site}/scene").json()
        self.surfaces = [one["id"] for one in scene["surfaces"]]

    def work(self, until: float) -> None:
        """Turn a dial: try values out, then keep one; again and again."""
        base, chance = f"{self.address}/api/sites/{self.site}", np.random.default_rng(len(self.name))
        revision = self.session.get(base).json()["revision"]
        while time.monotonic() < until:
            for _ in range(PREVIEWS_AN_EDIT):
                dial = [{"op": "replace", "path": "/climate/years", "value": round(float(chance.uniform(5, 60)), 1)}]
                body = {"operations": dial, "surfaces": self.surfaces, "coarser": 1}
                self._timed(self.previews, f"{base}/preview", body)
            self.years = round(float(chance.uniform(5, 60)), 1)
            dial = [{"op": "replace", "path": "/climate/years", "value": self.years}]
            answer = self._timed(
                self.edits, f"{base}/edits", {"revision": revision, "label": "Years", "operations": dial}
            )
            if answer.status_code == 200:
                revision, self.made = answer.json()["revision"], self.made + 1

    def _timed(self, times: list[float], address: str, body: object) -> requests.Response:
        began = time.monotonic()
        answer = self.session.post(address, json=body, timeout=120)
        times.append(time.monotonic() - began)
        if answer.status_code != 200:
            self.errors.append(answer.status_code)
        return answer

    def lost(self) -> int:
        """Acknowledged edits that are not there."""
        state = self.session.get(f"{self.address}/api/sites/{self.site}").json()
        return max(self.made - (state["revision"] - 1), 0) + (state["document"]["climate"]["years"] != self.years)


def _all_at_once(users: list[User], seconds: float) -> None:
    until = time.monotonic() + seconds
    threads = [threading.Thread(target=user.work, args=(until,)) for user in users]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def figures() -> Iterator[Figure]:
    """Edits and previews a second, their times, what failed and what was lost."""
    demo()
    env = os.environ | {"CENOTE_DB_NAME": DATABASE, "CENOTE_STORE": str(STORE)}
    made = subprocess.run([python(), str(ROOT / "server" / "manage.py"), "shell", "-v0", "-c", _MAKE], env=env, check=True,
                          capture_output=True, text=True)  # fmt: skip
    server = LiveServer(DATABASE, str(STORE)).start()
    try:
        users = [User(server.address, f"user-{row}", site) for row, site in enumerate(made.stdout.split()[-USERS:])]
        for user in users:
            user.sign_in()
        _all_at_once(users[:1], ALONE)
        alone = len(users[0].edits) / ALONE
        at_rest = users[0].edits, users[0].previews
        users[0].edits, users[0].previews = [], []
        _all_at_once(users, SECONDS)
        edits = np.array([one for user in users for one in user.edits])
        previews = np.array([one for user in users for one in user.previews])
        errors = [one for user in users for one in user.errors]
        yield Figure("load.users.edits", len(edits) / SECONDS, "a second",
                     f" {len(edits) / SECONDS / alone:.2g} × one user alone; half of them within {np.median(edits):.2f} s, 95 % "
                     f"within {np.percentile(edits, 95):.2f} s (alone {np.median(at_rest[0]):.2f} s)")  # fmt: skip
        yield Figure("load.users.previews", len(previews) / SECONDS, "a second",
                     f" half of them within {np.median(previews):.2f} s, 95 % within {np.percentile(previews, 95):.2f} s "
                     f"(alone {np.median(at_rest[1]):.2f} s)")  # fmt: skip
        yield Figure("load.users.errors", len(errors), "", f" {json.dumps(sorted(set(errors)))}")
        yield Figure(
            "load.users.lost", sum(user.lost() for user in users), "", " acknowledged edits that are not there"
        )
        held = [resident(one.pid) for one in server._processes]
        yield Figure("load.memory", max(held), "MB", " the most that one of the server's processes holds after it")
    finally:
        server.stop()
