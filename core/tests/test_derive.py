"""What is derived from a document: masks, maps, what is covered and placed."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError
from shapes import card, graph_of, looked_at, placed_by, scene, small_site, square, where

from cenote.derive.cache import Cache, memory_cache
from cenote.derive.fields import CellField
from cenote.derive.graph import Cancelled, Graph
from cenote.derive.items import shown_scatters
from cenote.derive.maps import SurfaceMaps
from cenote.derive.masks import Mask, holds, part_natures
from cenote.derive.planting import LayerPlacements, SurfaceToFill
from cenote.derive.reports import covered, report
from cenote.derive.scene import WholeScene
from cenote.derive.site import Site
from cenote.derive.surfaces import Grid, ObjectCells, ObjectShape
from cenote.derive.wanted import fields_of_site
from cenote.geometry.build import box
from cenote.scatter.layer import MixItem, Scatter
from cenote.scatter.whole import fill
from cenote.signals.crevice import Crevice
from cenote.signals.noise import Noise
from cenote.signals.sky import SkyExposure
from cenote.signals.slope import Slope
from cenote.site.document import CoverLayer, SiteDocument, problem_in_words
from cenote.site.ground import Ground
from cenote.site.tallow_lock import tallow_lock
from cenote.structures.base import MAKERS
from cenote.weather.climate import Climate
from cenote.weather.moss import Moss
from cenote.weather.rust import Rust


def missing(graph: Graph) -> list:
    """What of a whole site is not measured."""
    return graph.missing(*fields_of_site(graph))


class DerivedTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.cache = memory_cache()

    def changed(self, **values) -> Graph:
        return graph_of(small_site(**values), self.cache)

    def test_areas_of_cells_add_up_to_the_surface(self) -> None:
        graph = self.changed()
        for id in graph.document.surface_ids():
            self.assertAlmostEqual(graph.get(ObjectCells(id)).area / graph.get(ObjectShape(id)).area, 1, delta=0.01)

    def test_a_ramp_needs_no_new_rays(self) -> None:
        graph = self.changed()
        graph.complete(fields_of_site(graph), lambda *_: None)
        layer = graph.document.weather[0]
        cards = tuple(one.model_copy(update={"full_at": one.full_at + 0.1}) for one in layer.where.cards)
        other = self.changed(weather=(layer.model_copy(update={"where": where(*cards)}),))
        self.assertEqual(missing(other), [])
        self.assertNotEqual(graph.key(SurfaceMaps("crates", 0)), other.key(SurfaceMaps("crates", 0)))

    def test_another_process_finds_what_was_measured(self) -> None:
        graph = self.changed()
        graph.complete(fields_of_site(graph), lambda *_: None)
        self.assertEqual(missing(graph_of(small_site(), Cache(self.cache.store))), [])

    def test_measuring_tells_how_far_it_is_and_can_be_stopped(self) -> None:
        graph = graph_of()
        before = missing(graph)
        told = []
        with self.assertRaises(Cancelled):
            graph.complete(
                fields_of_site(graph),
                lambda done, total, what: told.append((done, total, what)) or self.stop_at(done, 2),
            )
        self.assertEqual([t[0] for t in told], [0, 1, 2])
        self.assertEqual(told[0][1], len(before))
        self.assertIn(" on ", told[0][2])
        self.assertEqual(len(missing(graph)), len(before) - 2)

    def stop_at(self, done: int, last: int) -> None:
        if done >= last:
            raise Cancelled

    def test_coverage_is_exact_where_it_is_known(self) -> None:
        graph = self.changed(ground=Ground(size=(10, 10), relief=0, spacing=1), structures=(), weather=())
        half = where(card("slope", Slope(), 10, 10, inverted=True))
        self.assertAlmostEqual(report(graph, half, ["ground"]).covered, 100, delta=0.5)
        found = report(graph, where(card("noise", Noise(), 0.5, 0.5)), ["ground"])
        values = graph.get(CellField("ground", Noise(), 0))
        share = (values >= 0.5)[graph.get(ObjectCells("ground")).areas > 0].mean()
        self.assertAlmostEqual(found.covered / found.area, share, delta=0.005)
        self.assertAlmostEqual(found.cards[0].coverage, share, delta=0.005)
        self.assertAlmostEqual(found.cards[0].histogram.sum(), found.area, places=2)
        everywhere = report(graph, where(), ["ground"])
        self.assertAlmostEqual(everywhere.covered, everywhere.area, places=2)

    def test_a_cover_counts_where_it_holds_and_as_strongly_as_it_is_wanted(self) -> None:
        everywhere = CoverLayer(id="moss", cover=Moss(), surfaces=("ground",))
        flat = Ground(size=(10, 10), relief=0, spacing=1)
        graph = self.changed(ground=flat, structures=(), weather=(everywhere,), climate=Climate(years=100, damp=1))
        (layer,) = graph.document.weather
        whole = report(graph, layer.where, ["ground"], layer)
        held = float(holds(layer.cover.sits_on, part_natures(Site(graph), "ground"))[0])
        self.assertAlmostEqual(whole.covered / whole.area, held, places=3)
        weaker = layer.model_copy(update={"strengths": {"ground": 0.25}})
        self.assertAlmostEqual(report(graph, layer.where, ["ground"], weaker).covered, whole.covered / 4, places=2)
        rust = CoverLayer(id="rust", cover=Rust(), surfaces=("ground",))
        self.assertEqual(report(graph, rust.where, ["ground"], rust).covered, 0)
        taken, area = covered(graph, layer)
        self.assertAlmostEqual(area, 100, places=1)
        self.assertTrue(whole.covered * 0.9 < taken <= area)
        new = self.changed(ground=flat, structures=(), weather=(everywhere,), climate=Climate(years=0))
        self.assertEqual(covered(new, layer)[0], 0)

    def test_coarse_and_fine_masks_agree_on_average(self) -> None:
        graph = self.changed()
        rule = graph.document.weather[0].where.plain
        means = []
        for level in (-2, -1, 0, 1):
            mask, grid = graph.get(Mask("ground", rule, level)), graph.get(Grid("ground", level))
            self.assertEqual(mask.shape, grid.faces.shape)
            means.append(mask[grid.inside].mean())
        np.testing.assert_allclose(means, means[2], atol=0.02)

    def test_maps_come_in_the_asked_for_size(self) -> None:
        graph = self.changed()
        shape = graph.get(ObjectShape("crates"))
        for level in (shape.coarsest_level, 0, 1):
            maps = graph.get(SurfaceMaps("crates", level))
            self.assertEqual(maps.base.shape[:2], graph.get(Grid("crates", level)).faces.shape)
        self.assertLessEqual(shape.atlas.cell / 2 ** shape.level_for(0.01), 0.0125)
        self.assertEqual(shape.level_for(10), 0)

    def test_moss_on_the_ground_darkens_and_greens(self) -> None:
        def mean(years: float) -> np.ndarray:
            graph = self.changed(climate=small_site().climate.model_copy(update={"years": years}))
            inside = graph.get(Grid("crates", 0)).inside
            return graph.get(SurfaceMaps("crates", 0)).base[inside][:, :3].astype(float).mean(0)

        new, old = mean(0), mean(60)
        self.assertGreater(old[1] / old[0], new[1] / new[0])

    def test_placements_are_kept_and_follow_the_season(self) -> None:
        layer = Scatter(id="a", density=2, mix=(MixItem(item="fern"), MixItem(item="stone")))
        summer = self.changed(planting=(layer,))
        autumn = self.changed(planting=(layer,), climate=summer.document.climate.model_copy(update={"season": 1.0}))
        a, b = placed_by(summer, layer), placed_by(autumn, layer)
        self.assertIs(a, placed_by(summer, layer))
        np.testing.assert_array_equal(a.positions, b.positions)
        self.assertEqual(summer.key(LayerPlacements("a")), autumn.key(LayerPlacements("a")))
        self.assertEqual(shown_scatters(summer), [layer])

    def test_rules_read_from_cells_agree_with_rays_at_each_point(self) -> None:
        rule = where(card("crevice", Crevice(radius=1), 0.02, 0.3))
        layer = Scatter(id="a", density=20, spacing=0, mix=(MixItem(item="stone"),), where=rule)
        graph = self.changed(planting=(layer,))
        exact = fill(layer, graph.get(SurfaceToFill("ground")), graph.get(WholeScene()))
        kept = set(placed_by(graph, layer).ids) & set(exact.ids)
        self.assertGreater(len(kept) / len(exact), 0.85)


class DocumentTests(unittest.TestCase):
    def refused(self, **values) -> list[dict[str, str]]:
        base = small_site().model_dump(mode="json")
        with self.assertRaises(ValidationError) as caught:
            SiteDocument.model_validate(base | values)
        return problem_in_words(caught.exception.errors(include_url=False, include_context=False))

    def test_a_document_survives_json(self) -> None:
        for document in (small_site(), tallow_lock(), SiteDocument()):
            self.assertEqual(SiteDocument.model_validate(document.model_dump(mode="json")), document)

    def test_problems_are_told_by_field(self) -> None:
        found = self.refused(climate={"years": -1})
        self.assertEqual(found[0]["field"], "climate/years")
        self.assertIn("greater than or equal to 0", found[0]["message"])
        self.assertEqual(self.refused(ground={"spacing": 0})[0]["field"], "ground/spacing")
        self.assertIn("There is no material called", self.refused(ground={"material": "jelly"})[0]["message"])

    def test_ids_are_unique(self) -> None:
        crates = small_site().model_dump(mode="json")["structures"][0]
        self.assertIn("Two have the same id", self.refused(structures=[crates, crates])[0]["message"])
        self.assertIn("ground's own id", self.refused(structures=[crates | {"id": "ground"}])[0]["message"])

    def test_lookups(self) -> None:
        site = small_site()
        self.assertEqual(site.surface_ids(), ["ground", "crates"])
        self.assertEqual(site.structure("crates").name, "Crates")
        with self.assertRaises(KeyError):
            site.structure("nowhere")


class StructureTests(unittest.TestCase):
    def test_every_structure_is_built_of_known_materials_at_its_ends_too(self) -> None:
        from cenote.geometry.mesh import checked
        from cenote.materials.base import MATERIALS

        for maker in MAKERS:
            with self.subTest(maker.__name__):
                mesh = checked(maker().build())
                for part in mesh.part_names:
                    MATERIALS[maker().part_material(part)]
                self.assertGreater(mesh.bounds[1][1], 0)
                for end in ("minimum", "maximum"):
                    ends = {
                        name: entry[end]
                        for name, entry in maker.model_json_schema()["properties"].items()
                        if end in entry and entry["type"] in ("number", "integer")
                    }
                    self.assertTrue(len(checked(maker(**ends).build()).faces))

    def test_nothing_weathers_inside_a_sealed_box(self) -> None:
        room = box((-1, -1, -1), (1, 1, 1)).corners[:, ::-1]
        from shapes import samples

        from cenote.masks.where import chain
        from cenote.weather.moss import Moss

        cards = Moss.usual_where().cards
        at = samples([[0, -0.99, 0]])
        self.assertEqual(chain(cards, [one.signal.measure(at, scene(room=room)) for one in cards])[0], 0)
        outside = scene(ground=square(9))
        self.assertEqual(looked_at(SkyExposure(), outside), {"ground"})
