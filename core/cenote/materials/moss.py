"""Moss."""

from __future__ import annotations

import numpy as np

from .base import MATERIALS, Material, Tile, cells_of, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class MossCushions(Material):
    """Cushions of moss, yellow-green at their tops and dark between."""

    kind = "moss"
    name = "Moss"
    size = 0.9
    relief = 0.02
    uneven = 0.3

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        wobble = (wrapped_noise(x, y, 20, 3, self.kind, seed, "wobble") - 0.5) * 0.03
        cushions = cells_of(x + wobble, y - wobble, 20, 0.9, self.kind, seed)
        dome = np.sqrt(np.clip(cushions.edge / 0.03, 0, 1))
        fine = wrapped_noise(x, y, 90, 3, self.kind, seed, "fine")
        patch = wrapped_noise(x, y, 4, 4, self.kind, seed, "patch")
        light = np.clip(0.55 * dome + 0.55 * fine + 0.5 * (patch - 0.5) - 0.12, 0, 1)
        colour = mixed((0.020, 0.036, 0.008), (0.150, 0.190, 0.032), light)
        colour = mixed(colour, (0.17, 0.135, 0.04), eased(patch, 0.62, 0.85) * 0.45)
        return tile_of(colour, 0.25 + 0.5 * dome + 0.25 * fine, 0.97)
