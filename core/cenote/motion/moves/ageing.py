"""Time and weather pass."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal

from pydantic import Field

from ..base import MOVES, Move

if TYPE_CHECKING:
    from ...site.document import SiteDocument
    from ...site.shot import Shot


@MOVES.register
class Ageing(Move):
    """The dials go from where they are to where a kept state has them: forty years of moss, a winter's snow."""

    kind: Literal["ageing"] = "ageing"
    title: ClassVar[str] = "Ageing"
    help: ClassVar[str] = "The dials go to where a kept state has them: forty years of moss, a winter's snow."
    camera: ClassVar[bool] = False
    to: str = Field(
        "",
        max_length=64,
        description="The state of the dials that it ends with; as it is where it is empty.",
        json_schema_extra={"picks": "states"},
    )

    def moved(self, document: SiteDocument, shot: Shot, share: float) -> tuple[SiteDocument, Shot]:
        """Each dial evenly from one value to the other."""
        state = next((one for one in document.states if one.id == self.to), None)
        if state is None:
            return document, shot
        now, then = document.climate.model_dump(), state.climate.model_dump()
        climate = type(document.climate)(
            **{name: value * (1 - share) + then[name] * share for name, value in now.items()}
        )
        return document.model_copy(update={"climate": climate}), shot
