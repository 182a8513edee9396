"""Room that items of a mix keep for themselves: shares, what is possible at most, and what a change of it moves."""

from __future__ import annotations

import unittest

import numpy as np
from planted import GRASS, TREE, placed, surface
from scipy.spatial import cKDTree
from shapes import square

from cenote.scatter.layer import MixItem, Scatter
from cenote.scatter.spots import densest, size_groups, spots_of


class RoomTests(unittest.TestCase):
    def test_a_mix_of_different_rooms_comes_as_densely_as_asked_in_its_shares(self) -> None:
        flat = surface(square(60))
        kinds = {"grass_tuft": 0.0, "fern": 0.9, "birch": 4.0}
        for shares, density in (((20, 1, 0), 4.0), ((8, 2, 0), 2.0), ((30, 6, 0.2), 3.0), ((1, 0, 0.05), 0.6)):
            mix = tuple(MixItem(item=item, room=room, share=share)
                        for (item, room), share in zip(kinds.items(), shares, strict=True))  # fmt: skip
            layer = Scatter(id="mix", density=density, spacing=0.25, mix=mix)
            spots = spots_of(layer, [flat])
            found = len(spots) / 3600
            with self.subTest(shares=shares, density=density):
                self.assertGreater(densest(layer), density)
                self.assertAlmostEqual(found, density, delta=0.06 * density)
                for group, (_, rows) in enumerate(size_groups(layer)):
                    share = sum(shares[row] for row in rows) / sum(shares)
                    self.assertAlmostEqual((spots.groups == group).mean(), share, delta=0.1 * share + 0.005)

    def test_beyond_what_rooms_allow_the_most_that_they_allow_is_told_and_placed(self) -> None:
        flat = surface(square(60))
        mix = (GRASS.model_copy(update={"share": 20}), MixItem(item="fern", share=1, room=0.9))
        layer = Scatter(id="mix", density=4, spacing=0.25, mix=mix)
        most = densest(layer)
        self.assertTrue(5 < most < 10, most)
        full = layer.model_copy(update={"density": most})
        self.assertAlmostEqual(len(spots_of(full, [flat])) / 3600, most, delta=0.1 * most)

    def test_items_of_different_sizes_keep_half_of_both_rooms(self) -> None:
        mix = (GRASS.model_copy(update={"share": 30}), MixItem(item="fern", share=6, room=0.9), TREE)
        found = placed(mix=mix, density=6)
        rooms = np.array([0.25, 0.9, 4.0])
        for a in range(3):
            for b in range(a, 3):
                mine, others = (found.positions[found.items == row][:, [0, 2]] for row in (a, b))
                self.assertGreater(len(mine), 5)
                least = cKDTree(others).query(mine, k=2 if a == b else 1)[0]
                least = least[:, 1] if a == b else least
                self.assertGreaterEqual(least.min(), (rooms[a] + rooms[b]) / 2 - 1e-3)

    def test_a_tree_more_takes_only_the_room_it_needs(self) -> None:
        mix = (GRASS.model_copy(update={"share": 300}), TREE)
        before, after = placed(mix=mix, density=3), placed(mix=mix, density=5)
        lost = ~np.isin(before.ids, after.ids)
        self.assertTrue((before.items[lost] == 0).all())
        new_trees = after.positions[(after.items == 1) & ~np.isin(after.ids, before.ids)]
        self.assertGreater(len(new_trees), 0)
        away = cKDTree(new_trees[:, [0, 2]]).query(before.positions[lost][:, [0, 2]])[0]
        self.assertLess(away.max(), (0.25 + 4) / 2)

    def test_giving_a_tree_room_does_not_move_the_grass(self) -> None:
        plain = placed(mix=(GRASS,))
        mixed = placed(mix=(GRASS.model_copy(update={"share": 30}), TREE), density=3 * 31 / 30)
        grass, trees = mixed.ids[mixed.items == 0], mixed.positions[mixed.items == 1][:, [0, 2]]
        away = cKDTree(trees).query(plain.positions[:, [0, 2]])[0] >= (0.25 + 4) / 2
        self.assertTrue(np.isin(plain.ids[away], grass).all())
        # What the trees took is made up for between them, but for some more trees that stand along the border.
        self.assertAlmostEqual(len(grass), len(plain), delta=0.12 * len(plain))
