"""The shipped materials: each is a recipe in a file of its own under ``materials/shipped``.

To add one, add a file to that package that registers a :class:`ShippedMaterial`.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..registry import Family
from .recipe import Recipe


@dataclass(frozen=True)
class ShippedMaterial:
    """A recipe that comes with the product.

    :ivar kind: its name in documents. :ivar name: its name for people. :ivar group: where it is listed.
    :ivar help: one sentence that says what it is.
    """

    kind: str
    name: str
    group: str
    help: str
    recipe: Recipe


MATERIALS: Family[ShippedMaterial] = Family("cenote.materials.shipped", "material")

# Materials that run along each piece, as the grain of a board does; all others lie level.
GRAINED = frozenset({"planed_timber", "painted_timber", "bark", "rope"})
