"""What the parts of the start command share."""

from __future__ import annotations

import hashlib
import json
import os
import secrets
import socket
import subprocess
import sys
from functools import cache
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("CENOTE_VAR", ROOT / "var"))
_STATE = VAR / "state.json"
# Words in the command lines of our processes, so that a reused process number is never taken for ours.
_MARKS = {"web": "config.asgi", "worker": "procrastinate", "start": "launch/main.py"}


class Trouble(Exception):
    """Something the user has to know; the message says what was kept and what to do."""


def say(text: str, error: bool = False) -> None:
    """One line for the user."""
    print(f"cenote: {text}", file=sys.stderr if error else sys.stdout, flush=True)


def state() -> dict[str, Any]:
    """Ports and the like that stay between starts."""
    try:
        return dict(json.loads(_STATE.read_text()))
    except (OSError, ValueError):
        return {}


def write_state(**values: Any) -> None:
    """Change some of the state; the file is replaced whole."""
    VAR.mkdir(parents=True, exist_ok=True)
    fresh = _STATE.with_suffix(".new")
    fresh.write_text(json.dumps(state() | values, indent=1))
    fresh.chmod(0o600)
    fresh.replace(_STATE)


def secret(name: str) -> str:
    """A random secret, made once."""
    if name not in state():
        write_state(**{name: secrets.token_urlsafe(40)})
    return str(state()[name])


def python() -> str:
    """The interpreter of our virtual environment."""
    return str(VAR / "venv" / "bin" / "python")


@cache
def kernels_of(folder: Path) -> str:
    """A digest of all source files with compiled kernels.

    Numba keeps a kernel by the file that it stands in alone. What it inlines may stand in another: kept by itself, it would go on
    computing what that one said before.
    """
    sha = hashlib.sha256(sys.version.encode())
    for path in sorted(folder.rglob("*.py")):
        content = path.read_bytes()
        if b"njit" in content:
            sha.update(path.relative_to(folder).as_posix().encode() + b"\0" + content)
    return sha.hexdigest()[:16]


def environment() -> dict[str, str]:
    """The environment of our processes."""
    return os.environ | {
        "PYTHONPATH": f"{ROOT / 'core'}:{ROOT / 'server'}",
        "PYTHONDONTWRITEBYTECODE": "1",
        "DJANGO_SETTINGS_MODULE": "config.settings",
        "CENOTE_VAR": str(VAR),
        "CENOTE_SECRET_KEY": secret("secret_key"),
        "CENOTE_DB_PASSWORD": secret("db_password"),
        "CENOTE_DB_PORT": str(state().get("db_port", "")),
        # Compiled kernels are kept, so that only the first start pays for compiling them.
        "NUMBA_CACHE_DIR": str(VAR / "numba" / kernels_of(ROOT / "core" / "cenote")),
    }


def web_command(port: int, patience: int) -> list[str]:
    """A web server on loopback, in one process or as many as ``CENOTE_WEB_PROCESSES`` tells.

    :param patience: seconds that requests have to end in when it stops.
    """
    many = int(os.environ.get("CENOTE_WEB_PROCESSES", "1"))
    command = [python(), "-m", "uvicorn", "config.asgi:application", "--host", "127.0.0.1", "--port", str(port),
               "--log-level", "warning", "--timeout-graceful-shutdown", str(patience), "--lifespan", "off"]  # fmt: skip
    # One that computes for some seconds does not answer its supervisor meanwhile, and must not be killed for that.
    return [*command, "--workers", str(many), "--timeout-worker-healthcheck", "300"] if many > 1 else command


def worker_command() -> list[str]:
    """A worker. It gives way to the web server, which somebody waits for."""
    manage = str(ROOT / "server" / "manage.py")
    return ["nice", "-n", "8", python(), manage, "procrastinate", "worker", "--concurrency", "3"]


def port_taken(port: int) -> bool:
    """Whether something listens on a port of this machine."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return True
    return False


def free_port(first: int) -> int:
    """The first free port from ``first`` on."""
    for port in range(first, first + 2000):
        if not port_taken(port):
            return port
    raise Trouble("there is no free port on this machine")


def alive(pid: int, name: str) -> bool:
    """Whether a process lives and is the one of ours that it was."""
    try:
        line = Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace")
        stat = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
    except OSError:
        return False
    return _MARKS.get(name, name) in line and stat != "Z"


def run(command: list[str], what: str, cwd: Path | None = None, env: dict[str, str] | None = None) -> str:
    """Run a set-up step; return its output.

    :raises Trouble: with the end of its output, if it fails.
    """
    try:
        done = subprocess.run(command, cwd=cwd, env=env, capture_output=True, text=True)
    except FileNotFoundError:
        raise Trouble(f"{what} failed: there is no program {command[0]}.") from None
    if done.returncode:
        tail = (done.stdout + done.stderr).strip()[-1500:]
        raise Trouble(f"{what} failed. Nothing that was there is lost; start again once it is mended.\n{tail}")
    return done.stdout
