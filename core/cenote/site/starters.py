"""What something new begins with, where that is more than the declared values: told once, for whoever adds it."""

from __future__ import annotations

from ..masks.where import SignalCard, Where, suggested_card
from ..materials.recipe import ColourUse, Drawn, PatternLayer
from ..scatter.layer import MixItem, Scatter
from ..signals.base import SIGNALS
from .ground import PaintedMaterial
from .shot import Shot

# A new thing's id is given by whoever adds it.
NO_ID = "new"


def scatter() -> Scatter:
    """A meadow with a few stones, kept off steep places and structures, thinner where noise has it; on no surface yet."""
    return Scatter(
        id=NO_ID,
        name="Mixed growth",
        surfaces=(),
        density=8,
        spacing=0.12,
        mix=(
            MixItem(item="grass_tuft", share=14, size=(0.9, 1.7), lean=60),
            MixItem(item="meadow_grass", share=2.4, size=(0.7, 1.15)),
            MixItem(item="wildflower", share=1, size=(0.8, 1.2)),
            MixItem(item="fern", share=0.22, size=(0.6, 1.1)),
            MixItem(item="stone", share=0.25, size=(0.5, 1.5)),
        ),
        where=Where(cards=(_card("slope", 40, 22), _card("distance", 0.1, 0.8), _card("noise", 0.2, 0.5))),
        clumps=25,
        clump_size=0.9,
        edge_size=60,
    )


def first_shot() -> Shot:
    """From a little above eye height across the middle of a new site's ground: near plants are large, and far ones close up."""
    return Shot(id="first", name="First shot", position=(2.6, 2.0, 8.5), target=(-0.8, 0.55, -2.5))


def painted_material() -> PaintedMaterial:
    """Bare earth, not painted anywhere yet."""
    return PaintedMaterial(id=NO_ID, name="Earth", material="mud")


def pattern_layer() -> PatternLayer:
    """A layer of a material that lays soft greys half over what is below."""
    return PatternLayer(drawn=Drawn(), colour=ColourUse(low=(0.05, 0.05, 0.05), high=(0.4, 0.4, 0.4), opacity=0.5))


def _card(kind: str, starts_at: float, full_at: float) -> SignalCard:
    card = suggested_card(kind, SIGNALS[kind].model_validate({"kind": kind}))
    return card.model_copy(update={"starts_at": starts_at, "full_at": full_at})
