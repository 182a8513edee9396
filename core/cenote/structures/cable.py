"""Cables and ropes that hang between two points."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator
from scipy.optimize import brentq

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from ..kit.base import Dice
from ..parameters import count, point, quantity
from .base import MAKERS, Maker


def catenary(start: np.ndarray, end: np.ndarray, sag: float, points: int) -> np.ndarray:
    """A hanging line between two points, each float (3,): float64 (N, 3) for N = ``points``.

    The catenary y = a·cosh((s − s₀)/a) + c whose lowest point hangs ``sag`` metres below the straight line's middle,
    with equal tension; for steep spans its parameter is found on the level distance between the ends.

    :param sag: metres, at least 0.
    """
    t = np.linspace(0, 1, points)
    straight = start + (end - start) * t[:, None]
    level = float(np.hypot(end[0] - start[0], end[2] - start[2]))
    if sag <= 1e-4 or level < 1e-6:
        return straight
    half = level / 2
    # Depth of a level catenary below its ends: a·(cosh(h/a) − 1).
    a = brentq(lambda a: a * (np.cosh(min(half / a, 300)) - 1) - sag, half / 300, max(half * half / sag, 1) * 10)
    drop = a * (np.cosh(half / a) - np.cosh((2 * t - 1) * half / a))
    return straight - np.column_stack([np.zeros(points), drop, np.zeros(points)])


@MAKERS.register
class Cable(Maker):
    """Ropes or cables that hang between two points: several side by side, sagging, twisted about each other."""

    kind: Literal["cable"] = "cable"
    title: ClassVar[str] = "Rope or cable"
    start: tuple[float, float, float] = point(
        (-2, 0.6, 0), help="Where it begins, in its own frame.", reach=500, picked=True
    )
    end: tuple[float, float, float] = point(
        (2, 0.6, 0), help="Where it ends, in its own frame.", reach=500, picked=True
    )
    strands: int = count(1, low=1, high=24, help="How many hang side by side.")
    spread: float = quantity(0.05, low=0, high=2, unit="m", step=0.01, help="How far they are apart at their ends.")
    sag: float = quantity(
        0.35, low=0, high=30, unit="m", step=0.02, help="How far the middle hangs below the straight line."
    )
    uneven: float = quantity(0.3, low=0, high=1, unit="", step=0.05, help="How far they differ in sag.")
    twist: float = quantity(0, low=0, high=40, unit="turns", step=0.5, help="How often they wind about each other.")
    radius: float = quantity(0.014, low=0.001, high=0.3, unit="m", step=0.001, help="Radius of each.")
    material: str = Field("rope", description="What it is made of.", json_schema_extra={"picks": "material"})
    seed: int = count(1, low=0, high=9999, help="Another number lets them hang another way.")

    @model_validator(mode="after")
    def _apart(self) -> Cable:
        if np.linalg.norm(np.subtract(self.end, self.start)) < 0.02:
            raise ValueError("end: it is the same place as the start")
        return self

    def build(self) -> Mesh:
        dice = Dice("cable", self.seed)
        start, end = np.array(self.start), np.array(self.end)
        points = int(np.clip(np.linalg.norm(end - start) / 0.12, 8, 120))
        way = (end - start) / np.linalg.norm(end - start)
        side = np.cross(way, [0, 1, 0] if abs(way[1]) < 0.95 else [1, 0, 0])
        side /= np.linalg.norm(side)
        up = np.cross(side, way)
        out = []
        t = np.linspace(0, 1, points)[:, None]
        for k in range(self.strands):
            angle = 2 * np.pi * (k / self.strands + self.twist * t)
            around = (np.cos(angle) * side + np.sin(angle) * up) * self.spread / 2 * (self.strands > 1)
            sag = self.sag * (1 + self.uneven * dice.one(-0.5, 0.5) * (self.strands > 1))
            path = catenary(start, end, sag, points) + around
            out.append(limb(path, np.full(points, self.radius), 6 if self.radius < 0.03 else 10, self.material))
        return join(out)
