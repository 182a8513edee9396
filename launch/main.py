"""``./cenote``: start, stop, status, reset, test, sweep, bench. Uses nothing but Python's own library."""

from __future__ import annotations

import argparse
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from launch import database, setup
from launch.common import (
    ROOT,
    VAR,
    Trouble,
    alive,
    environment,
    free_port,
    port_taken,
    python,
    say,
    state,
    web_command,
    worker_command,
    write_state,
)
from launch.keeping import Child, Database

RUN = VAR / "run"
HOST = "127.0.0.1"


def manage(*arguments: str, quiet: bool = False) -> None:
    """Run a Django command; its output is shown unless ``quiet`` and all is well."""
    done = subprocess.run(
        [python(), str(ROOT / "server" / "manage.py"), *arguments], env=environment(), capture_output=quiet, text=True
    )
    if done.returncode:
        raise Trouble(f"manage.py {arguments[0]} failed.\n{(done.stderr or '').strip()[-2000:]}")


def running() -> dict[str, int]:
    """Processes of an earlier start that still live, by name."""
    out = {}
    for path in RUN.glob("*.pid") if RUN.is_dir() else []:
        pid = int(path.read_text() or 0)
        if alive(pid, path.stem):
            out[path.stem] = pid
        else:
            path.unlink()
    return out


def launch(name: str, command: list[str], extra: dict[str, str] | None = None) -> subprocess.Popen[bytes]:
    """Start one of our processes in a group of its own, with its output in var/log."""
    (VAR / "log").mkdir(parents=True, exist_ok=True)
    RUN.mkdir(parents=True, exist_ok=True)
    log = (VAR / "log" / f"{name}.log").open("ab")
    process = subprocess.Popen(
        command, env=environment() | (extra or {}), cwd=ROOT / "server", stdout=log, stderr=log, start_new_session=True
    )
    (RUN / f"{name}.pid").write_text(str(process.pid))
    return process


def _end(name: str, pid: int, patience: float) -> bool:
    """Ask a process to end and wait for it; say whether it did within ``patience`` seconds."""
    os.kill(pid, signal.SIGTERM)
    deadline = time.monotonic() + patience
    while alive(pid, name) and time.monotonic() < deadline:
        time.sleep(0.1)
    return not alive(pid, name)


def stop_from_outside() -> list[str]:
    """Stop what another ``./cenote start`` keeps going: that one itself first, which then stops the rest."""
    going = running()
    start_pid = going.pop("start", None)
    before = [*going, *(["database"] if database.up() else [])]
    if start_pid is not None and _end("start", start_pid, 40):
        return before
    return stop_all()


def stop_all() -> list[str]:
    """Stop web, worker and database, in this order; return what was stopped."""
    stopped = []
    going = {name: pid for name, pid in running().items() if name != "start"}
    for name, pid in sorted(going.items(), key=lambda entry: entry[0] != "web"):
        if not _end(name, pid, 15):
            os.killpg(pid, signal.SIGKILL)
        (RUN / f"{name}.pid").unlink(missing_ok=True)
        stopped.append(name)
    if database.stop():
        stopped.append("database")
    return stopped


def wait_until_up(address: str, process: subprocess.Popen[bytes]) -> None:
    """Wait until the server answers.

    :raises Trouble: if it ends, or does not answer within a minute.
    """
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        if process.poll() is not None:
            break
        try:
            urllib.request.urlopen(f"{address}/api/session", timeout=2).read()
            return
        except (urllib.error.URLError, OSError):
            time.sleep(0.15)
    log = (VAR / "log" / "web.log").read_text(errors="replace")[-1500:]
    raise Trouble(f"the server did not come up. The end of var/log/web.log:\n{log}")


def prepare(tests: bool = False) -> None:
    """Bring everything to where processes can be started."""
    setup.everything(tests=tests)
    database.start()


def _keep(children: list[Child]) -> None:
    """Keep everything going until somebody ends us."""
    at = state().get("db_port")
    kept = Database(database.up, database.start)
    while True:
        kept.tend()
        if (now := state().get("db_port")) != at:
            # It had to take another port: who asks at the old one begins anew.
            at = now
            for child in children:
                if child.process is not None:
                    child.process.terminate()
        for child in children:
            child.tend()
        time.sleep(0.3)


def start(port: int | None) -> None:
    """Set up what is missing, start everything, and stay until Ctrl-C."""
    going = running()
    if "start" in going and "web" in going:
        say(f"already running at {state().get('address')}; ./cenote stop ends it")
        return
    if "start" in going:
        raise Trouble(
            "another ./cenote start is setting things up right now. Wait for it, or end it with ./cenote stop."
        )
    if going:
        say(f"ending what a start that was killed has left: {', '.join(sorted(going))}")
        stop_all()
    RUN.mkdir(parents=True, exist_ok=True)
    (RUN / "start.pid").write_text(str(os.getpid()))
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    wanted = port or state().get("port") or 8000
    if port_taken(wanted):
        if port:
            raise Trouble(f"port {port} is in use by another program. Nothing was started; choose another with --port.")
        other = free_port(wanted + 1)
        say(f"port {wanted} is in use by another program; taking {other}")
        wanted = other
    try:
        prepare()
        manage("make_ready")
        address = f"http://{HOST}:{wanted}"
        web = Child("web server", lambda: launch("web", web_command(wanted, 2)))
        worker = Child("worker", lambda: launch("worker", worker_command()))
        for child in (web, worker):
            child.tend()
        assert web.process is not None
        wait_until_up(address, web.process)
        write_state(port=wanted, address=address)
        say(f"Cenote is at {address}")
        say("sign in as demo with the password tallow-lock; Ctrl-C stops everything")
        _keep([web, worker])
    except KeyboardInterrupt:
        print()
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        stopped = stop_all()
        (RUN / "start.pid").unlink(missing_ok=True)
        if stopped:
            say(f"stopped: {', '.join(stopped)}")


def status() -> None:
    """Say what is running."""
    going = running()
    for name in ("web", "worker"):
        say(f"{name}: {'running, process ' + str(going[name]) if name in going else 'not running'}")
    say(f"database: {'running on port ' + str(state().get('db_port')) if database.up() else 'not running'}")
    if "web" in going:
        say(f"address: {state().get('address')}")
    if database.up():
        manage("store_status")


def reset(yes: bool) -> None:
    """Throw all sites and derived data away, and make the demo site anew at the next start."""
    if running():
        raise Trouble("Cenote is running. Stop it first with ./cenote stop; nothing was changed.")
    if not yes:
        answer = input("This deletes ALL sites, accounts and derived data of this folder. Type “delete” to go on: ")
        if answer.strip() != "delete":
            say("nothing was changed")
            return
    database.destroy()
    shutil.rmtree(VAR / "store", ignore_errors=True)
    say("done; ./cenote start makes the demo site anew")


def test(labels: list[str]) -> int:
    """Run every check and test; with labels only those of Django's test runner."""
    from launch import checks

    was_up = database.up()
    prepare(tests=True)
    try:
        return checks.run(labels)
    finally:
        if not was_up:
            database.stop()


def sweep(calls: int) -> int:
    """Call every operation of the API so often, read every bad file and kill what runs: longer than a test may last."""
    os.environ["CENOTE_SWEEP"] = str(calls)
    return test(["test_sweep", "test_bad_files", "test_bad_pictures", "test_bodies", "test_guard", "test_kills"])


def bench(names: list[str]) -> int:
    """Print figures."""
    was_up = database.up()
    prepare(tests=True)
    try:
        command = [python(), str(ROOT / "bench" / "main.py"), *names]
        return subprocess.run(command, env=environment(), cwd=ROOT).returncode
    finally:
        if not was_up:
            database.stop()


def main() -> int:
    """Read the command line and do it."""
    parser = argparse.ArgumentParser(
        prog="./cenote", description="Cenote: dress and age exterior scenes, in the browser."
    )
    commands = parser.add_subparsers(dest="command", required=True, metavar="command")
    starting = commands.add_parser("start", help="set up what is missing, start everything, stay until Ctrl-C")
    starting.add_argument("--port", type=int, help="port of the web address (8000, or the next free one)")
    commands.add_parser("stop", help="stop everything that start has started")
    commands.add_parser("status", help="say what is running")
    resetting = commands.add_parser("reset", help="delete all sites and begin anew with the demo site")
    resetting.add_argument("--yes", action="store_true", help="do not ask")
    testing = commands.add_parser("test", help="run every test and check")
    testing.add_argument("labels", nargs="*", help="only these test modules")
    sweeping = commands.add_parser("sweep", help="call every operation again and again, with bad files and kills")
    sweeping.add_argument("--calls", type=int, default=300, help="of each operation, in each of two manners")
    benching = commands.add_parser("bench", help="print figures, each with one to compare with")
    benching.add_argument("names", nargs="*", help="only figures whose names begin so")
    commands.add_parser("setup", help="set up what is missing and start nothing")
    commands.add_parser("help", help="show this")
    chosen = parser.parse_args()
    try:
        if chosen.command == "start":
            start(chosen.port)
        elif chosen.command == "stop":
            say(f"stopped: {', '.join(stop_from_outside()) or 'nothing was running'}")
        elif chosen.command == "status":
            status()
        elif chosen.command == "reset":
            reset(chosen.yes)
        elif chosen.command == "test":
            return test(chosen.labels)
        elif chosen.command == "sweep":
            return sweep(chosen.calls)
        elif chosen.command == "bench":
            return bench(chosen.names)
        elif chosen.command == "setup":
            setup.everything(tests=True)
        else:
            parser.print_help()
    except Trouble as trouble:
        say(str(trouble), error=True)
        return 1
    except KeyboardInterrupt:
        return 130
    return 0


if __name__ == "__main__":
    sys.exit(main())
