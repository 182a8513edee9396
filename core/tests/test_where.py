"""Masks: ramps, chains, and their compiled evaluation."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError
from shapes import card, where

from cenote.masks.evaluate import card_table, evaluate
from cenote.masks.where import COMBINATIONS, chain, ramp, suggested_card
from cenote.signals.noise import Noise
from cenote.signals.slope import Slope

VALUES = np.linspace(-1, 3, 401, dtype=np.float32)


class RampTests(unittest.TestCase):
    def test_straight_soft_and_falling(self) -> None:
        straight = ramp(VALUES, card("a", Slope(), 0, 2, soft=False))
        np.testing.assert_allclose(straight, np.clip(VALUES / 2, 0, 1), atol=1e-6)
        soft = ramp(VALUES, card("a", Slope(), 0, 2))
        np.testing.assert_allclose(soft[[0, 200, 400]], [0, 0.5, 1], atol=1e-6)
        self.assertTrue((np.diff(soft) >= 0).all())
        falling = ramp(VALUES, card("a", Slope(), 2, 0, soft=False))
        np.testing.assert_allclose(falling, 1 - straight, atol=1e-6)

    def test_no_width_is_a_step_and_inverting_turns_it(self) -> None:
        step = ramp(VALUES, card("a", Slope(), 1, 1))
        np.testing.assert_array_equal(step, VALUES >= 1)
        np.testing.assert_array_equal(ramp(VALUES, card("a", Slope(), 1, 1, inverted=True)), VALUES < 1)

    def test_a_new_card_has_what_its_signal_suggests(self) -> None:
        made = suggested_card("x", Slope())
        self.assertEqual((made.starts_at, made.full_at), Slope.suggested)


class ChainTests(unittest.TestCase):
    def test_each_way_of_joining(self) -> None:
        a, b = np.array([0.2, 0.9], np.float32), np.array([0.5, 0.4], np.float32)
        for how, expected in (
            ("multiply", [0.1, 0.36]),
            ("max", [0.5, 0.9]),
            ("min", [0.2, 0.4]),
            ("add", [0.7, 1.0]),
            ("subtract", [0.0, 0.5]),
        ):
            cards = (card("a", Slope(), 0, 1, soft=False), card("b", Noise(), 0, 1, soft=False, combine=how))
            np.testing.assert_allclose(chain(cards, [a, b]), expected, atol=1e-6)

    def test_two_cards_of_one_id_are_refused_and_disabled_ones_left_out(self) -> None:
        with self.assertRaises(ValidationError):
            where(card("a", Slope(), 0, 1), card("a", Noise(), 0, 1))
        kept = where(card("a", Slope(), 0, 1), card("b", Noise(), 0, 1, enabled=False))
        self.assertEqual([one.id for one in kept.active], ["a"])


class EvaluateTests(unittest.TestCase):
    def test_the_compiled_pass_agrees_with_plain_numpy(self) -> None:
        dice = np.random.default_rng(7)
        for trial in range(40):
            count = int(dice.integers(1, 6))
            cells = dice.random((count, 9, 13), np.float32)
            fine = dice.random((count, 18, 26), np.float32)
            cards, sources, values = [], [], []
            for k in range(count):
                on_cells = bool(dice.integers(2))
                starts, full = dice.random(2).round(2)
                cards.append(
                    card(str(k), Noise(), starts, starts if trial % 5 == 0 else full, soft=bool(dice.integers(2)),
                         inverted=bool(dice.integers(2)), combine=COMBINATIONS[dice.integers(5)])
                )  # fmt: skip
                sources.append((on_cells, k))
                if on_cells:
                    y = np.clip((np.arange(18) + 0.5) / 2 - 0.5, 0, 8)
                    x = np.clip((np.arange(26) + 0.5) / 2 - 0.5, 0, 12)
                    y0, x0 = np.minimum(y.astype(int), 7), np.minimum(x.astype(int), 11)
                    ty, tx = (y - y0)[:, None], (x - x0)[None]
                    f = cells[k]
                    top = f[y0][:, x0] * (1 - tx) + f[y0][:, x0 + 1] * tx
                    low = f[y0 + 1][:, x0] * (1 - tx) + f[y0 + 1][:, x0 + 1] * tx
                    values.append((top * (1 - ty) + low * ty).astype(np.float32))
                else:
                    values.append(fine[k])
            found = evaluate(cells, fine, card_table(tuple(cards), sources), (18, 26), 2.0)
            # A step may fall the other way within rounding.
            wrong = np.abs(found - chain(tuple(cards), values)) > 2e-5
            self.assertLess(wrong.mean(), 0.01, f"trial {trial}")

    def test_no_cards_mean_everywhere(self) -> None:
        nothing = np.zeros((0, 3, 4), np.float32)
        np.testing.assert_array_equal(evaluate(nothing, nothing, card_table((), []), (6, 8), 2.0), 1)
