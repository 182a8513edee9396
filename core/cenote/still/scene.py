"""What is traced, as plain arrays: no engine is named here.

Lengths are metres, Y is up, colours and light are linear sRGB, and light is exposed as :class:`cenote.light.daylight.Daylight` has it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..derive.foam import Foamed
from ..geometry.camera import Camera

# Light is kept apart by what sends it.
LIGHT_GROUPS = ("sun", "sky", "lamps", "glow")
# What there is to see, in kinds of things; what is none of the others is ground.
KINDS = ("ground", "structures", "planting", "water")


@dataclass(frozen=True)
class Thing:
    """Something that masks tell from all else. :ivar id: its own. :ivar kind: one of :data:`KINDS`."""

    id: str
    kind: str


GROUND_THING = Thing("ground", "ground")
WATER_THING = Thing("water", "water")


@dataclass(frozen=True)
class Skin:
    """What a surface is made of. Where there is no picture, the numbers hold all over.

    :ivar base: uint8 (h, w, 3 or 4), sRGB colour; a fourth channel cuts out what is below a half. None for white.
    :ivar orm: uint8 (h, w, 3 or more): occlusion, which is left out, roughness, metalness. :ivar normal: uint8 (h, w, 3), in tangent space,
        +Y up in the picture. :ivar roughness: in [0, 1]. :ivar thin: whether light comes through, as through leaves.
    :ivar glow: radiance that it sends, for each unit of its colour. :ivar clear: whether it is clear water.
    """

    base: np.ndarray | None = None
    orm: np.ndarray | None = None
    normal: np.ndarray | None = None
    roughness: float = 0.8
    thin: bool = False
    glow: float = 0.0
    clear: bool = False


@dataclass(frozen=True)
class Piece:
    """Triangles of one skin.

    :ivar positions, normals: float32 (V, 3). :ivar faces: integers (F, 3). :ivar uv: float32 (V, 2), downwards in the picture; pictures repeat.
    :ivar colours: float32 (V, 3), factors on the skin's colour; None for one. :ivar seen: whether the camera sees it; light meets it always. :ivar thing: what it is of.
    """

    skin: str
    positions: np.ndarray
    normals: np.ndarray
    faces: np.ndarray
    uv: np.ndarray | None = None
    colours: np.ndarray | None = None
    seen: bool = True
    thing: Thing = GROUND_THING


@dataclass(frozen=True)
class Copies:
    """A thing that stands in many places: its triangles are kept once.

    :ivar matrices: float32 (N, 4, 4). :ivar tints: float32 (N, 3), factors on the colours of each, up to :data:`MOST_TINT`.
    """

    pieces: Sequence[Piece]
    matrices: np.ndarray
    tints: np.ndarray


MOST_TINT = 2.0
# Half the width of what shines in a tube, metres.
TUBE = 0.018


@dataclass(frozen=True)
class SunLight:
    """Light from far away. :ivar towards: unit float64 (3,). :ivar light: float64 (3,), on what faces it. :ivar radius: half its width, radians."""

    towards: np.ndarray
    light: np.ndarray
    radius: float


@dataclass(frozen=True)
class LampLight:
    """A lamp in its own frame, where it shines towards −Y.

    :ivar pose: rigid float64 (4, 4). :ivar sent: float64 (R, 2R, 3), intensity by direction, see :func:`ways_of_map`; of a point.
    :ivar radiance: float64 (3,), where it is a surface or a tube. :ivar wide, long: extent of what shines, metres; 0 for a point.
    """

    pose: np.ndarray
    sent: np.ndarray | None
    radiance: np.ndarray
    wide: float = 0.0
    long: float = 0.0


@dataclass(frozen=True)
class WaterBody:
    """Water below a level.

    :ivar outline: float (N, 2), its corners along x and z. :ivar faces: integers (F, 3), rows of those. :ivar clarity: how deep one sees into it, metres.
    :ivar colour: float (3,), of deep water. :ivar ripple: how high its ripples are, metres. :ivar foam: what floats on it. :ivar foams: how much of that, in [0, 1].
    """

    level: float
    outline: np.ndarray
    faces: np.ndarray
    clarity: float
    colour: np.ndarray
    ripple: float = 0.0
    foam: Foamed | None = None
    foams: float = 1.0


@dataclass(frozen=True)
class LensBlur:
    """What is out of focus. :ivar radius: of the opening, metres. :ivar focus: how far away it is sharp, metres."""

    radius: float = 0.0
    focus: float = 1.0


@dataclass(frozen=True)
class TracedScene:
    """Everything that a picture is traced of.

    :ivar sky: float32 (R, 2R, 3), radiance by direction: rows from straight up to straight down, columns from north by way of east.
    """

    camera: Camera
    skins: Mapping[str, Skin]
    pieces: Sequence[Piece]
    copies: Sequence[Copies]
    sky: np.ndarray
    sun: SunLight | None = None
    lamps: Sequence[LampLight] = ()
    waters: Sequence[WaterBody] = ()
    blur: LensBlur = field(default_factory=LensBlur)

    @cached_property
    def things(self) -> list[Thing]:
        """All that masks tell apart, each once; their numbers are their places here."""
        each = [piece.thing for piece in (*self.pieces, *(one for copies in self.copies for one in copies.pieces))]
        return list(dict.fromkeys((GROUND_THING, WATER_THING, *each)))


def ways_of_map(rows: int) -> np.ndarray:
    """Directions in a lamp's own frame of a map of what it sends: unit float64 (rows, 2·rows, 3).

    Its rows go from +Z to −Z. Where it shines, −Y, lies in the middle of its first column, away from what has no width.
    """
    polar, azimuth = (np.arange(rows) + 0.5) / rows * np.pi, (np.arange(2 * rows) + 0.5) / rows * np.pi
    ring, up = np.sin(polar)[:, None], np.cos(polar)[:, None] * np.ones(2 * rows)
    return np.stack([ring * np.sin(azimuth), -ring * np.cos(azimuth), up], axis=2)
