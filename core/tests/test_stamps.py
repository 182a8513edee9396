"""Stamps follow what a module imports, its data files and the versions of packages; and nothing else."""

from __future__ import annotations

import importlib
import sys
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from cenote.derive import stamps
from cenote.derive.digest import digest
from cenote.signals.crevice import Crevice
from cenote.signals.slope import Slope

_FORGOTTEN = (stamps.stamp_of, stamps.closure, stamps._file, stamps._data, stamps._imports, stamps.version_of)


def forget() -> None:
    """Forget what was read from files, as a new process would."""
    for function in _FORGOTTEN:
        function.cache_clear()


class StampTests(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.addCleanup(forget)
        self.package = Path(self.folder.name) / "stamped"
        (self.package / "fonts").mkdir(parents=True)
        self.write("__init__", "")
        self.write("low", "import math\nimport numpy as np\n")
        self.write("plugin", "from . import low\n")
        self.write("other", "from .low import np\n")
        self.write("typed", "from typing import TYPE_CHECKING\nif TYPE_CHECKING:\n    from . import plugin\n")
        self.write("late", "def later():\n    from .plugin import low\n")
        sys.path.insert(0, self.folder.name)
        self.addCleanup(sys.path.remove, self.folder.name)
        importlib.invalidate_caches()

    def write(self, name: str, text: str) -> None:
        (self.package / f"{name}.py").write_text(text)

    def stamps(self) -> dict[str, str]:
        forget()
        return {name: stamps.stamp_of(f"stamped.{name}") for name in ("low", "plugin", "other", "typed", "late")}

    def changed(self, before: dict[str, str]) -> set[str]:
        return {name for name, stamp in self.stamps().items() if stamp != before[name]}

    def test_a_change_reaches_what_imports_it_and_nothing_else(self) -> None:
        before = self.stamps()
        self.write("plugin", "from . import low\n# another thought\n")
        self.assertEqual(self.changed(before), {"plugin", "late"})
        before = self.stamps()
        self.write("low", "import numpy as np\n")
        self.assertEqual(self.changed(before), {"low", "plugin", "other", "late"})

    def test_data_files_beside_a_module_count(self) -> None:
        before = self.stamps()
        (self.package / "fonts" / "plain.ttf").write_bytes(b"outlines")
        self.assertEqual(self.changed(before), set(before))

    def test_versions_of_packages_count(self) -> None:
        before = self.stamps()
        forget()
        with patch.object(stamps.metadata, "version", lambda name: "99"):
            now = {name: stamps.stamp_of(f"stamped.{name}") for name in before}
        self.assertEqual({name for name in before if now[name] != before[name]}, {"low", "plugin", "other", "late"})

    def test_a_signal_counts_with_its_own_code(self) -> None:
        ours, packages = stamps.closure("cenote.signals.crevice")
        self.assertIn("cenote.geometry.rays", ours)
        self.assertNotIn("cenote.signals.slope", ours)
        self.assertLessEqual({"numpy", "embreex", "numba"}, packages)
        self.assertNotEqual(digest(Crevice()), digest(Slope()))

    def test_no_targets_stamp_holds_how_values_are_kept_and_asked_for(self) -> None:
        # Whoever mends these does not have every site measured anew.
        for module in ("fields", "masks", "maps", "planting", "coats", "sheets", "items", "tiles", "meshes", "reports"):
            ours, _ = stamps.closure(f"cenote.derive.{module}")
            with self.subTest(module):
                self.assertFalse({f"cenote.derive.{one}" for one in ("graph", "cache", "memory")} & set(ours))

    def test_no_targets_stamp_holds_a_member_of_a_family(self) -> None:
        members = ("weather.moss", "weather.snow", "kit.fern", "structures.building", "materials.shipped.brick",
                   "signals.runoff", "site.tallow_lock", "site.document")  # fmt: skip
        for module in ("fields", "masks", "maps", "planting", "coats", "sheets", "items", "tiles", "meshes"):
            ours, _ = stamps.closure(f"cenote.derive.{module}")
            with self.subTest(module):
                self.assertEqual([one for one in members if f"cenote.{one}" in ours], [])
