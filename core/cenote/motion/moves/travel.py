"""The camera goes to another shot."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..base import MOVES, Move

if TYPE_CHECKING:
    from ...site.document import SiteDocument
    from ...site.shot import Shot


@MOVES.register
class Travel(Move):
    """The camera goes on a straight way to where another shot stands, and comes to see what that sees."""

    kind: Literal["travel"] = "travel"
    title: ClassVar[str] = "Travel"
    help: ClassVar[str] = "The camera goes straight to where another shot stands, and comes to see what that sees."
    camera: ClassVar[bool] = True
    to: str = Field(
        "",
        max_length=64,
        description="The shot that it goes to; nowhere where it is empty.",
        json_schema_extra={"picks": "shots"},
    )

    def moved(self, document: SiteDocument, shot: Shot, share: float) -> tuple[SiteDocument, Shot]:
        """Places on straight lines; focal lengths by their ratio, so that the picture draws in evenly; how open the lens is, too."""
        other = next((one for one in document.shots if one.id == self.to), None)
        if other is None:
            return document, shot

        def between(one: tuple[float, ...], two: tuple[float, ...]) -> tuple[float, ...]:
            return tuple((np.array(one) * (1 - share) + np.array(two) * share).tolist())

        places = {name: between(getattr(shot, name), getattr(other, name)) for name in ("position", "target", "focus")}
        lens = float(np.exp(np.log(shot.lens) * (1 - share) + np.log(other.lens) * share))
        aperture = shot.aperture * (1 - share) + other.aperture * share
        return document, shot.model_copy(update={**places, "lens": lens, "aperture": aperture})
