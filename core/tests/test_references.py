"""References of a document: found by their declarations, and what dangles is told apart from what waits for an undo."""

from __future__ import annotations

import unittest

from golden_sites import planted_site, signals_site
from pydantic import ValidationError

from cenote.masks.where import SignalCard, Where
from cenote.signals.distance import Distance
from cenote.signals.leaf_fall import LeafFall
from cenote.site.document import CoverLayer, KitPiece, Placement, SiteDocument, Structure, Zone
from cenote.site.references import (
    BROUGHT,
    CALLED,
    _declared_in,
    _plan_of,
    dangling,
    known_ids,
    newly_dangling,
    references,
)
from cenote.site.tallow_lock import tallow_lock
from cenote.weather.moss import Moss


def with_layer(*signals: object, surfaces: tuple[str, ...] = ("ground",), **site: object) -> SiteDocument:
    """A site with one cover whose cards read some signals."""
    cards = tuple(
        SignalCard(id=f"card-{row}", signal=signal, starts_at=0, full_at=1) for row, signal in enumerate(signals)
    )
    layer = CoverLayer(id="moss", cover=Moss(), where=Where(cards=cards), surfaces=surfaces, strengths={"ground": 0.5})
    return SiteDocument(weather=(layer,), **site)


def stone(id: str = "stone") -> Structure:
    return Structure(id=id, source=KitPiece(item="stone"), placement=Placement())


class DeclarationTests(unittest.TestCase):
    def test_every_declared_reference_is_reached_from_the_document(self) -> None:
        reached: set[tuple[str, str]] = set()
        seen: set[type] = set()

        def walk(kind: type) -> None:
            if kind in seen:
                return
            seen.add(kind)
            reached.update((kind.__name__, name) for name, _, _ in _plan_of(kind).own)
            for name in _plan_of(kind).nested:
                field = kind.model_fields[name]
                for one in _declared_in((field.annotation, *field.metadata)):
                    walk(one)

        walk(SiteDocument)
        schema = SiteDocument.model_json_schema()
        declared = {
            (group, name)
            for group, entry in schema["$defs"].items()
            for name, field in entry.get("properties", {}).items()
            if {field.get("picks"), field.get("refers"), field.get("refers_by_key")} & CALLED.keys()
            or field.get("brought") in BROUGHT
        }
        self.assertGreater(len(declared), 20)
        self.assertEqual(reached - {("SiteDocument", name) for _, name in reached}, declared)

    def test_no_field_that_holds_an_id_goes_undeclared(self) -> None:
        # Texts whose names say that they name something else.
        names = {
            "item",
            "material",
            "objects",
            "zones",
            "surfaces",
            "layers",
            "shots",
            "letter_material",
            "backing_material",
        }
        undeclared = {
            f"{group}.{name}"
            for group, entry in SiteDocument.model_json_schema()["$defs"].items()
            for name, field in entry.get("properties", {}).items()
            if name in names and group != "OwnRecipe" and not {"picks", "refers", "refers_by_key"} & field.keys()
        }
        self.assertEqual(undeclared, set())

    def test_the_demo_site_refers_to_nothing_that_is_not_there(self) -> None:
        document = tallow_lock()
        self.assertEqual(list(dangling(document)), [])
        families = {one.family for one in references(document)}
        self.assertEqual(families, {"finishes", "kit", "material", "objects", "planting", "surface", "surfaces"})


class FieldTests(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        document = with_layer(Distance(objects=("stone", "ground")), structures=(stone(),))
        found = [(one.field, one.family, one.id) for one in references(document.weather[0], "weather/0")]
        self.assertEqual(found, [
            ("weather/0/surfaces/0", "surfaces", "ground"),
            ("weather/0/strengths/ground", "surfaces", "ground"),
            ("weather/0/where/cards/0/signal/objects/0", "objects", "stone"),
            ("weather/0/where/cards/0/signal/objects/1", "objects", "ground"),
        ])  # fmt: skip

    def test_materials_and_items_must_be_there(self) -> None:
        made = stone().model_dump()
        for change, field in (
            ({"source": {"kind": "kit_piece", "item": "palm"}}, "structures/0/source/item: there is no kit item called 'palm'"),
            ({"materials": {"rock": "jelly"}}, "structures/0/materials/rock: there is no material called 'jelly'"),
            ({"source": {"kind": "made", "maker": {"kind": "wall", "material": "jelly"}}},
             "structures/0/source/maker/material: there is no material called 'jelly'"),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaisesRegex(ValidationError, field):
                SiteDocument.model_validate({"structures": [made | change]})

    def test_the_sites_of_the_golden_arrays_refer_to_what_they_have(self) -> None:
        for document in (signals_site(), planted_site()):
            self.assertEqual(list(dangling(document)), [])
            known = known_ids(document)
            self.assertTrue({one.id for one in document.kit} <= known["kit"])
            self.assertTrue({one.id for one in document.structures} <= known["objects"] & known["surfaces"])


class DanglingTests(unittest.TestCase):
    def test_what_lost_its_object_is_kept_and_what_never_had_one_is_not(self) -> None:
        before = with_layer(Distance(objects=("stone",)), structures=(stone(),), surfaces=("ground", "stone"))
        without = before.model_copy(update={"structures": ()})
        self.assertEqual({one.id for one in dangling(without)}, {"stone"})
        self.assertEqual(newly_dangling(without, before), [])
        # A later edit of what waits for an undo is no new loss either.
        renamed = without.model_copy(update={"weather": (without.weather[0].model_copy(update={"name": "Old moss"}),)})
        self.assertEqual(newly_dangling(renamed, without), [])
        invented = with_layer(Distance(objects=("shed",)), structures=(stone(),))
        self.assertEqual([one.field for one in newly_dangling(invented, before)],
                         ["weather/0/where/cards/0/signal/objects/0"])  # fmt: skip

    def test_families_are_kept_apart(self) -> None:
        # A zone of that id is no layer.
        before = with_layer(zones=(Zone(id="bed"),))
        after = with_layer(LeafFall(layers=("bed",)), zones=(Zone(id="bed"),))
        lost = newly_dangling(after, before)
        self.assertEqual([(one.family, one.in_words()) for one in lost],
                         [("planting", "there is no planting layer called 'bed'")])  # fmt: skip


if __name__ == "__main__":
    unittest.main()
