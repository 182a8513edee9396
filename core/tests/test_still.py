"""Stills: what the engine makes of known scenes, and what is shown of it."""

from __future__ import annotations

import time
import unittest
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import OpenEXR
import trimesh
from shapes import graph_of, small_site

from cenote.derive.graph import Graph
from cenote.geometry.camera import Camera
from cenote.light.air import Air
from cenote.light.daylight import Light, above, daylight
from cenote.light.lamps.base import SUN_LUX
from cenote.light.lamps.spot import SpotLamp
from cenote.render.preview import look
from cenote.site.document import CoverLayer, Shot
from cenote.still.covered import cover_masks
from cenote.still.develop import seen_above, surround
from cenote.still.layers import read_layers, write_layers
from cenote.still.scene import (
    KINDS,
    LIGHT_GROUPS,
    Copies,
    LampLight,
    LensBlur,
    Piece,
    Skin,
    SunLight,
    Thing,
    TracedScene,
    WaterBody,
    ways_of_map,
)
from cenote.still.smaller import smaller
from cenote.still.studio import Studio
from cenote.still.tracing import Film, Picture, Tracer, TracingFailed
from cenote.weather.climate import Climate
from cenote.weather.moss import Moss
from cenote.weather.snow import Snow

UP = np.tile(np.array([0, 1, 0], np.float32), (4, 1))
GREY = Skin(np.full((2, 2, 3), 188, np.uint8), roughness=1.0)
DARK = np.zeros((16, 32, 3), np.float32)
DOWN = Camera.looking((0, 4, 0), (0, 0, 0), 0.25, 0.25)


def level(half: float = 20.0, skin: str = "grey", height: float = 0.0) -> Piece:
    """A level square about the origin."""
    corners = np.array([[-half, height, -half], [-half, height, half], [half, height, half], [half, height, -half]])
    uv = np.array([[0, 0], [0, 1], [1, 1], [1, 0]])
    return Piece(skin, corners, UP, np.array([[0, 1, 2], [0, 2, 3]]), uv)


def scene(*pieces: Piece, camera: Camera = DOWN, **others: object) -> TracedScene:
    """Pieces of grey, in the dark."""
    return replace(TracedScene(camera, {"grey": GREY}, pieces, (), DARK), **others)


def traced(wanted: TracedScene, picture: Picture, samples: int = 24) -> Film:
    """A film with so many samples."""
    with Tracer(wanted, picture) as tracer:
        wait_for(tracer, samples)
        return tracer.look()


def wait_for(tracer: Tracer, samples: float) -> None:
    """Wait until there are so many samples."""
    for _ in range(600):
        if tracer.samples() >= samples:
            return
        time.sleep(0.05)
    raise AssertionError(f"not {samples} samples after half a minute")


class EngineTests(unittest.TestCase):
    def test_pixels_lie_where_the_camera_has_them(self) -> None:
        picture = Picture(60, 40)
        for camera in (
            Camera.looking((1, 3, 4), (0.2, 0, 0), 0.5, 0.5 * 40 / 60),
            Camera.looking((0, 3, 4), (0.5, 0.5, 0), 0.5, 0.5 * 40 / 60, upright=True),
        ):
            film = traced(scene(level(0.8), camera=camera), picture)
            origins, ways = camera.rays(60 * 4, 40 * 4)
            reach = -origins[:, 1] / np.where(ways[:, 1] < 0, ways[:, 1], -1e-9)
            hits = origins + ways * reach[:, None]
            inside = (ways[:, 1] < 0) & (np.abs(hits[:, [0, 2]]) < 0.8).all(1)
            expected = inside.reshape(40, 4, 60, 4).mean((1, 3))
            error = film.channels["alpha"][..., 0] - expected
            self.assertLess(np.abs(error).mean(), 0.02)
            # Shifted by a quarter of a pixel either way it would be told.
            self.assertLess(np.abs(error.sum()), 0.02 * expected.sum())
            depth = film.channels["depth"][..., 0]
            solid = expected == 1
            self.assertLess(np.abs(depth - reach.reshape(40, 4, 60, 4).mean((1, 3)))[solid].max(), 0.3)

    def test_the_sun_lights_as_it_is_told_to(self) -> None:
        towards = np.array([0.6, 0.8, 0.0])
        sun = SunLight(towards, np.array([3.0, 2.0, 1.0]), 0.00465)
        film = traced(scene(level(), sun=sun), Picture(16, 16))
        grey = 0.5029
        expected = grey / np.pi * 0.8 * sun.light
        np.testing.assert_allclose(film.channels["sun"].mean((0, 1)), expected, rtol=0.03)
        np.testing.assert_allclose(film.channels["albedo"].mean((0, 1)), grey, rtol=0.02)
        shaded = traced(
            scene(level(), level(1, height=2), sun=sun, camera=Camera.looking((-4, 4, 0), (-1.5, 0, 0), 0.05, 0.05)),
            Picture(8, 8),
        )
        self.assertLess(shaded.channels["sun"].mean(), 0.2 * expected.mean())

    def test_of_an_obstacle_the_shadow_alone_is_seen(self) -> None:
        sun = SunLight(np.array([0.6, 0.8, 0.0]), np.ones(3), 0.00465)
        over = replace(level(1, height=2), seen=False)
        camera = Camera.looking((0, 4, 0), (0, 0, 0), 0.6, 0.6)
        film = traced(scene(level(), over, sun=sun, camera=camera), Picture(24, 24))
        np.testing.assert_allclose(film.channels["depth"][11:13, 11:13], 4, rtol=0.01)
        # Looking down, north is up: its shadow lies from 2.5 m to 0.5 m to the west, and the picture is 4.8 m wide.
        lit = film.channels["sun"][12, :, 0]
        self.assertLess(lit[2:9].mean(), 0.1 * lit[12:].mean())

    def test_the_sky_stands_where_it_does(self) -> None:
        rows = 32
        for bearing, height, way in ((90, 2, (1, 0, 0)), (0, 2, (0, 0, -1)), (180, 40, (0, np.sin(0.7), np.cos(0.7)))):
            sky = np.zeros((rows, 2 * rows, 3), np.float32)
            row = int((90 - height) / 180 * rows)
            column = int(bearing / 360 * 2 * rows)
            sky[row - 2 : row + 3, np.arange(column - 2, column + 3) % (2 * rows)] = [0, 1, 0]
            camera = Camera.looking((0, 1, 0), np.array([0, 1, 0]) + way, 0.1, 0.1)
            film = traced(scene(level(0.1), camera=camera, sky=sky), Picture(8, 8), 4)
            self.assertGreater(film.radiance[..., 1].mean(), 0.8, bearing)

    def test_lamps_send_what_they_are_told_to_and_where(self) -> None:
        lamp = SpotLamp(lumens=1000, angle=60)
        ways = ways_of_map(128)
        sent = lamp.candela(ways.reshape(-1, 3)).reshape(128, 256, 1) * np.ones(3)
        pose = np.eye(4)
        pose[:3, 3] = [0, 2, 0]
        film = traced(scene(level(), lamps=[LampLight(pose, sent, np.zeros(3))]), Picture(24, 24), 32)
        lit = film.channels["lamps"][..., 0]
        axis = float(lamp.candela(np.array([[0.0, -1.0, 0.0]]))[0])
        self.assertAlmostEqual(lit[10:14, 10:14].mean() / (0.5029 / np.pi * axis / 4), 1, delta=0.06)
        # Upside down it lights nothing below.
        pose = pose @ np.diag([1.0, -1, -1, 1])
        turned = traced(scene(level(), lamps=[LampLight(pose, sent, np.zeros(3))]), Picture(8, 8), 8)
        self.assertLess(turned.radiance.mean(), 0.01 * lit.mean())
        self.assertGreater(SUN_LUX, axis)

    def test_a_shining_surface_sends_as_much_as_a_point_from_afar(self) -> None:
        pose = np.eye(4)
        pose[:3, 3] = [0, 6, 0]
        along = 100.0
        area = LampLight(pose, None, np.full(3, along / 0.25), 0.5, 0.5)
        camera = Camera.looking((0, 3, 0), (0, 0, 0), 0.05, 0.05)
        film = traced(scene(level(), lamps=[area], camera=camera), Picture(8, 8), 64)
        self.assertAlmostEqual(film.channels["lamps"].mean() / (0.5029 / np.pi * along / 36), 1, delta=0.15)

    def test_water_mirrors_by_the_law_of_fresnel(self) -> None:
        outline = np.array([[-90.0, -90], [90, -90], [90, 90], [-90, 90]])
        water = WaterBody(0.0, outline, np.array([[0, 1, 2], [0, 2, 3]]), 0.3, np.array([0.02, 0.05, 0.02]))
        for degrees in (60, 10):
            angle = np.radians(degrees)
            camera = Camera.looking((0, np.sin(angle) * 5, np.cos(angle) * 5), (0, 0, 0), 0.02, 0.02)
            black = {"grey": Skin(np.zeros((2, 2, 3), np.uint8))}
            wanted = replace(scene(level(90, height=-3), camera=camera, sky=DARK + 1), skins=black, waters=[water])
            film = traced(wanted, Picture(12, 12), 600)
            above, below = np.sin(angle), np.sqrt(1 - (np.cos(angle) / 1.33) ** 2)
            across, along = (
                (above - 1.33 * below) / (above + 1.33 * below),
                (below - 1.33 * above) / (below + 1.33 * above),
            )
            mirrored = (across**2 + along**2) / 2
            # Besides, the water sends back some of what goes into it, green most.
            own = film.radiance.mean((0, 1)) - mirrored
            self.assertTrue((own > 0).all() and (own < 0.06).all(), own)
            self.assertGreater(own[1], own[0])

    def test_what_lies_below_a_drop_is_lit_through_it(self) -> None:
        ball = trimesh.creation.icosphere(subdivisions=4, radius=0.4)
        sun = SunLight(np.array([0.6, 0.8, 0.0]), np.ones(3), 0.00465)
        camera = Camera.looking((0, 4, 0), (0, 0, 0), 0.6, 0.6)

        def lit(skin: Skin) -> np.ndarray:
            skins = {"grey": GREY, "ball": skin}
            above = Piece(
                "ball", ball.vertices + np.array([0, 2, 0]), ball.vertex_normals.astype(np.float32), ball.faces
            )
            film = traced(scene(level(), above, skins=skins, sun=sun, camera=camera), Picture(24, 24), 40)
            return film.channels["sun"][12, :, 0]

        # Its shadow lies 1.5 m to the west.
        solid, clear = lit(GREY), lit(Skin(clear=True))
        self.assertLess(solid[4:6].mean(), 0.2 * solid[19:].mean())
        self.assertGreater(clear[4:6].mean(), 0.7 * clear[19:].mean())
        # Through its middle one sees the ground, lit.
        self.assertGreater(clear[11:13].mean(), 0.4 * clear[19:].mean())

    def test_copies_have_their_places_and_their_tints(self) -> None:
        matrices = np.tile(np.eye(4, dtype=np.float32), (3, 1, 1))
        matrices[:, 0, 3] = [-0.6, 0.0, 0.6]
        tints = np.array([[1, 0, 0], [0, 1, 0], [0.5, 0.5, 2]], np.float32)
        camera = Camera.looking((0, 4, 0), (0, 0, 0), 0.225, 0.075)
        wanted = replace(scene(camera=camera), copies=[Copies([level(0.25)], matrices, tints)])
        film = traced(wanted, Picture(30, 10), 8)
        albedo = film.channels["albedo"][4:6]
        for column, tint in ((5, tints[0]), (15, tints[1]), (25, np.array([0.5, 0.5, 1.9]))):
            np.testing.assert_allclose(albedo[:, column].mean(0), 0.5029 * tint, atol=0.06)

    def test_normals_of_pictures_tilt_as_files_have_them(self) -> None:
        for pixel, expected in (
            ((128, 128, 255), (0, 1, 0)),
            ((218, 128, 218), (0.7, 0.7, 0)),
            ((128, 218, 218), (0, 0.7, -0.7)),
        ):
            skin = Skin(normal=np.full((4, 4, 3), pixel, np.uint8))
            film = traced(replace(scene(level()), skins={"grey": skin}), Picture(6, 6), 4)
            normal = film.channels["normal"].mean((0, 1))
            np.testing.assert_allclose(normal / np.linalg.norm(normal), expected, atol=0.05)

    def test_it_goes_on_from_a_film_that_was_kept(self) -> None:
        wanted = scene(level(), sky=np.ones((16, 32, 3), np.float32))
        first, other = (traced(wanted, Picture(16, 16, seed=seed), samples) for seed, samples in ((3, 8), (9, 32)))
        kept = read_layers(write_layers(first, first.radiance))
        self.assertEqual(kept.samples, first.samples)
        for name, channel in first.channels.items():
            np.testing.assert_array_equal(kept.channels[name], channel, name)
        both = other.added(kept)
        self.assertEqual(both.samples, first.samples + other.samples)
        share = first.samples / both.samples
        for name in ("sky", "albedo", "alpha"):
            expected = first.channels[name] * share + other.channels[name] * (1 - share)
            np.testing.assert_allclose(both.channels[name], expected, rtol=1e-5, atol=1e-7)
        # Other seeds have other noise.
        self.assertGreater(np.abs(first.radiance - other.radiance).max(), 1e-4)

    def test_noise_is_removed_and_light_kept(self) -> None:
        sun = SunLight(np.array([0.6, 0.8, 0.0]), np.ones(3), 0.2)
        wanted = scene(
            level(),
            level(0.5, height=1),
            sun=sun,
            camera=Camera.looking((-3, 3, 0), (0, 0, 0), 0.4, 0.4),
            sky=DARK + 0.2,
        )
        few, many = traced(wanted, Picture(64, 64), 2), traced(wanted, Picture(64, 64), 128)
        clean = few.cleaned()
        self.assertLess(np.abs(clean - many.radiance).mean(), 0.6 * np.abs(few.radiance - many.radiance).mean())
        self.assertAlmostEqual(clean.mean() / many.radiance.mean(), 1, delta=0.05)

    def test_a_part_is_that_part_of_the_whole(self) -> None:
        camera = Camera.looking((0, 4, 0), (0.3, 0, 0.2), 0.25, 0.25)
        whole = traced(scene(level(0.5), camera=camera), Picture(32, 32), 24).channels["alpha"]
        part = traced(scene(level(0.5), camera=camera), Picture(32, 32, (0.25, 0, 0.75, 0.5)), 24).channels["alpha"]
        self.assertEqual(part.shape, (16, 16, 1))
        self.assertLess(np.abs(whole[:16, 8:24] - part)[1:-1, 1:-1].mean(), 0.03)

    def test_layers_have_the_names_that_others_read_them_by(self) -> None:
        film = traced(scene(level(0.5), camera=Camera.looking((0, 4, 0), (0, 0, 0), 0.2, 0.2)), Picture(12, 8), 4)
        with TemporaryDirectory() as folder:
            path = Path(folder) / "film.exr"
            path.write_bytes(write_layers(film, film.radiance, {"old_moss": film.channels["alpha"][..., 0]}))
            with OpenEXR.File(str(path), separate_channels=True) as file:
                names, depth = set(file.channels()), file.channels()["Z"].pixels
        self.assertLessEqual(
            {"R", "G", "B", "A", "Z", "sun.R", "sky.G", "lamps.B", "glow.R", "albedo.G", "normal.X", "cover.old_moss"},
            names,
        )
        self.assertLessEqual({"direct.R", "indirect.G", "emission.B"}, names)
        beside = {"position": film.channels["normal"], "mist": film.channels["alpha"][..., 0]}
        again = read_layers(write_layers(film, film.radiance, {"old_moss": film.channels["alpha"][..., 0]}, beside))
        np.testing.assert_array_equal(again.masks().covers["old_moss"], film.channels["alpha"][..., 0])
        more = film.added(again)
        self.assertFalse(more.masks().covers, "where covers are is found anew for more paths")
        self.assertAlmostEqual(float(depth.min()), 4, delta=0.2)
        self.assertTrue((depth[film.channels["alpha"][..., 0] == 0] == 1e10).all())

    def test_light_by_how_it_came_is_all_of_it(self) -> None:
        sun = SunLight(np.array([0.0, 1.0, 0.0]), np.ones(3), 0.00465)
        alone = traced(scene(level(), sun=sun), Picture(12, 12), 32).passes()
        self.assertLess(
            np.abs(alone["indirect"]).mean(),
            0.02 * alone["direct"].mean(),
            "a plain without a sky is lit by the sun alone",
        )
        # Below a roof that lets no sun through, light comes by way of the ground beside.
        roofed = traced(
            scene(level(2), level(0.8, height=0.5), sun=sun, camera=Camera.looking((0, 0.25, 0.7), (0, 0.5, 0), 0.3, 0.3)),
            Picture(16, 16), 64,
        )  # fmt: skip
        passes = roofed.passes()
        np.testing.assert_allclose(sum(passes.values()), roofed.radiance, rtol=1e-4, atol=1e-5)
        self.assertGreater(passes["indirect"].mean(), 2 * passes["direct"].mean())
        self.assertFalse(
            replace(roofed, channels={name: one for name, one in roofed.channels.items() if name != "direct"}).passes()
        )

    def test_masks_tell_kinds_to_a_share_of_a_pixel_and_things_by_number(self) -> None:
        # From 4 m above 2 m are seen: a table takes a third of the width at its height of 1 m, a plant stands beside it.
        table = replace(level(0.25, height=1), thing=Thing("same", "structures"))
        plant = replace(level(0.2, height=1), thing=Thing("same", "planting"))
        pose = np.eye(4, dtype=np.float32)[None]
        pose[0, 0, 3] = 0.5
        wanted = replace(
            scene(table, level(), sky=DARK + 1), copies=[Copies([plant], pose, np.ones((1, 3), np.float32))]
        )
        film = traced(wanted, Picture(25, 25), 32)
        masks = film.masks()
        for kind, low, high in (("structures", -0.25, 0.25), ("planting", 0.3, 0.7)):
            across = masks.of_kind(kind)[12] * (1.5 / 25)
            self.assertAlmostEqual(across.sum(), high - low, delta=0.02, msg=kind)
            self.assertAlmostEqual(
                (across * (np.arange(25) + 0.5) * 1.5 / 25).sum() / across.sum() - 0.75, (low + high) / 2, delta=0.02
            )
        np.testing.assert_allclose(sum(masks.of_kind(kind) for kind in KINDS), 1, atol=0.02)
        np.testing.assert_allclose(masks.of((), ("same",)), masks.of_kind("planting"), atol=0.02)
        np.testing.assert_allclose(masks.of(("same",), ()), masks.of_kind("structures"), atol=0.02)
        self.assertEqual(masks.of(("gone",), ()).max(), 0)
        back = read_layers(write_layers(film, film.radiance))
        self.assertEqual(back.things, tuple(film.things))
        np.testing.assert_array_equal(back.masks().of((), ("same",)), masks.of((), ("same",)))
        both = film.added(traced(wanted, Picture(25, 25, seed=2), 8))
        self.assertEqual(set(np.unique(both.channels["thing"])), {0, 2, 3})

    def test_what_is_out_of_focus_is_blurred(self) -> None:
        camera = Camera.looking((0, 4, 0), (0, 0, 0), 0.25, 0.25)
        alpha = [traced(scene(level(0.5), camera=camera, blur=LensBlur(radius, focus)), Picture(48, 48), 48).channels["alpha"]
                 for radius, focus in ((0.0, 1.0), (0.3, 4.0), (0.3, 2.0))]  # fmt: skip
        sharp, focused, blurred = ((one > 0.1) & (one < 0.9) for one in alpha)
        self.assertLess(focused.sum(), 1.5 * sharp.sum() + 40)
        self.assertGreater(blurred.sum(), 3 * focused.sum())

    def test_an_engine_that_ends_is_told_of_in_words(self) -> None:
        with Tracer(scene(level()), Picture(16, 16)) as tracer:
            tracer._process.kill()
            with self.assertRaisesRegex(TracingFailed, "ended by itself"):
                for _ in range(20):
                    tracer.look()

    def test_what_cannot_be_built_is_told_in_words(self) -> None:
        with self.assertRaises(TracingFailed), Tracer(replace(scene(level()), skins={}), Picture(16, 16)):
            pass


class CoverMaskTests(unittest.TestCase):
    shot = Shot(id="a", position=(0, 5, 8), target=(0, 0, 0))
    picture = Picture(60, 40)

    def found(self, graph: Graph, picture: Picture, nearer: float = 0.0) -> tuple[dict[str, np.ndarray], np.ndarray]:
        seen = look(graph, self.shot, 60, 40)
        origins, _ = self.shot.camera(1.5).rays(60, 40)
        depth = np.where(seen.which >= 0, np.linalg.norm(seen.points - origins, axis=1) - nearer, np.inf).reshape(
            40, 60
        )
        first, last, top, bottom = picture.window
        masks = cover_masks(graph, self.shot, picture, depth[top : bottom + 1, first : last + 1].astype(np.float32))
        return masks, (seen.which == seen.ids.index("ground")).reshape(40, 60)

    def test_a_cover_is_where_its_surfaces_are_seen_and_as_much_as_lies_there(self) -> None:
        snow = CoverLayer(id="snow", cover=Snow(), surfaces=("ground",))
        moss = CoverLayer(id="moss", cover=Moss(), surfaces=("ground",), shown=False)
        graph = graph_of(small_site(weather=(snow, moss), climate=Climate(snow=0.4)))
        masks, ground = self.found(graph, self.picture)
        self.assertEqual(list(masks), ["snow"])
        self.assertEqual(masks["snow"][~ground].max(), 0)
        self.assertGreater(masks["snow"][ground].mean(), 0.9)
        # What stands before the ground is not covered by what lies on it.
        self.assertEqual(self.found(graph, self.picture, nearer=2.0)[0]["snow"].max(), 0)
        part = Picture(60, 40, (0.5, 0.25, 1.0, 0.75))
        first, last, top, bottom = part.window
        np.testing.assert_array_equal(
            self.found(graph, part)[0]["snow"], masks["snow"][top : bottom + 1, first : last + 1]
        )


class BesideTests(unittest.TestCase):
    def test_places_are_those_that_were_looked_at_and_mist_grows_with_the_distance(self) -> None:
        shot = Shot(id="a", position=(0, 2, 30), target=(0, 0, -30))
        graph = graph_of(small_site(air=Air(visibility=500.0)))
        picture = Picture(60, 40, (0.25, 0.0, 1.0, 1.0))
        first, last, top, bottom = picture.window
        origins, ways = (
            part.reshape(40, 60, 3)[top : bottom + 1, first : last + 1] for part in shot.camera(1.5).rays(60, 40)
        )
        with np.errstate(divide="ignore"):
            far = np.where(ways[..., 1] < 0, -origins[..., 1] / ways[..., 1], np.inf).astype(np.float32)
        none = np.zeros((*far.shape, 1), np.float32)
        channels = {
            "depth": far[..., None],
            "alpha": (np.isfinite(far)[..., None]).astype(np.float32),
            "normal": none.repeat(3, 2),
            "thing": none,
        }
        found = Studio(graph, shot, picture).beside(Film(1, channels))
        there = np.isfinite(far)
        self.assertLess(np.abs(found["position"][there][:, 1]).max(), 1e-3)
        self.assertEqual(np.abs(found["position"][~there]).max(), 0)
        order = np.argsort(far[there])
        mist = found["mist"][there][order]
        self.assertGreater(mist[-1], mist[0] + 0.05)
        self.assertTrue(mist.min() >= 0 and mist.max() <= 1)


class DevelopTests(unittest.TestCase):
    def test_a_smaller_film_has_the_mean_of_its_blocks(self) -> None:
        draw = np.random.default_rng(1)
        channels = {name: draw.random((16, 24, 3)).astype(np.float32) for name in (*LIGHT_GROUPS, "albedo", "normal")}
        channels |= {
            "alpha": np.ones((16, 24, 1), np.float32),
            "depth": draw.random((16, 24, 1)).astype(np.float32) + 1,
            "thing": np.arange(16 * 24, dtype=np.float32).reshape(16, 24, 1),
        }
        film, picture = smaller(Film(3, channels), Picture(24, 16), 6)
        self.assertEqual((picture.width, picture.height, film.samples), (6, 4, 3))
        np.testing.assert_allclose(film.channels["sun"][0, 0], channels["sun"][:4, :4].mean((0, 1)), rtol=1e-5)
        self.assertEqual(film.channels["depth"][3, 5, 0], channels["depth"][12:, 20:].min())
        self.assertIn(film.channels["thing"][3, 5, 0], channels["thing"][12:, 20:])
        part, small = smaller(Film(3, channels), Picture(48, 32, (0.25, 0.5, 0.75, 1)), 12)
        left, right, top, bottom = small.window
        self.assertEqual(part.channels["sun"].shape[:2], (bottom - top + 1, right - left + 1))
        same, whole = smaller(Film(3, channels), Picture(24, 16), 100)
        self.assertEqual((same.channels["sun"].shape, whole.width), ((16, 24, 3), 24))

    def test_where_nothing_stands_the_sky_is_seen(self) -> None:
        light = Light(clouds=0.3)
        sky, up = daylight(light, 32), above(light, 64, 256)
        camera = Camera.looking((0, 1.6, 0), (0, 2.4, -3), 0.4, 0.3)
        picture = Picture(24, 18)
        _, ways = camera.rays(24, 18)
        nothing = np.zeros((18, 24, 1), np.float32)
        coarse = sky.at(ways.astype(np.float64)).reshape(18, 24, 3).astype(np.float32)
        film = Film(1, {"alpha": nothing, "depth": nothing + np.inf})
        seen = surround(film, picture, camera, sky, up).before(coarse)
        self.assertTrue(np.isfinite(seen).all())
        high = ways.reshape(18, 24, 3)[..., 1] > 0.3
        expected = seen_above(up, ways.astype(np.float64)).reshape(18, 24, 3) * sky.brighter
        np.testing.assert_allclose(seen[high], expected[high], rtol=0.25)

    def test_what_is_far_goes_over_into_the_haze(self) -> None:
        light = Light(clouds=0)
        sky, up = daylight(light, 32), above(light, 64, 256)
        camera = Camera.looking((0, 1.6, 0), (0, 1.6, -3), 0.1, 0.1)
        black, there = np.zeros((8, 8, 3), np.float32), np.ones((8, 8, 1), np.float32)
        near, far = (surround(Film(1, {"alpha": there, "depth": there * d}), Picture(8, 8), camera, sky, up).before(black)
                     for d in (5.0, 5000.0))  # fmt: skip
        self.assertLess(near.mean(), 0.1 * far.mean())

    def test_haze_on_an_edge_is_no_row_of_dots(self) -> None:
        # Where a ridge stands before what is far, chance tells the distance of each pixel on its edge.
        sky, up = daylight(Light(clouds=0), 32), above(Light(clouds=0), 64, 256)
        camera = Camera.looking((0, 1.6, 0), (0, 1.6, -3), 0.1, 0.1)
        depth = np.full((16, 64, 1), 900.0, np.float32)
        depth[8] = np.random.default_rng(4).choice([40.0, 900.0], (64, 1))
        depth[9:] = 40.0
        film = Film(1, {"alpha": np.ones((16, 64, 1), np.float32), "depth": depth})
        around = surround(film, Picture(64, 16), camera, sky, up)
        across = around.veil[..., 1].std(axis=1)
        step = around.veil[2, :, 1].mean() - around.veil[13, :, 1].mean()
        self.assertLess(across[8], 0.2 * step)
        self.assertLess(max(across[4], across[12]), 0.03 * step)


if __name__ == "__main__":
    unittest.main()
