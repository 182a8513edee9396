"""Texture layouts: every face gets a place of its own at true scale."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import square

from cenote.geometry.build import boulder, box, sphere, turned
from cenote.geometry.charts import GUTTER, cell_for, charted
from cenote.geometry.mesh import Mesh, corner_normals, face_normals, join
from cenote.geometry.texels import stretch_row, stretch_table, texel_grid, texel_points


def coverage(mesh: Mesh, cell: float):
    """The atlas of a mesh, its texels, and the world area that the texels inside faces stand for."""
    atlas = charted(mesh, cell)
    grid = texel_grid(atlas, 1)
    return atlas, grid, grid.inside.sum() * grid.texel**2


def upright_borders(atlas, mesh: Mesh) -> tuple[int, int]:
    """Over how many upright borders between charts what is laid goes on, and how many there are."""
    seen: dict[tuple, tuple[int, np.ndarray]] = {}
    pairs: dict[tuple[int, int], list[bool]] = {}
    for face, corners in enumerate(np.round(mesh.corners, 5)):
        for edge in range(3):
            ends = sorted((tuple(corners[k].tolist()), k) for k in (edge, (edge + 1) % 3))
            (low, a), (high, b) = ends
            if low[0] != high[0] or low[2] != high[2]:
                continue
            flat, chart = atlas.flat[face, [a, b]], int(atlas.charts[face])
            if (low, high) in seen and seen[low, high][0] != chart:
                met = bool(np.allclose(seen[low, high][1], flat, atol=1e-4))
                pairs.setdefault(tuple(sorted((chart, seen[low, high][0]))), []).append(met)
            seen[low, high] = chart, flat
    return sum(all(one) for one in pairs.values()), len(pairs)


class ChartTests(unittest.TestCase):
    def test_flat_faces_keep_their_size(self) -> None:
        mesh = box((0, 0, 0), (1.3, 0.7, 2.1))
        atlas, _, area = coverage(mesh, 0.02)
        self.assertEqual(len(np.unique(atlas.charts)), 6)
        self.assertAlmostEqual(area / face_normals(mesh.corners)[1].sum(), 1, delta=0.03)
        lengths = np.linalg.norm(np.roll(atlas.flat, -1, 1) - atlas.flat, axis=2)
        true = np.linalg.norm(np.roll(mesh.corners, -1, 1) - mesh.corners, axis=2)
        np.testing.assert_allclose(lengths, true, atol=1e-5)

    def test_charts_do_not_touch(self) -> None:
        atlas = charted(join([boulder(k, (0.5, 0.4, 0.6)).at(x=k * 2) for k in range(3)]), 0.03)
        grid = texel_grid(atlas, 0)
        owner = np.where(grid.faces >= 0, atlas.charts[grid.faces], -1)
        for axis in (0, 1):
            near, far = owner, np.roll(owner, -1, axis)
            both = (near >= 0) & (far >= 0) & (near != far)
            # Padding of two charts may meet, the charts themselves never.
            self.assertFalse((both & grid.inside & np.roll(grid.inside, -1, axis)).any())
        self.assertGreaterEqual(GUTTER, 1)

    def test_no_two_faces_share_a_place(self) -> None:
        for mesh in (sphere(16, 24), boulder(5, (0.6, 0.4, 0.5))):
            atlas = charted(mesh, 0.02)
            a, b, c = (atlas.corners[:, k].astype(float) for k in range(3))
            areas = np.abs((b - a)[:, 0] * (c - a)[:, 1] - (c - a)[:, 0] * (b - a)[:, 1]) / 2
            texels = np.bincount(texel_grid(atlas, 2).faces[texel_grid(atlas, 2).inside], minlength=len(areas)) / 16
            # Each face holds the texels its area says, within what its rim makes uncertain.
            self.assertLess(np.abs(texels - areas).max(), 6)
            self.assertAlmostEqual(texels.sum() / areas.sum(), 1, delta=0.01)

    def test_what_is_laid_goes_on_from_chart_to_chart(self) -> None:
        # A box: round three of its corners a pattern goes on, courses stay where their height puts them, and the lid is left alone.
        mesh = box((0, 0, 0), (1.3, 0.8, 0.7))
        atlas = charted(mesh, 0.05)
        corners = mesh.corners.reshape(-1, 3)
        on_walls = np.repeat(np.abs(face_normals(mesh.corners)[0][:, 1]) < 0.5, 3)
        np.testing.assert_allclose(atlas.flat.reshape(-1, 2)[on_walls, 1], -corners[on_walls, 1], atol=1e-6)
        self.assertEqual(upright_borders(atlas, mesh), (3, 4))
        # A drum closes at one border only, and a crate in the way does not change that.
        drum = turned([(0.5, 0), (0.5, 1)], 24)
        met, all_of_them = upright_borders(charted(drum, 0.05), drum)
        self.assertGreater(all_of_them, 3)
        self.assertEqual(met, all_of_them - 1)

    def test_courses_lie_level_on_walls(self) -> None:
        atlas = charted(box((0, 0, 0), (1, 1, 1)), 0.05)
        normals, _ = face_normals(box((0, 0, 0), (1, 1, 1)).corners)
        for chart, axes in enumerate(atlas.axes):
            normal = normals[atlas.charts == chart][0]
            if abs(normal[1]) < 0.5:
                np.testing.assert_allclose(axes[0][1], 0, atol=1e-6)
                np.testing.assert_allclose(axes[1], [0, -1, 0], atol=1e-6)

    def test_cells_grow_with_the_surface(self) -> None:
        self.assertEqual(cell_for(0.1), 0.025)
        self.assertLess(cell_for(500), cell_for(50_000))
        for area in (80, 300, 5000, 1e6):
            self.assertGreaterEqual(area / cell_for(area) ** 2, 100_000)


class TexelTests(unittest.TestCase):
    def test_points_lie_on_their_faces(self) -> None:
        mesh = Mesh.of(square(2).reshape(-1, 3), [[0, 1, 2], [3, 4, 5]])
        atlas = charted(mesh, 0.1)
        for level in (-1, 0, 1):
            grid = texel_grid(atlas, level)
            ys, xs, positions, normals = texel_points(atlas, grid, mesh.corners, corner_normals(mesh))
            np.testing.assert_allclose(positions[:, 1], 0, atol=1e-6)
            np.testing.assert_allclose(normals, np.broadcast_to([0, 1, 0], normals.shape), atol=1e-6)
            self.assertLessEqual(np.abs(positions[:, [0, 2]]).max(), 1 + 1e-5)
            inside = grid.inside[ys, xs]
            spread = positions[inside][:, [0, 2]]
            self.assertAlmostEqual(inside.sum() * grid.texel**2, 4, delta=0.02)
            self.assertLess(np.abs(spread.mean(0)).max(), grid.texel)

    def test_stretching_is_exact_for_linear_fields(self) -> None:
        field = np.arange(8, dtype=np.float32)[None, :] + 10 * np.arange(6, dtype=np.float32)[:, None]
        left, share = stretch_table(8, 32, 4.0)
        rows, sinks = stretch_table(6, 24, 4.0)
        out, between = np.empty(32, np.float32), np.empty(9, np.float32)
        for y in range(24):
            stretch_row(field, rows[y], sinks[y], left, share, between, out)
            expected_y = np.clip((y + 0.5) / 4 - 0.5, 0, 5)
            expected = np.clip((np.arange(32) + 0.5) / 4 - 0.5, 0, 7) + 10 * expected_y
            np.testing.assert_allclose(out, expected, atol=1e-5)
