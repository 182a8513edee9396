"""Crates."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem
from .wood import board


def crate(size: tuple[float, float, float], dice: Dice, detail: int, lid: bool = True) -> Mesh:
    """A slatted crate of a width, height and depth in metres, standing on the origin."""
    w, h, d = size
    t, slats = 0.018, (5, 4, 2)[detail]
    pieces = [board((-w / 2, 0.016, -d / 2), (w / 2, 0.016 + t, d / 2), dice, detail)]
    rows = 4 if detail < 2 else 1
    for k in range(rows):
        y0, y1 = k * h / rows + 0.007, (k + 1) * h / rows - 0.007
        for s in (-1, 1):
            a, b = sorted((s * d / 2, s * (d / 2 - t)))
            bow = dice.one(-0.003, 0.003)
            pieces.append(board((-w / 2, y0 + bow, a), (w / 2, y1 + bow, b), dice, detail))
            a, b = sorted((s * w / 2, s * (w / 2 - t)))
            pieces.append(board((a, y0, -d / 2 + t), (b, y1, d / 2 - t), dice, detail))
    if detail < 2:
        for sx in (-1, 1):
            for sz in (-1, 1):
                (x0, x1), (z0, z1) = (
                    sorted((sx * (w / 2 - t), sx * (w / 2 - t - 0.045))),
                    sorted((sz * (d / 2 - t), sz * (d / 2 - t - 0.045))),
                )
                pieces.append(board((x0, 0, z0), (x1, h - 0.002, z1), dice, detail))
    if lid:
        for k in range(slats):
            z = -d / 2 + k * d / slats
            pieces.append(board((-w / 2, h, z + 0.004), (w / 2, h + t, z + d / slats - 0.004), dice, detail))
    return join(pieces)


@KIT.register
class Crate(KitItem):
    """A slatted wooden crate; some have lost their lid."""

    kind: Literal["crate"] = "crate"
    title: ClassVar[str] = "Crate"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("crate", "box", "wood", "prop", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        size = dice.one(0.5, 0.75), dice.one(0.34, 0.5), dice.one(0.42, 0.55)
        return crate(size, dice, detail, lid=variant != 2)
