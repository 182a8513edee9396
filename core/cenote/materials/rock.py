"""Bare rock, for boulders and coping stones."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Rock(Material):
    """Weathered grey rock with veins and pits."""

    kind = "rock"
    name = "Rock"
    size = 1.5
    relief = 0.02

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        warp = (wrapped_noise(x, y, 5, 4, self.kind, seed, "warp") - 0.5) * 0.22
        coarse = wrapped_noise(x + warp, y + warp, 6, 5, self.kind, seed, "coarse")
        fine = wrapped_noise(x, y, 42, 3, self.kind, seed, "fine")
        vein = 1 - eased(np.abs(wrapped_noise(x + warp, y - warp, 4, 4, self.kind, seed, "vein") - 0.5), 0.0, 0.035)
        colour = mixed((0.115, 0.112, 0.105), (0.30, 0.285, 0.255), coarse) * (0.78 + 0.42 * fine)[..., None]
        colour = mixed(colour, (0.07, 0.068, 0.062), vein * 0.5)
        height = np.clip(0.25 + 0.5 * coarse + 0.25 * fine - 0.2 * vein, 0, 1)
        return tile_of(colour, height, 0.82 + 0.12 * fine)
