"""Every check and test, one after another; all are run even if one fails."""

from __future__ import annotations

import subprocess
import time

from launch.common import ROOT, environment, python, say


def run(labels: list[str]) -> int:
    """Run everything; with labels only Django's test runner on those.

    :returns: 0 if all passed.
    """
    manage = [python(), str(ROOT / "server" / "manage.py"), "test", "--noinput"]
    steps: list[tuple[str, list[str]]] = [
        ("ruff check", [python(), "-m", "ruff", "check", "."]),
        ("ruff format", [python(), "-m", "ruff", "format", "--check", "."]),
        ("mypy", [python(), "-m", "mypy"]),
        ("types from the schema", ["npm", "--prefix", "web", "run", "--silent", "types"]),
        ("tsc", ["npx", "--prefix", "web", "tsc", "-b", "web"]),
        ("eslint and prettier", ["npm", "--prefix", "web", "run", "--silent", "lint"]),
        ("vitest", ["npm", "--prefix", "web", "test", "--silent"]),
        ("tests", manage),
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
