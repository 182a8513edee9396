"""Brickwork."""

from __future__ import annotations

from .base import MATERIALS, Material, Tile, courses, eased, grid, mixed, tile_of, wrapped_noise


@MATERIALS.register
class Brick(Material):
    """Old red stock brick in running bond with recessed lime mortar; a brick is 22.5 × 7.5 cm with its joint."""

    kind = "brick"
    name = "Brick"
    size = 1.8
    relief = 0.014

    def bake(self, pixels: int = 512, seed: int = 0) -> Tile:
        x, y = grid(pixels)
        wobble = (wrapped_noise(x, y, 16, 3, self.kind, seed, "wobble") - 0.5) * 0.006
        wall = courses(x + wobble, y + wobble * 0.7, 8, 24)
        grain = wrapped_noise(x, y, 64, 3, self.kind, seed, "grain")
        blotch = wrapped_noise(x, y, 10, 4, self.kind, seed, "blotch")
        body = eased(wall.edge, 0.0022, 0.0058)
        tone = wall.each(self.kind, seed, "tone")
        dark = wall.each(self.kind, seed, "burnt") > 0.87
        colour = mixed((0.30, 0.085, 0.042), (0.42, 0.165, 0.080), tone)
        colour = mixed(colour, (0.105, 0.045, 0.036), dark * 0.75)
        colour = colour * (0.72 + 0.34 * blotch + 0.22 * grain)[..., None]
        mortar = mixed((0.30, 0.27, 0.22), (0.42, 0.39, 0.33), grain)
        height = body * (0.72 + 0.2 * wall.each(self.kind, seed, "proud") + 0.08 * grain) + (1 - body) * 0.12 * grain
        return tile_of(mixed(mortar, colour, body), height, 0.86 + 0.1 * (1 - body) - 0.08 * tone * body)
