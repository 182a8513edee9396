"""Recipes taken from one site to another."""

from __future__ import annotations

import unittest

from shapes import card, small_site, where

from cenote.geometry.strokes import BrushStroke
from cenote.masks.shared import SharedWhere
from cenote.signals.distance import Distance
from cenote.signals.noise import Noise
from cenote.signals.painted import Painted
from cenote.signals.runoff import Runoff
from cenote.site.document import CoverLayer
from cenote.site.library import fitted, recipe_of
from cenote.weather.moss import Moss

STROKE = BrushStroke(path=((0, 0, 0), (1, 0, 0)), radius=0.3)


class RecipeTests(unittest.TestCase):
    def layer(self, *cards, **more) -> CoverLayer:
        return CoverLayer(id="moss", cover=Moss(amount=2), where=where(*cards), surfaces=("crates",), **more)

    def test_it_is_the_cover_and_its_mask_without_the_surfaces(self) -> None:
        layer = self.layer(card("n", Noise(), 0.2, 0.6), on_items=False)
        recipe = recipe_of(layer)
        self.assertEqual((recipe.cover, recipe.where, recipe.on_items), (layer.cover, layer.where, False))
        again, words = fitted(recipe, small_site())
        self.assertEqual((again, words), (recipe, []))

    def test_a_mask_that_was_shared_has_its_cards(self) -> None:
        shared = SharedWhere(id="m", name="Damp corners", cards=(card("n", Noise(), 0.2, 0.6),))
        follows = CoverLayer(id="moss", cover=Moss(), where=where().model_copy(update={"shared": "m"}))
        site = small_site(wheres=(shared,), weather=(follows,))
        recipe = recipe_of(site.weather[0])
        self.assertEqual((recipe.where.shared, recipe.where.cards), ("", shared.cards))

    def test_what_the_other_site_lacks_is_left_out_and_said(self) -> None:
        recipe = recipe_of(
            self.layer(
                card("r", Runoff(objects=("crates", "winch")), 0, 1), card("d", Distance(objects=("house",)), 0, 1)
            )
        )
        found, words = fitted(recipe, small_site())
        self.assertEqual([one.signal.objects for one in found.where.cards], [("crates",), ()])
        self.assertEqual(len(words), 2)
        self.assertIn("objects are not on this site", words[0])

    def test_strokes_stay_only_where_they_were_painted(self) -> None:
        layer = self.layer(card("p", Painted(strokes=(STROKE,)), 0, 1))
        home, _ = fitted(recipe_of(layer), small_site(weather=(layer,)))
        self.assertEqual(home.where, layer.where)
        away, words = fitted(recipe_of(layer), small_site())
        self.assertEqual(away.where.cards[0].signal.strokes, ())
        self.assertIn("strokes", words[0])


if __name__ == "__main__":
    unittest.main()
