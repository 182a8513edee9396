"""Dressed stone."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, courses, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Ashlar(Material):
    """Large worn blocks of grey-buff stone, 75 × 37.5 cm, with tight joints, as lock walls are built of."""

    kind = "ashlar"
    name = "Dressed stone"
    size = 3.0
    relief = 0.022

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        wobble = (wrapped_noise(x, y, 12, 4, self.kind, seed, "wobble") - 0.5) * 0.007
        wall = courses(x + wobble, y - wobble, 4, 8)
        coarse = wrapped_noise(x, y, 8, 5, self.kind, seed, "coarse")
        fine = wrapped_noise(x, y, 48, 3, self.kind, seed, "fine")
        pits = eased(wrapped_noise(x, y, 40, 2, self.kind, seed, "pits"), 0.62, 0.75)
        body = eased(wall.edge + (coarse - 0.5) * 0.003, 0.0012, 0.0065)
        tone = wall.each(self.kind, seed, "tone")
        colour = mixed((0.20, 0.185, 0.155), (0.36, 0.325, 0.26), np.clip(0.65 * tone + 0.5 * coarse - 0.1, 0, 1))
        colour = colour * (0.8 + 0.3 * fine - 0.25 * pits)[..., None]
        joint = mixed((0.10, 0.095, 0.08), (0.19, 0.18, 0.15), fine)
        height = body * (0.62 + 0.18 * tone + 0.16 * coarse + 0.06 * fine - 0.18 * pits) + (1 - body) * 0.08
        return tile_of(mixed(joint, colour, body), height, 0.84 + 0.12 * pits)
