"""What a kit item is.

To add an item, add a file to this package with a class that derives from :class:`KitItem`, is registered with
``@KIT.register``, and builds a mesh that stands on the origin. Its parts are named after materials, or ``card`` for what
is cut out of the item's own picture; parts of any other name have vertex colours alone.
"""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from ..parameters import Declared
from ..randomness import key_of, uniforms
from ..registry import Family


class Dice:
    """Repeatable random numbers for building one variant of one item."""

    def __init__(self, *seed: int | str) -> None:
        self._key = key_of(*seed)
        self._used = 0

    def many(self, *shape: int, low: float = 0.0, high: float = 1.0) -> np.ndarray:
        """Uniform numbers in [low, high), float64 of any shape that is given."""
        size = int(np.prod(shape))
        with np.errstate(over="ignore"):
            keys = np.arange(self._used, self._used + size, dtype=np.uint64) + self._key
        self._used += size
        return (low + (high - low) * uniforms(keys, 0)).reshape(shape)

    def one(self, low: float = 0.0, high: float = 1.0) -> float:
        """One uniform number in [low, high)."""
        return float(self.many(1, low=low, high=high)[0])


# Levels of detail: 0 is whole, 1 for some metres away, 2 a stand-in for far away and for machines that draw slowly.
DETAILS = (0, 1, 2)
CARD = "card"
Colour = tuple[float, float, float]
# Factors on a linear colour in early spring, midsummer, autumn and winter.
Seasons = tuple[Colour, Colour, Colour, Colour]
Group = Literal["grasses", "herbs", "climbers", "trees", "litter", "stones", "timber", "yard"]


class KitItem(Declared):
    """A thing to place. All items are built at their usual size in metres, standing on y = 0 with +Y up.

    :cvar kind: its name in documents.
    :cvar name: its name for people.
    :cvar group: where it is listed.
    :cvar tags: words to find it by.
    :cvar variants: how many different builds there are.
    :cvar grows: true for plants, whose colour follows the season.
    :cvar climbs: true for what grows up a wall behind it, at z = 0; a scatter brings it to the nearest one.
    :cvar roughness: of parts that have no material, in [0, 1].
    :cvar stiffness: speed of the wind at which it leans by 45°, m/s; infinite for what does not move.
    :cvar sheds: true for what drops its leaves; those of a mesh come in an order in which any first part of them stands
        evenly.
    :cvar leaf: faces of one of them.
    :cvar litter: true for what lies about thicker or thinner as leaves fall and rot.
    :cvar seasons: factors on the colour of what grows of it.
    """

    kind: str
    title: ClassVar[str]
    group: ClassVar[Group]
    tags: ClassVar[tuple[str, ...]] = ()
    variants: ClassVar[int] = 3
    grows: ClassVar[bool] = True
    climbs: ClassVar[bool] = False
    roughness: ClassVar[float] = 0.85
    stiffness: ClassVar[float] = float("inf")
    sheds: ClassVar[bool] = False
    leaf: ClassVar[int] = 1
    litter: ClassVar[bool] = False
    seasons: ClassVar[Seasons] = ((1.05, 1.25, 0.85), (1.0, 1.0, 1.0), (1.35, 1.02, 0.72), (2.1, 1.05, 0.62))

    def build(self, variant: int, detail: int = 0) -> Mesh:
        """The mesh of one variant.

        :param variant: in [0, variants).
        :param detail: a level of :data:`DETAILS`; all levels have the same outline from afar.
        """
        raise NotImplementedError

    def card(self) -> np.ndarray | None:
        """The picture that parts named ``card`` are cut out of, float32 (h, w, 4), linear colour and alpha."""
        return None

    def is_thin(self, part: str) -> bool:
        """Whether light comes through a part, as through leaves."""
        return self.grows or part == CARD


KIT: Family[type[KitItem]] = Family("cenote.kit", "kit item")


def ribbon(
    path: np.ndarray,
    widths: np.ndarray,
    side: np.ndarray,
    colours: np.ndarray,
    part: str,
    cell: tuple[float, float, float, float] | None = None,
) -> Mesh:
    """A strip of two triangles a step, one-sided; the last step may come to a point.

    :param path: float (N, 3), the middle line, metres.
    :param widths: float (N,), full widths in metres; a last width of 0 makes a tip.
    :param side: float (3,), the unit direction across, or (N, 3).
    :param colours: float (N, 3), linear albedo along the line.
    :param cell: left, top, right, bottom of the card that it shows, in texture coordinates; its root is at the bottom.
    """
    tip = widths[-1] == 0 and cell is None
    rows = len(path) - (1 if tip else 0)
    across = widths[:rows, None] * 0.5 * (side[None] if side.ndim == 1 else side[:rows])
    positions = np.stack([path[:rows] - across, path[:rows] + across], axis=1).reshape(-1, 3)
    shades = np.repeat(colours[:rows], 2, axis=0)
    faces = [f for i in range(rows - 1) for a in [2 * i] for f in ([a, a + 1, a + 2], [a + 1, a + 3, a + 2])]
    uv = None
    if cell is not None:
        left, top, right, bottom = cell
        v = np.linspace(bottom, top, rows)
        uv = np.stack([np.column_stack([np.full(rows, left), v]), np.column_stack([np.full(rows, right), v])], 1)
    if tip:
        faces.append([2 * rows - 2, 2 * rows - 1, 2 * rows])
        positions, shades = np.concatenate([positions, path[-1:]]), np.concatenate([shades, colours[-1:]])
    return Mesh.of(positions, faces, part, shades, uv)


def blend(a: tuple[float, float, float], b: tuple[float, float, float], amount: np.ndarray) -> np.ndarray:
    """Colours between two, float (N, 3)."""
    return np.asarray(a) + (np.asarray(b) - np.asarray(a)) * np.asarray(amount, float)[:, None]


def along_y(turn: float) -> np.ndarray:
    """The level unit direction at an angle in radians, float (3,)."""
    return np.array([np.cos(turn), 0.0, np.sin(turn)])
