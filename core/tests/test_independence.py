"""The core stands alone: no web, no database, no interface."""

from __future__ import annotations

import ast
import subprocess
import sys
import unittest
from pathlib import Path

import cenote

ROOT = Path(cenote.__file__).parent
FORBIDDEN = {"django", "ninja", "procrastinate", "psycopg", "sites", "jobs", "derived", "accounts", "config", "launch"}

EVERYTHING = """
import importlib, pkgutil, sys, cenote
for module in pkgutil.walk_packages(cenote.__path__, "cenote."):
    importlib.import_module(module.name)
loaded = {name.split(".")[0] for name in sys.modules}
print(sorted(loaded & set(sys.argv[1:])))
"""


class IndependenceTests(unittest.TestCase):
    def test_no_source_imports_what_lies_above(self) -> None:
        for path in ROOT.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                names = []
                if isinstance(node, ast.Import):
                    names = [alias.name for alias in node.names]
                elif isinstance(node, ast.ImportFrom) and not node.level:
                    names = [node.module or ""]
                found = {name.split(".")[0] for name in names} & FORBIDDEN
                self.assertFalse(found, f"{path.relative_to(ROOT)} imports {found}")

    def test_importing_all_of_it_loads_no_django(self) -> None:
        command = [sys.executable, "-c", EVERYTHING, *sorted(FORBIDDEN)]
        done = subprocess.run(command, capture_output=True, text=True, env={"PYTHONPATH": str(ROOT.parent)}, check=True)
        self.assertEqual(done.stdout.strip(), "[]")
