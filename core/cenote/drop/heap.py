"""What a heap of dropped things is in a document: what fell, and how each came to lie."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ..geometry.pose import Pose
from ..parameters import Declared, count, quantity

MOST_PIECES = 300


class DropShare(Declared):
    """How many of a kit item fall."""

    item: str = Field("plank", description="The kit item.", json_schema_extra={"picks": "kit"})
    number: int = count(10, low=1, high=200, help="How many of it fall.")


class Drop(Declared):
    """What falls, and over which area; a heap comes of it."""

    mix: tuple[DropShare, ...] = Field(default=(DropShare(),), min_length=1, max_length=12)
    radius: float = quantity(1.2, low=0.1, high=12, unit="m", step=0.1, help="Radius of the area that they fall over.")
    height: float = quantity(
        0.6, low=0.05, high=20, unit="m", step=0.1, help="How far above what lies there each begins to fall."
    )
    tumble: float = quantity(0.3, low=0, high=1, unit="", step=0.05, help="How far they are turned over at first.")
    grip: float = quantity(0.6, low=0.05, high=1.5, unit="", step=0.05, help="Friction; wood on wood has about 0.5.")
    seed: int = count(1, low=0, high=9999, help="Another number, another heap.")

    @model_validator(mode="after")
    def _bearable(self) -> Drop:
        total = sum(share.number for share in self.mix)
        if total > MOST_PIECES:
            raise ValueError(f"mix: {total} things fall, at most {MOST_PIECES} can at once; drop a second heap on top")
        return self


class HeapPiece(Pose):
    """One thing of a heap, where it came to rest in the heap's own frame."""

    item: str = Field(description="The kit item.", json_schema_extra={"refers": "kit"})
    variant: int = count(0, low=0, high=99, help="Which of the item's variants it is.")


class Heap(Declared):
    """Things that were dropped, kept as they came to lie."""

    kind: Literal["heap"] = "heap"
    drop: Drop = Field(default=Drop(), description="What fell; dropping again makes another heap of it.")
    pieces: tuple[HeapPiece, ...] = Field(min_length=1, max_length=MOST_PIECES)
