"""Lamps that stand or hang on a site."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from pydantic import Field

from ..geometry.pose import Pose
from ..light.daylight import Light
from ..light.lamps.base import LAMPS, Lamp
from ..light.lamps.point import PointLamp
from ..parameters import Declared, choice, switch
from .ground import Identity

if TYPE_CHECKING:
    AnyLamp = Lamp
else:
    AnyLamp = LAMPS.union()
# Degrees: the height of the sun below which lamps are lit that burn when it is dark.
DUSK = 2.0


class PlacedLamp(Declared):
    """A lamp in its place; untipped it shines downwards."""

    id: Identity
    name: str = Field("Lamp", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether it is there at all.")
    locked: bool = switch(False, help="Whether it is kept from being picked and moved in the view.")
    burns: Literal["at dusk", "always", "never"] = choice(
        "at dusk", help="When it is lit: once the sun is down, at all hours, or not at all."
    )
    seen_itself: bool = switch(True, help="Whether what shines is seen itself, and not its light alone.")
    lamp: AnyLamp = Field(default=PointLamp())
    placement: Pose = Field(default=Pose())

    def lit(self, light: Light) -> bool:
        """Whether it is lit under a sky."""
        return self.shown and (self.burns == "always" or (self.burns == "at dusk" and is_dark(light)))

    def axis(self) -> np.ndarray:
        """Where it is aimed, unit float64 (3,)."""
        return np.asarray(-self.placement.matrix()[:3, 1])


def is_dark(light: Light) -> bool:
    """Whether lamps are lit that burn when it is dark; the hour of a panorama nobody knows."""
    return light.by != "panorama" and light.sun().height < DUSK
