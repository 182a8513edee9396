"""Tufts of grass."""

from __future__ import annotations

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, KitItem, blend, ribbon


def blades(
    dice: Dice,
    count: int,
    spread: float,
    height: tuple[float, float],
    width: float,
    bend: float,
    root: tuple[float, float, float],
    tip: tuple[float, float, float],
    steps: int = 3,
) -> Mesh:
    """Bent blades that rise from a patch.

    :param spread: radius of the patch in metres.
    :param height: least and greatest height in metres.
    :param width: width at the root in metres.
    :param bend: how far a blade leans over at its tip, as a share of its height.
    """
    out = []
    for _ in range(count):
        turn, lean = dice.one(0, 2 * np.pi), dice.one(0.25, 1) * bend
        tall = dice.one(*height)
        out_way = np.array([np.cos(turn), 0, np.sin(turn)])
        start = out_way * spread * np.sqrt(dice.one())
        along = np.linspace(0, 1, steps + 1)
        path = start + out_way * (lean * tall * along**2)[:, None]
        path[:, 1] += tall * along * (1 - 0.35 * lean * along)
        side_turn = turn + dice.one(0.9, 2.2)
        side = np.array([np.cos(side_turn), 0, np.sin(side_turn)])
        widths = width * (1 - along**1.5)
        shade = blend(root, tip, along) * dice.one(0.75, 1.2)
        out.append(ribbon(path, widths, side, shade, "blade"))
    return join(out)


@KIT.register
class GrassTuft(KitItem):
    """A tuft of meadow grass, 15 to 35 cm high."""

    kind = "grass_tuft"
    name = "Grass tuft"
    tags = ("grass", "ground", "small")
    variants = 4

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        count, width, steps = ((14, 0.013, 2), (7, 0.024, 1))[detail]
        return blades(dice, count, 0.09, (0.14, 0.34), width, 0.9, (0.045, 0.075, 0.018), (0.20, 0.25, 0.065), steps)
