"""``faults``: each part of a running Cenote killed while somebody edits: seconds until it can be used again, and what was lost."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Iterator
from pathlib import Path

import requests
from live_page import ROOT, VAR
from measuring import Figure

from launch.common import free_port

# An installation of its own, which shares the Python packages with ours.
PLACE = VAR / "faults"
_PATIENCE = 180.0


class Installation:
    """Cenote as its start command keeps it, in a folder of its own."""

    def __init__(self) -> None:
        self.environment = os.environ | {"CENOTE_VAR": str(PLACE)}
        self.port = free_port(19000)
        self.address = f"http://127.0.0.1:{self.port}"
        shutil.rmtree(PLACE, ignore_errors=True)
        PLACE.mkdir(parents=True)
        (PLACE / "venv").symlink_to(VAR / "venv")
        known = json.loads((VAR / "state.json").read_text())
        known = {
            name: value
            for name, value in known.items()
            if not name.startswith("db_") and name not in ("port", "address")
        }
        (PLACE / "state.json").write_text(json.dumps(known))

    def command(self, *arguments: str) -> list[str]:
        """A call of ``./cenote``."""
        return [sys.executable, str(ROOT / "launch" / "main.py"), *arguments]

    def start(self) -> None:
        """Start it as a user does."""
        log = (PLACE / "start.log").open("ab")
        command = self.command("start", "--port", str(self.port))
        self.process = subprocess.Popen(command, env=self.environment, stdout=log, stderr=log, start_new_session=True)

    def stop(self) -> None:
        """Stop all of it, and throw it away."""
        subprocess.run(self.command("stop"), env=self.environment, capture_output=True)
        subprocess.run(self.command("reset", "--yes"), env=self.environment, capture_output=True)
        shutil.rmtree(PLACE, ignore_errors=True)

    def process_of(self, name: str) -> int:
        """The process of a child of the start command; the database's is its postmaster's."""
        if name == "database":
            folder = json.loads((PLACE / "state.json").read_text()).get("db_folder", PLACE / "postgres")
            return int((Path(folder) / "data" / "postmaster.pid").read_text().split()[0])
        return int((PLACE / "run" / f"{name}.pid").read_text())


class Author:
    """One who edits all the time, and asks again where no answer comes, as the page does."""

    def __init__(self, address: str) -> None:
        self.address, self.session = address, requests.Session()
        self.made, self.last, self.going = 0, 0.0, True

    def begin(self) -> None:
        """Sign in, make a site and edit it."""
        token = self.session.get(f"{self.address}/api/session", timeout=10).json()["csrf"]
        body = {"user": "demo", "password": "tallow-lock"}
        answer = self.session.post(f"{self.address}/api/session", json=body, headers={"X-CSRFToken": token}, timeout=60)
        self.session.headers["X-CSRFToken"] = answer.json()["csrf"]
        site = self.session.post(f"{self.address}/api/sites", json={"name": "Faults"}, timeout=60).json()["id"]
        self.site = f"{self.address}/api/sites/{site}"
        self.thread = threading.Thread(target=self._edit)
        self.thread.start()

    def _edit(self) -> None:
        while self.going:
            dial = [{"op": "replace", "path": "/climate/years", "value": 1 + self.made % 20}]
            body = {"revision": self.made + 1, "label": "Years", "operations": dial, "request": str(uuid.uuid4())}
            while self.going:
                try:
                    if self.session.post(f"{self.site}/edits", json=body, timeout=10).status_code == 200:
                        self.made, self.last = self.made + 1, time.monotonic()
                        break
                except requests.RequestException:
                    pass
                time.sleep(0.05)
            time.sleep(0.02)

    def usable_after(self, since: float) -> float:
        """Seconds until an edit is acknowledged that was made after a moment."""
        made = self.made
        # The one that was on its way may have been answered before.
        while self.made < made + 2 or self.last < since:
            if time.monotonic() - since > _PATIENCE:
                logs = [PLACE / "start.log", *(PLACE / "log").glob("*.log")]
                raise SystemExit("\n".join(["it cannot be used again", *(one.read_text()[-3000:] for one in logs)]))
            time.sleep(0.01)
        return self.last - since

    def job_after(self, since: float) -> float:
        """Seconds until work that is asked for now runs."""
        answer = self.session.post(f"{self.site}/materials/brick/textures", json={"pixels": 512}, timeout=60)
        address = f"{self.address}/api/jobs/{answer.json()['id']}"
        while self.session.get(address, timeout=60).json()["state"] == "waiting":
            if time.monotonic() - since > _PATIENCE:
                raise SystemExit("no work is done any more")
            time.sleep(0.05)
        return time.monotonic() - since

    def lost(self) -> int:
        """Acknowledged edits that are not there; or made twice."""
        self.going = False
        self.thread.join()
        return abs(self.session.get(self.site, timeout=60).json()["revision"] - 1 - self.made)


def figures() -> Iterator[Figure]:
    """Seconds until all is usable again, after each kill."""
    whole = Installation()
    began = time.monotonic()
    whole.start()
    try:
        while True:
            try:
                requests.get(f"{whole.address}/api/session", timeout=5)
                break
            except requests.RequestException:
                if time.monotonic() - began > _PATIENCE:
                    raise SystemExit((PLACE / "start.log").read_text()[-2000:]) from None
                time.sleep(0.1)
        first = time.monotonic() - began
        yield Figure("faults.first_start", first, "s", " an empty database made, packages and page being there")
        author = Author(whole.address)
        author.begin()
        author.usable_after(time.monotonic())
        for name in ("web", "worker", "database"):
            since = time.monotonic()
            os.kill(whole.process_of(name), signal.SIGKILL)
            taken = author.job_after(since) if name == "worker" else author.usable_after(since)
            yield Figure(f"faults.{name}", taken, "s", f" {taken / first:.2g} × the first start")
            time.sleep(5)
        since = time.monotonic()
        os.kill(whole.process.pid, signal.SIGKILL)
        os.kill(whole.process_of("web"), signal.SIGKILL)
        whole.start()
        taken = author.usable_after(since)
        yield Figure("faults.start", taken, "s", f" the start command and web server killed, and started again; {taken / first:.2g} × the first start")  # fmt: skip
        yield Figure("faults.lost", author.lost(), "", f" of {author.made} acknowledged edits, or made twice")
    finally:
        whole.stop()
