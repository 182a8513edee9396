"""Earth and the dirt made of it."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, cells_of, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Mud(Material):
    """Trodden earth with grit and small stones."""

    kind = "mud"
    name = "Earth"
    size = 2.0
    relief = 0.02

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        coarse = wrapped_noise(x, y, 7, 5, self.kind, seed, "coarse")
        fine = wrapped_noise(x, y, 56, 3, self.kind, seed, "fine")
        grit = cells_of(x, y, 52, 0.95, self.kind, seed)
        stone = (grit.each(self.kind, seed, "is stone") > 0.86) * eased(grit.edge, 0.001, 0.005)
        colour = mixed((0.070, 0.050, 0.033), (0.165, 0.125, 0.085), np.clip(coarse * 0.8 + fine * 0.5 - 0.15, 0, 1))
        colour = mixed(colour, (0.26, 0.235, 0.20), stone * (0.45 + 0.5 * grit.each(self.kind, seed, "tone")))
        return tile_of(colour, np.clip(0.2 + 0.45 * coarse + 0.15 * fine + 0.3 * stone, 0, 1), 0.94 - 0.1 * stone)
