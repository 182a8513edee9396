"""The demo sites: whole documents, rivers that hold water, things that stand on what is below them."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.ndimage import map_coordinates
from shapes import graph_of

from cenote.derive.surfaces import ObjectShape
from cenote.site.bell_after_rain import bell_after_rain
from cenote.site.document import SiteDocument
from cenote.site.gravel_reach import gravel_reach, river
from cenote.site.tallow_lock import tallow_lock


def height_at(document: SiteDocument, points: np.ndarray) -> np.ndarray:
    """Ground heights at (x, z) points, metres."""
    x, z = document.ground.grid()
    rows = (points[:, 1] - z[0, 0]) / (z[1, 0] - z[0, 0])
    columns = (points[:, 0] - x[0, 0]) / (x[0, 1] - x[0, 0])
    return map_coordinates(document.ground.heights(), [rows, columns], order=1, mode="nearest")


class DemoSiteTests(unittest.TestCase):
    def test_they_are_the_same_each_time_and_survive_being_written_down(self) -> None:
        for make in (tallow_lock, bell_after_rain, gravel_reach):
            with self.subTest(make.__name__):
                text = make().model_dump_json()
                self.assertEqual(text, make().model_dump_json())
                self.assertEqual(SiteDocument.model_validate_json(text).model_dump_json(), text)

    def test_the_river_runs_full_from_end_to_end_between_dry_banks(self) -> None:
        document = gravel_reach()
        middle = np.array(river(200))
        middle = middle[np.abs(middle[:, 0]) < 490]
        self.assertTrue((height_at(document, middle) < document.water.level - 0.3).all())
        beside = middle + np.array([0, 75.0])
        self.assertGreater((height_at(document, beside) > document.water.level).mean(), 0.9)

    def test_kit_pieces_of_the_yard_stand_on_the_ground(self) -> None:
        document = tallow_lock()
        for structure in document.structures:
            if structure.source.kind != "kit_piece":
                continue
            x, y, z = structure.placement.position
            below = float(height_at(document, np.array([[x, z]]))[0])
            # Bollards and the like stand on coping stones, up to some centimetres above the ground beside them.
            self.assertLess(abs(y - below), 0.25, structure.name)

    def test_the_bell_stands_on_its_shelf(self) -> None:
        graph = graph_of(bell_after_rain())
        shelf, bell = (graph.get(ObjectShape(id)).corners.reshape(-1, 3) for id in ("shelf", "bell"))
        self.assertAlmostEqual(bell[:, 1].min(), 0.901, delta=0.004)
        self.assertGreater(bell[:, 1].min(), np.percentile(shelf[:, 1], 60) - 0.01)
