"""Weathered boards."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Timber(Material):
    """Grey-brown oak boards, 20 cm wide, with grain, checks and dark gaps; the boards run across the tile."""

    kind = "timber"
    name = "Timber"
    size = 1.6
    relief = 0.01

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        board = np.floor(y * 8).astype(int)
        across = (y * 8) % 1
        lengthwise = wrapped_noise(x, y, (4, 64), 3, self.kind, seed, "grain")
        ripple = wrapped_noise(x, y, (3, 16), 3, self.kind, seed, "ripple")
        checks = eased(wrapped_noise(x, y, (5, 90), 2, self.kind, seed, "checks"), 0.66, 0.76)
        gap = eased(np.minimum(across, 1 - across), 0.012, 0.05)
        each = wrapped_noise(np.zeros_like(x), y * 0 + board / 8, 8, 1, self.kind, seed, "each")
        tone = np.clip(0.25 + 0.5 * lengthwise + 0.6 * (ripple - 0.5) + 1.2 * (each - 0.5), 0, 1)
        colour = mixed((0.085, 0.058, 0.036), (0.26, 0.20, 0.14), tone)
        colour = mixed(colour, (0.028, 0.02, 0.014), np.maximum(checks * 0.75, 1 - gap))
        height = gap * (0.62 + 0.3 * lengthwise - 0.35 * checks)
        return tile_of(colour, height, 0.8 + 0.12 * (1 - lengthwise))
