"""Drops: their shapes, where they lie, how they merge, start and run, against what is known."""

import unittest
from dataclasses import replace

import numpy as np
import trimesh

from cenote.droplets import cap
from cenote.droplets.base import DROPLETS, MOST, Moment
from cenote.droplets.beads import Beads, sizes_between
from cenote.droplets.drops import Drops, Wetted
from cenote.droplets.hanging import Hanging, lower_edges
from cenote.droplets.merging import merged
from cenote.droplets.presets import PRESETS
from cenote.droplets.running import STEP, Running, begun, stepped
from cenote.droplets.runs import Runs
from cenote.droplets.shaping import _FINER, shaped, triangles_of
from cenote.droplets.wetting import WETTINGS
from cenote.geometry.mesh import face_normals
from cenote.materials.base import NATURES
from cenote.structures.turned_pieces import Bell

KEY = np.uint64(77)
WET = Moment(1.0)
# A metal, as the table has it.
METAL = (np.radians(88), np.radians(46), 1.0)


def wetted(corners: np.ndarray, angles=METAL, wanted=None) -> Wetted:
    corners = np.asarray(corners, np.float32)
    normals = np.repeat(face_normals(corners)[0][:, None], 3, axis=1)
    return Wetted(
        corners, normals, np.zeros(len(corners), int), np.array([angles]), wanted or (lambda f, w: np.ones(len(f)))
    )


def plane(tilt: float, side: float = 0.3, **given) -> Wetted:
    """A square board, tilted about z so that +x is downhill; degrees."""
    turn = np.radians(tilt)
    square = np.array([[[-1, 0, -1], [-1, 0, 1], [1, 0, 1]], [[-1, 0, -1], [1, 0, 1], [1, 0, -1]]], float) * side / 2
    turned = np.array([[np.cos(turn), np.sin(turn), 0], [-np.sin(turn), np.cos(turn), 0], [0, 0, 1]])
    return wetted(square @ turned.T, **given)


def board_way(tilt: float) -> np.ndarray:
    """The way down :func:`plane`."""
    return np.array([np.cos(np.radians(tilt)), -np.sin(np.radians(tilt)), 0])


def stepped_board(tilt: float, rise: float) -> Wetted:
    """The board with a bar of 2 mm across its middle, so high, metres."""
    bar = trimesh.creation.box((0.002, 2 * rise, 0.3)).triangles
    turn = np.radians(tilt)
    turned = np.array([[np.cos(turn), np.sin(turn), 0], [-np.sin(turn), np.cos(turn), 0], [0, 0, 1]])
    return wetted(np.concatenate([plane(tilt).corners, bar @ turned.T]))


def ball(radius: float = 0.06) -> Wetted:
    found = trimesh.creation.icosphere(subdivisions=5, radius=radius)
    made = wetted(found.triangles)
    shading = (made.corners / radius).astype(np.float32)
    return replace(made, shading=shading)


def drops_at(on: Wetted, places, diameters) -> Drops:
    """Drops on a plane that is one square, at x and z of its own."""
    places = np.asarray(places, float)
    faces, found = on.below(
        places + on.normals[0] * 0.001, np.tile(on.normals[0], (len(places), 1)), np.full(len(places), 0.05)
    )
    full = np.ones(len(places))
    return Drops(np.arange(1, len(places) + 1).astype(np.uint64), faces, found, on.normals[faces], cap.volume_of(np.asarray(diameters)),
                 full * METAL[0], full * METAL[1], full)  # fmt: skip


class Shapes(unittest.TestCase):
    def test_a_small_drop_is_the_cap_of_a_sphere(self):
        volume = cap.volume_of(np.array([2e-4]))
        for angle in np.radians([30, 60, 90, 120]):
            radius = cap.sphere_radius(volume, angle)
            high = radius * (1 - np.cos(angle))
            # The volume of a cap by its height.
            np.testing.assert_allclose(np.pi * high**2 * (3 * radius - high) / 3, volume, rtol=1e-9)
            np.testing.assert_allclose(cap.flattened(volume, angle, np.ones(1)), 1, atol=1e-3)
        # At 90° it is half a ball.
        np.testing.assert_allclose(cap.base_radius(volume, np.pi / 2, np.ones(1)), 2e-4 / 2 * 2 ** (1 / 3), rtol=1e-9)

    def test_a_wide_drop_is_as_high_as_a_puddle(self):
        volume, angle = np.array([5e-6]), np.radians(80)
        flat = cap.flattened(volume, angle, np.ones(1))
        high = cap.sphere_radius(volume, angle) * (1 - np.cos(angle)) * flat
        np.testing.assert_allclose(high, 2 * cap.CAPILLARY * np.sin(angle / 2), rtol=0.02)
        self.assertAlmostEqual(cap.CAPILLARY * 1000, 2.74, delta=0.05)

    def test_it_starts_at_the_slope_that_its_size_and_angles_give(self):
        # ElSherbini and Jacobi (2006): ρ·g·V·sin α = 24/π³ · γ·D·(cos θ_r − cos θ_a).
        advancing, receding = METAL[:2]
        volume = cap.volume_of(np.array([0.0035]))
        pull = {}
        for degrees in range(1, 90):
            upward = np.cos(np.radians(np.array([degrees])))
            angle = (advancing + receding) / 2
            wide = 2 * cap.base_radius(volume, angle, cap.flattened(volume, angle, upward))
            holds = 24 / np.pi**3 * 0.0735 * wide * (np.cos(receding) - np.cos(advancing))
            on = plane(degrees)
            pull[degrees] = drops_at(on, [on.corners[0].mean(0)], [0.0035]).pull[0]
            pulls = 999 * 9.81 * volume * np.sin(np.radians(degrees))
            np.testing.assert_allclose(pull[degrees], pulls / holds, rtol=1e-4)
        # On a board: it stays where it is on one side of that slope, and runs on the other.
        starts = next(at for at, one in pull.items() if one > 1)
        for tilt, runs in ((starts - 3, False), (starts + 3, True)):
            on = plane(tilt)
            run = begun(drops_at(on, [on.corners[0].mean(0)], [0.0035]))
            how = Running(0, 0, 0, 0.01, 0, 1)
            for _ in range(10):
                run = stepped(run, on, how, run.drops.only(np.zeros(0, int)))
            gone = np.linalg.norm(run.drops.positions[0] - on.corners[0].mean(0))
            self.assertEqual(gone > 1e-4, runs, f"{tilt}°: gone {gone * 1000:.2f} mm")

    def test_meshes_are_closed_and_hold_their_water(self):
        for on in (plane(0), plane(60), plane(90), ball()):
            drops = Beads(number=4, sizes=(1, 4), fine=0.3).lie(on, KEY, WET)
            self.assertGreater(len(drops), 20)
            mesh = shaped(drops, on, fine=True)
            found = trimesh.Trimesh(mesh.positions.astype(float), mesh.faces, process=False)
            self.assertTrue(found.is_watertight and found.is_winding_consistent)
            self.assertAlmostEqual(found.volume / drops.volumes.sum(), 1, delta=0.06)
            self.assertEqual(len(mesh.faces), triangles_of(drops, True))
            np.testing.assert_allclose(np.linalg.norm(mesh.normals, axis=1), 1, atol=1e-4)

    def test_a_pulled_drop_leans_until_it_meets_the_ground_at_its_advancing_angle(self):
        on = plane(90)
        volume = 0.0025
        drops = drops_at(on, [on.corners[0].mean(0)], [volume])
        drops = replace(drops, receding=drops.advancing * 0 + np.radians(30))
        mesh = shaped(drops, on, fine=True, variety=0)
        middle = mesh.positions.mean(0) - drops.positions[0]
        self.assertGreater(middle @ np.array([0, -1, 0]), 0)
        level = shaped(drops_at(plane(0), [[0, 0, 0]], [volume]), plane(0), fine=True, variety=0)
        self.assertLess(abs(level.positions.mean(0)[[0, 2]]).max(), 1e-5)

    def test_feet_lie_on_what_is_round(self):
        on = ball()
        drops = Beads(number=1, sizes=(3, 4.5), fine=0, stays=5).lie(on, KEY, WET)
        mesh = shaped(drops, on, fine=True)
        # All are of the class with the most corners: a top, rings from there to the foot, the middle of the foot.
        around, rings = _FINER[-1]
        each = mesh.positions.reshape(len(drops), 2 + around * rings, 3)
        feet = np.linalg.norm(each[:, 1 + around * (rings - 1) : 1 + around * rings], axis=2) - 0.06
        share = feet / drops.radii[:, None]
        # None floats, and none sinks by 5 % of its radius.
        self.assertLess(share.max(), 0.01)
        self.assertGreater(share.min(), -0.05)
        self.assertGreater(np.linalg.norm(each[:, 0], axis=1).min(), 0.0605)


class Lying(unittest.TestCase):
    def test_sizes_follow_their_distribution(self):
        chance = (np.arange(20000) + 0.5) / 20000
        found = sizes_between(chance, 0.5, 4, 1.0)
        # Number densities like r^(−8/3): ten times as large is so many times as rare.
        counts, edges = np.histogram(found, np.geomspace(0.6, 3.5, 9))
        slope = np.polyfit(np.log(np.sqrt(edges[1:] * edges[:-1])), np.log(counts / np.diff(edges)), 1)[0]
        self.assertAlmostEqual(slope, -8 / 3, delta=0.05)
        self.assertTrue((np.diff(found) >= 0).all() and found[0] >= 0.5 and found[-1] <= 4)
        np.testing.assert_allclose(np.diff(sizes_between(chance, 0.5, 4, 0.0)), 3.5 / 20000, rtol=1e-6)

    def test_none_lies_within_another_and_water_is_kept(self):
        on = ball()
        before = Beads(number=20, sizes=(0.4, 4), fine=0.7).fallen(on, KEY, 1.0)
        after = merged(before, on)
        self.assertLess(len(after), len(before))
        self.assertAlmostEqual(after.volumes.sum() / before.volumes.sum(), 1, delta=1e-9)
        gaps = (
            np.linalg.norm(after.positions[:, None] - after.positions[None], axis=2)
            - after.radii[:, None]
            - after.radii[None]
        )
        facing = after.normals @ after.normals.T > 0.3
        np.fill_diagonal(facing, False)
        self.assertGreaterEqual(gaps[facing].min(), -1e-9)

    def test_they_lie_flat_on_slate_and_stand_on_brass(self):
        def height_over_width(nature: str) -> float:
            wetting = WETTINGS[nature]
            on = plane(0, angles=(np.radians(wetting.advancing), np.radians(wetting.receding), 1.0))
            drops = on.lying(
                np.arange(3).astype(np.uint64),
                np.zeros(3, int),
                np.full((3, 3), 1 / 3),
                cap.volume_of(np.full(3, 0.002)),
            )
            return float(
                cap.sphere_radius(drops.volumes, drops.angles)[0] * (1 - np.cos(drops.angles[0])) / drops.bases[0]
            )

        self.assertEqual(set(WETTINGS), set(NATURES))
        self.assertLess(height_over_width("stone"), 0.3)
        self.assertGreater(height_over_width("metal"), 0.55)
        self.assertGreater(height_over_width("growth"), 1)

    def test_the_dial_and_a_mask_take_them_away_and_nothing_moves(self):
        on = ball()
        way = Beads(number=6, fine=0.9, sizes=(0.3, 1))
        self.assertEqual(len(way.lie(on, KEY, Moment(0.0))), 0)
        some, all_of = (way.fallen(on, KEY, share) for share in (0.4, 1.0))
        self.assertTrue(0 < len(some) < len(all_of))
        self.assertTrue(set(some.ids.tolist()) <= set(all_of.ids.tolist()))
        half = replace(on, wanted=lambda faces, weights: (on.corners[faces].mean(1)[:, 0] > 0).astype(float))
        left = way.fallen(half, KEY, 1.0)
        self.assertTrue(set(left.ids.tolist()) <= set(all_of.ids.tolist()))
        self.assertGreater(left.positions[:, 0].min(), -0.005)

    def test_a_mask_that_leaves_little_of_something_large_leaves_as_many_there(self):
        # On 100 m² there is not room for all that are wanted, on a part of it there is.
        on = plane(0, side=10)
        small = replace(
            on, wanted=lambda faces, weights: (np.abs(on.at(faces, weights)[0]).max(1) < 0.25).astype(float)
        )
        drops = Beads(number=2).fallen(small, KEY, 1.0)
        self.assertAlmostEqual(len(drops) / (0.25 * 2e4), 1, delta=0.05)
        self.assertEqual(len(Beads(number=2).fallen(on, KEY, 1.0)), MOST)

    def test_the_same_seed_gives_the_same_drops_and_another_others(self):
        on = ball()
        for way in (Beads(number=3), Hanging(), Runs(number=2, after=0.5)):
            one, other, third = (way.lie(on, key, WET) for key in (KEY, KEY, np.uint64(78)))
            np.testing.assert_array_equal(one.positions, other.positions)
            if len(one):
                self.assertFalse(len(one) == len(third) and np.array_equal(one.positions, third.positions))

    def test_every_way_lies_at_all_its_ends(self):
        on = plane(75, side=0.06)
        for way in DROPLETS:
            for pick in (0, 1):
                given = {}
                for name, declared in way.model_json_schema()["properties"].items():
                    if "minimum" in declared:
                        given[name] = declared["minimum" if pick == 0 else "maximum"]
                given["after"] = 0.3
                given = {name: value for name, value in given.items() if name in way.model_fields}
                drops = way(**given).lie(on, KEY, WET)
                mesh = shaped(drops, on)
                self.assertTrue(np.isfinite(mesh.positions).all() and np.isfinite(mesh.normals).all(), way.title)
                self.assertGreaterEqual(way(**given).expected(0.0036, WET), 0)
        self.assertEqual(len({one.kind for one in PRESETS}), len(PRESETS))

    def test_open_and_self_crossing_meshes_are_wetted_as_any(self):
        crossing = np.concatenate([plane(30, 0.1).corners, plane(-50, 0.1).corners])
        needle = np.zeros((1, 3, 3), np.float32)
        drops = Beads(number=10).lie(wetted(np.concatenate([crossing, needle])), KEY, WET)
        self.assertGreater(len(drops), 50)
        self.assertTrue(np.isfinite(shaped(drops, wetted(crossing), True).positions).all())


class HangingDrops(unittest.TestCase):
    def test_they_hang_from_the_lowest_edges_of_a_board_and_no_others(self):
        board = trimesh.creation.box((0.4, 0.02, 0.1)).triangles
        on = wetted(board)
        ends, _ = lower_edges(on.corners, on.normals)
        self.assertEqual(len(ends), 4)
        np.testing.assert_allclose(ends[..., 1], -0.01, atol=1e-7)
        drops = Hanging(gaps=0, spacing=10).lie(on, KEY, WET)
        # A metre round it, one every centimetre.
        self.assertAlmostEqual(len(drops), 100, delta=25)
        self.assertTrue((shaped(drops, None).positions[:, 1] < -0.005).all())

    def test_none_is_heavier_than_an_edge_holds(self):
        drops = Hanging(sizes=(2, 6), gaps=0).lie(wetted(trimesh.creation.box((0.4, 0.02, 0.1)).triangles), KEY, WET)
        # Tate (1864): of water some 5 mm.
        self.assertLess((6 * drops.volumes.max() / np.pi) ** (1 / 3), 0.0055)


class RunningDrops(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.on = plane(80, 0.25)
        cls.how = Running(4e-5, 3, np.radians(25), 0.012, 2e-5, 5)

    def _steps(self, count: int, how: Running, **given):
        on = self.on
        run = begun(merged(Beads(number=3, sizes=(1, 4.5), fine=0.3, **given).fallen(on, KEY, 1.0), on))
        total = run.drops.volumes.sum()
        for _ in range(count):
            before = dict(zip(run.drops.ids.tolist(), run.drops.positions[:, 1].tolist(), strict=True))
            lying = set(run.drops.ids[run.speeds > 0].tolist())
            run = stepped(run, on, how, run.drops.only(np.zeros(0, int)))
            yield run, before, lying, total

    def test_nothing_runs_uphill_and_water_is_kept(self):
        ran = 0
        for run, before, running, total in self._steps(40, self.how):
            for id, y in zip(run.drops.ids.tolist(), run.drops.positions[:, 1].tolist(), strict=True):
                if id in running:
                    self.assertLessEqual(y, before[id] + 1e-6)
                    ran += 1
            kept = run.drops.volumes.sum() + run.dripped + run.dried - run.gained
            self.assertAlmostEqual(kept / total, 1, delta=1e-9)
        self.assertGreater(ran, 20)
        self.assertTrue(run.left.any() and run.hangs.any() and run.dripped > 0 and run.dried > 0)

    def test_what_is_lower_than_a_drop_it_flows_over_and_what_is_higher_holds_it(self):
        how = replace(self.how, trail=0, dries=0, swerves=0, gathers=0)
        # A drop of 5 mm stands about 3 mm high, on a slope of 50°.
        for rise, over in ((0.001, True), (0.012, False)):
            on = stepped_board(50, rise)
            run = begun(drops_at(on, [[-0.02, 0.012, 0.0]], [0.005]))
            for _ in range(60):
                run = stepped(run, on, how, run.drops.only(np.zeros(0, int)))
            self.assertEqual(len(run.drops), 1)
            # How far it has come along the board, from the bar on.
            self.assertEqual(bool(run.drops.positions[0] @ board_way(50) > 0.004), over, rise)

    def test_what_hangs_under_a_belly_falls_once_it_is_too_heavy(self):
        on = ball()
        faces, places = on.below(np.array([[0.0, -0.07, 0.0]]), np.array([[0.0, -1.0, 0.0]]), np.array([0.05]))
        full = np.ones(1)
        for wide, falls in ((0.003, False), (0.009, True)):
            drop = Drops(np.array([1], np.uint64), faces, places, on.normals[faces], cap.volume_of(np.array([wide])),
                         METAL[0] * full, METAL[1] * full, full)  # fmt: skip
            run = stepped(begun(drop), on, replace(self.how, gathers=0), drop.only(np.zeros(0, int)))
            self.assertEqual(run.dripped > 0, falls)

    def test_trails_are_taken_from_what_leaves_them_and_dry(self):
        wet = [run for run, *_ in self._steps(30, replace(self.how, dries=0))][-1]
        dry = [run for run, *_ in self._steps(30, replace(self.how, dries=0.2))][-1]
        self.assertEqual(wet.dried, 0)
        self.assertLess(dry.drops.volumes[dry.left].sum(), 0.7 * wet.drops.volumes[wet.left].sum())
        none = [run for run, *_ in self._steps(30, replace(self.how, trail=0))][-1]
        self.assertFalse(none.left.any())

    def test_a_moment_is_the_same_whichever_way_it_is_reached(self):
        way = Runs(number=3, sizes=(1, 4.5), after=0.6)
        at_once = way.lie(self.on, KEY, WET)
        run = way.begun(self.on, KEY, WET)
        for until in (0.1, 0.35, 0.6):
            run = way.gone_on(run, self.on, KEY, WET, until)
        np.testing.assert_array_equal(at_once.positions, run.seen.positions)
        self.assertEqual(run.steps, round(0.6 / STEP))

    def test_they_follow_a_bell_down_and_stay_on_it(self):
        mesh = Bell().build()
        on = wetted(mesh.corners)
        run = Runs(number=1.5, sizes=(1, 4.5), fine=0.3, more=0, after=0.8).lie(on, KEY, WET)
        faces, places = on.below(run.positions, run.normals, np.full(len(run), 0.002))
        near = np.linalg.norm(places - run.positions, axis=1)
        self.assertGreater((faces >= 0).mean(), 0.97)
        self.assertLess(np.quantile(near[faces >= 0], 0.99), 1e-4)


if __name__ == "__main__":
    unittest.main()
