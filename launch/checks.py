"""Every check and test, one after another; all are run even if one fails."""

from __future__ import annotations

import os
import subprocess
import time
from pathlib import Path

from launch.common import ROOT, environment, python, say

# Folders whose tests run in processes side by side; those that drive a browser need the machine for themselves.
SIDE_BY_SIDE, IN_THE_BROWSER = ("core/tests", "server/tests"), "tests"


def run(labels: list[str]) -> int:
    """Run everything; with labels only Django's test runner on those: folders, modules, classes or single tests.

    :returns: 0 if all passed.
    """
    manage = [python(), str(ROOT / "server" / "manage.py"), "test", "--noinput"]
    many = [*manage, "--parallel", str(len(os.sched_getaffinity(0)))]
    steps: list[tuple[str, list[str]]] = [
        ("ruff check", [python(), "-m", "ruff", "check", "."]),
        ("ruff format", [python(), "-m", "ruff", "format", "--check", "."]),
        ("mypy", [python(), "-m", "mypy"]),
        ("imports", [str(Path(python()).parent / "lint-imports"), "--no-cache"]),
        ("types from the schema", ["npm", "--prefix", "web", "run", "--silent", "types"]),
        ("tsc", ["npx", "--prefix", "web", "tsc", "-b", "web"]),
        ("eslint and prettier", ["npm", "--prefix", "web", "run", "--silent", "lint"]),
        ("vitest", ["npm", "--prefix", "web", "test", "--silent"]),
        ("tests of core and server", [*many, *SIDE_BY_SIDE]),
        ("tests in the browser", [*manage, IN_THE_BROWSER]),
    ]
    if labels:
        steps = [("tests", [*manage, *labels])]
    failed = []
    for name, command in steps:
        began = time.monotonic()
        say(f"{name} …")
        code = subprocess.run(command, cwd=ROOT, env=environment()).returncode
        say(f"{name}: {'passed' if code == 0 else 'FAILED'} in {time.monotonic() - began:.0f} s")
        if code:
            failed.append(name)
    say(f"failed: {', '.join(failed)}" if failed else "everything passed")
    return 1 if failed else 0
