"""What is derived from a document: from its own inputs alone, kept, and never stale."""

from __future__ import annotations

import threading
import time
import unittest

import numpy as np
from pydantic import ValidationError
from shapes import card, scene, small_site, square, where, workshop

from cenote.derive.cache import Cache, MemoryStore, key, pack_arrays, unpack_arrays
from cenote.derive.workshop import Cancelled, mesh_arrays, mesh_from_arrays
from cenote.geometry.build import box
from cenote.scatter.layer import MixItem, Scatter
from cenote.signals.crevice import Crevice
from cenote.signals.noise import Noise
from cenote.signals.slope import Slope
from cenote.site.document import CoverLayer, Placement, SiteDocument, Water, problem_in_words
from cenote.site.ground import Ground
from cenote.site.tallow_lock import tallow_lock
from cenote.structures.base import MAKERS
from cenote.weather.climate import Climate
from cenote.weather.moss import Moss
from cenote.weather.rust import Rust


class CacheTests(unittest.TestCase):
    def test_made_once_even_when_asked_for_at_once(self) -> None:
        cache, made = Cache(MemoryStore()), []

        def make() -> int:
            time.sleep(0.02)
            made.append(1)
            return 7

        threads = [threading.Thread(target=lambda: cache.get("a", make)) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual((len(made), cache.get("a", make)), (1, 7))

    def test_old_values_make_room_and_stored_ones_come_back(self) -> None:
        store = MemoryStore()
        cache = Cache(store, limit=5000)
        for k in range(5):
            cache.arrays(f"n{k}", lambda k=k: {"a": np.full(500, k, np.float32)})
        self.assertLessEqual(cache._held, 5000)

        def never() -> dict[str, np.ndarray]:
            raise AssertionError("made again")

        np.testing.assert_array_equal(cache.arrays("n0", never)["a"], 0)
        self.assertTrue(Cache(store).has_arrays("n3"))
        self.assertFalse(Cache(store).has_arrays("n9"))

    def test_a_failure_is_not_kept(self) -> None:
        cache = Cache(MemoryStore())

        def fail() -> int:
            raise ValueError

        with self.assertRaises(ValueError):
            cache.get("a", fail)
        self.assertEqual(cache.get("a", lambda: 3), 3)

    def test_keys_follow_inputs(self) -> None:
        self.assertEqual(key("a", {"x": 1, "y": 2}), key("a", {"y": 2, "x": 1}))
        self.assertNotEqual(key("a", 1), key("a", "1"))

    def test_arrays_survive_packing(self) -> None:
        arrays = {"a": np.arange(6, dtype=np.int32).reshape(2, 3), "b": np.zeros(0, np.float32)}
        back = unpack_arrays(pack_arrays(arrays))
        for name, array in arrays.items():
            np.testing.assert_array_equal(back[name], array)


class WorkshopTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.cache = Cache(MemoryStore())

    def changed(self, **values):
        return workshop(small_site(**values), self.cache)

    def test_areas_of_cells_add_up_to_the_surface(self) -> None:
        shop = self.changed()
        for id in shop.document.surface_ids():
            surface = shop.surface(id)
            self.assertAlmostEqual(shop.cells(surface).area / surface.area, 1, delta=0.01)

    def test_what_does_not_matter_changes_no_key(self) -> None:
        before, after = self.changed(), self.changed(water=Water(shown=True, level=-3))
        surface = before.surface("crates")
        self.assertEqual(before.maps_name(surface, 1), after.maps_name(after.surface("crates"), 1))

    def test_moving_an_object_changes_what_looks_at_it_only(self) -> None:
        before = self.changed()
        crates = before.document.structures[0]
        after = self.changed(structures=(crates.model_copy(update={"placement": Placement(position=(2, 0, 0))}),))
        ground = before.surface("ground"), after.surface("ground")
        self.assertEqual(before.signal_name(ground[0], Slope()), after.signal_name(ground[1], Slope()))
        self.assertEqual(before.signal_name(ground[0], Noise()), after.signal_name(ground[1], Noise()))
        self.assertNotEqual(before.signal_name(ground[0], Crevice()), after.signal_name(ground[1], Crevice()))

    def test_a_ramp_needs_no_new_rays(self) -> None:
        shop = self.changed()
        shop.measure(shop.unmeasured(shop.needs(shop.document.surface_ids())), lambda *_: None)
        layer = shop.document.weather[0]
        cards = tuple(one.model_copy(update={"full_at": one.full_at + 0.1}) for one in layer.where.cards)
        other = self.changed(weather=(layer.model_copy(update={"where": where(*cards)}),))
        self.assertEqual(other.unmeasured(other.needs(other.document.surface_ids())), [])
        self.assertNotEqual(shop.maps_name(shop.surface("crates"), 0), other.maps_name(other.surface("crates"), 0))

    def test_another_process_finds_what_was_measured(self) -> None:
        shop = self.changed()
        shop.measure(shop.unmeasured(shop.needs(shop.document.surface_ids())), lambda *_: None)
        fresh = workshop(small_site(), Cache(self.cache.store))
        self.assertEqual(fresh.unmeasured(fresh.needs(fresh.document.surface_ids())), [])

    def test_measuring_tells_how_far_it_is_and_can_be_stopped(self) -> None:
        shop = workshop()
        missing = shop.unmeasured(shop.needs(shop.document.surface_ids()))
        told = []
        with self.assertRaises(Cancelled):
            shop.measure(
                missing, lambda done, total, what: told.append((done, total, what)) or self.stop_after(done, 2)
            )
        self.assertEqual([t[0] for t in told], [0, 1, 2])
        self.assertEqual(told[0][1], len(missing))
        self.assertEqual(len(shop.unmeasured(shop.needs(shop.document.surface_ids()))), len(missing) - 2)

    def stop_after(self, done: int, last: int) -> None:
        if done >= last:
            raise Cancelled

    def test_coverage_is_exact_where_it_is_known(self) -> None:
        shop = self.changed(ground=Ground(size=(10, 10), relief=0, spacing=1), structures=(), weather=())
        half = where(card("slope", Slope(), 10, 10, inverted=True))
        self.assertAlmostEqual(shop.reports.report(half, ["ground"]).covered, 100, delta=0.5)
        report = shop.reports.report(where(card("noise", Noise(), 0.5, 0.5)), ["ground"])
        values = shop.signal_on_cells(shop.surface("ground"), Noise())
        share = (values >= 0.5)[shop.cells(shop.surface("ground")).areas > 0].mean()
        self.assertAlmostEqual(report.covered / report.area, share, delta=0.005)
        self.assertAlmostEqual(report.cards[0].coverage, share, delta=0.005)
        self.assertAlmostEqual(report.cards[0].histogram.sum(), report.area, places=2)
        everywhere = shop.reports.report(where(), ["ground"])
        self.assertAlmostEqual(everywhere.covered, everywhere.area, places=2)

    def test_a_cover_counts_where_it_holds_and_as_strongly_as_it_is_wanted(self) -> None:
        everywhere = CoverLayer(id="moss", cover=Moss(), surfaces=("ground",))
        shop = self.changed(ground=Ground(size=(10, 10), relief=0, spacing=1), structures=(), weather=(everywhere,),
                            climate=Climate(years=100, damp=1))  # fmt: skip
        (layer,) = shop.document.weather
        whole = shop.reports.report(layer.where, ["ground"], layer)
        holds = float(shop.holds(layer, shop.surface("ground"))[0])
        self.assertAlmostEqual(whole.covered / whole.area, holds, places=3)
        weaker = layer.model_copy(update={"strengths": {"ground": 0.25}})
        self.assertAlmostEqual(
            shop.reports.report(layer.where, ["ground"], weaker).covered, whole.covered / 4, places=2
        )
        rust = CoverLayer(id="rust", cover=Rust(), surfaces=("ground",))
        self.assertEqual(shop.reports.report(rust.where, ["ground"], rust).covered, 0)
        covered, area = shop.reports.covered(layer)
        self.assertAlmostEqual(area, 100, places=1)
        self.assertTrue(whole.covered * 0.9 < covered <= area)
        new = self.changed(ground=Ground(size=(10, 10), relief=0, spacing=1), structures=(), weather=(everywhere,),
                           climate=Climate(years=0))  # fmt: skip
        self.assertEqual(new.reports.covered(layer)[0], 0)

    def test_coarse_and_fine_masks_agree_on_average(self) -> None:
        shop = self.changed()
        surface, rule = shop.surface("ground"), shop.document.weather[0].where
        means = []
        for level in (-2, -1, 0, 1):
            mask, grid = shop.mask(surface, rule, level), shop.grid(surface, level)
            self.assertEqual(mask.shape, grid.faces.shape)
            means.append(mask[grid.inside].mean())
        np.testing.assert_allclose(means, means[2], atol=0.02)

    def test_maps_come_in_the_asked_for_size(self) -> None:
        shop = self.changed()
        surface = shop.surface("crates")
        for level in (surface.coarsest_level, 0, 1):
            maps = shop.maps(surface, level)
            self.assertEqual(maps.base.shape[:2], shop.grid(surface, level).faces.shape)
        self.assertLessEqual(surface.atlas.cell / 2 ** surface.level_for(0.01), 0.0125)
        self.assertEqual(surface.level_for(10), 0)

    def test_moss_on_the_ground_darkens_and_greens(self) -> None:
        def mean(years: float) -> np.ndarray:
            shop = self.changed(climate=small_site().climate.model_copy(update={"years": years}))
            surface = shop.surface("crates")
            grid = shop.grid(surface, 0)
            return shop.maps(surface, 0).base[grid.inside][:, :3].astype(float).mean(0)

        new, old = mean(0), mean(60)
        self.assertGreater(old[1] / old[0], new[1] / new[0])

    def test_placements_are_kept_and_follow_the_season(self) -> None:
        layer = Scatter(id="a", density=2, mix=(MixItem(item="fern"), MixItem(item="stone")))
        summer = self.changed(planting=(layer,))
        autumn = self.changed(planting=(layer,), climate=summer.document.climate.model_copy(update={"season": 1.0}))
        a, b = summer.placements(layer), autumn.placements(layer)
        self.assertIs(a, summer.placements(layer))
        np.testing.assert_array_equal(a.positions, b.positions)
        self.assertEqual(summer.placements_name(layer), autumn.placements_name(layer))
        self.assertEqual(list(summer.shown_scatters()), [layer])

    def test_rules_read_from_cells_agree_with_rays_at_each_point(self) -> None:
        from cenote.scatter.fill import fill

        rule = where(card("crevice", Crevice(radius=1), 0.02, 0.3))
        layer = Scatter(id="a", density=20, spacing=0, mix=(MixItem(item="stone"),), where=rule)
        shop = self.changed(planting=(layer,))
        exact = fill(layer, shop.planting.fill_surface(shop.surface("ground")), shop.scene)
        kept = set(shop.placements(layer).ids) & set(exact.ids)
        self.assertGreater(len(kept) / len(exact), 0.85)

    def test_meshes_survive_the_store(self) -> None:
        mesh = box((0, 0, 0), (1, 2, 3), "a part")
        self.assertEqual(mesh_from_arrays(unpack_arrays(pack_arrays(mesh_arrays(mesh)))).digest(), mesh.digest())


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
        self.assertIn("million points", self.refused(ground={"size": [2000, 2000], "spacing": 0.1})[0]["message"])
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
        self.assertEqual(len(outside.digest()), 1)
