"""Bollards."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..geometry.build import turned
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem


@KIT.register
class Bollard(KitItem):
    """A cast-iron mooring bollard; the head is grooved by ropes."""

    kind: Literal["bollard"] = "bollard"
    title: ClassVar[str] = "Bollard"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("bollard", "iron", "mooring", "prop", "medium")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        h, r = dice.one(0.52, 0.7), dice.one(0.11, 0.14)
        profile = [(r * 1.75, -0.2), (r * 1.75, 0.025), (r * 1.6, 0.04), (r * 1.25, 0.06), (r * 1.05, 0.12), (r * 0.98, 0.5 * h), (r * 1.02, 0.66 * h),
                   (r * 1.3, 0.75 * h), (r * 1.62, 0.83 * h), (r * 1.66, 0.88 * h), (r * 1.5, 0.95 * h), (r * 1.0, 0.99 * h), (r * 0.4, h)]  # fmt: skip
        parts = [turned(profile[:: (1, 1, 2)[detail]], (32, 16, 8)[detail], "iron")]
        if detail < 2:
            parts += [
                turned([(0.018, 0.02), (0.018, 0.045), (0.008, 0.05)], 6, "iron").at(*at)
                for at in ((r * 1.45, 0, 0), (-r * 1.45, 0, 0), (0, 0, r * 1.45), (0, 0, -r * 1.45))
            ]
        return join(parts).coloured(1.0)
