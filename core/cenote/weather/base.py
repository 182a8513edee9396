"""What a cover is.

To add a cover, add a file to this package with a class that derives from :class:`Cover` and is registered with
``@COVERS.register``. It names the material that it is made of, declares its parameters, and says how it answers to the
climate; the compositor does the rest.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ..masks.where import Where
from ..parameters import Declared
from ..registry import Family
from .climate import Climate


@dataclass(frozen=True)
class CoverLook:
    """What the compositor needs to know of a cover.

    :ivar material: kind of the material it is made of.
    :ivar strength: factor on the mask, at least 0.
    :ivar joints: in [0, 1]: 1 fills the low places of what lies below first, 0 spreads by its own clumps.
    :ivar softness: width of its edge, in mask units, above 0.
    :ivar thickness: metres that it adds where it is full.
    :ivar brightness: factor on its colour.
    """

    material: str
    strength: float
    joints: float
    softness: float
    thickness: float
    brightness: float


class Cover(Declared):
    """Something that time lays over surfaces.

    :cvar name: its name for people.
    """

    kind: str
    name: ClassVar[str]

    def look(self, climate: Climate) -> CoverLook:
        """How it looks in a climate."""
        raise NotImplementedError

    @classmethod
    def usual_where(cls) -> Where:
        """The mask that a new layer of this cover begins with."""
        return Where()


COVERS: Family[type[Cover]] = Family("cenote.weather", "cover")
