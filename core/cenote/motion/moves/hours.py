"""Hours of a day pass."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal

from ...parameters import quantity
from ..base import MOVES, Move

if TYPE_CHECKING:
    from ...site.document import SiteDocument
    from ...site.shot import Shot


@MOVES.register
class Hours(Move):
    """Hours pass: sun and moon go over the sky of the site's place and day."""

    kind: Literal["hours"] = "hours"
    title: ClassVar[str] = "Hours"
    help: ClassVar[str] = "Hours pass: sun and moon go over the sky of the site's place and day."
    camera: ClassVar[bool] = False
    start: float = quantity(6, low=0, high=24, unit="h", step=0.25, help="The hour that it begins with.")
    end: float = quantity(18, low=0, high=24, unit="h", step=0.25, help="The hour that it ends with.")

    def moved(self, document: SiteDocument, shot: Shot, share: float) -> tuple[SiteDocument, Shot]:
        """By place and date, whatever the light went by before."""
        hour = self.start * (1 - share) + self.end * share
        light = document.light.model_copy(update={"by": "time", "hour": hour})
        return document.model_copy(update={"light": light}), shot
