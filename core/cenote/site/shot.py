"""Shots: saved cameras."""

from __future__ import annotations

import math
from typing import Any, Literal

import numpy as np
from pydantic import Field, model_validator

from ..geometry.camera import Camera
from ..motion.motion import Motion
from ..parameters import Declared, choice, point, quantity, switch
from .ground import Identity

# A lens is told by its focal length on a picture of 36 × 24 mm; of other proportions as much is taken as fits into that.
_WIDE, _HIGH = 36.0, 24.0
# Nothing nearer than this is in focus, metres.
_NEAREST = 0.05
# No lens is open wider, an f-number.
_WIDEST = 0.5
Frame = Literal["3:2", "16:9", "2.39:1", "4:3", "1:1", "4:5"]
RATIOS: dict[Frame, float] = {"3:2": 3 / 2, "16:9": 16 / 9, "2.39:1": 2.39, "4:3": 4 / 3, "1:1": 1.0, "4:5": 4 / 5}


class Shot(Declared):
    """A saved camera."""

    id: Identity
    name: str = Field("Shot", min_length=1, max_length=80)
    position: tuple[float, float, float] = point((12, 7, 14), help="Where the camera stands.", reach=1e5)
    target: tuple[float, float, float] = point((0, 1, 0), help="What it looks at.", reach=1e5)
    lens: float = quantity(
        35,
        low=7,
        high=280,
        unit="mm",
        step=1,
        help="Focal length, on a picture of 36 by 24 mm: 24 is wide, 85 is narrow.",
    )
    frame: Frame = choice("3:2", help="Proportions of the picture.")
    upright: bool = switch(
        False, help="Whether walls stay upright though it looks up or down, as a shifted lens has it."
    )

    aperture: float = quantity(
        0,
        low=0,
        high=32,
        unit="",
        step=0.1,
        label="f-number",
        help="How far the lens is open: 1.4 blurs much of what is out of focus, 16 little; 0 keeps all sharp. Stills show it.",
    )
    focus: tuple[float, float, float] = point((0, 1, 0), help="What is in focus.", reach=1e5, picked=True)

    finish: str = Field(
        "",
        max_length=64,
        description="The finish that its stills are shown with; none where it is empty.",
        json_schema_extra={"refers": "finishes"},
    )

    motion: Motion = Field(default=Motion(), description="How it moves, where it is taken as a moving picture.")

    @model_validator(mode="before")
    @classmethod
    def _of_old(cls, given: Any) -> Any:
        """Shots once had an upright angle of view, degrees, and nothing in focus: that is what they look at."""
        if not isinstance(given, dict):
            return given
        new = {name: value for name, value in given.items() if name != "field_of_view"}
        if "target" in new:
            new.setdefault("focus", new["target"])
        angle = given.get("field_of_view")
        if isinstance(angle, (int, float)) and 0 < angle < 180:
            lens = _HIGH / 2 / math.tan(math.radians(angle / 2))
            new.setdefault("lens", min(max(lens, 7.0), 280.0))
        return new

    def blur(self) -> tuple[float, float]:
        """How much is out of focus: half the width of the lens's opening, and how far ahead all is sharp, both metres."""
        if not self.aperture:
            return 0.0, 1.0
        ahead = (np.array(self.focus) - self.position) @ self.camera().ahead
        return self.lens / 1000 / (2 * max(self.aperture, _WIDEST)), max(float(ahead), _NEAREST)

    @property
    def ratio(self) -> float:
        """Width over height of its picture."""
        return RATIOS[self.frame]

    @property
    def tangents(self) -> tuple[float, float]:
        """Tangents of half the angles that its picture takes in: across, and upright."""
        high = min(_HIGH, _WIDE / self.ratio)
        return high * self.ratio / 2 / self.lens, high / 2 / self.lens

    def camera(self, aspect: float | None = None) -> Camera:
        """The camera.

        :param aspect: width over height of what is drawn, into which the picture fits whole; its own where none is given.
        """
        across, upright = self.tangents
        if aspect is not None:
            upright = max(upright, across / aspect)
            across = upright * aspect
        return Camera.looking(self.position, self.target, across, upright, self.upright)
