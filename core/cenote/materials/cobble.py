"""Cobbles."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, cells_of, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Cobble(Material):
    """Rounded river cobbles of about 14 cm, worn on top, with earth between."""

    kind = "cobble"
    name = "Cobble"
    size = 2.0
    relief = 0.035

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        wobble = (wrapped_noise(x, y, 14, 3, self.kind, seed, "wobble") - 0.5) * 0.014
        stones = cells_of(x + wobble, y - wobble, 14, 0.62, self.kind, seed)
        grain = wrapped_noise(x, y, 60, 3, self.kind, seed, "grain")
        dome = np.sqrt(np.clip(1 - (1 - np.clip((stones.edge - 0.0035) / 0.026, 0, 1)) ** 2, 0, 1))
        body = eased(stones.edge, 0.003, 0.008)
        tone, warm = stones.each(self.kind, seed, "tone"), stones.each(self.kind, seed, "warm")
        colour = mixed((0.12, 0.118, 0.115), (0.31, 0.30, 0.285), tone) * mixed(
            (0.95, 1.0, 1.06), (1.1, 0.98, 0.82), warm
        )
        colour = colour * (0.72 + 0.36 * grain)[..., None] * (0.7 + 0.3 * dome)[..., None]
        earth = mixed((0.055, 0.043, 0.03), (0.11, 0.088, 0.062), grain)
        height = body * dome * (0.72 + 0.24 * stones.each(self.kind, seed, "proud")) + 0.06 * grain
        return tile_of(mixed(earth, colour, body), height, 0.92 - 0.28 * dome * body)
