"""A workshop that takes over from the one before it: the same results, and less to find out."""

from __future__ import annotations

import unittest
from unittest.mock import patch

import numpy as np
from shapes import card, small_site, where

from cenote.derive.cache import Cache, MemoryStore
from cenote.derive.workshop import Workshop
from cenote.scatter.layer import MixItem, Scatter
from cenote.signals.leaf_fall import LeafFall
from cenote.signals.noise import Noise
from cenote.signals.slope import Slope
from cenote.site.document import CoverLayer, Placement, SiteDocument
from cenote.site.ground import Ground
from cenote.weather.climate import Climate
from cenote.weather.dirt import Dirt
from cenote.weather.moss import Moss

STEEP = where(card("slope", Slope(), 0, 40))
SURFACES = ("crates", "ground")


def site(**changes) -> SiteDocument:
    """The small site with two covers."""
    weather = (
        CoverLayer(id="moss", cover=Moss(), where=Moss.usual_where(), surfaces=SURFACES),
        CoverLayer(id="dirt", cover=Dirt(), where=STEEP, surfaces=SURFACES),
    )
    return small_site(weather=weather).model_copy(update=changes)


def dragged(document: SiteDocument, full: float) -> SiteDocument:
    """The site with the ramp of its dirt changed."""
    moss, dirt = document.weather
    changed = dirt.model_copy(update={"where": where(card("slope", Slope(), 0, full))})
    return document.model_copy(update={"weather": (moss, changed)})


class TakingOverTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        # What is made without a workshop before it is kept apart.
        cls.cache, cls.apart = Cache(MemoryStore()), Cache(MemoryStore())

    def setUp(self) -> None:
        self.saved = Workshop(site(), self.cache)
        for id in SURFACES:
            self.saved.maps(self.saved.surface(id), 0)

    def after(self, document: SiteDocument) -> Workshop:
        # As it is read from a request: nothing in it is the same object.
        read = SiteDocument.model_validate(document.model_dump(mode="json"))
        return Workshop(read, self.cache, before=self.saved)

    def assert_as_fresh(self, made: Workshop) -> None:
        fresh = Workshop(made.document, self.apart)
        for id in made.document.surface_ids():
            one, other = made.surface(id), fresh.surface(id)
            self.assertEqual(made.maps_name(one, 0), fresh.maps_name(other, 0))
            np.testing.assert_array_equal(made.preview_maps(one, -1).base, fresh.preview_maps(other, -1).base)

    def test_a_dragged_ramp_gives_what_a_fresh_start_would(self) -> None:
        looked = []
        for full in (1, 8, 60):
            made = self.after(dragged(self.saved.document, full))
            self.assert_as_fresh(made)
            looked.append(made.preview_maps(made.surface("ground"), -1).base.astype(float).mean())
        self.assertGreater(len(set(looked)), 1)

    def test_what_is_the_same_is_not_found_out_again(self) -> None:
        self.after(dragged(self.saved.document, 30)).preview_maps(self.saved.surface("crates"), -1)
        made = self.after(dragged(self.saved.document, 50))
        with (
            patch.object(Workshop, "_make_surface", side_effect=AssertionError("made again")),
            patch("cenote.derive.workshop.evaluate", wraps=__import__("cenote.masks.evaluate", fromlist=["evaluate"]).evaluate) as evaluated,
        ):  # fmt: skip
            made.preview_maps(made.surface("crates"), -1)
        self.assertEqual(evaluated.call_count, 1, "the mask that changed, and no other")

    def test_dials_and_wind_leave_geometry_alone_but_not_looks(self) -> None:
        made = self.after(site(climate=Climate(years=70, damp=0.9)))
        self.assertIs(made.surface("crates"), self.saved.surface("crates"))
        self.assert_as_fresh(made)

    def test_what_moves_is_found_out_again(self) -> None:
        crates = self.saved.document.structures[0]
        moved = crates.model_copy(update={"placement": Placement(position=(2, 0, 0))})
        made = self.after(site(structures=(moved,)))
        self.assertNotEqual(made.surface("crates").digest, self.saved.surface("crates").digest)
        self.assertEqual(made.surface("crates").layout, self.saved.surface("crates").layout)
        self.assert_as_fresh(made)
        self.assert_as_fresh(self.after(site(ground=Ground(size=(8, 8), spacing=0.5, seed=5))))
        self.assert_as_fresh(self.after(site(structures=())))

    def test_a_material_of_the_sites_own_is_not_taken_for_the_one_before(self) -> None:
        graded = self.saved.document.structures[0].model_copy(update={"materials": {"board": "brick"}})
        self.assert_as_fresh(self.after(site(structures=(graded,))))

    def test_signals_that_look_at_plants_follow_them_also_where_only_a_shared_mask_or_a_dial_changed(self) -> None:
        trees = Scatter(id="trees", density=0.3, surfaces=("ground",), mix=(MixItem(item="dead_leaves"),))
        fall = where(card("fall", LeafFall(layers=("trees",)), 0, 1), card("noise", Noise(), 0, 0.2))
        below = CoverLayer(id="below", cover=Dirt(), where=fall, surfaces=("ground",))
        document = small_site(planting=(trees,), weather=(below,))
        before = Workshop(document, self.cache)
        signal = fall.cards[0].signal
        names = set()
        for season in (0.2, 0.8):
            read = document.model_copy(update={"climate": Climate(season=season)})
            made = Workshop(read, self.cache, before=before)
            names.add(made.signal_name(made.surface("ground"), signal))
            fresh = Workshop(read, self.apart)
            self.assertEqual(
                made.signal_name(made.surface("ground"), signal), fresh.signal_name(fresh.surface("ground"), signal)
            )
        self.assertEqual(len(names), 2, "litter lies by season, and so falls the shade")


class CoveredTests(unittest.TestCase):
    def test_it_is_kept_until_something_that_counts_changes(self) -> None:
        cache = Cache(MemoryStore())
        document = site()
        moss = document.weather[0]
        first = Workshop(document, cache).reports.covered(moss)
        with patch.object(Workshop, "layer_mask", side_effect=AssertionError("reckoned again")):
            self.assertEqual(Workshop(dragged(document, 20), cache).reports.covered(moss), first)
        weaker = moss.model_copy(update={"strengths": {"ground": 0.5}})
        self.assertLess(Workshop(document, cache).reports.covered(weaker)[0], first[0])
        older = Workshop(site(climate=Climate(years=90)), cache)
        self.assertGreater(older.reports.covered(moss)[0], first[0])
