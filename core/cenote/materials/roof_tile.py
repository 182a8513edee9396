"""Clay roof tiles."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, courses, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class RoofTile(Material):
    """Plain clay tiles that overlap downwards, 16.5 cm wide with 10 cm showing."""

    kind = "roof_tile"
    name = "Roof tile"
    size = 2.0
    relief = 0.03

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        wobble = (wrapped_noise(x, y, 12, 3, self.kind, seed, "wobble") - 0.5) * 0.006
        roof = courses(x, y + wobble, 12, 20)
        down = ((y + wobble) * 20) % 1
        grain = wrapped_noise(x, y, 50, 3, self.kind, seed, "grain")
        tone = roof.each(self.kind, seed, "tone")
        across = eased(
            np.minimum((x * 12 + (roof.ids // 12 % 2) * 0.5) % 1, 1 - (x * 12 + (roof.ids // 12 % 2) * 0.5) % 1),
            0.015,
            0.06,
        )
        # Each tile rises towards its lower edge, then drops on to the next.
        height = (0.25 + 0.62 * down) * across * (1 - 0.9 * eased(down, 0.94, 1.0)) + 0.08 * tone
        colour = mixed((0.21, 0.075, 0.042), (0.37, 0.145, 0.078), tone) * (0.72 + 0.45 * grain)[..., None]
        colour = mixed((0.05, 0.03, 0.024), colour, across * (0.45 + 0.55 * eased(down, 0.0, 0.22)))
        return tile_of(colour, height, 0.8 + 0.12 * grain)
