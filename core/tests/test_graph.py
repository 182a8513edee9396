"""The graph: what a target may read, what its key follows from, what is missing, and what is made anew."""

from __future__ import annotations

import unittest
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from unittest.mock import patch

import numpy as np
from golden_sites import every_signal, signals_site
from shapes import card, graph_of, small_site, where

from cenote.derive.cache import Cache
from cenote.derive.digest import digest
from cenote.derive.fields import CellField, MeasuredField
from cenote.derive.graph import Graph, Lacking
from cenote.derive.maps import SurfaceMaps
from cenote.derive.masks import Mask
from cenote.derive.scene import Scenery, WholeScene
from cenote.derive.site import Site
from cenote.derive.surfaces import ObjectCells, ObjectShape
from cenote.derive.target import Read, Target, Undeclared, Unkeyed
from cenote.derive.wanted import fields_of_site
from cenote.geometry.pose import Placement
from cenote.signals.base import SIGNALS
from cenote.signals.crevice import Crevice
from cenote.signals.scene import MeasuredScene
from cenote.signals.sky import SkyExposure
from cenote.signals.slope import Slope
from cenote.site.document import KitPiece, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.weather.climate import Climate


@dataclass(frozen=True)
class Years(Target):
    """The years of neglect: told by the climate."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"years": site.climate.years, "aside": Unkeyed(site.climate.damp)}

    @staticmethod
    def make(read: Read) -> float:
        return read.years


@dataclass(frozen=True)
class Decades(Target):
    """Slow, and known by what it comes to."""

    slow = True
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"years": Years()}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        return {"decades": np.array([read.years // 10])}

    @staticmethod
    def mark(value: dict[str, np.ndarray]) -> np.ndarray:
        return np.array(value["decades"], np.uint8)


@dataclass(frozen=True)
class Told(Target):
    """Made of something slow."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"decades": Decades(), "names": {"a": [1, 2], "b": (Years(),)}}

    @staticmethod
    def make(read: Read) -> str:
        return f"{int(read.decades['decades'][0])}0 years"


@dataclass(frozen=True)
class Curious(Target):
    """Reads what it did not say."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {}

    @staticmethod
    def make(read: Read) -> Any:
        return read.years


@dataclass(frozen=True)
class OnlyDecades(Target):
    """Made of something slow alone."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"decades": Decades()}

    @staticmethod
    def make(read: Read) -> int:
        return int(read.decades["decades"][0])


def aged(years: float, damp: float = 0.5) -> SiteDocument:
    return small_site(climate=Climate(years=years, damp=damp))


class GraphTests(unittest.TestCase):
    def test_make_reads_what_was_declared_and_nothing_else(self) -> None:
        graph = graph_of(aged(12))
        self.assertEqual(graph.get(Years()), 12)
        with self.assertRaises(Undeclared):
            graph.get(Curious())

    def test_keys_follow_inputs_and_not_what_is_unkeyed(self) -> None:
        one, same, other = (graph_of(aged(*at)).key(Years()) for at in ((12, 0.1), (12, 0.9), (13, 0.1)))
        self.assertEqual(one, same)
        self.assertNotEqual(one, other)

    def test_nothing_has_a_key_until_what_is_slow_is_made(self) -> None:
        graph = graph_of(aged(42))
        with self.assertRaises(Lacking) as lacking:
            graph.key(Told())
        self.assertEqual(lacking.exception.targets, [Decades()])
        self.assertEqual(graph.missing(Told(), OnlyDecades()), [Decades()])
        self.assertEqual(graph.get(Told()), "40 years")
        self.assertTrue(graph.key(Told()))
        self.assertEqual(graph.missing(Told()), [])

    def test_what_comes_to_the_same_changes_nothing_further_on(self) -> None:
        first = graph_of(aged(41))
        first.get(OnlyDecades())
        second = graph_of(aged(48), first.cache)
        self.assertEqual(second.missing(OnlyDecades()), [Decades()])
        second.get(Decades())
        self.assertNotEqual(first.key(Decades()), second.key(Decades()))
        self.assertEqual(first.key(OnlyDecades()), second.key(OnlyDecades()))
        with patch.object(OnlyDecades, "make", side_effect=AssertionError("made again")):
            self.assertEqual(second.get(OnlyDecades()), 4)

    def test_a_lost_mark_is_made_again(self) -> None:
        graph = graph_of(aged(42))
        graph.get(Decades())
        del graph.cache.store.content[f"{graph.key(Decades())}.mark"]
        again = graph_of(aged(42), Cache(graph.cache.store))
        self.assertEqual(again.missing(OnlyDecades()), [Decades()])
        self.assertEqual(again.get(OnlyDecades()), 4)

    def test_only_what_follows_from_changed_sections_is_found_out_again(self) -> None:
        before = graph_of(aged(10))
        before.get(ObjectShape("crates")), before.get(Years())
        read = SiteDocument.model_validate(aged(60).model_dump(mode="json"))
        after = Graph(read, before.cache, before)
        self.assertIs(after.document.structures[0], before.document.structures[0], "equal parts are shared")
        with patch.object(ObjectShape, "inputs", side_effect=AssertionError("looked at again")):
            self.assertIs(after.get(ObjectShape("crates")), before.get(ObjectShape("crates")))
        self.assertEqual(after.get(Years()), 60)

    def test_what_was_dragged_past_is_not_carried_along_for_ever(self) -> None:
        graph = graph_of(aged(1))
        graph.get(ObjectShape("crates"))
        counts = []
        for step in range(120):
            graph = Graph(SiteDocument.model_validate(aged(1 + step / 10).model_dump(mode="json")), graph.cache, graph)
            # A mask of its own at each step, and something worked out for it, neither of which follows from the dials.
            graph.get(Mask("crates", where(card("slope", Slope(), 0, 10 + step)), 0))
            graph.worked_out(("radius", step), lambda site: site.ground.size)
            graph.get(ObjectShape("crates"))
            counts.append((len(graph._nodes), len(graph._worked_out)))
        self.assertEqual(counts[60], counts[-1])
        with patch.object(ObjectShape, "inputs", side_effect=AssertionError("looked at again")):
            graph.get(ObjectShape("crates"))

    def test_values_without_a_sure_digest_are_refused(self) -> None:
        self.assertNotEqual(digest(1), digest(1.0))
        self.assertNotEqual(digest([1, 2], [3]), digest([1], [2, 3]))
        self.assertNotEqual(digest(np.arange(2000)), digest(np.where(np.arange(2000) == 1000, 0, np.arange(2000))))
        self.assertEqual(digest({"a": 1, "b": 2}), digest({"b": 2, "a": 1}))
        self.assertEqual(digest(0.0), digest(-0.0))
        for value in (object(), np.array([object()]), lambda: 0):
            with self.assertRaises(TypeError):
                digest(value)


def yard(x: float, count: int = 1) -> SiteDocument:
    """A yard of ten metres with crates, one of them movable."""
    crates = [Structure(id="moved", source=KitPiece(item="crate"), placement=Placement(position=(x, 0, 3)))]
    crates += [Structure(id=f"c{k}", source=KitPiece(item="crate"), placement=Placement(position=(-3 + k, 0, -3)))
               for k in range(count)]  # fmt: skip
    return small_site(ground=Ground(size=(10, 10), spacing=0.5, relief=0.3), structures=tuple(crates), weather=())


class BlockTests(unittest.TestCase):
    """Fields are measured anew where something changed that they may reach, and are what a fresh start would give."""

    def test_a_moved_crate_measures_a_part_of_the_ground_anew(self) -> None:
        counted = []

        for kind in ("crevice", "sky", "sun", "rain", "splash"):
            signal = SIGNALS[kind](kind=kind)
            field = MeasuredField("ground", signal)
            before = graph_of(yard(2.0))
            before.get(field)
            measure = type(signal).measure

            def measured(self, samples, scene, measure=measure):
                counted.append(len(samples))
                return measure(self, samples, scene)

            with self.subTest(kind):
                after = graph_of(yard(2.4), before.cache)
                counted.clear()
                with patch.object(type(signal), "measure", measured):
                    found = after.get(field)
                cells = len(after.get(ObjectCells("ground")).ys)
                self.assertEqual(len(counted), 1)
                self.assertTrue(0 < counted[0] < 0.2 * cells, f"{counted[0]} of {cells} cells")
                fresh = graph_of(yard(2.4)).get(field)
                np.testing.assert_allclose(found.values, fresh.values, atol=2e-6)
                np.testing.assert_array_equal(found.keys, fresh.keys)

    def test_what_it_does_not_reach_keeps_its_maps(self) -> None:
        site = yard(2.0, 2)
        layer = small_site().weather[0].model_copy(update={"surfaces": ("ground", "c0", "moved")})
        before = graph_of(site.model_copy(update={"weather": (layer,)}))
        before.complete(fields_of_site(before), lambda *_: None)
        moved = yard(2.4, 2).model_copy(update={"weather": (layer,)})
        after = graph_of(moved, before.cache)
        after.complete(fields_of_site(after), lambda *_: None)
        self.assertEqual(before.key(SurfaceMaps("c0", 0)), after.key(SurfaceMaps("c0", 0)))
        self.assertNotEqual(before.key(SurfaceMaps("ground", 0)), after.key(SurfaceMaps("ground", 0)))

    def test_an_undone_move_is_found_in_the_store(self) -> None:
        before = graph_of(yard(2.0))
        before.get(MeasuredField("ground", SkyExposure()))
        after = graph_of(yard(2.4), before.cache)
        after.get(MeasuredField("ground", SkyExposure()))
        back = graph_of(yard(2.0), Cache(before.cache.store))
        with patch.object(SkyExposure, "measure", side_effect=AssertionError("measured again")):
            back.get(MeasuredField("ground", SkyExposure()))

    def test_signals_look_at_no_more_than_they_say(self) -> None:
        """Parts of the scene whose rays meet nothing but what was declared give the same values."""
        document = signals_site()
        shared, strict = graph_of(document), graph_of(document)

        def only_declared(read: Read) -> MeasuredScene:
            extent = read.whole.bounds if read.extent is not None else None
            kept = {"bounds": extent} if extent is not None else {}
            objects = {name: read.whole.objects[name] for name in read.objects}
            return MeasuredScene(objects, water_level=read.water, zones=read.zones, cameras=read.cameras,
                                 planted=read.planted, _shared=kept)  # fmt: skip

        for signal in every_signal():
            for id in document.surface_ids():
                wide = shared.get(CellField(id, signal, 0))
                with self.subTest(f"{signal.kind} on {id}"), patch.object(Scenery, "make", only_declared):
                    np.testing.assert_allclose(strict.get(CellField(id, signal, 0)), wide, atol=1e-5)

    def test_the_whole_scene_is_let_go_of_with_all_that_hangs_on_it(self) -> None:
        graph = graph_of(yard(2.0))
        graph.get(MeasuredField("ground", Crevice()))
        key = graph.key(WholeScene())
        hangs = [name for name in graph.cache.memory._values if name.startswith(key + " ")]
        self.assertTrue(any("rays" in name for name in hangs), "trees of triangles are values of their own")


class MaskedTests(unittest.TestCase):
    def test_an_empty_chain_is_everywhere(self) -> None:
        self.assertEqual(where().plain.cards, ())
