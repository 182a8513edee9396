"""Trees that grow: they reach what they grow for, thicken by what they carry, and age."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.kit.base import CARD, Dice
from cenote.kit.growth import carried, chains, colonised, envelope, grown, thickness
from cenote.kit.oak import CROWN, Oak


class GrowthTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.points = Dice("points").many(300, 3, low=-1, high=1) * [1.5, 1, 1.5] + [0, 3, 0]
        cls.stem = np.array([[0, 0, 0], [0, 0.25, 0], [0, 0.5, 0]])
        cls.nodes, cls.parents = colonised(cls.points, cls.stem, 0.2, 0.05)

    def test_branches_come_near_to_what_they_reach_for(self) -> None:
        away = np.linalg.norm(self.points[:, None] - self.nodes[None], axis=2).min(1)
        self.assertLess(np.quantile(away, 0.97), 0.33)
        steps = np.linalg.norm(self.nodes[3:] - self.nodes[self.parents[3:]], axis=1)
        np.testing.assert_allclose(steps, 0.2, atol=1e-6)
        self.assertTrue((self.parents < np.arange(len(self.parents))).all())

    def test_the_foot_carries_all_tips_and_every_fork_what_its_branches_carry(self) -> None:
        tips = carried(self.parents)
        ends = np.setdiff1d(np.arange(len(self.parents)), self.parents)
        self.assertEqual(tips[0], len(ends))
        for row in range(0, len(tips), 7):
            children = np.flatnonzero(self.parents == row)
            self.assertEqual(tips[row], tips[children].sum() if len(children) else 1)

    def test_limbs_are_as_thick_as_the_pipes_in_them(self) -> None:
        tips = carried(self.parents)
        radii = thickness(tips, 0.3)
        self.assertAlmostEqual(radii[0], 0.3)
        self.assertTrue((radii[1:] <= radii[self.parents[1:]] + 1e-12).all())
        self.assertAlmostEqual(radii.min(), 0.006)

    def test_limbs_part_the_tree_without_leaving_any_of_it(self) -> None:
        limbs = chains(self.parents, carried(self.parents))
        once = [limbs[0][0], *(row for limb in limbs for row in limb[1:])]
        self.assertEqual(sorted(once), list(range(len(self.parents))))

    def test_crowns_lie_within_their_outline(self) -> None:
        points = envelope(CROWN, 10.0, Dice("crown"))
        self.assertEqual(len(points), CROWN.points)
        self.assertGreaterEqual(points[:, 1].min(), CROWN.base * 10)
        self.assertLessEqual(np.hypot(points[:, 0], points[:, 2]).max(), CROWN.radius * 10 + 1e-9)

    def test_it_grows_quickly_at_first_and_hardly_at_last(self) -> None:
        heights = [grown(age, 90) for age in (0, 5, 45, 90, 300)]
        self.assertEqual(heights, sorted(heights))
        self.assertEqual(heights[0], 0)
        self.assertGreater(heights[3], 0.9)
        self.assertGreater((heights[2] - heights[1]) / 40, 5 * (heights[4] - heights[3]) / 210)


class AgeTests(unittest.TestCase):
    def test_an_oak_is_a_sapling_a_tree_and_stag_headed_by_its_age(self) -> None:
        young, full, old = (Oak(age=age).build(1) for age in (6, 120, 560))
        self.assertLess(young.bounds[1][1], 4)
        self.assertGreater(full.bounds[1][1], 10)
        leaves = [int((mesh.parts == mesh.part_names.index(CARD)).sum()) for mesh in (young, full, old)]
        self.assertGreater(leaves[1], leaves[0])
        self.assertLess(leaves[2], 0.85 * leaves[1])
        # Its limbs stay: what is dead has no leaves.
        self.assertGreater(old.bounds[1][1], 0.9 * full.bounds[1][1])


if __name__ == "__main__":
    unittest.main()
