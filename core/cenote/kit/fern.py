"""Ferns."""

from __future__ import annotations

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, KitItem, blend


def frond(dice: Dice, turn: float, length: float, leaflets: int) -> Mesh:
    """One arching frond: leaflets in pairs along a bent rib, longest a third of the way out."""
    out_way, side = np.array([np.cos(turn), 0, np.sin(turn)]), np.array([-np.sin(turn), 0, np.cos(turn)])
    rise, droop = dice.one(0.55, 0.85), dice.one(0.5, 0.8)
    along = np.linspace(0.06, 1, leaflets + 1)

    def rib(t: np.ndarray) -> np.ndarray:
        return (
            out_way * (length * 0.9 * t)[:, None]
            + np.array([0, 1.0, 0]) * (length * (rise * t - droop * t**2.4))[:, None]
        )

    at = rib(along)
    step = length / leaflets
    reach = length * 0.24 * np.sin(np.pi * np.clip(along * 0.86 + 0.12, 0, 1)) ** 0.8 + 0.01
    positions: list[np.ndarray] = []
    faces: list[list[int]] = []
    colours: list[np.ndarray] = []
    shade = dice.one(0.8, 1.15)
    for i in range(leaflets):
        for way in (-1, 1):
            base = len(positions)
            tip = at[i] + side * way * reach[i] + out_way * reach[i] * 0.45 - np.array([0, reach[i] * 0.22, 0])
            forward = at[min(i + 1, leaflets)] - at[i]
            wide = forward / max(np.linalg.norm(forward), 1e-6) * step * 0.95
            positions += [at[i], at[i] + wide, tip]
            faces.append([base, base + 1, base + 2] if way > 0 else [base + 1, base, base + 2])
            tone = blend((0.030, 0.075, 0.014), (0.10, 0.19, 0.035), np.array([0.2 + 0.5 * along[i], 0.2, 0.9])) * shade
            colours += list(tone)
    return Mesh.of(positions, faces, "frond", colours)


@KIT.register
class Fern(KitItem):
    """A fern of arching fronds, about half a metre high."""

    kind = "fern"
    name = "Fern"
    tags = ("fern", "shade", "medium")

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        count, leaflets = ((8 + variant, 12), (6, 4))[detail]
        turns = np.arange(count) * 2 * np.pi / count
        return join([frond(dice, turn + dice.one(-0.25, 0.25), dice.one(0.5, 0.78), leaflets) for turn in turns])
