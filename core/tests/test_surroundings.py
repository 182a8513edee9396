"""The land around a site: it joins the ground, looks as its edge does, and is no part of what is measured."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import graph_of, small_site

from cenote.derive.ground import GroundHeights
from cenote.derive.surfaces import ObjectShape
from cenote.derive.surroundings import Land, Surroundings
from cenote.geometry.skirt import border
from cenote.masks.where import Where
from cenote.signals.around import GROUND
from cenote.site.document import CoverLayer, SiteDocument
from cenote.site.ground import Ground, PaintedMaterial, PaintStroke
from cenote.weather.climate import Climate
from cenote.weather.snow import Snow


def land_of(document: SiteDocument) -> tuple[Land, np.ndarray]:
    """The land around a site, and the edge of its ground, float32 (N, 3)."""
    graph = graph_of(document)
    target = Surroundings(graph.get(ObjectShape(GROUND)).coarsest_level)
    graph.complete([target], lambda *_: None)
    at = border(*document.ground.grid()[0].shape)
    return graph.get(target), graph.get(ObjectShape(GROUND)).mesh.positions[at]


class SurroundingsTests(unittest.TestCase):
    def test_it_begins_with_the_very_edge_of_the_ground(self) -> None:
        land, edge = land_of(SiteDocument(ground=Ground(size=(9, 6), relief=1.5, swell=3)))
        np.testing.assert_array_equal(land.positions[: len(edge)], edge)
        self.assertGreater(np.abs(land.positions[:, [0, 2]]).max(), 1400)
        np.testing.assert_allclose(np.linalg.norm(land.normals, axis=1), 1, atol=1e-5)

    def test_it_is_as_the_edge_looks_and_evens_out(self) -> None:
        bare = Ground(size=(9, 6), relief=0, material="soil")
        stroke = PaintStroke(adds=True, radius=2.5, strength=1, soft=0.1, path=((4.4, -3.0), (4.4, 3.0)))
        paint = PaintedMaterial(id="gravel", name="Gravel", material="gravel", strokes=(stroke,))
        painted = bare.model_copy(update={"paints": (paint,)})
        plain, edge = land_of(SiteDocument(ground=bare))
        gravelly, _ = land_of(SiteDocument(ground=painted))
        np.testing.assert_allclose(plain.tints[: len(edge)], 1, atol=0.35)
        east = np.flatnonzero(edge[:, 0] > 4.4)
        west = np.flatnonzero(edge[:, 0] < -4.4)
        self.assertTrue(plain.textured and gravelly.textured)
        self.assertGreater(gravelly.tints[east].mean() / plain.tints[east].mean(), 1.5)
        self.assertAlmostEqual(gravelly.tints[west].mean() / plain.tints[west].mean(), 1, delta=0.05)
        # Far away all of it is of one colour.
        far = np.linalg.norm(gravelly.positions[:, [0, 2]], axis=1) > 900
        self.assertLess(gravelly.tints[far].std(0).max(), 0.01)

    def test_under_snow_it_is_white_and_the_ground_is_not_seen(self) -> None:
        snow = CoverLayer(id="snow", name="Snow", cover=Snow(), where=Where(), surfaces=(GROUND,))
        deep = Climate(snow=0.3, season=1)
        land, _ = land_of(SiteDocument(ground=Ground(size=(9, 6), relief=0), weather=(snow,), climate=deep))
        self.assertFalse(land.textured)
        self.assertGreater(land.tints.min(), 0.5)

    def test_having_it_or_not_measures_nothing_anew(self) -> None:
        document = small_site()
        ends = document.model_copy(update={"ground": document.ground.model_copy(update={"goes_on": False})})
        self.assertEqual(graph_of(document).key(GroundHeights()), graph_of(ends).key(GroundHeights()))
