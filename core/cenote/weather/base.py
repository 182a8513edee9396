"""What a cover is.

To add a cover, add a file to this package with a class that derives from :class:`Cover` and is registered with
``@COVERS.register``. It declares its parameters, says what it sits on and how it answers to the climate; the compositor
does the rest.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from math import exp
from typing import ClassVar, Literal

from ..masks.where import SignalCard, Where
from ..materials.base import NATURES, Nature
from ..parameters import Declared, choice, colour, quantity
from ..registry import Family
from ..signals.base import Signal
from ..signals.sky import SkyExposure
from .blanket import Blanket
from .climate import Conditions

Colour = tuple[float, float, float]


@dataclass(frozen=True)
class Film:
    """A thin cover of one colour, without a material of its own: linear colour and roughness in [0, 1]."""

    colour: Colour
    rough: float = 0.9


@dataclass(frozen=True)
class CoverLook:
    """What the compositor needs to know of a cover.

    :ivar of: kind of the material it is made of, or a film.
    :ivar strength: factor on the mask, at least 0.
    :ivar joints: in [-1, 1]: 1 fills the low places of what lies below first, -1 takes its high places first, 0 spreads by
        its own clumps.
    :ivar softness: width of its edge, in mask units, above 0.
    :ivar thickness: metres that it adds where it is full; below 0 it takes them away.
    :ivar opacity: in [0, 1], how much of what lies below it hides.
    :ivar soak: in [0, 1], how far it darkens what is porous below it.
    :ivar gloss: in [0, 1], how near it brings roughness to that of water.
    :ivar flattens: in [0, 1], how far it levels the relief: 1 is as flat as standing water.
    :ivar stands: whether it is water that stands as high as a card of standing water in its mask says, lower where the cover
        is not at its full strength.
    :ivar brightness: factor on its colour.
    :ivar rim: width, in mask units, of a margin beyond its edge that is wet as far as it soaks; 0 for none.
    :ivar silt: linear colour that is left in this margin; None for clear water.
    :ivar bared: for natures of material, in [0, 1]: how far it keeps to where a cover below has bared them.
    """

    of: str | Film
    strength: float
    joints: float = 0.0
    softness: float = 0.3
    thickness: float = 0.0
    opacity: float = 1.0
    soak: float = 0.0
    gloss: float = 0.0
    flattens: float = 0.0
    stands: bool = False
    brightness: float = 1.0
    tint: Colour = (0.5, 0.5, 0.5)
    tinted: float = 0.0
    instead: Mapping[str, str] = field(default_factory=dict)
    rim: float = 0.0
    silt: Colour | None = None
    bared: Mapping[str, float] = field(default_factory=dict)

    def material_on(self, nature: Nature) -> str | Film:
        """What it is made of on something of a nature: what is bared depends on what was painted."""
        return self.instead.get(nature, self.of)


class Cover(Declared):
    """Something that time and weather lay over surfaces.

    :cvar name: its name for people.
    :cvar coats: whether it comes on placed items as well.
    :cvar coats_above: 1 where it lies on what faces up of them alone, 0 where it is all over.
    :cvar of_rain: whether it comes with the rain that falls.
    :cvar sits_on: how well it holds to each nature of material, in [0, 1]; not at all where none is given.
    """

    kind: str
    title: ClassVar[str]
    coats: ClassVar[bool] = False
    coats_above: ClassVar[float] = 1.0
    of_rain: ClassVar[bool] = False
    sits_on: ClassVar[Mapping[Nature, float]] = dict.fromkeys(NATURES, 1.0)
    amount: float = quantity(1, low=0, high=3, unit="×", step=0.05, help="How strongly it comes where it comes at all.")
    brightness: float = quantity(1, low=0.2, high=2, unit="×", step=0.05, help="Darker or lighter than it usually is.")
    tint: Colour = colour((0.5, 0.5, 0.5), help="A colour laid over its own.")
    tinted: float = quantity(0, low=0, high=100, unit="%", step=5, help="How strongly the tint is laid on.")
    blend: Literal["multiply", "soft light"] = choice(
        "soft light", help="Multiply darkens by the tint; soft light shifts towards it and leaves mid-tones."
    )

    def weathered(self, now: Conditions) -> CoverLook:
        """How it looks under conditions, before anybody grades it."""
        raise NotImplementedError

    def look(self, now: Conditions) -> CoverLook:
        """How it looks under conditions, as it is graded."""
        found = self.weathered(now)
        return replace(
            found,
            strength=float(found.strength) * self.amount,
            brightness=found.brightness * self.brightness,
            tint=self.tint,
            tinted=self.tinted / 100 * (1 if self.blend == "multiply" else -1),
        )

    def blanket(self, now: Conditions) -> Blanket | None:
        """How it lies as a sheet of its own, where it is deeper than relief can show; None for most covers."""
        return None

    @classmethod
    def usual_where(cls) -> Where:
        """The mask that a new layer of this cover begins with."""
        return Where()


COVERS: Family[type[Cover]] = Family("cenote.weather", "cover")


def natures(rest: float = 0.0, **given: float) -> dict[Nature, float]:
    """How well a cover holds to each nature: those given by name, words joined by an underscore, and the rest."""
    named = {name.replace("_", " "): value for name, value in given.items()}
    unknown = set(named) - set(NATURES)
    if unknown:
        raise ValueError(f"there is no nature called {unknown}")
    return {nature: named.get(nature, rest) for nature in NATURES}


def grown(years: float, pace: float) -> float:
    """Share of its full growth that something has reached after some years; ``pace`` is how long 63 % takes."""
    return 1 - exp(-years / pace)


def reached() -> SignalCard:
    """A last card for what only the open brings: nothing weathers where no sky is seen at all."""
    return SignalCard(id="reached", signal=SkyExposure(), starts_at=0.0, full_at=0.02)


def where(*cards: tuple[str, Signal, float, float] | SignalCard) -> Where:
    """A mask of cards, each an id, a signal, and the values at which it starts and is full."""
    return Where(
        cards=tuple(
            one if isinstance(one, SignalCard)
            else SignalCard(id=one[0], signal=one[1], starts_at=one[2], full_at=one[3])
            for one in cards
        )
    )  # fmt: skip
