"""A PostgreSQL cluster of our own, on loopback. As root it runs under an unprivileged user, as PostgreSQL demands."""

from __future__ import annotations

import hashlib
import os
import pwd
import shutil
import subprocess
from pathlib import Path

from launch.common import VAR, Trouble, free_port, port_taken, run, say, secret, state, write_state

# How often a start is tried, each time on another port.
_TRIALS = 6


def _programs() -> Path:
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(p.parts[-3].split(".")[0]))
    if not found:
        raise Trouble("PostgreSQL's programs are missing. As root: apt-get install postgresql")
    return found[-1].parent


def _user() -> str | None:
    """The user the cluster runs under; None for the present one."""
    if os.geteuid():
        return None
    try:
        return pwd.getpwnam("postgres").pw_name
    except KeyError:
        run(
            ["useradd", "--system", "--no-create-home", "--shell", "/usr/sbin/nologin", "cenote-db"],
            "making a database user",
        )
        return "cenote-db"


def _as_user(command: list[str]) -> list[str]:
    user = _user()
    return ["runuser", "-u", user, "--", *command] if user else command


def folder() -> Path:
    """Where the cluster lies: in var, or under /var/lib where its user cannot reach var."""
    known = state().get("db_folder")
    if known:
        return Path(known)
    place = VAR / "postgres"
    if _user():
        VAR.mkdir(parents=True, exist_ok=True)
        reach = subprocess.run(_as_user(["test", "-x", str(VAR)]), capture_output=True)
        if reach.returncode:
            place = Path("/var/lib") / f"cenote-{hashlib.sha256(str(VAR).encode()).hexdigest()[:10]}"
    return place


def _control(*arguments: str) -> subprocess.CompletedProcess[str]:
    command = [str(_programs() / "pg_ctl"), "-D", str(folder() / "data"), *arguments]
    return subprocess.run(_as_user(command), capture_output=True, text=True, cwd="/")


def up() -> bool:
    """Whether our cluster runs."""
    if not state().get("db_port") or not list(Path("/usr/lib/postgresql").glob("*/bin/pg_ctl")):
        return False
    return _control("status").returncode == 0


def _make() -> None:
    place = folder()
    shutil.rmtree(place / "data", ignore_errors=True)
    place.mkdir(parents=True, exist_ok=True)
    secret_file = place / "first-password"
    secret_file.write_text(secret("db_password") + "\n")
    user = _user()
    if user:
        for path in (place, secret_file):
            shutil.chown(path, user, pwd.getpwnam(user).pw_gid)
    secret_file.chmod(0o600)
    say("making a database cluster")
    run(
        _as_user([str(_programs() / "initdb"), "-D", str(place / "data"), "-U", "cenote", "-A", "scram-sha-256",
                  "--pwfile", str(secret_file), "-E", "UTF8", "--locale=C.UTF-8"]),
        "making the database cluster",
        cwd=Path("/"),
    )  # fmt: skip
    secret_file.unlink()
    write_state(db_folder=str(place), db_made=True)


def start() -> None:
    """Start the cluster; make it first where it is not there or was left half made."""
    # The mark is written last, so that an interrupted first set-up is begun again.
    if not state().get("db_made") or not (folder() / "data" / "PG_VERSION").exists():
        _make()
    for trial in range(_TRIALS):
        if up():
            break
        port = state().get("db_port")
        if not port or port_taken(port):
            port = free_port(54320 + trial)
            write_state(db_port=port)
        options = (
            f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories={folder()} -c max_connections=200"
        )
        started = _control("start", "-w", "-t", "30", "-l", str(folder() / "log"), "-o", options)
        # Somebody else may have taken the port since it was looked at: another start at the same moment.
        if started.returncode and (trial == _TRIALS - 1 or not port_taken(port)):
            log = folder() / "log"
            tail = log.read_text(errors="replace")[-800:] if log.exists() else ""
            raise Trouble(f"the database did not start. Its data is untouched in {folder()}.\n{started.stderr}{tail}")
    env = os.environ | {"PGPASSWORD": secret("db_password")}
    psql = [str(_programs() / "psql"), "-h", "127.0.0.1", "-p", str(state()["db_port"]), "-U", "cenote", "-tA"]
    there = run(
        [*psql, "-d", "postgres", "-c", "SELECT 1 FROM pg_database WHERE datname = 'cenote'"],
        "asking the database",
        env=env,
    )
    if there.strip() != "1":
        run([*psql, "-d", "postgres", "-c", "CREATE DATABASE cenote"], "making the database", env=env)


def stop() -> bool:
    """Stop the cluster if it runs; say whether it did."""
    if not up():
        return False
    _control("stop", "-m", "fast", "-w", "-t", "30")
    return True


def destroy() -> None:
    """Delete the cluster and all that is in it."""
    stop()
    shutil.rmtree(folder(), ignore_errors=True)
    write_state(db_made=False, db_folder="")
