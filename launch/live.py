"""A server and a worker on a free port, beside whatever else runs: for tests in a browser and for figures."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path

from launch.common import ROOT, Trouble, environment, free_port, python, worker_command

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
        self.port = free_port(18000)
        self.address = f"http://127.0.0.1:{self.port}"
        self.workers = workers
        self._processes: list[subprocess.Popen[bytes]] = []
        self._log = Path(tempfile.mkstemp(prefix="cenote-live-", suffix=".log")[1])

    def start(self) -> LiveServer:
        """Start all, and wait until the server answers.

        :raises Trouble: with the end of the log, if it does not within a minute.
        """
        web = [python(), "-m", "uvicorn", "config.asgi:application", "--host", "127.0.0.1", "--port", str(self.port),
               "--log-level", "warning", "--timeout-graceful-shutdown", "1", "--lifespan", "off"]  # fmt: skip
        self._launch(web)
        for _ in range(self.workers):
            self.add_worker()
        deadline = time.monotonic() + 60
        while time.monotonic() < deadline and self._processes[0].poll() is None:
            try:
                urllib.request.urlopen(f"{self.address}/api/session", timeout=5).read()
                return self
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        self.stop()
        raise Trouble(f"the server did not come up:\n{self.log()[-2000:]}")

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
