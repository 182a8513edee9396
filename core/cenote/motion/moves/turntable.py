"""The camera goes around what it looks at."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal

import numpy as np

from ...parameters import quantity
from ..base import MOVES, Move

if TYPE_CHECKING:
    from ...site.document import SiteDocument
    from ...site.shot import Shot


@MOVES.register
class Turntable(Move):
    """The camera goes around what it looks at, as high and as far away as it was."""

    kind: Literal["turntable"] = "turntable"
    title: ClassVar[str] = "Turntable"
    help: ClassVar[str] = "The camera goes around what it looks at, as high and as far away as it was."
    camera: ClassVar[bool] = True
    angle: float = quantity(
        360, low=-1080, high=1080, unit="°", step=5, help="How far; less than nothing goes the other way."
    )

    def moved(self, document: SiteDocument, shot: Shot, share: float) -> tuple[SiteDocument, Shot]:
        """Turned about the upright through the target; what is in focus turns along."""
        turn = np.radians(self.angle * share)
        around = np.array([[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]])
        middle = np.array(shot.target)
        position, focus = (
            tuple((middle + around @ (np.array(one) - middle)).tolist()) for one in (shot.position, shot.focus)
        )
        return document, shot.model_copy(update={"position": position, "focus": focus})
