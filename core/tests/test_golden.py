"""Arrays of every family on small sites, against what they were: nothing changes by accident.

Where a change is meant, ``python core/tests/golden.py`` writes the new ones; look at what it says has changed.
"""

from __future__ import annotations

import unittest

from golden import different, kept
from golden_arrays import families, measured, planted, weathered


class GoldenTests(unittest.TestCase):
    def check(self, found) -> None:
        before = kept()
        told = different(found, {name: before[name] for name in found if name in before})
        self.assertEqual(told, [], "meant? then python core/tests/golden.py")

    def test_structures_kit_materials_and_decals(self) -> None:
        self.check(families())

    def test_placed_items_and_their_looks(self) -> None:
        self.check(planted())

    def test_ground_layouts_and_signals(self) -> None:
        self.check(measured())

    def test_covers_maps_sheets_and_coats(self) -> None:
        self.check(weathered())

    def test_every_kept_array_is_still_made(self) -> None:
        made = {name.partition("/")[0] for name in kept()}
        self.assertEqual(len(made), 16)
