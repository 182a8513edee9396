"""Painted iron."""

from __future__ import annotations

from .base import MATERIALS, Material, Tile, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Iron(Material):
    """Cast iron under old black-green paint, rubbed bare in places."""

    kind = "iron"
    name = "Painted iron"
    size = 0.8
    relief = 0.002

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        coarse = wrapped_noise(x, y, 6, 5, self.kind, seed, "coarse")
        fine = wrapped_noise(x, y, 60, 3, self.kind, seed, "fine")
        bare = eased(coarse + 0.25 * (fine - 0.5), 0.63, 0.68)
        paint = mixed((0.018, 0.026, 0.024), (0.035, 0.046, 0.042), fine)
        rust = mixed((0.13, 0.045, 0.018), (0.26, 0.105, 0.04), fine)
        rim = eased(coarse + 0.25 * (fine - 0.5), 0.585, 0.64) * (1 - bare)
        colour = mixed(mixed(paint, rust, rim * 0.8), (0.20, 0.17, 0.15), bare)
        return tile_of(colour, 0.7 - 0.4 * bare + 0.2 * fine, 0.42 + 0.4 * rim + 0.15 * fine, 0.75 * bare)
