"""What masks tell is what is composed: every cover takes its share, whatever the relief."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from cenote.colour import linear_of
from cenote.geometry.charts import charted
from cenote.geometry.mesh import Mesh
from cenote.geometry.texels import texel_grid
from cenote.materials.base import MATERIALS
from cenote.registry import kind_of
from cenote.weather.base import COVERS, CoverLook
from cenote.weather.climate import Conditions
from cenote.weather.compose import LaidCover, compose
from cenote.weather.peeling import Peeling
from cenote.weather.rust import Rust
from cenote.weather.tiles import LaidTile, film_tile, shrunk


class CoverageTests(unittest.TestCase):
    """What is told by masks is what is composed: the mean over a material of how far a cover takes it."""

    SHIPPED = ("cobble", "iron", "soil")

    def taken(self, below: LaidTile, covers: list[LaidCover]) -> float:
        """The mean share of black stone that is white after covers, over whole tiles of both."""
        side = 4 * below.size
        covers = [replace(one, tiles=tuple(replace(tile, size=side / 3) for tile in one.tiles)) for one in covers]
        mesh = Mesh.of([[0, 0, 0], [side, 0, 0], [side, side, 0], [0, side, 0]], [[0, 1, 2], [0, 2, 3]], "a")
        atlas = charted(mesh, side / 16)
        grid = texel_grid(atlas, 5)
        plain = np.zeros((atlas.height, atlas.width), np.float32)
        covers = [replace(one, mask=np.full(grid.faces.shape, one.mask, np.float32)) for one in covers]
        grades = np.tile(np.array((1, 1, 1, 1, 0), np.float32), (2, 1))
        maps = compose(
            atlas, grid, [self.grey(below, 0.0)], np.zeros(2, np.int32), grades, covers, plain, plain + 0.5, False
        )
        return float(linear_of(maps.base[..., 0][grid.inside] / 255).mean())

    def grey(self, tile: LaidTile, value: float) -> LaidTile:
        """A tile whose relief is left and whose colour is one grey."""
        pixels = shrunk(tile, tile.size / 128).pixels.copy()
        pixels[..., :3] = value
        return LaidTile.of(pixels, tile.size, tile.relief, 0.0)

    def baked(self, kind: str) -> LaidTile:
        recipe = MATERIALS[kind].recipe
        return LaidTile.of(recipe.bake().packed(), recipe.size, recipe.depth, 0.0)

    def test_a_mask_covers_its_own_share_for_every_cover_on_every_relief(self) -> None:
        bases = [self.baked(kind) for kind in self.SHIPPED]
        for cover in COVERS:
            kind = kind_of(cover)
            look = cover(kind=kind).look(Conditions(years=40, damp=0.9, snow=0.3))
            own = self.baked(look.of) if isinstance(look.of, str) else film_tile(look.of)
            plain = CoverLook("any", 1.0, joints=look.joints, softness=look.softness)
            for base, name in zip(bases, self.SHIPPED, strict=True):
                for mask in (0.1, 0.3, 0.7):
                    with self.subTest(f"{kind} on {name} at {mask}"):
                        found = self.taken(base, [LaidCover((self.grey(own, 1.0),), mask, plain)])  # type: ignore[arg-type]
                        self.assertAlmostEqual(found, mask, delta=0.02)

    def test_what_waits_for_bare_places_takes_its_share_of_them(self) -> None:
        base, rust = self.baked("iron"), self.baked("rust")
        bares = CoverLook("any", 1.0, joints=Peeling().look(Conditions()).joints, softness=0.3, thickness=-0.0005)
        waiting = CoverLook("any", 1.0, joints=Rust().look(Conditions()).joints, softness=0.3)
        for mask, bared in ((0.9, 0.3), (0.5, 0.6), (0.8, 0.0)):
            covers = [
                LaidCover((self.grey(base, 0.0),), bared, bares),  # type: ignore[arg-type]
                LaidCover((self.grey(rust, 1.0),), mask, waiting, None, np.array([0.85])),
            ]  # type: ignore[arg-type]
            known = mask * (1 - 0.85 * (1 - bared))
            self.assertAlmostEqual(self.taken(base, covers), known, delta=0.04)

    def test_it_grows_gradually(self) -> None:
        base, own = self.baked("iron"), self.baked("rust")
        look = CoverLook("any", 1.0, joints=Peeling().look(Conditions()).joints, softness=0.05)
        grown = [self.taken(base, [LaidCover((self.grey(own, 1.0),), mask, look)])  # type: ignore[arg-type]
                 for mask in np.linspace(0, 1, 21)]  # fmt: skip
        self.assertEqual((grown[0], round(grown[-1], 2)), (0, 1))
        steps = np.diff(grown)
        self.assertGreater(steps.min(), 0.02)
        self.assertLess(steps.max(), 0.08)
