"""What something new begins with: complete, and of use as it is."""

from __future__ import annotations

import unittest

from shapes import graph_of

from cenote.derive.planting import LayerPlacements
from cenote.derive.wanted import fields_of_site
from cenote.site import starters
from cenote.site.document import SiteDocument
from cenote.site.ground import Ground
from cenote.site.references import dangling


class StarterTests(unittest.TestCase):
    def test_a_new_scatter_grows_on_bare_ground_as_it_is(self) -> None:
        layer = starters.scatter().model_copy(update={"surfaces": ("ground",)})
        document = SiteDocument(ground=Ground(size=(12, 12)), planting=(layer,))
        self.assertEqual(list(dangling(document)), [])
        graph = graph_of(document)
        graph.complete(fields_of_site(graph), lambda *_: None)
        placed = graph.get(LayerPlacements(layer.id))
        self.assertGreater(len(placed.ids), 40)
        self.assertEqual({layer.mix[row].item for row in set(placed.items.tolist())}, set(layer.kinds()))

    def test_names_are_for_people_and_ids_are_left_to_whoever_adds(self) -> None:
        self.assertEqual({starters.scatter().id, starters.painted_material().id}, {starters.NO_ID})
        self.assertEqual(starters.painted_material().strokes, ())
        self.assertIsNotNone(starters.pattern_layer().colour)
