"""The recipe of a mask: a chain of signal cards, each with a ramp."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..parameters import Declared, switch
from ..signals.base import SIGNALS, Signal

if TYPE_CHECKING:
    AnySignal = Signal
else:
    AnySignal = SIGNALS.union()
Combination = Literal["multiply", "max", "min", "add", "subtract"]
COMBINATIONS: tuple[Combination, ...] = ("multiply", "max", "min", "add", "subtract")


class SignalCard(Declared):
    """One signal with its ramp, and how it joins what stands before it in the chain."""

    id: str = Field(min_length=1, max_length=40)
    signal: AnySignal
    starts_at: float = Field(description="The signal's value at which the card begins to count.", ge=-1e4, le=1e4)
    full_at: float = Field(
        description="The value from which it counts in full; below starts at, the ramp falls.", ge=-1e4, le=1e4
    )
    soft: bool = switch(True, help="Ease in and out along the ramp in place of a straight line.")
    inverted: bool = switch(False, help="Count where the ramp does not, and the other way round.")
    combine: Combination = Field("multiply", description="How the card joins the mask so far.")
    enabled: bool = switch(True, help="Whether the card takes part.")


class Chain(Declared):
    """Cards one after another; none at all means everywhere."""

    cards: tuple[SignalCard, ...] = Field(default=(), max_length=16)

    @model_validator(mode="after")
    def _ids_differ(self) -> Self:
        ids = [card.id for card in self.cards]
        if len(set(ids)) != len(ids):
            raise ValueError("two cards have the same id")
        return self


class Where(Chain):
    """The mask of a layer: a chain of its own, or one that it shares with others."""

    shared: str = Field("", max_length=40, description="The shared mask that it follows; none where it is empty.")

    @property
    def active(self) -> tuple[SignalCard, ...]:
        """The cards that take part, in order."""
        return tuple(card for card in self.cards if card.enabled)

    @property
    def plain(self) -> Where:
        """The mask as it decides results: whatever its cards are called, whoever shares it, without those set aside."""
        cards = tuple(card.model_copy(update={"id": str(row)}) for row, card in enumerate(self.active))
        return Where.model_construct(cards=cards, shared="")


def suggested_card(id: str, signal: Signal) -> SignalCard:
    """A new card with the ramp that its signal suggests."""
    starts, full = signal.suggested
    return SignalCard(id=id, signal=signal, starts_at=starts, full_at=full)


def ramp(values: np.ndarray, card: SignalCard) -> np.ndarray:
    """The weight of a card for values of its signal, of the same shape, float32 in [0, 1]; a ramp of no width is a step."""
    width = card.full_at - card.starts_at
    if width == 0:
        weight = (values >= card.full_at).astype(np.float32)
    else:
        weight = np.clip((values - np.float32(card.starts_at)) * np.float32(1 / width), 0, 1)
        if card.soft:
            weight = weight * weight * (3 - 2 * weight)
    return (1 - weight if card.inverted else weight).astype(np.float32)


def chain(cards: tuple[SignalCard, ...], values: list[np.ndarray]) -> np.ndarray:
    """Combine cards one after another; the reference that the compiled evaluation is tested against.

    :param values: for each card its signal's values, float32 (N,).
    :returns: float32 (N,) in [0, 1].
    """
    mask: np.ndarray | None = None
    for card, found in zip(cards, values, strict=True):
        weight = ramp(found, card)
        if mask is None:
            mask = weight if card.combine != "subtract" else 1 - weight
        elif card.combine == "multiply":
            mask = mask * weight
        elif card.combine == "max":
            mask = np.maximum(mask, weight)
        elif card.combine == "min":
            mask = np.minimum(mask, weight)
        elif card.combine == "add":
            mask = np.minimum(mask + weight, 1)
        else:
            mask = np.maximum(mask - weight, 0)
    if mask is None:
        raise ValueError("an empty chain has no values; it means 1 everywhere")
    return mask
