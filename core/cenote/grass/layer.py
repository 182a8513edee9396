"""What a layer of grass is declared by."""

from __future__ import annotations

from pydantic import Field, field_validator, model_validator

from ..masks.where import Where
from ..parameters import Declared, Identities, colour, count, only, quantity, span, switch
from ..scatter.clear import KeepClear

# Blades on a square metre, at most.
DENSEST = 4000


class Grass(Declared):
    """A lawn, a meadow or a mown path: blades all over some surfaces, as dense as turf is."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field("Grass", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether the layer is seen and exported.")
    surfaces: Identities = Field(
        ("ground",), description="The surfaces that it grows on.", json_schema_extra={"picks": "surfaces"}
    )
    density: float = quantity(
        1500, low=10, high=DENSEST, unit="/m²", step=50, help="Blades on a square metre of the plan, where it is full."
    )
    height: tuple[float, float] = span(
        (0.05, 0.14), low=0.005, high=1.5, unit="m", help="Shortest and longest blade, along the blade."
    )
    mown: bool = switch(False, help="Whether it is cut to one height.")
    cut_at: float = only(
        "mown",
        True,
        quantity(0.04, low=0.005, high=1, unit="m", step=0.005, help="How high above its root a blade is cut off."),
    )
    root_width: float = quantity(
        0.0036, low=0.0005, high=0.03, unit="m", step=0.0002, help="Width of a blade at its root."
    )
    tip_width: float = quantity(0.0006, low=0, high=0.03, unit="m", step=0.0002, help="Width of a blade near its tip.")
    bend: float = quantity(45, low=0, high=150, unit="°", step=5, help="How far the most bent blades hang over.")
    curl: float = quantity(
        35, low=0, high=100, unit="%", step=5, help="How much of the bend comes at the tip rather than along the blade."
    )
    kinked: float = quantity(6, low=0, high=100, unit="%", step=1, help="Share of blades that are broken halfway up.")
    clumps: float = quantity(
        45, low=0, high=100, unit="%", step=5, help="How much neighbours share their height, their lean and their tone."
    )
    clump_size: float = quantity(0.12, low=0.01, high=3, unit="m", step=0.01, help="From one such clump to the next.")
    uneven: float = quantity(
        40,
        low=0,
        high=100,
        unit="%",
        step=5,
        help="How much height, tone and what is dead drift from place to place, over metres.",
    )
    root_colour: tuple[float, float, float] = colour((0.040, 0.062, 0.018), help="Colour at the root.")
    tip_colour: tuple[float, float, float] = colour((0.135, 0.200, 0.048), help="Colour at the tip.")
    variety: float = quantity(30, low=0, high=100, unit="%", step=5, help="How far blades differ in tone.")
    dead: float = quantity(
        10, low=0, high=100, unit="%", step=1, help="Share of blades that are dead and straw-coloured."
    )
    dead_colour: tuple[float, float, float] = colour((0.34, 0.28, 0.13), help="Colour of dead blades.")
    seed: int = count(1, low=0, high=9999, help="Another number gives other blades.")
    where: Where = Field(default=Where())
    tall_where: Where = Field(
        default=Where(), description="Where it stands as tall as it is declared; elsewhere it is trodden."
    )
    trodden_height: float = quantity(
        35, low=5, high=100, unit="%", step=5, help="Height of what is trodden, against the rest."
    )
    flattened: float = quantity(60, low=0, high=100, unit="%", step=5, help="How much of what is trodden lies flat.")
    keep_clear: tuple[KeepClear, ...] = Field(default=(), max_length=24)

    @model_validator(mode="after")
    def _sound(self) -> Grass:
        ids = [entry.id for entry in self.keep_clear]
        if len(set(ids)) != len(ids):
            raise ValueError("keep_clear: two have the same id")
        return self

    @field_validator("surfaces")
    @classmethod
    def _each_once(cls, surfaces: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(surfaces))

    @property
    def chains(self) -> tuple[Where, Where]:
        """The masks that it asks for: where it is, and where it is tall."""
        return self.where, self.tall_where

    @property
    def longest(self) -> float:
        """The longest that any blade may be, metres."""
        return self.height[1]

    @property
    def clears(self) -> tuple[KeepClear, ...]:
        """What it keeps clear of, as far as that takes part."""
        return tuple(one for one in self.keep_clear if one.enabled)

    def looks_at(self) -> set[str]:
        """The planting layers that it keeps clear of, or that its masks look at."""
        names = {name for clear in self.clears for name in clear.looks_at()}
        return names | {name for chain in self.chains for card in chain.active for name in card.signal.looks_at()}

    def rules(self) -> Grass:
        """The layer as far as it decides which blades there are: without its name, its surfaces, its colours and its shapes' widths."""
        usual = Grass(id="grass")
        told = {"id", "density", "height", "mown", "cut_at", "bend", "curl", "kinked", "clumps", "clump_size", "uneven",
                "variety", "dead", "seed", "trodden_height", "flattened"}  # fmt: skip
        clears = tuple(clear.model_copy(update={"id": str(row)}) for row, clear in enumerate(self.clears))
        return usual.model_copy(
            update={name: getattr(self, name) for name in told}
            | {"where": self.where.plain, "tall_where": self.tall_where.plain, "keep_clear": clears}
        )
