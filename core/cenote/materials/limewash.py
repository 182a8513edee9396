"""Lime-washed plaster."""

from __future__ import annotations

from .base import MATERIALS, Material, Tile, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Limewash(Material):
    """Hand-laid plaster under thin, uneven lime wash."""

    kind = "limewash"
    name = "Lime wash"
    size = 2.5
    relief = 0.006

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        trowel = wrapped_noise(x, y, (6, 10), 4, self.kind, seed, "trowel")
        fine = wrapped_noise(x, y, 70, 3, self.kind, seed, "fine")
        thin = eased(wrapped_noise(x, y, 5, 5, self.kind, seed, "thin"), 0.55, 0.8)
        colour = mixed((0.56, 0.53, 0.47), (0.66, 0.635, 0.58), trowel) * (0.93 + 0.12 * fine)[..., None]
        return tile_of(mixed(colour, (0.42, 0.36, 0.28), thin * 0.5), 0.5 * trowel + 0.3 * fine + 0.2 * (1 - thin), 0.9)
