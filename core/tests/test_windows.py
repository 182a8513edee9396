"""A window of a level is what is cut out of the whole level."""

from __future__ import annotations

import unittest

import numpy as np
from golden_sites import covers_site
from shapes import graph_of

from cenote.derive.fields import ComputedField
from cenote.derive.maps import SurfaceMaps
from cenote.derive.patches import PatchMaps, cut, together
from cenote.derive.surfaces import BORDER, PATCH, Grid, TexelPoints
from cenote.geometry.build import block, join
from cenote.geometry.charts import charted
from cenote.geometry.mesh import corner_normals
from cenote.geometry.texels import texel_grid, texel_points
from cenote.masks.evaluate import card_table, evaluate
from cenote.masks.where import SignalCard
from cenote.signals.noise import Noise
from cenote.weather.base import CoverLook
from cenote.weather.compose import LaidCover, compose
from cenote.weather.tiles import LaidTile

LEVEL, WINDOW = 2, (37, 21, 90, 110)


class WindowTests(unittest.TestCase):
    def setUp(self) -> None:
        mesh = join([block((0, 0, 0), (3, 2, 1)), block((4, 0, 0), (5, 1, 2))])
        self.mesh, self.atlas = mesh, charted(mesh, 0.1)
        self.whole, self.part = texel_grid(self.atlas, LEVEL), texel_grid(self.atlas, LEVEL, WINDOW)
        row, column, rows, columns = WINDOW
        self.cut = (slice(row, row + rows), slice(column, column + columns))
        self.assertGreater((self.part.faces >= 0).mean(), 0.3)

    def test_texels_show_the_same_faces_at_the_same_places(self) -> None:
        np.testing.assert_array_equal(self.part.faces, self.whole.faces[self.cut])
        np.testing.assert_array_equal(self.part.inside, self.whole.inside[self.cut])
        given = (self.mesh.corners.astype(np.float32), corner_normals(self.mesh))
        grids = [np.full((*grid.faces.shape, 6), np.nan, np.float32) for grid in (self.whole, self.part)]
        for grid, out in zip((self.whole, self.part), grids, strict=True):
            ys, xs, places, normals = texel_points(self.atlas, grid, *given)
            out[ys, xs] = np.concatenate([places, normals], axis=1)
        np.testing.assert_array_equal(grids[1], grids[0][self.cut])

    def test_beyond_the_edge_there_is_nothing(self) -> None:
        rows, columns = self.whole.faces.shape
        self.assertTrue((texel_grid(self.atlas, LEVEL, (rows, columns, 8, 8)).faces == -1).all())
        corner = texel_grid(self.atlas, LEVEL, (-4, -4, 12, 12)).faces
        np.testing.assert_array_equal(corner[4:, 4:], self.whole.faces[:8, :8])
        self.assertTrue((corner[:4] == -1).all())

    def test_masks_and_maps_are_the_same_but_for_the_slopes_of_the_outermost_texels(self) -> None:
        dice = np.random.default_rng(3)
        height, width = self.atlas.height, self.atlas.width
        cells = dice.random((1, height, width)).astype(np.float32)
        card = SignalCard(id="a", signal=Noise(), starts_at=0.2, full_at=0.8)
        table = card_table((card,), [(True, 0)])
        none = np.zeros((0, 1, 1), np.float32)
        masks = [
            evaluate(cells, none, table, grid.faces.shape, 2.0**LEVEL, grid.origin) for grid in (self.whole, self.part)
        ]
        np.testing.assert_array_equal(masks[1], masks[0][self.cut])
        tiles = [LaidTile.of(dice.random((32, 32, 6)).astype(np.float32), size, 0.02, 0.3) for size in (0.7, 1.1)]
        faces = len(self.atlas.corners)
        grade = np.tile(np.array([1, 1, 1, 1, 0], np.float32), (faces, 1))
        found = [
            compose(self.atlas, grid, tiles[:1], np.zeros(faces, np.int32), grade,
                    [LaidCover((tiles[1],), mask, CoverLook("any", 1.0, joints=0.4, thickness=0.01))], cells[0], cells[0])
            for grid, mask in zip((self.whole, self.part), masks, strict=True)
        ]  # fmt: skip
        seen = self.part.faces >= 0
        for name in ("base", "orm", "height"):
            whole, part = (getattr(one, name) for one in found)
            np.testing.assert_array_equal(part[seen], whole[self.cut][seen], name)
        inner = np.zeros(seen.shape, bool)
        inner[1:-1, 1:-1] = seen[1:-1, 1:-1]
        np.testing.assert_array_equal(found[1].normal[inner], found[0].normal[self.cut][inner])


class PatchTests(unittest.TestCase):
    def test_near_patches_are_composed_side_by_side_and_cut_apart_again(self) -> None:
        whole = [(row, column) for row in range(2) for column in range(4)]
        found = together([*whole, (5, 4), (6, 4)])
        self.assertEqual(found, {(0, 0, 2, 4): whole, (5, 4, 2, 1): [(5, 4), (6, 4)]})
        rows, columns = np.mgrid[: 2 * PATCH + 2 * BORDER, : 4 * PATCH + 2 * BORDER]
        part = cut(np.dstack([rows, columns]), (0, 0, 2, 4), (1, 3))
        self.assertEqual(part.shape, (PATCH + 2 * BORDER, PATCH + 2 * BORDER, 2))
        self.assertEqual(part[0, 0].tolist(), [PATCH, 3 * PATCH])

    def test_little_is_composed_that_nobody_asks_for(self) -> None:
        asked = [(0, 0), (3, 3), (2, 3), (0, 3), (4, 1)]
        found = together(asked)
        self.assertEqual(sorted(one for some in found.values() for one in some), sorted(asked))
        self.assertEqual(sum(rows * columns for _, _, rows, columns in found), len(asked))

    def test_smooth_noise_is_interpolated_as_if_it_were_computed_at_each_texel(self) -> None:
        class Exact(Noise):
            def smooth_over(self) -> float:
                return 0.0

        graph = graph_of(covers_site())
        settings = {"size": 1.2, "octaves": 3, "seed": 5}
        smooth, exact = Noise(**settings), Exact(**settings)
        for id in ("ground", "barrel"):
            grid = graph.get(Grid(id, 3))
            seen, inside = grid.faces >= 0, grid.inside
            points = graph.get(TexelPoints(id, 3, None, smooth.smooth_over()))
            self.assertLess(points.among[0] * points.among[1], seen.size / 3.9, "fewer are computed")
            whole, there = graph.get(ComputedField(id, smooth, 3)), graph.get(ComputedField(id, exact, 3))
            missed = np.abs(whole - there)[inside]
            self.assertLess(np.quantile(missed, 0.99), 0.006)
            # Along the edge of a chart values beyond it take part, which repeat the edge.
            self.assertTrue(0 < missed.max() < 0.02, missed.max())
            # What a patch has of it is what the whole has: interpolation knows no borders.
            patch = graph.get(ComputedField(id, smooth, 3, (1, 0, 1, 1)))
            high, wide = (min(PATCH, side - at) for side, at in zip(seen.shape, (PATCH, 0), strict=True))
            here = (slice(BORDER, BORDER + high), slice(BORDER, BORDER + wide))
            cut_out = (slice(PATCH, PATCH + high), slice(0, wide))
            np.testing.assert_array_equal(patch[here][seen[cut_out]], whole[cut_out][seen[cut_out]])

    def test_patches_of_levels_side_by_side_are_of_one_tone(self) -> None:
        graph = graph_of(covers_site())
        for id in ("ground", "barrel"):
            seen = graph.get(Grid(id, 2)).inside
            rows, columns = (side // 2 * 2 for side in seen.shape)
            coarse, fine = graph.get(SurfaceMaps(id, 2)), graph.get(SurfaceMaps(id, 3))
            for name in ("base", "orm", "normal"):
                one = getattr(coarse, name)[:rows, :columns, :3].astype(float)
                four = getattr(fine, name)[: 2 * rows, : 2 * columns, :3].astype(float)
                apart = (four.reshape(rows, 2, columns, 2, 3).mean((1, 3)) - one)[seen[:rows, :columns]]
                # A step in tone along a border is what the eye finds; single texels differ by what is too fine for one.
                self.assertLess(np.abs(apart.mean(0)).max(), 2.0, f"{name} of {id}")
                self.assertLess(np.abs(apart).mean(), 8.0, f"{name} of {id}")

    def test_the_maps_of_patches_are_those_of_the_whole(self) -> None:
        graph = graph_of(covers_site())
        for id in ("ground", "barrel"):
            grid, whole = graph.get(Grid(id, 1)), graph.get(SurfaceMaps(id, 1))
            rows, columns = (-(-side // PATCH) for side in grid.faces.shape)
            for row in range(rows):
                for column in range(columns):
                    part = graph.get(PatchMaps(id, 1, (row, column, 1, 1)))
                    high, wide = (min(PATCH, side - PATCH * at) for side, at in
                                  zip(grid.faces.shape, (row, column), strict=True))  # fmt: skip
                    there = (slice(PATCH * row, PATCH * row + high), slice(PATCH * column, PATCH * column + wide))
                    here = (slice(BORDER, BORDER + high), slice(BORDER, BORDER + wide))
                    seen = grid.faces[there] >= 0
                    for name in ("base", "orm", "normal", "height"):
                        one, other = getattr(part, name)[here], getattr(whole, name)[there]
                        np.testing.assert_array_equal(one[seen], other[seen], f"{name} of {id} at {row}, {column}")


if __name__ == "__main__":
    unittest.main()
