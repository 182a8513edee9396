"""Decals that are laid on the surfaces of a site."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
from pydantic import Field

from ..decals.base import DECALS, Decal, Hangs
from ..decals.leak import Leak
from ..geometry.pose import Pose
from ..masks.where import Where
from ..parameters import Declared, Identities, choice, count, only, quantity, span, switch
from .ground import Identity

if TYPE_CHECKING:
    AnyDecal = Decal
else:
    AnyDecal = DECALS.union()


class Spread(Declared):
    """Laid many times over surfaces by rule, each time with a seed of its own."""

    on: bool = switch(False, help="Whether it is laid many times over surfaces by rule, in place of once in its box.")
    surfaces: Identities = only(
        "on",
        True,
        Field((), description="The surfaces that it is spread over.", json_schema_extra={"picks": "surfaces"}),
    )
    density: float = only(
        "on",
        True,
        quantity(
            0.3,
            low=0,
            high=200,
            unit="/m²",
            step=0.05,
            help="How many there are, as far as they may; at most 2,000 on a surface.",
        ),
    )
    spacing: float = only(
        "on",
        True,
        quantity(0.6, low=0, high=50, unit="m", step=0.05, help="From the middle of one to that of the next at least."),
    )
    sizes: tuple[float, float] = only(
        "on", True, span((0.7, 1.3), low=0.05, high=10, unit="×", help="Factor on the size of its box.")
    )
    upright: bool = only(
        "on",
        True,
        switch(
            True,
            help="Whether its upper side is up, or away from the middle of the world where it is level; else turned by chance.",
        ),
    )
    strays: float = only(
        "on", True, quantity(6, low=0, high=180, unit="°", step=1, help="How far each is turned at most, by chance.")
    )
    hangs: Hangs = only(
        "on",
        True,
        choice(
            "by its middle", help="What of it lies at the places that the mask chooses: a leak hangs by its upper side."
        ),
    )
    removed: tuple[Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")], ...] = Field(
        (), max_length=2000, description="Those that were taken out, by their ids."
    )


class PlacedDecal(Declared):
    """A decal in its box: untipped it is laid on what lies below, its picture's upper side towards −z."""

    id: Identity
    name: str = Field("Decal", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether it is seen and exported.")
    locked: bool = switch(False, help="Whether it is kept from being picked and moved in the view.")
    group: str = Field("", max_length=60, description="The group that it belongs to; none where it is empty.")
    decal: AnyDecal = Field(default=Leak())
    object: str = Field(
        "",
        max_length=60,
        description="The object that it follows, in whose own frame it is placed; none for the world's.",
        json_schema_extra={"refers": "surface"},
    )
    placement: Pose = Field(default=Pose())
    spin: float = quantity(0, low=-180, high=180, unit="°", step=1, help="Turn about its own axis.")
    width: float = quantity(1, low=0.005, high=200, unit="m", step=0.05, help="Width of its box.")
    height: float = quantity(1, low=0.005, high=200, unit="m", step=0.05, help="Height of its box.")
    reach: float = quantity(
        0.4,
        low=0.005,
        high=200,
        unit="m",
        step=0.05,
        help="How far its box goes in all, half before the surface and half behind.",
    )
    mirrored: bool = switch(False, help="Whether left and right are exchanged.")
    seed: int = count(1, low=0, high=9999, help="Another one gives another decal of the kind.")
    lies: Literal["under the weather", "over the weather"] = choice(
        "under the weather", help="Whether covers lie on it, or it lies on them."
    )
    only_object: bool = switch(
        False, help="Whether it lies on the object alone that it follows, and not on all that its box reaches."
    )
    opacity: float = quantity(100, low=0, high=100, unit="%", step=5, help="How much it hides.")
    relief: float = quantity(
        1, low=-3, high=3, unit="×", step=0.1, help="Factor on its relief; below 0 what is raised sinks in."
    )
    gloss: float = quantity(
        0, low=-1, high=1, unit="", step=0.05, help="How much smoother it is than usual; rougher below 0."
    )
    limit: float = quantity(
        70, low=1, high=90, unit="°", step=1, help="Where a surface is turned away by more than that, it ends."
    )
    fades: float = quantity(15, low=0, high=90, unit="°", step=1, help="Degrees before its limit over which it fades.")
    both_sides: bool = switch(False, help="Whether it is laid on what looks away from it, too.")
    skips: Identities = Field(
        (), description="Objects that it is not laid on.", json_schema_extra={"picks": "surfaces"}
    )
    skips_parts: Identities = Field(
        (), description="Parts that it is not laid on.", json_schema_extra={"picks": "parts"}
    )
    worn: float = quantity(0, low=0, high=100, unit="%", step=5, help="How much of it has worn off, in flecks.")
    lasts: float = quantity(
        0,
        low=0,
        high=500,
        unit="years",
        step=1,
        help="Years of the dial after which half of it is gone; 0 where it lasts.",
    )
    where: Where = Field(default=Where())
    spread: Spread = Field(default=Spread())

    def matrix(self) -> np.ndarray:
        """From its box to what it is placed in, rigid float64 (4, 4): x to its right, y out of the surface, z down its picture."""
        turn = np.radians(self.spin)
        spun = np.eye(4)
        spun[0, 0] = spun[2, 2] = np.cos(turn)
        spun[0, 2], spun[2, 0] = np.sin(turn), -np.sin(turn)
        return np.asarray(self.placement.matrix() @ spun)

    def worn_at(self, years: float) -> float:
        """The share of it that is gone after some years, in [0, 1]."""
        aged = 0.0 if self.lasts == 0 else 1 - 0.5 ** (years / self.lasts)
        return 1 - (1 - self.worn / 100) * (1 - aged)
