"""The shipped materials: each is a recipe in a file of its own under ``materials/shipped``.

To add one, add a file to that package that registers a :class:`ShippedMaterial`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from ..registry import Family
from .recipe import Recipe

# What a material is to the weather: covers say what they sit on by these.
Nature = Literal[
    "stone", "masonry", "plaster", "timber", "painted timber", "metal", "painted metal", "glass", "earth", "growth", "cloth",
    "ice",
]  # fmt: skip
NATURES: tuple[Nature, ...] = get_args(Nature)


@dataclass(frozen=True)
class ShippedMaterial:
    """A recipe that comes with the product.

    :ivar kind: what documents call it. :ivar title: what people call it. :ivar group: where it is listed.
    :ivar nature: what it is to the weather.
    :ivar help: one sentence that says what it is.
    """

    kind: str
    title: str
    group: str
    nature: Nature
    help: str
    recipe: Recipe


MATERIALS: Family[ShippedMaterial] = Family("cenote.materials.shipped", "material")

# Materials that run along each piece, as the grain of a board does; all others lie level.
GRAINED = frozenset({"planed_timber", "painted_timber", "bark", "rope"})
