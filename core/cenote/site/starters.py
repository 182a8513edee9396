"""What something new begins with, where that is more than the declared values: told once, for whoever adds it."""

from __future__ import annotations

from ..masks.where import SignalCard, Where, suggested_card
from ..materials.recipe import ColourUse, Drawn, PatternLayer
from ..scatter.layer import MixItem, Scatter
from ..signals.base import SIGNALS
from .ground import PaintedMaterial

# A new thing's id is given by whoever adds it.
NO_ID = "new"


def scatter() -> Scatter:
    """Three kinds of things, kept off steep places and structures and broken up by noise; on no surface yet."""
    return Scatter(
        id=NO_ID,
        name="Mixed growth",
        surfaces=(),
        density=3,
        mix=(
            MixItem(item="grass_tuft", share=8),
            MixItem(item="fern", share=1),
            MixItem(item="stone", share=0.6),
        ),
        where=Where(cards=(_card("slope", 40, 22), _card("distance", 0.1, 0.8), _card("noise", 0.35, 0.6))),
    )


def painted_material() -> PaintedMaterial:
    """Bare earth, not painted anywhere yet."""
    return PaintedMaterial(id=NO_ID, name="Earth", material="mud")


def pattern_layer() -> PatternLayer:
    """A layer of a material that lays soft greys half over what is below."""
    return PatternLayer(drawn=Drawn(), colour=ColourUse(low=(0.05, 0.05, 0.05), high=(0.4, 0.4, 0.4), opacity=0.5))


def _card(kind: str, starts_at: float, full_at: float) -> SignalCard:
    card = suggested_card(kind, SIGNALS[kind].model_validate({"kind": kind}))
    return card.model_copy(update={"starts_at": starts_at, "full_at": full_at})
