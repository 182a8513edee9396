"""Turned pieces: bells, glass floats, shelves to stand them on."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.build import boulder, limb, turned
from ..geometry.mesh import Mesh, join
from ..kit.base import Dice
from ..kit.wood import worn_box
from ..parameters import count, extent, quantity, switch
from .base import MAKERS, Maker


@MAKERS.register
class Bell(Maker):
    """A cast bell with its crown, standing on its lip."""

    kind: Literal["bell"] = "bell"
    title: ClassVar[str] = "Bell"
    height: float = quantity(0.22, low=0.02, high=4, unit="m", step=0.01, help="Height without the crown.")
    flare: float = quantity(0.32, low=0, high=0.8, unit="", step=0.02, help="How far the lip flares out.")
    material: str = Field("brass", description="What it is cast in.", json_schema_extra={"picks": "material"})

    def build(self) -> Mesh:
        h = self.height
        t = np.linspace(0, 1, 40)
        waist = 0.36 + 0.10 * (1 - t) + self.flare * np.exp(-t * 5.5)
        shoulder = np.sqrt(np.clip(1 - ((t - 0.82) / 0.18) ** 2, 0, 1))
        radius = h * np.where(t > 0.82, 0.375 * shoulder + 0.02, waist * 0.94)
        profile = [(h * (0.46 + self.flare) * 0.86, 0.0), (h * (0.48 + self.flare) * 0.93, h * 0.015)]
        profile += [(float(max(r, h * 0.02)), float(y * h)) for r, y in zip(radius[1:], t[1:], strict=True)]
        # Raised rings, as moulds leave them.
        for ring in (0.16, 0.2, 0.72):
            k = int(ring * 40) + 1
            profile[k] = (profile[k][0] + h * 0.012, profile[k][1])
        loop = np.linspace(0, np.pi, 12)
        crown = np.column_stack([np.cos(loop) * h * 0.12, h * 0.99 + np.sin(loop) * h * 0.16, np.zeros(12)])
        return join([turned(profile, 56, self.material), limb(crown, np.full(12, h * 0.028), 12, self.material)])


@MAKERS.register
class GlassFloat(Maker):
    """A blown glass net float in a net of knotted cord."""

    kind: Literal["glass_float"] = "glass_float"
    title: ClassVar[str] = "Net float"
    radius: float = quantity(0.085, low=0.02, high=0.6, unit="m", step=0.005, help="Radius of the glass.")
    netted: bool = switch(True, help="Whether cord is knotted round it.")

    def build(self) -> Mesh:
        r = self.radius
        angles = np.linspace(-np.pi / 2, np.pi / 2, 34)[1:-1]
        ball = turned([(float(np.cos(a) * r), float(np.sin(a) * r)) for a in angles], 52, "glass").at(y=r)
        out = [ball, turned([(r * 0.24, r * 1.96), (r * 0.2, r * 2.03), (r * 0.06, r * 2.05)], 24, "glass")]
        if self.netted:
            t = np.linspace(-1.42, 1.42, 30)
            for k in range(7):
                for way in (-1, 1):
                    turn = k * 2 * np.pi / 7 + way * (t * 0.5)
                    reach = r * 1.025
                    path = np.column_stack([np.cos(turn) * np.cos(t), np.sin(t), np.sin(turn) * np.cos(t)]) * reach
                    out.append(limb(path + np.array([0, r, 0]), np.full(30, r * 0.022), 6, "rope"))
        return join(out)


@MAKERS.register
class Shelf(Maker):
    """A split slate shelf on two stone brackets."""

    kind: Literal["shelf"] = "shelf"
    title: ClassVar[str] = "Slate shelf"
    size: tuple[float, float] = extent((1.1, 0.42), low=0.1, high=6, unit="m", help="Extent along x and z.")
    thickness: float = quantity(0.032, low=0.005, high=0.3, unit="m", step=0.002, help="Thickness of the slate.")
    height: float = quantity(0.9, low=0.1, high=3, unit="m", step=0.02, help="From the ground to its top.")
    seed: int = count(1, low=0, high=9999, help="Another number splits it another way.")

    def build(self) -> Mesh:
        dice = Dice("shelf", self.seed)
        w, d = self.size
        along, across = 48, 18
        xs, zs = np.linspace(-1, 1, along), np.linspace(-1, 1, across)
        xx, zz = np.meshgrid(xs, zs, indexing="ij")
        rag = dice.many(along, 2, low=-0.012, high=0.012)
        edge = np.where(np.abs(zz) > 0.99, np.where(zz > 0, rag[:, :1], rag[:, 1:]), 0)
        x, z = xx * w / 2, zz * d / 2 + edge
        split = 0.0022 * np.round(3 * np.sin(xx * 2.1 + zz * 1.3 + self.seed)) / 3
        upper = np.column_stack([x.ravel(), (self.height + split).ravel(), z.ravel()])
        lower = upper * [1, 0, 1] + [0, self.height - self.thickness, 0]
        n = len(upper)
        index = np.arange(n).reshape(along, across)
        a, b, c, e = index[:-1, :-1], index[:-1, 1:], index[1:, :-1], index[1:, 1:]
        top = np.concatenate([np.stack([a, b, c], -1).reshape(-1, 3), np.stack([b, e, c], -1).reshape(-1, 3)])
        rim = [*index[:, 0], *index[-1, 1:], *index[-2::-1, -1], *index[0, -2:0:-1]]
        sides = [f for p, q in zip(rim, rim[1:] + rim[:1], strict=True) for f in ([p, q, p + n], [q, q + n, p + n])]
        slate = Mesh.of(np.concatenate([upper, lower]), np.concatenate([top, top[:, ::-1] + n, sides]), "slab_slate")
        brackets = [worn_box((s * w * 0.32 - 0.06, 0, -d / 2), (s * w * 0.32 + 0.06, self.height - self.thickness, d * 0.28), 0.012, "ashlar")
                    for s in (-1, 1)]  # fmt: skip
        pebbles = [boulder(self.seed * 31 + k, (0.02, 0.012, 0.016), 8, 12, "river_stone").at(dice.one(-w * 0.45, w * 0.45), self.height + 0.008, dice.one(-d * 0.3, d * 0.4))
                   for k in range(5)]  # fmt: skip
        return join([slate, *brackets, *pebbles])
