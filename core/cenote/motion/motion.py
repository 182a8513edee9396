"""How a shot moves."""

from __future__ import annotations

from typing import TYPE_CHECKING

from pydantic import Field

from ..parameters import Declared, count, quantity
from .base import MOVES, Move

if TYPE_CHECKING:
    from ..site.document import SiteDocument
    from ..site.shot import Shot

    AnyMove = Move
else:
    AnyMove = MOVES.union()
MOST_MOVES = 12


class Motion(Declared):
    """How a shot moves, and how long."""

    seconds: float = quantity(4, low=0.1, high=120, unit="s", step=0.5, help="How long it lasts.")
    rate: int = count(24, low=1, high=60, help="Pictures a second.")
    moves: tuple[AnyMove, ...] = Field(default=(), max_length=MOST_MOVES)

    @property
    def pictures(self) -> int:
        """How many pictures there are."""
        return max(round(self.seconds * self.rate), 1)

    def at(self, document: SiteDocument, shot: Shot, number: int) -> tuple[SiteDocument, Shot]:
        """The site and the shot of a picture: the first is at the beginning, the last at the end.

        :param number: from 0 to :attr:`pictures` - 1.
        """
        time = number / max(self.pictures - 1, 1)
        for move in self.moves:
            document, shot = move.moved(document, shot, move.share(time))
        return document, shot

    @property
    def keeps_the_site(self) -> bool:
        """Whether the camera alone moves."""
        return all(move.camera for move in self.moves)
