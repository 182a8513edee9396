"""Finishes as sites keep them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from pydantic import Field

from ..parameters import Declared
from .base import STEPS, Step
from .steps.light_mix import LightMix

if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = STEPS.union()
MOST_STEPS = 40


class Stack(Declared):
    """The steps of a finish, in their order."""

    steps: tuple[AnyStep, ...] = Field(default=(), max_length=MOST_STEPS)

    @property
    def names_covers(self) -> bool:
        """Whether it needs to know where covers are."""
        return any(step.within == "chosen" and step.covers for step in self.steps)

    @property
    def parts_lights(self) -> bool:
        """Whether it needs each light for itself."""
        return any(isinstance(step, LightMix) and step.on and step.amount > 0 for step in self.steps)
