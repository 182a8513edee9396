"""What a move of a moving picture is.

To add one, add a file to the package ``moves`` with a class that derives from :class:`Move` and is registered with ``@MOVES.register``. It
declares its parameters and says what has become of a document and its shot at a time; from when until when, and whether it starts
and ends gently, is the same for all.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

from ..parameters import Declared, quantity, switch
from ..registry import Family

if TYPE_CHECKING:
    from ..site.document import SiteDocument
    from ..site.shot import Shot


class Move(Declared):
    """A move.

    :cvar title: its name for people. :cvar help: what it does, in one sentence.
    :cvar camera: whether all that it changes is how the shot is seen, so that nothing has to be made anew.
    """

    kind: str
    title: ClassVar[str]
    help: ClassVar[str]
    camera: ClassVar[bool]
    begins: float = quantity(0, low=0, high=100, unit="%", step=1, help="When it begins, of the whole time.")
    ends: float = quantity(100, low=0, high=100, unit="%", step=1, help="When it ends, of the whole time.")
    gently: bool = switch(True, help="Whether it starts and ends gently rather than at once.")

    def share(self, time: float) -> float:
        """How far it has come, from 0 to 1. :param time: of the whole, from 0 to 1."""
        begins, ends = self.begins / 100, self.ends / 100
        if ends <= begins:
            return float(time >= ends)
        share = min(max((time - begins) / (ends - begins), 0.0), 1.0)
        return share * share * (3 - 2 * share) if self.gently else share

    def moved(self, document: SiteDocument, shot: Shot, share: float) -> tuple[SiteDocument, Shot]:
        """What has become of a site and of its shot. :param share: how far it has come, from 0 to 1."""
        raise NotImplementedError


MOVES: Family[type[Move]] = Family("cenote.motion.moves", "move")
