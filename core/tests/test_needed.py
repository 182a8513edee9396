"""How fine maps have to be for a picture of a shot: as a pixel where a surface comes nearest, and no finer."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import graph_of

from cenote.derive.surfaces import MOST_TEXELS, ObjectShape
from cenote.render.needed import UNSEEN, texels_needed, texels_of
from cenote.site.document import KitPiece, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall


def _walls(distance: float) -> SiteDocument:
    """A wall two metres high across the view, a barrel close behind it, and another far away beside it."""

    def at(id: str, source: object, x: float, z: float) -> Structure:
        return Structure(id=id, source=source, placement=Placement(position=(x, 0, z)))  # type: ignore[arg-type]

    return SiteDocument(
        ground=Ground(size=(120, 120), spacing=4, relief=0),
        structures=(at("wall", Made(maker=Wall(length=6, height=2)), 0, 0), at("hidden", KitPiece(item="barrel"), 0, -1.5),
                    at("far", KitPiece(item="barrel"), 16, -30)),
        shots=(Shot(id="shot", position=(0, 1, distance), target=(0, 1, 0), lens=33),),
    )  # fmt: skip


class NeededTests(unittest.TestCase):
    def test_a_texel_is_a_pixel_where_a_surface_comes_nearest(self) -> None:
        graph = graph_of(_walls(8.0))
        needed = texels_needed(graph, graph.document.shots[0], 1080)
        front = 8.0 - graph.get(ObjectShape("wall")).corners[..., 2].max()
        self.assertAlmostEqual(needed["wall"], 2 * np.tan(np.radians(20)) * front / 1080, delta=2e-4)
        self.assertEqual(needed["hidden"], UNSEEN)
        self.assertAlmostEqual(needed["far"], 2 * np.tan(np.radians(20)) * 38 / 1080, delta=1e-3)
        # The ground comes nearer than the wall, at the picture's lower edge.
        self.assertLess(needed["ground"], needed["wall"])

    def test_it_goes_with_distance_and_with_the_pictures_height(self) -> None:
        near, far = (graph_of(_walls(distance)) for distance in (4.0, 16.0))
        one = texels_needed(near, near.document.shots[0], 1000)["wall"]
        self.assertAlmostEqual(texels_needed(near, near.document.shots[0], 2000)["wall"], one / 2, delta=1e-6)
        self.assertAlmostEqual(texels_needed(far, far.document.shots[0], 1000)["wall"] / one, 16 / 4, delta=0.3)

    def test_the_whole_comes_to_what_its_surfaces_come_to(self) -> None:
        graph = graph_of(_walls(8.0))
        ids = graph.document.surface_ids()
        whole = texels_of(graph, 0.05)
        self.assertEqual(texels_of(graph, dict.fromkeys(ids, 0.05)), whole)
        finer = texels_of(graph, dict.fromkeys(ids, 0.05) | {"wall": 0.0125})
        atlas = graph.get(ObjectShape("wall")).atlas
        levels = [graph.get(ObjectShape("wall")).level_for(texel, MOST_TEXELS) for texel in (0.05, 0.0125)]
        self.assertEqual(finer - whole, round(atlas.width * atlas.height * (4.0 ** levels[1] - 4.0 ** levels[0])))
        self.assertGreater(finer, whole)
