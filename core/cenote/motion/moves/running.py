"""Drops run."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal

from ...parameters import quantity
from ..base import MOVES, Move

if TYPE_CHECKING:
    from ...site.document import SiteDocument
    from ...site.shot import Shot

# The last moment that drops are followed to, seconds.
_LONGEST = 120.0


@MOVES.register
class RunningDrops(Move):
    """Drops run on from where they are: all layers of running drops go through so many seconds."""

    kind: Literal["running_drops"] = "running_drops"
    title: ClassVar[str] = "Running drops"
    help: ClassVar[str] = "All layers of running drops go on for so many seconds."
    camera: ClassVar[bool] = False
    runs_for: float = quantity(
        4,
        low=0.1,
        high=60,
        unit="s",
        step=0.5,
        help="How long they run; as long as the moving picture, to run as fast as they do.",
    )

    def moved(self, document: SiteDocument, shot: Shot, share: float) -> tuple[SiteDocument, Shot]:
        """Each layer's moment, later."""
        later = []
        for layer in document.droplets:
            after = getattr(layer.droplets, "after", None)
            if after is not None:
                moment = min(after + share * self.runs_for, _LONGEST)
                layer = layer.model_copy(update={"droplets": layer.droplets.model_copy(update={"after": moment})})
            later.append(layer)
        return document.model_copy(update={"droplets": tuple(later)}), shot
