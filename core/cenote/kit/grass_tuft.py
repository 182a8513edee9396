"""Tufts of grass, blade by blade."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from ..parameters import colour, count, quantity, span
from .base import KIT, Dice, Group, KitItem, Seasons, along_y, blend, ribbon


@KIT.register
class GrassTuft(KitItem):
    """A tuft of meadow grass: blades that rise, bend over and curl, pale at their tips."""

    kind: Literal["grass_tuft"] = "grass_tuft"
    title: ClassVar[str] = "Grass tuft"
    group: ClassVar[Group] = "grasses"
    tags: ClassVar[tuple[str, ...]] = ("grass", "ground", "small")
    variants: ClassVar[int] = 6
    roughness: ClassVar[float] = 0.7
    stiffness: ClassVar[float] = 11.0
    seasons: ClassVar[Seasons] = ((1.0, 1.15, 0.85), (1.0, 1.0, 1.0), (1.4, 1.08, 0.8), (1.75, 1.25, 0.95))
    blades: int = count(40, low=3, high=120, help="Blades in a tuft.")
    clump: float = quantity(0.15, low=0.005, high=0.6, unit="m", step=0.005, help="Radius that the blades rise from.")
    height: tuple[float, float] = span((0.10, 0.38), low=0.01, high=3, unit="m", help="Shortest and longest blade.")
    root_width: float = quantity(0.0065, low=0.001, high=0.1, unit="m", step=0.001, help="Width at the root.")
    tip_width: float = quantity(0.001, low=0, high=0.1, unit="m", step=0.001, help="Width near the tip.")
    bend: float = quantity(0.75, low=0, high=2, unit="", step=0.05, help="How far blades lean out at their tips.")
    curl: float = quantity(0.25, low=0, high=1.5, unit="", step=0.05, help="How far tips curl down again.")
    root_colour: tuple[float, float, float] = colour((0.050, 0.075, 0.022), help="Colour at the root.")
    tip_colour: tuple[float, float, float] = colour((0.17, 0.225, 0.060), help="Colour at the tip.")
    variety: float = quantity(0.3, low=0, high=1, unit="", step=0.05, help="How far blades differ in tone.")
    dry: float = quantity(0.14, low=0, high=1, unit="", step=0.02, help="Share of blades that are dry.")

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        steps = (4, 2, 1)[detail]
        blades = max(3, round(self.blades * (1, 0.55, 0.22)[detail]))
        wider = (1, 1.6, 3.2)[detail]
        straw = np.array([0.34, 0.29, 0.14])
        out = []
        for _ in range(blades):
            turn, lean = dice.one(0, 2 * np.pi), dice.one(0.2, 1) * self.bend
            far = dice.one() ** 0.7
            tall = self.height[0] + (self.height[1] - self.height[0]) * (1 - 0.55 * far) * dice.one(0.35, 1)
            way = along_y(turn)
            t = np.linspace(0, 1, steps + 1)
            path = way * self.clump * far + way * (lean * tall * t**2)[:, None]
            path[:, 1] += tall * (t - self.curl * 0.5 * t**3 - 0.18 * lean * t**2)
            side = along_y(turn + np.pi / 2 + dice.one(-0.7, 0.7))
            widths = (self.root_width + (self.tip_width - self.root_width) * t**1.4) * wider * (1.05 - 0.3 * t)
            widths[-1] = 0
            tone = dice.one(1 - self.variety, 1 + self.variety)
            shade = blend(self.root_colour, self.tip_colour, t) * tone
            if dice.one() < self.dry:
                shade = shade * 0.35 + straw * 0.65 * tone
            blade = ribbon(path, widths, side, shade, "blade")
            # Grass is lit as the meadow lies; upright blades alone would be dark from above.
            normals = np.array([0, 1.0, 0]) + 0.45 * way
            out.append(Mesh.of(blade.positions, blade.faces, "blade", blade.colours,
                               normals=np.tile(normals / np.linalg.norm(normals), (len(blade.positions), 1))))  # fmt: skip
        return join(out)
