"""Parameters are declared once, and refuse what their declaration does not allow."""

from __future__ import annotations

import importlib
import sys
import tempfile
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import ClassVar, Literal

from pydantic import ValidationError

from cenote.parameters import (
    Declared,
    choice,
    colour,
    count,
    drawn,
    extent,
    point,
    quantity,
    span,
    switch,
    text,
    usual_step,
)
from cenote.registry import Family, kind_of


class Example(Declared):
    height: float = quantity(2, low=0, high=10, unit="m", help="How high it is.")
    number: int = count(3, low=1, high=9, help="How many.")
    lit: bool = switch(True, help="Whether it is lit.")
    size: tuple[float, float] = span((0.5, 2), low=0.1, high=5, unit="×", help="Least and greatest.")
    plan: tuple[float, float] = extent((4, 4), low=1, high=100, unit="m", help="Along x and z.")
    at: tuple[float, float, float] = point((0, 0, 0), help="Where.", reach=50)


class Drawing(Declared):
    outline: tuple[tuple[float, float], ...] = drawn("outline", most=4, sets={"shape": "drawn"}, help="Its corners.")
    path: tuple[tuple[float, float], ...] = drawn("path", most=9, help="Its line.")
    end: tuple[float, float, float] = point((0, 1, 0), help="Where it ends.", reach=9, picked=True)
    words: str = text("Quay", most=8, help="What it says.")
    shape: Literal["round", "drawn"] = choice("round", help="Its shape.")
    paint: tuple[float, float, float] = colour((1, 0.5, 0), help="Its colour.")


class DrawnTests(unittest.TestCase):
    def test_lines_are_told_to_be_drawn_and_what_goes_with_them(self) -> None:
        schema = Drawing.model_json_schema()["properties"]
        self.assertEqual((schema["outline"]["draws"], schema["outline"]["sets"]), ("outline", {"shape": "drawn"}))
        self.assertEqual((schema["path"]["draws"], schema["path"]["sets"]), ("path", {}))
        self.assertEqual((schema["end"]["draws"], schema["end"]["names"]), ("place", ["x", "y", "z"]))
        self.assertEqual((schema["words"]["text"], schema["words"]["maxLength"]), (True, 8))
        self.assertNotIn("draws", Example.model_json_schema()["properties"]["at"])

    def test_nothing_is_drawn_at_first(self) -> None:
        self.assertEqual((Drawing().outline, Drawing().path, Drawing().end), ((), (), (0, 1, 0)))

    def test_lines_places_texts_and_colours_keep_their_bounds(self) -> None:
        for bad, words in (
            ({"outline": [(0, 0)] * 5}, "outline"),
            ({"outline": [(0, 0, 0)]}, "outline"),
            ({"path": [(float("nan"), 0)]}, "finite"),
            ({"end": (0, 10, 0)}, "end: must lie between -9 and 9 m"),
            ({"words": "Nine long"}, "words"),
            ({"shape": "square"}, "shape"),
            ({"paint": (0, 1.2, 0)}, "paint: must lie between 0 and 1"),
        ):
            with self.subTest(str(bad)), self.assertRaisesRegex(ValidationError, words):
                Drawing(**bad)


class DeclarationTests(unittest.TestCase):
    def refused(self, **values) -> str:
        with self.assertRaises(ValidationError) as caught:
            Example(**values)
        return str(caught.exception)

    def test_defaults_are_used_and_bounds_kept(self) -> None:
        self.assertEqual(Example().height, 2)
        self.assertEqual(Example(height=0).height, 0)
        self.assertIn("height", self.refused(height=10.001))
        self.assertIn("number", self.refused(number=2.5))

    def test_numbers_that_are_not_finite_are_refused(self) -> None:
        for value in (float("nan"), float("inf")):
            self.assertIn("finite", self.refused(height=value))

    def test_unknown_names_are_refused(self) -> None:
        self.assertIn("heigth", self.refused(heigth=3))

    def test_pairs_keep_their_range_and_order(self) -> None:
        self.assertIn("size: the least (3) is more than the greatest (2)", self.refused(size=(3, 2)))
        self.assertIn("size: must lie between 0.1 and 5 ×", self.refused(size=(0.01, 2)))
        self.assertIn("plan: must lie between 1 and 100 m", self.refused(plan=(4, 400)))
        self.assertIn("at: must lie between -50 and 50 m", self.refused(at=(0, 51, 0)))
        self.assertEqual(Example(plan=(9, 2)).plan, (9, 2))

    def test_a_default_outside_its_range_is_a_mistake_of_ours(self) -> None:
        with self.assertRaises(ValueError):
            quantity(11, low=0, high=10, unit="m", help="")

    def test_a_step_suits_the_number_not_only_its_range(self) -> None:
        for given, step in (((-2000, 2000, "m", 0.0, 0.0), 0.1), ((0, 1, "", 0.0, 1.0), 0.01), ((0, 100, "%", 60.0), 1),
                            ((0.05, 10, "×", 0.8, 1.25), 0.05), ((0.01, 3, "m", 0.1, 0.34), 0.02), ((0, 9999, "", 5.0), 0.5),
                            ((-90, 90, "°", 52.0), 1)):  # fmt: skip
            self.assertAlmostEqual(usual_step(*given), step, msg=str(given))

    def test_the_schema_carries_unit_step_and_help(self) -> None:
        schema = Example.model_json_schema()["properties"]
        self.assertEqual(schema["height"]["unit"], "m")
        self.assertEqual(schema["height"]["step"], 0.1)
        self.assertEqual(schema["height"]["description"], "How high it is.")
        self.assertEqual((schema["height"]["minimum"], schema["height"]["maximum"]), (0, 10))
        self.assertEqual(schema["at"]["names"], ["x", "y", "z"])
        self.assertTrue(schema["size"]["ordered"])


class FamilyTests(unittest.TestCase):
    def test_members_are_filed_by_kind_and_none_takes_anothers_place(self) -> None:
        family: Family = Family("cenote.signals", "signal")

        class One(Declared):
            kind: Literal["one"] = "one"

        class Other:
            kind: ClassVar[str] = "one"

        family.register(One)
        self.assertEqual(kind_of(One), "one")
        self.assertIs(family["one"], One)
        with self.assertRaisesRegex(ValueError, "two signals are called 'one'"):
            family.register(Other)
        with self.assertRaisesRegex(KeyError, "there is no signal called 'two'; known: one"):
            family["two"]

    def test_every_family_of_the_core_is_found_without_being_named(self) -> None:
        from cenote.kit.base import KIT
        from cenote.materials.base import MATERIALS
        from cenote.signals.base import SIGNALS
        from cenote.structures.base import MAKERS
        from cenote.weather.base import COVERS

        for family, some in (
            (SIGNALS, {"slope", "facing", "height", "crevice", "sky", "distance", "noise"}),
            (COVERS, {"moss", "dirt"}),
            (KIT, {"grass_tuft", "fern", "stone"}),
            (MATERIALS, {"brick", "ashlar"}),
            (MAKERS, {"house"}),
        ):
            kinds = {kind_of(member) for member in family}
            self.assertLessEqual(some, kinds)
            self.assertEqual(len(kinds), len(family))
            for member in family:
                help = getattr(member, "help", None) or member.__doc__ or ""
                self.assertTrue(help.strip(), f"{member} says nothing about itself")

    def test_threads_that_ask_at_once_all_see_the_whole_family(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            package = Path(folder) / "slow_family"
            package.mkdir()
            (package / "__init__.py").write_text(
                "from cenote.registry import Family\nFAMILY = Family('slow_family', 'thing')\n"
            )
            for name in ("first", "second", "third"):
                (package / f"{name}.py").write_text(
                    "import time\nfrom . import FAMILY\n"
                    f"class Thing:\n    kind = '{name}'\n"
                    "assert FAMILY.load() is FAMILY\ntime.sleep(0.05)\nFAMILY.register(Thing())\n"
                )
            sys.path.insert(0, folder)
            try:
                family = importlib.import_module("slow_family").FAMILY
                with ThreadPoolExecutor(6) as pool:
                    self.assertEqual(set(pool.map(lambda _: len(family), range(6))), {3})
            finally:
                sys.path.remove(folder)
