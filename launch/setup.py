"""Setting the machine up: Debian's packages, the virtual environment, the web application. Each step is done once."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

from launch.common import ROOT, VAR, Trouble, environment, python, run, say, state, write_state

WEB = ROOT / "web"


def _digest(*paths: Path) -> str:
    sha = hashlib.sha256(sys.version.encode())
    for path in paths:
        files = sorted(p for p in path.rglob("*") if p.is_file()) if path.is_dir() else [path]
        for file in files:
            sha.update(file.relative_to(ROOT).as_posix().encode())
            sha.update(file.read_bytes() if file.exists() else b"")
    return sha.hexdigest()


def _node_is_new_enough() -> bool:
    if not (shutil.which("node") and shutil.which("npm")):
        return False
    version = subprocess.run(["node", "--version"], capture_output=True, text=True).stdout.strip().lstrip("v")
    return int(version.split(".")[0] or 0) >= 18


def _has_venv() -> bool:
    return subprocess.run([sys.executable, "-c", "import ensurepip, venv"], capture_output=True).returncode == 0


def debian_packages(tests: bool) -> None:
    """Install what is missing from Debian's packages.

    :raises Trouble: if something is missing and cannot be installed from here.
    """
    if sys.version_info < (3, 11):  # noqa: UP036 - the start command may be run by any Python
        raise Trouble(f"Python 3.11 or newer is needed; this is {sys.version.split()[0]}.")
    missing = []
    if not any(Path("/usr/lib/postgresql").glob("*/bin/initdb")):
        missing.append("postgresql")
    if not _node_is_new_enough():
        missing += ["nodejs", "npm"]
    if not _has_venv():
        missing.append("python3-venv")
    if tests and not shutil.which("chromium"):
        missing.append("chromium")
    if not missing:
        return
    names = " ".join(missing)
    if not shutil.which("apt-get"):
        raise Trouble(
            f"these programs are missing: {names}. This is no Debian machine; install them, then start again."
        )
    command = ["apt-get"] if os.geteuid() == 0 else ["sudo", "-n", "apt-get"]
    if (
        os.geteuid() and subprocess.run(["sudo", "-n", "true"], capture_output=True).returncode
        if shutil.which("sudo")
        else os.geteuid()
    ):
        raise Trouble(f"some Debian packages are missing. As root: apt-get install {names}. Then start again.")
    say(f"installing from Debian's packages: {names}")
    env = os.environ | {"DEBIAN_FRONTEND": "noninteractive"}
    run([*command, "update", "-qq"], "apt-get update", env=env)
    # Debian would start a cluster of its own for postgresql; ours needs the programs alone.
    if "postgresql" in missing and os.geteuid() == 0:
        Path("/etc/postgresql-common").mkdir(exist_ok=True)
        conf = Path("/etc/postgresql-common/createcluster.conf")
        if not conf.exists():
            conf.write_text("create_main_cluster = false\n")
    run([*command, "install", "-y", "-qq", "--no-install-recommends", *missing], f"installing {names}", env=env)


def virtual_environment() -> None:
    """Make the virtual environment, or bring it to the locked versions."""
    lock = ROOT / "requirements.lock"
    wanted = _digest(lock)
    if state().get("venv") == wanted and Path(python()).exists():
        return
    say("installing Python packages")
    if (
        not Path(python()).exists()
        or subprocess.run([python(), "-m", "pip", "--version"], capture_output=True).returncode
    ):
        shutil.rmtree(VAR / "venv", ignore_errors=True)
        run([sys.executable, "-m", "venv", str(VAR / "venv")], "making the virtual environment")
    # All that is needed is locked; what some packages name besides, for graphics cards, is not.
    pip = [python(), "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-deps", "-r", str(lock)]
    run(pip, "installing Python packages (this needs the network once)")
    write_state(venv=wanted)


def web_application() -> None:
    """Install the locked npm packages, and build the web application when its source has changed."""
    lock = _digest(WEB / "package.json", WEB / "package-lock.json")
    if state().get("npm") != lock or not (WEB / "node_modules").is_dir():
        say("installing npm packages")
        npm = ["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"]
        run(npm, "installing npm packages (this needs the network once)", cwd=WEB)
        write_state(npm=lock)
    sources = [WEB / name for name in ("src", "public", "index.html", "vite.config.ts", "package-lock.json")]
    source = _digest(*sources, ROOT / "server" / "schema" / "openapi.json")
    if state().get("web") != source or not (WEB / "dist" / "index.html").exists():
        say("building the web application")
        run(["npm", "run", "build"], "building the web application", cwd=WEB)
        # Sent as they are: nothing is compressed while somebody waits.
        run([python(), "-m", "whitenoise.compress", "--quiet", str(WEB / "dist")], "compressing the web application")
        write_state(web=source)


def old_kernels() -> None:
    """Delete compiled kernels of sources that are not these any more."""
    kept = Path(environment()["NUMBA_CACHE_DIR"])
    for path in kept.parent.glob("*"):
        if path != kept:
            shutil.rmtree(path, ignore_errors=True)


def everything(tests: bool) -> None:
    """All steps that are not done yet."""
    VAR.mkdir(parents=True, exist_ok=True)
    debian_packages(tests)
    virtual_environment()
    old_kernels()
    web_application()
