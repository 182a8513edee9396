"""What a scatter layer is declared by."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, field_validator, model_validator

from ..geometry.strokes import BrushStroke, Line
from ..masks.where import Where
from ..parameters import Declared, choice, colour, count, point, quantity, span, switch
from .clear import KeepClear

LayerId = Annotated[str, Field(min_length=1, max_length=40)]
# Ids of placed items, 64 bits in hexadecimal.
PlacedId = Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]


class Match(Declared):
    """A shift of an item's colour, so that it sits with its surroundings."""

    tint: tuple[float, float, float] = colour((0.5, 0.5, 0.5), help="The colour it is shifted towards.")
    tinted: float = quantity(0, low=0, high=100, unit="%", step=1, help="How far it is shifted towards the tint.")
    brightness: float = quantity(1, low=0.1, high=4, unit="×", step=0.02, help="Factor on its brightness.")
    saturation: float = quantity(1, low=0, high=3, unit="×", step=0.02, help="Factor on how colourful it is.")


class MixItem(Declared):
    """One kind of thing in a mix, and how each copy of it varies."""

    item: str = Field(description="The kit item to place.", json_schema_extra={"picks": "kit"})
    share: float = quantity(
        1, low=0, high=100, unit="", step=0.1, help="How often it comes, against the others' shares."
    )
    room: float = quantity(
        0, low=0, high=50, unit="m", step=0.1, label="Own spacing",
        help="Room it keeps for itself: its like stay this far off, others half of it. 0 takes the layer's spacing.",
    )  # fmt: skip
    size: tuple[float, float] = span(
        (0.8, 1.25), low=0.05, high=10, unit="×", help="Least and greatest size of a copy."
    )
    turn: float = quantity(
        360, low=0, high=360, unit="°", step=5, help="How far a copy may be turned about its upright axis."
    )
    lean: float = quantity(
        30, low=0, high=100, unit="%", step=5, help="How far a copy leans with the ground: 0 % stands upright."
    )
    sink: tuple[float, float] = span(
        (0.0, 0.02), low=-1, high=2, unit="m", help="Least and greatest depth a copy is sunk by."
    )
    match: Match = Field(default=Match())
    where: Where = Field(default=Where(), description="Where it comes rather than the others of the mix.")


class SowStroke(BrushStroke):
    """A stroke that sows the layer's mix where rules would not, or thins it out."""

    items: tuple[int, ...] = Field(
        (), max_length=12, description="Rows of the mix that it sows or thins; none means all of them."
    )


class Row(Declared):
    """Items along a line."""

    id: str = Field(min_length=1, max_length=40)
    path: Line = Field(description="Points of the line, metres.", json_schema_extra={"draws": "line"})
    by: Literal["spacing", "number"] = choice("spacing", help="Whether their distance or their number is given.")
    spacing: float = quantity(1, low=0.02, high=200, unit="m", step=0.05, help="From one to the next.")
    number: int = count(8, low=1, high=2000, help="How many there are.")
    aside: float = quantity(
        0, low=-50, high=50, unit="m", step=0.05, label="Offset to the right",
        help="How far they stand to the line's right.",
    )  # fmt: skip
    jitter: float = quantity(0, low=0, high=20, unit="m", step=0.02, help="How far each may stray from its place.")
    order: Literal["in turn", "mixed"] = choice(
        "in turn", help="Whether the kinds of the mix follow one another, or come by their shares."
    )
    facing: Literal["along", "any way"] = choice("along", help="Whether they are turned along the line, or any way.")
    turn: float = quantity(0, low=-180, high=180, unit="°", step=5, help="How far each is turned besides.")


class Planted(Declared):
    """One item planted by hand, or one that was placed by rule and then changed by hand."""

    id: str = Field(min_length=1, max_length=40)
    instead: PlacedId | Literal[""] = Field(
        "", description="The placed item that it stands for; none where it was planted anew."
    )
    item: str = Field(description="The kit item.", json_schema_extra={"picks": "kit"})
    variant: int = count(0, low=0, high=99, help="Which of the item's variants it is.")
    position: tuple[float, float, float] = point((0, 0, 0), help="Where it stands.", reach=1e4)
    turn: float = quantity(0, low=-360, high=360, unit="°", step=1, help="Turn about the upright axis.")
    tip: float = quantity(0, low=-180, high=180, unit="°", step=1, help="How far it is tipped forwards.")
    roll: float = quantity(0, low=-180, high=180, unit="°", step=1, help="How far it is rolled to its side.")
    size: float = quantity(1, low=0.05, high=10, unit="×", step=0.01, help="Against the built size.")


class Scatter(Declared):
    """A layer of items scattered over surfaces, planted in rows, or set one by one."""

    id: LayerId
    name: str = Field("Scatter", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether the layer is seen and exported.")
    surfaces: tuple[str, ...] = Field(
        ("ground",), max_length=200, description="The surfaces to fill.", json_schema_extra={"picks": "surfaces"}
    )
    sides: Literal["from above", "all sides"] = choice(
        "from above", help="Whether only what is seen from above is filled, or walls and undersides too."
    )
    density: float = quantity(
        2, low=0, high=60, unit="/m²", step=0.1,
        help="How many items on a square metre where the mask is full: of the plan, as on a map, where it is filled from above, "
        "of the surface itself where all its sides are.",
    )  # fmt: skip
    spacing: float = quantity(
        0.2, low=0, high=20, unit="m", step=0.05, help="No two items of the layer are nearer to each other than this."
    )
    evenness: float = quantity(
        60, low=0, high=100, unit="%", step=5,
        help="From as chance has it, with clumps and gaps, to as evenly spread as can be.",
    )  # fmt: skip
    clumps: float = quantity(
        0, low=0, high=100, unit="%", step=5, help="How much the layer gathers in clumps in place of spreading evenly."
    )
    clump_size: float = quantity(2, low=0.1, high=100, unit="m", step=0.1, help="From one clump to the next.")
    edge_size: float = quantity(
        100, low=10, high=100, unit="%", step=5, help="Size of what stands where the mask is faint, against the rest."
    )
    seed: int = count(1, low=0, high=9999, help="Another number gives another arrangement.")
    mix: tuple[MixItem, ...] = Field(default=(MixItem(item="grass_tuft"),), min_length=1, max_length=12)
    where: Where = Field(default=Where())
    size_where: Where = Field(default=Where(), description="Where items are as large as their mix says.")
    smallest: float = quantity(
        40, low=5, high=100, unit="%", step=5, help="Size where the chain of sizes says 0, against where it says 1."
    )
    keep_clear: tuple[KeepClear, ...] = Field(default=(), max_length=24)
    strokes: tuple[SowStroke, ...] = Field(default=(), max_length=2000)
    rows: tuple[Row, ...] = Field(default=(), max_length=100)
    planted: tuple[Planted, ...] = Field(default=(), max_length=5000)
    removed: tuple[PlacedId, ...] = Field(default=(), max_length=20000, description="Placed items taken away by hand.")

    @model_validator(mode="before")
    @classmethod
    def _of_one_surface(cls, values: Any) -> Any:
        """Read layers of older sites, which had one surface each."""
        if isinstance(values, dict) and "surface" in values:
            values = {name: value for name, value in values.items() if name != "surface"} | {
                "surfaces": [values["surface"]]
            }
        return values

    @model_validator(mode="before")
    @classmethod
    def _as_it_was(cls, values: Any) -> Any:
        """Leave layers of older sites, which are kept with all that they had, as chance spread them."""
        if isinstance(values, dict) and "removed" in values and "clumps" in values and "evenness" not in values:
            values = values | {"evenness": 0}
        return values

    @model_validator(mode="after")
    def _sound(self) -> Scatter:
        for what in ("rows", "planted", "keep_clear"):
            ids = [entry.id for entry in getattr(self, what)]
            if len(set(ids)) != len(ids):
                raise ValueError(f"{what}: two have the same id")
        for row, stroke in enumerate(self.strokes):
            if any(not 0 <= item < len(self.mix) for item in stroke.items):
                raise ValueError(f"strokes/{row}/items: the mix has {len(self.mix)} rows")
        return self

    @field_validator("surfaces")
    @classmethod
    def _each_once(cls, surfaces: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(surfaces))

    def chains(self) -> tuple[Where, ...]:
        """All masks that the layer asks for."""
        return (self.where, self.size_where, *(entry.where for entry in self.mix))

    def rules(self) -> Scatter:
        """The layer as far as it decides what rules place, plot by plot: without names, order of ids and handwork.

        Strokes are left out, too: they count where they reach.
        """
        mix = tuple(entry.model_copy(update={"where": entry.where.plain, "match": Match()}) for entry in self.mix)
        clears = (clear.model_copy(update={"id": str(row)})
                  for row, clear in enumerate(one for one in self.keep_clear if one.enabled))  # fmt: skip
        return self.model_copy(update={
            "name": "", "shown": True, "surfaces": (), "mix": mix, "where": self.where.plain, "size_where": self.size_where.plain,
            "keep_clear": tuple(clears), "strokes": (), "rows": (), "planted": (), "removed": (),
        })  # fmt: skip

    def looks_at(self) -> set[str]:
        """The planting layers that it keeps clear of, or that its masks look at."""
        names = {name for clear in self.keep_clear if clear.of == "planting" for name in clear.layers}
        for chain in self.chains():
            names |= {name for card in chain.cards for name in card.signal.looks_at()}
        return names

    def kinds(self) -> tuple[str, ...]:
        """The kinds of items that it places: its mix, then what else was planted, each once."""
        return tuple(dict.fromkeys([entry.item for entry in self.mix] + [one.item for one in self.planted]))

    def rooms(self) -> np.ndarray:
        """The room that each row of the mix keeps, float64 (rows,), metres."""
        return np.array([max(entry.room, self.spacing) for entry in self.mix])
