"""Grass floor: what lies under the blades."""

from __future__ import annotations

from .base import MATERIALS, Material, Tile, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Meadow(Material):
    """Short turf, thatch and bits of bare earth."""

    kind = "meadow"
    name = "Grass floor"
    size = 3.0
    relief = 0.03
    uneven = 0.35

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        patch = wrapped_noise(x, y, 5, 5, self.kind, seed, "patch")
        fine = wrapped_noise(x, y, 48, 4, self.kind, seed, "fine")
        strands = wrapped_noise(x + 0.03 * patch, y, (96, 40), 2, self.kind, seed, "strands")
        bare = eased(patch + 0.3 * (fine - 0.5), 0.60, 0.72)
        grass = mixed((0.040, 0.058, 0.016), (0.135, 0.150, 0.048), 0.45 * fine + 0.6 * strands - 0.05)
        grass = mixed(
            grass, (0.17, 0.145, 0.07), eased(wrapped_noise(x, y, 9, 4, self.kind, seed, "dry"), 0.5, 0.8) * 0.55
        )
        earth = mixed((0.075, 0.055, 0.036), (0.16, 0.122, 0.082), fine)
        height = (1 - bare) * (0.35 + 0.6 * strands * fine * 1.6) + bare * 0.25 * fine
        return tile_of(mixed(grass, earth, bare), height, 0.93)
