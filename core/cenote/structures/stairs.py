"""Steps."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from ..geometry.build import box
from ..geometry.mesh import Mesh, join
from ..kit.base import Dice
from ..parameters import count, quantity, switch
from .base import MAKERS, Maker


@MAKERS.register
class Stairs(Maker):
    """A flight of steps that climbs away from the front, worn and a little uneven."""

    kind: Literal["stairs"] = "stairs"
    title: ClassVar[str] = "Steps"
    steps: int = count(6, low=1, high=80, help="How many steps there are.")
    width: float = quantity(1.6, low=0.4, high=20, unit="m", step=0.05, help="Width of the flight.")
    rise: float = quantity(0.17, low=0.05, high=0.4, unit="m", step=0.005, help="Height of a step.")
    tread: float = quantity(0.3, low=0.15, high=1.5, unit="m", step=0.01, help="Depth of a step.")
    nosing: float = quantity(
        0.02, low=0, high=0.1, unit="m", step=0.005, help="How far a step stands out over the one below."
    )
    cheeks: bool = switch(True, help="Whether low walls stand at its sides.")
    wear: float = quantity(0.4, low=0, high=1, unit="", step=0.05, help="How far its stones have shifted.")
    material: str = Field("ashlar", description="What it is made of.", json_schema_extra={"picks": "material"})
    seed: int = count(1, low=0, high=9999, help="Another number shifts the stones another way.")

    def build(self) -> Mesh:
        dice = Dice("stairs", self.seed)
        out: list[Mesh] = []
        half = self.width / 2
        for k in range(self.steps):
            x = -half
            y0, y1, z = (-0.4 if k == 0 else k * self.rise), (k + 1) * self.rise, -k * self.tread
            while x < half - 1e-6:
                wide = min(dice.one(0.7, 1.2), half - x)
                wide = half - x if half - x - wide < 0.3 else wide
                shift = dice.many(3, low=-1, high=1) * self.wear * [0.003, 0.006, 0.012]
                stone = box(
                    (x + 0.003, y0, z - self.tread * (1.6 if k < self.steps - 1 else 1)),
                    (x + wide - 0.003, y1, z + self.nosing),
                    self.material,
                )
                out.append(stone.at(*shift))
                x += wide
            out.append(box((-half, -0.4, z - self.tread), (half, y1 - 0.03, z - 0.03), self.material))
        if self.cheeks:
            for s in (-1, 1):
                x0, x1 = sorted((s * half, s * (half + 0.26)))
                for k in range(self.steps):
                    z = -k * self.tread
                    out.append(
                        box((x0, -0.4, z - self.tread), (x1, (k + 1) * self.rise + 0.14, z + 0.05), self.material)
                    )
        return join(out)
