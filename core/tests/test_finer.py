"""Signals on cells finer than a surface is measured on as a whole, where patches are looked at from near."""

from __future__ import annotations

import unittest
from unittest.mock import patch

import numpy as np
from scipy import ndimage
from shapes import graph_of

from cenote.derive.fields import FINEST_CELL, OCCLUSION, CellField, told_by
from cenote.derive.finer import (
    SIDE,
    FinerBlock,
    FinerField,
    FinerWater,
    cell_level,
    cells_of_patches,
    kept,
    window_of_block,
)
from cenote.derive.graph import Graph
from cenote.derive.maps import WaterLevels
from cenote.derive.masks import Mask
from cenote.derive.patches import PatchMaps, cut
from cenote.derive.scene import WholeScene
from cenote.derive.site import Site
from cenote.derive.surfaces import PATCH, WIDER_PAD, ObjectShape
from cenote.geometry.charts import Atlas
from cenote.geometry.texels import texel_grid, texel_points
from cenote.masks.evaluate import card_table, evaluate
from cenote.masks.where import SignalCard, Where
from cenote.signals.crevice import Crevice
from cenote.signals.noise import Noise
from cenote.signals.runoff import Runoff
from cenote.signals.scene import Samples
from cenote.signals.standing import StandingWater
from cenote.site.document import CoverLayer, KitPiece, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.weather.moss import Moss
from cenote.weather.puddles import Puddles

# The level of the finest cells of that ground.
OWN = 3


def crate(id: str, x: float, z: float) -> Structure:
    return Structure(id=id, name=id, source=KitPiece(item="crate"), placement=Placement(position=(x, 0, z)))


def wide(*structures: Structure, relief: float = 0.0, weather: tuple[CoverLayer, ...] = ()) -> Graph:
    """A ground of 72 m, on cells of 20 cm."""
    return graph_of(SiteDocument(ground=Ground(size=(72, 72), relief=relief), structures=structures, weather=weather))


def about(atlas: Atlas, level: int, x: float, z: float, side: int) -> tuple[int, int, int, int]:
    """Patches of a level of the ground about a place."""
    corner = atlas.corner
    size = PATCH * atlas.cell / 2**level
    return (int((z - corner[1]) / size) - side // 2, int((x - corner[0]) / size) - side // 2, side, side)


class LevelTests(unittest.TestCase):
    def test_cells_are_at_most_eight_texels_wide_down_to_those_of_small_things(self) -> None:
        for cell in (0.025, 0.05, 0.4, 3.2):
            for level in range(12):
                own = cell_level(cell, level)
                self.assertTrue(own == 0 or cell / 2**own >= FINEST_CELL - 1e-9)
                texel, finest = cell / 2**level, cell / 2**own <= FINEST_CELL + 1e-9
                self.assertTrue(finest or cell / 2**own <= 8 * texel + 1e-9)

    def test_small_differences_are_left_out_and_large_ones_count_whole(self) -> None:
        given = np.array([0, 0.029, -0.02, 0.045, 0.07, -0.5], np.float32)
        np.testing.assert_allclose(kept(given, Crevice()), [0, 0, 0, 0.0225, 0.07, -0.5], atol=1e-6)


class FinerTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.graph = wide(crate("c", 3.3, 1.7))
        shape = cls.graph.get(ObjectShape("ground"))
        cls.shape, cls.atlas = shape, shape.atlas
        # The patches that show the crate's foot, on cells of 2.5 cm.
        cls.level = int(np.log2(cls.atlas.cell / FINEST_CELL)) + 3
        cls.patches = about(cls.atlas, cls.level, 3.3, 1.7, 4)

    def measured(self, level: int, window: tuple[int, int, int, int]) -> np.ndarray:
        grid = texel_grid(self.atlas, level, window, WIDER_PAD)
        ys, xs, positions, normals = texel_points(self.atlas, grid, self.shape.corners, self.shape.normals)
        out = np.zeros(grid.faces.shape, np.float32)
        out[ys, xs] = OCCLUSION.measure(Samples(positions, normals), self.graph.get(WholeScene()))
        return out

    def test_it_is_what_measuring_tells_but_for_chance(self) -> None:
        cells = cells_of_patches(self.atlas, self.level, self.patches, OWN)
        truth = self.measured(cells.level, cells.window)
        finer = self.graph.get(FinerField("ground", OCCLUSION, self.level, self.patches, OWN))
        self.assertEqual(finer.shape, cells.window[2:])
        wrong = np.abs(finer - truth)
        self.assertLess(np.quantile(wrong, 0.99), 0.07)
        coarse = self.graph.get(CellField("ground", OCCLUSION, 0))
        row, column, rows, columns = cells.window
        at = [(np.arange(first, first + many) + 0.5) / 2**cells.level - 0.5 for first, many in ((row, rows), (column, columns))]  # fmt: skip
        interpolated = ndimage.map_coordinates(coarse, np.meshgrid(*at, indexing="ij"), order=1)
        self.assertGreater(np.abs(interpolated - truth).max(), 0.3, "cells of the whole cannot tell a crate's foot")
        self.assertLess(wrong.mean(), 0.5 * np.abs(interpolated - truth).mean())

    def test_where_nothing_stands_a_few_points_are_measured_and_no_more(self) -> None:
        far = about(self.atlas, self.level, -25, -25, 4)
        asked: list[int] = []
        measure = Crevice.measure

        def counted(signal: Crevice, samples: Samples, scene: object) -> np.ndarray:
            asked.append(len(samples))
            return measure(signal, samples, scene)

        with patch.object(Crevice, "measure", counted):
            found = self.graph.get(FinerField("ground", OCCLUSION, self.level, far, OWN))
        self.assertTrue(asked)
        self.assertLessEqual(max(asked), (window_of_block(0, 0)[2] // 4) ** 2)
        np.testing.assert_allclose(found, 0, atol=0.05)

    def test_windows_of_the_same_cells_agree(self) -> None:
        row, column, *_ = self.patches
        whole = self.graph.get(FinerField("ground", OCCLUSION, self.level, self.patches, OWN))
        at = cells_of_patches(self.atlas, self.level, self.patches, OWN).window
        for down in range(0, 4, 3):
            one = (row + down, column + down, 1, 1)
            part = self.graph.get(FinerField("ground", OCCLUSION, self.level, one, OWN))
            top, left, rows, columns = cells_of_patches(self.atlas, self.level, one, OWN).window
            there = whole[top - at[0] : top - at[0] + rows, left - at[1] : left - at[1] + columns]
            np.testing.assert_allclose(part, there, atol=0.08)
            self.assertLess(np.abs(part - there).mean(), 1e-3)

    def test_patches_finer_than_cells_can_be_share_theirs(self) -> None:
        finest = self.shape.finest_level
        for side in range(3):
            one = about(self.atlas, finest, 3.3 + 0.05 * side, 1.7, 1)
            cells = cells_of_patches(self.atlas, finest, one, OWN)
            self.assertEqual(cell_level(self.atlas.cell, finest), OWN)
            found = self.graph.get(FinerField("ground", OCCLUSION, finest, one, OWN))
            np.testing.assert_allclose(found, self.measured(cells.level, cells.window), atol=0.12)

    def test_what_is_not_measured_by_rays_is_computed_there(self) -> None:
        noise = Noise(size=0.8)
        found = self.graph.get(FinerField("ground", noise, self.level, self.patches, OWN))
        cells = cells_of_patches(self.atlas, self.level, self.patches, OWN)
        grid = texel_grid(self.atlas, cells.level, cells.window)
        ys, xs, positions, normals = texel_points(self.atlas, grid, self.shape.corners, self.shape.normals)
        np.testing.assert_array_equal(found[ys, xs], noise.measure(Samples(positions, normals), None))

    def test_what_is_worked_out_over_a_whole_scene_stays_as_it_is(self) -> None:
        runoff = Runoff()
        found = self.graph.get(FinerField("ground", runoff, self.level, self.patches, OWN))
        coarse = self.graph.get(CellField("ground", runoff, 0))
        row, column, rows, columns = cells_of_patches(self.atlas, self.level, self.patches, OWN).window
        scale = 2 ** (self.level - 3)
        near = coarse[
            row // scale - 1 : (row + rows) // scale + 2, column // scale - 1 : (column + columns) // scale + 2
        ]
        self.assertTrue(near.min() - 1e-6 <= found.min() <= found.max() <= near.max() + 1e-6)

    def test_no_step_lies_between_blocks(self) -> None:
        """Across the border of two blocks a field bends no more than inside them."""
        finer = self.graph.get(FinerField("ground", OCCLUSION, self.level, self.patches, OWN))
        column = cells_of_patches(self.atlas, self.level, self.patches, OWN).window[1]
        bends = np.abs(np.diff(finer, 2, axis=1)).max(0)
        border = [at for at in range(len(bends)) if (column + at + 1) % SIDE in (0, SIDE - 1)]
        self.assertTrue(border)
        self.assertLessEqual(bends[border].max(), bends.max())
        even = np.abs(finer).max(0) < 0.05
        self.assertLess(bends[[at for at in border if even[at]] or [0]].max(), 0.05)


class KeyTests(unittest.TestCase):
    def test_a_block_follows_what_stands_near_it(self) -> None:
        before, moved = wide(crate("a", 0, 0)), wide(crate("a", 0.001, 0))
        atlas = before.get(ObjectShape("ground")).atlas
        row, column = (at * PATCH // 8 // SIDE for at in about(atlas, 4, 0, 0, 0)[:2])
        block = FinerBlock("ground", Crevice(radius=0.3), 1, row, column)
        one, other = (graph.get(block) for graph in (before, moved))
        self.assertGreater(one.max(), 0.3, "the crate's foot is in it")
        self.assertNotEqual(before.key(block), moved.key(block))
        self.assertFalse(np.array_equal(one, other))

    def test_what_patches_are_composed_of_follows_what_cells_of_the_whole_cannot_tell(self) -> None:
        one, other = wide(crate("a", 0, 0)), wide(crate("a", 0.001, 0))
        keys = []
        for graph in (one, other):
            graph.get(CellField("ground", OCCLUSION, 0))
            keys.append([graph._stated(told_by(Site(graph), "ground", OCCLUSION), [])])
        self.assertNotEqual(*keys)
        for graph in (one, other):
            self.assertEqual(len(told_by(Site(graph), "a", OCCLUSION)), 1, "a crate has no cells finer than its own")


class PatchTests(unittest.TestCase):
    def test_masks_of_patches_show_what_the_whole_cannot(self) -> None:
        where = Where(cards=(SignalCard(id="foot", signal=Crevice(radius=0.2), starts_at=0.15, full_at=0.3),))
        moss = CoverLayer(id="moss", name="Moss", cover=Moss(), where=where, surfaces=("ground",))
        graph = wide(crate("c", 3.3, 1.7), weather=(moss,))
        atlas = graph.get(ObjectShape("ground")).atlas
        level = int(np.log2(atlas.cell / FINEST_CELL)) + 3
        patches = about(atlas, level, 3.3, 1.7, 4)
        mask = graph.get(Mask("ground", where, level, patches))
        finer = graph.get(FinerField("ground", where.cards[0].signal, level, patches, OWN))
        cells = cells_of_patches(atlas, level, patches, OWN)
        card = card_table(where.cards, [(True, 0)])
        none = np.zeros((0, *mask.shape), np.float32)
        np.testing.assert_array_equal(mask, evaluate(finer[None], none, card, mask.shape, 8.0, cells.origin))
        with patch("cenote.derive.finer.FINEST_CELL", 100.0):
            blurred = wide(crate("c", 3.3, 1.7), weather=(moss,)).get(Mask("ground", where, level, patches))
        self.assertGreater((np.abs(mask - blurred) > 0.3).mean(), 0.02)
        edge, soft = (np.abs(np.diff(one, axis=1)).max() for one in (mask, blurred))
        self.assertGreater(edge, 1.5 * soft, "what is measured more finely has the sharper edge")

    def test_patches_are_composed_of_the_same_cells_alone_and_together(self) -> None:
        graph = wide(crate("c", 3.3, 1.7))
        atlas = graph.get(ObjectShape("ground")).atlas
        level = int(np.log2(atlas.cell / FINEST_CELL)) + 3
        patches = about(atlas, level, 3.3, 1.7, 4)
        row, column = patches[0] + 1, patches[1] + 1
        together, alone = (graph.get(PatchMaps("ground", level, some)) for some in (patches, (row, column, 1, 1)))
        same = cut(together.base, patches, (row, column))
        self.assertLess((np.abs(same.astype(int) - alone.base) > 6).mean(), 0.01)

    def test_water_stands_as_on_the_cells_of_the_whole(self) -> None:
        puddles = CoverLayer(id="p", name="Puddles", cover=Puddles(), where=Puddles.usual_where(), surfaces=("ground",))
        graph = wide(relief=1.5, weather=(puddles,))
        standing = next(card.signal for card in puddles.where.cards if isinstance(card.signal, StandingWater))
        levels = graph.get(WaterLevels("ground", standing, 0))
        atlas = graph.get(ObjectShape("ground")).atlas
        wet = np.argwhere(levels > -1e3)
        self.assertGreater(len(wet), 20)
        row, column = wet[len(wet) // 2]
        level = 4
        one = (int(row * 2**level // PATCH), int(column * 2**level // PATCH), 1, 1)
        found = graph.get(FinerWater("ground", standing, level, one, 1))
        cells = cells_of_patches(atlas, level, one, 1)
        scale = 2**cells.level
        self.assertEqual(found.shape, cells.window[2:])
        for y, x in np.argwhere(found > -1e3)[::7]:
            r, c = ((at + first + 0.5) / scale - 0.5 for at, first in zip((y, x), cells.window[:2], strict=True))
            about = levels[int(np.floor(r)) : int(np.floor(r)) + 2, int(np.floor(c)) : int(np.floor(c)) + 2]
            self.assertEqual(found[y, x], about.max())


if __name__ == "__main__":
    unittest.main()
