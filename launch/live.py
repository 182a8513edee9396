"""A server and a worker on a free port, beside whatever else runs: for tests in a browser and for figures."""

from __future__ import annotations

import contextlib
import os
import signal
import socket
import subprocess
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

from launch.common import ROOT, Trouble, environment, web_command, worker_command

# On so many ports it is tried.
_TRIALS = 4
# What Debian's Chromium needs to run as root, without a screen, drawing WebGL by the processor, and without calling out.
CHROMIUM = "/usr/bin/chromium"
CHROMIUM_ARGUMENTS = [
    "--headless",
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--use-gl=angle",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
]


class LiveServer:
    """Web server and worker on a database and a store of their own.

    :param database: name of a database of our cluster that has been migrated.
    :param store: folder of derived data.
    :param workers: how many worker processes share the queue.
    """

    def __init__(self, database: str, store: str, workers: int = 1) -> None:
        self.environment = environment() | {"CENOTE_DB_NAME": database, "CENOTE_STORE": store}
        self.address = ""
        self.workers = workers
        self._processes: list[subprocess.Popen[bytes]] = []
        self._log = Path(tempfile.mkstemp(prefix="cenote-live-", suffix=".log")[1])

    def start(self) -> LiveServer:
        """Start all, and wait until the server answers.

        :raises Trouble: with the end of the log, if it does not within two minutes, on any of some ports.
        """
        for _ in range(_TRIALS):
            if self._serve():
                for _ in range(self.workers):
                    self.add_worker()
                return self
        log = self.log()[-2000:]
        self.stop()
        raise Trouble(f"the server did not come up:\n{log}")

    def _serve(self) -> bool:
        """Start a web server on a port that is free at this moment. :returns: whether it is ours that answers there."""
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        web = self._launch(web_command(port, 1))
        self.address = f"http://127.0.0.1:{port}"
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline and not _listens(web.pid, port):
            if web.poll() is not None:
                # Another took the port in the meantime.
                self._processes.remove(web)
                return False
            time.sleep(0.1)
        urllib.request.urlopen(f"{self.address}/api/session", timeout=120).read()
        return True

    def add_worker(self) -> subprocess.Popen[bytes]:
        """Start one more worker."""
        return self._launch(worker_command())

    def _launch(self, command: list[str]) -> subprocess.Popen[bytes]:
        with self._log.open("ab") as log:
            process = subprocess.Popen(
                command, env=self.environment, cwd=ROOT / "server", stdout=log, stderr=log, start_new_session=True
            )
        self._processes.append(process)
        return process

    def log(self) -> str:
        """What server and workers have written."""
        return self._log.read_text(errors="replace")

    def stop(self) -> None:
        """Stop all."""
        for process in self._processes:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGTERM)
        for process in self._processes:
            try:
                process.wait(10)
            except subprocess.TimeoutExpired:
                os.killpg(process.pid, signal.SIGKILL)
                process.wait()
        self._processes.clear()
        self._log.unlink(missing_ok=True)


def _listens(pid: int, port: int) -> bool:
    """Whether a process itself, and no other, listens on a port of this machine."""
    waiting = {row.split()[9] for row in Path("/proc/net/tcp").read_text().splitlines()[1:]
               if row.split()[1].endswith(f":{port:04X}") and row.split()[3] == "0A"}  # fmt: skip
    with contextlib.suppress(OSError):
        return any(
            os.readlink(one) in {f"socket:[{inode}]" for inode in waiting} for one in Path(f"/proc/{pid}/fd").iterdir()
        )
    return False


def wait_until(page: Any, holds: str, seconds: float = 60.0) -> None:
    """Wait until an expression holds in a page of Playwright's. Its own way of waiting has the page evaluate a text, which
    the page's policy forbids.

    :raises AssertionError: if it does not within some seconds.
    """
    deadline = time.monotonic() + seconds
    while not page.evaluate(holds):
        assert time.monotonic() < deadline, f"it did not come about: {holds}"
        page.wait_for_timeout(100)
