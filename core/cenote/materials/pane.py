"""Window panes."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Pane(Material):
    """Old glass seen from outside, dark, in white-painted glazing bars 30 cm apart."""

    kind = "pane"
    name = "Window pane"
    size = 0.6
    relief = 0.012
    uneven = 0.0

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        near = np.minimum(np.abs((x * 2) % 1 - 0.5), np.abs((y * 2) % 1 - 0.5))
        bar = 1 - eased(near, 0.055, 0.07)
        wavy = wrapped_noise(x, y, 5, 3, self.kind, seed, "wavy")
        glass = mixed((0.012, 0.016, 0.018), (0.035, 0.042, 0.045), wavy)
        return tile_of(mixed(glass, (0.46, 0.45, 0.41), bar), 0.1 + 0.8 * bar + 0.04 * wavy, 0.08 + 0.5 * bar)
