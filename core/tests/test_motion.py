"""Moving pictures: where a shot is at each picture, what the engine makes of it, and the files."""

from __future__ import annotations

import io
import unittest
import zipfile

import av
import numpy as np
from PIL import Image
from pydantic import ValidationError
from test_still import level, scene, wait_for

from cenote.derive.cache import Cache
from cenote.derive.graph import Graph
from cenote.derive.store import MemoryStore
from cenote.finish.steps.film_grain import FilmGrain
from cenote.formats.motion_out import write_motion
from cenote.geometry.camera import Camera
from cenote.motion.base import MOVES
from cenote.motion.motion import Motion
from cenote.motion.moves.ageing import Ageing
from cenote.motion.moves.hours import Hours
from cenote.motion.moves.travel import Travel
from cenote.motion.moves.turntable import Turntable
from cenote.site.document import Shot, SiteDocument
from cenote.site.finish import Finish
from cenote.site.ground import Ground
from cenote.site.references import dangling
from cenote.still.reel import Reel, finish_of
from cenote.still.scene import LensBlur
from cenote.still.studio import Studio
from cenote.still.tracing import Picture, Tracer
from cenote.weather.climate import Climate, ClimateState

GATE = Shot(id="gate", position=(4, 2, 1), target=(1, 1, 1), lens=20, focus=(1, 1, 0))
STEPS = Shot(id="steps", position=(0, 3, 9), target=(0, 0, 1), lens=80)


def site(*moves: object, **values: object) -> SiteDocument:
    """Two shots, the first of which moves for two seconds, of ten pictures each."""
    gate = GATE.model_copy(update={"motion": Motion(seconds=2, rate=10, moves=moves)})
    return SiteDocument(ground=Ground(size=(6, 6), spacing=1, relief=0), shots=(gate, STEPS), **values)


def at(document: SiteDocument, number: int) -> tuple[SiteDocument, Shot]:
    """What a picture is of."""
    shot = document.shots[0]
    return shot.motion.at(document, shot, number)


class MoveTests(unittest.TestCase):
    def test_a_turntable_keeps_height_and_distance_and_comes_back(self) -> None:
        document = site(Turntable(gently=False))
        for number in range(20):
            shot = at(document, number)[1]
            self.assertAlmostEqual(shot.position[1], 2)
            self.assertAlmostEqual(np.hypot(shot.position[0] - 1, shot.position[2] - 1), 3)
        np.testing.assert_allclose(at(document, 19)[1].position, GATE.position, atol=1e-9)
        quarter = at(site(Turntable(angle=90)), 19)[1]
        np.testing.assert_allclose(quarter.position, (1, 2, -2), atol=1e-9)
        # What is in focus stays before the lens.
        self.assertAlmostEqual(quarter.blur()[1], GATE.blur()[1])

    def test_a_camera_travels_to_what_another_shot_sees(self) -> None:
        document = site(Travel(to="steps", gently=False))
        first, last = at(document, 0)[1], at(document, 19)[1]
        self.assertEqual(first.position, GATE.position)
        self.assertAlmostEqual(first.lens, 20)
        for name in ("position", "target"):
            np.testing.assert_allclose(getattr(last, name), getattr(STEPS, name), atol=1e-9)
        self.assertAlmostEqual(last.lens, 80)
        # Half way, the picture has drawn in by half: a focal length of 40 mm, not of 50.
        self.assertAlmostEqual(Travel(to="steps").moved(document, GATE, 0.5)[1].lens, 40)
        self.assertEqual(Travel().moved(document, GATE, 0.5), (document, GATE))
        self.assertEqual([one.id for one in dangling(site(Travel(to="gone")))], ["gone"])

    def test_dials_and_hours_go_from_one_end_to_the_other(self) -> None:
        old = ClimateState(id="old", climate=Climate(years=100, snow=0.5, damp=0.2, season=1))
        document = site(Ageing(to="old", gently=False), Hours(start=4, end=8, gently=False), states=(old,))
        self.assertEqual(at(document, 0)[0].climate, document.climate)
        self.assertEqual(at(document, 19)[0].climate, old.climate)
        third = 1 / 19 * 6
        self.assertAlmostEqual(at(document, 6)[0].climate.years, 25 + 75 * third)
        self.assertEqual([at(document, number)[0].light.hour for number in (0, 19)], [4, 8])
        self.assertEqual(at(document, 3)[0].light.by, "time")
        self.assertEqual([one.family for one in dangling(site(Ageing(to="gone")))], ["states"])

    def test_moves_have_their_part_of_the_time_and_go_gently(self) -> None:
        late = Turntable(begins=50, ends=100)
        self.assertEqual([late.share(time) for time in (0, 0.5, 0.75, 1)], [0, 0, 0.5, 1])
        self.assertLess(late.share(0.55), 0.1 / 2)
        self.assertAlmostEqual(Turntable(begins=50, gently=False).share(0.55), 0.1)
        self.assertEqual([Turntable(begins=60, ends=40).share(time) for time in (0.3, 0.5)], [0, 1])
        both = at(site(Travel(to="steps", ends=50), Turntable(angle=180, begins=50)), 19)[1]
        np.testing.assert_allclose(both.position, (0, 3, -7), atol=1e-9)

    def test_a_motion_tells_how_many_pictures_and_whether_the_site_stays(self) -> None:
        self.assertEqual(Motion(seconds=2, rate=24).pictures, 48)
        self.assertEqual(Motion(seconds=0.1, rate=1).pictures, 1)
        self.assertTrue(Motion(moves=(Turntable(), Travel())).keeps_the_site)
        self.assertFalse(Motion(moves=(Turntable(), Hours())).keeps_the_site)
        for bad in (
            {"seconds": 0},
            {"rate": 90},
            {"moves": [{"kind": "turntable", "angle": 5000}]},
            {"moves": [{"kind": "flight"}]},
        ):
            with self.subTest(bad), self.assertRaises(ValidationError):
                Motion.model_validate(bad)

    def test_all_moves_do_nothing_at_the_beginning_but_for_the_hour(self) -> None:
        document = site()
        for move in MOVES:
            with self.subTest(move.title):
                self.assertTrue(move.title and move.help)
                moved = move().moved(document, GATE, 0)
                self.assertEqual(moved[1].position, GATE.position)
                self.assertTrue(moved[0] is document or not move.camera)

    def test_grain_is_another_for_each_picture(self) -> None:
        document = site(finishes=(Finish(id="f", steps=(FilmGrain(seed=9999),)),))
        shot = GATE.model_copy(update={"finish": "f"})
        seeds = [finish_of(document, shot, number).steps[0].seed for number in (0, 1, 2)]
        self.assertEqual(seeds, [9999, 0, 1])
        self.assertEqual(finish_of(document, GATE).steps, ())


class ReelTests(unittest.TestCase):
    def test_an_engine_looks_from_elsewhere_without_building_anew(self) -> None:
        near, far = Camera.looking((0, 4, 0), (0, 0, 0), 0.5, 0.5), Camera.looking((0, 8, 0), (0, 0, 0), 0.5, 0.5)
        with Tracer(scene(level(1), camera=near), Picture(32, 32)) as tracer:
            shares = []
            for camera in (near, far, near):
                tracer.turn(camera, LensBlur())
                wait_for(tracer, 8)
                film = tracer.look()
                self.assertLess(film.samples, 200)
                shares.append(float(film.channels["alpha"].mean()))
        self.assertAlmostEqual(shares[0], 0.25, delta=0.05)
        self.assertAlmostEqual(shares[1], 0.0625, delta=0.03)
        self.assertAlmostEqual(shares[2], shares[0], delta=0.01)

    def test_pictures_follow_the_camera_and_the_hour(self) -> None:
        cache = Cache(MemoryStore())
        looked: list[str] = []

        def taken(document: SiteDocument) -> list[np.ndarray]:
            with Reel(lambda one: Graph(one, cache), document, document.shots[0], Picture(24, 16), 2) as reel:
                return [reel.take(number, lambda done, total, what: looked.append(what)) for number in (0, 19)]

        before, after = taken(site(Travel(to="steps")))
        self.assertEqual(before.shape, (16, 24, 3))
        self.assertGreater(np.abs(before - after).mean(), 0.02)
        self.assertIn("Tracing", looked)
        noon, dusk = taken(site(Hours(start=12, end=20)))
        self.assertGreater(np.abs(noon - dusk).mean(), 0.02)

    def test_surfaces_are_as_fine_as_what_comes_near_later_needs(self) -> None:
        document = site()
        near = STEPS.model_copy(update={"position": (0, 0.4, 0.5), "target": (0, 0, 0)})
        graph = Graph(document, Cache(MemoryStore()))
        texels = [
            Studio(graph, STEPS, Picture(48, 32), also).scene().skins["surface ground"].base.shape[0]
            for also in ((), (near,))
        ]
        self.assertGreater(texels[1], 1.9 * texels[0])
        motion = Motion(seconds=5, rate=10, moves=(Travel(to="steps"),))
        shot = GATE.model_copy(update={"motion": motion})
        with Reel(lambda one: graph, document, shot, Picture(48, 32), 1) as reel:
            on_the_way = reel._on_the_way(0)
        self.assertTrue(8 <= len(on_the_way) <= 16, len(on_the_way))
        np.testing.assert_allclose(on_the_way[-1].position, STEPS.position, atol=1.5)


class FileTests(unittest.TestCase):
    def pictures(self) -> list[np.ndarray]:
        """Six pictures of 65 by 43 pixels, each redder than the one before."""
        return [np.full((43, 65, 3), (40 * number, 90, 120), np.uint8) for number in range(6)]

    def test_files_hold_all_pictures_at_their_rate_in_their_colours(self) -> None:
        for format, codec in (("mp4", "h264"), ("webm", "vp9")):
            with self.subTest(format), av.open(io.BytesIO(write_motion(self.pictures(), 12, format))) as found:
                track = found.streams.video[0]
                self.assertEqual((track.codec_context.name, track.average_rate), (codec, 12))
                frames = [
                    one.reformat(format="rgb24", src_colorspace="ITU709").to_ndarray() for one in found.decode(track)
                ]
                self.assertEqual([one.shape for one in frames], [(42, 64, 3)] * 6)
                for number, frame in enumerate(frames):
                    np.testing.assert_allclose(frame.mean((0, 1)), (40 * number, 90, 120), atol=6)

    def test_frames_are_pictures_in_a_zip_without_loss(self) -> None:
        with zipfile.ZipFile(io.BytesIO(write_motion(self.pictures(), 24, "frames"))) as archive:
            self.assertEqual(archive.namelist(), [f"{number:04}.png" for number in range(1, 7)])
            last = np.asarray(Image.open(io.BytesIO(archive.read("0006.png"))))
        np.testing.assert_array_equal(last, self.pictures()[5])


if __name__ == "__main__":
    unittest.main()
