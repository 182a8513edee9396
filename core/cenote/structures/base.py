"""What a structure maker is.

To add one, add a file to this package with a class that derives from :class:`Maker` and is registered with
``@MAKERS.register``. The parts of the mesh that it builds are named after the materials they are made of.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..geometry.build import box
from ..geometry.mesh import Mesh
from ..parameters import Declared
from ..registry import Family
from .grade import PartGrade


class Maker(Declared):
    """Makes a structure that stands on the origin, front towards +Z.

    :cvar name: its name for people.
    :cvar piece_spread: how far its separate pieces, such as boards and stones, differ in brightness, as a share.
    """

    kind: str
    title: ClassVar[str]
    piece_spread: ClassVar[float] = 0.14

    def build(self) -> Mesh:
        """The mesh, in metres."""
        raise NotImplementedError

    def part_material(self, part: str) -> str:
        """The material of a part, where nobody has chosen another: parts are named after theirs."""
        return part

    def part_grade(self, part: str) -> PartGrade:
        """The grading of a part, where nobody has graded it."""
        return PartGrade(spread=self.piece_spread)


MAKERS: Family[type[Maker]] = Family("cenote.structures", "structure")


def wall_panel(
    length: float, height: float, thickness: float, openings: list[tuple[float, float, float, float]], part: str
) -> Mesh:
    """A wall along x with rectangular openings, front face on z = 0, back at −thickness, standing on y = 0.

    :param openings: (left, bottom, right, top) of each, in metres from the wall's lower left corner; inside the wall.
    """
    xs = sorted({0.0, length, *(v for o in openings for v in (o[0], o[2]))})
    ys = sorted({0.0, height, *(v for o in openings for v in (o[1], o[3]))})
    # No cell longer than this, so that long walls do not become slivers.
    xs = sorted({*xs, *(x for x in np.arange(1.5, length, 1.5) if min(abs(x - k) for k in xs) > 0.3)})

    def solid(i: int, j: int) -> bool:
        if not (0 <= i < len(xs) - 1 and 0 <= j < len(ys) - 1):
            return False
        x, y = (xs[i] + xs[i + 1]) / 2, (ys[j] + ys[j + 1]) / 2
        return not any(o[0] < x < o[2] and o[1] < y < o[3] for o in openings)

    quads: list[list[tuple[float, float, float]]] = []
    for i in range(len(xs) - 1):
        for j in range(len(ys) - 1):
            if not solid(i, j):
                continue
            x0, x1, y0, y1, z = xs[i], xs[i + 1], ys[j], ys[j + 1], -thickness
            quads.append([(x0, y0, 0), (x1, y0, 0), (x1, y1, 0), (x0, y1, 0)])
            quads.append([(x1, y0, z), (x0, y0, z), (x0, y1, z), (x1, y1, z)])
            if not solid(i - 1, j):
                quads.append([(x0, y0, z), (x0, y0, 0), (x0, y1, 0), (x0, y1, z)])
            if not solid(i + 1, j):
                quads.append([(x1, y0, 0), (x1, y0, z), (x1, y1, z), (x1, y1, 0)])
            if not solid(i, j - 1):
                quads.append([(x0, y0, z), (x1, y0, z), (x1, y0, 0), (x0, y0, 0)])
            if not solid(i, j + 1):
                quads.append([(x0, y1, 0), (x1, y1, 0), (x1, y1, z), (x0, y1, z)])
    positions = np.array(quads, float).reshape(-1, 3)
    first = np.arange(len(quads))[:, None] * 4
    return Mesh.of(positions, np.concatenate([first + np.array([0, 1, 2]), first + np.array([0, 2, 3])]), part)


def framed(left: float, bottom: float, right: float, top: float, depth: float, filling: str) -> list[Mesh]:
    """A timber frame with a filling, set back by ``depth`` metres into an opening of a wall on z = 0."""
    bar = 0.06
    z0, z1 = -depth - 0.06, -depth
    return [
        box((left, bottom, z0), (left + bar, top, z1), "painted_timber"),
        box((right - bar, bottom, z0), (right, top, z1), "painted_timber"),
        box((left + bar, bottom, z0), (right - bar, bottom + bar, z1), "painted_timber"),
        box((left + bar, top - bar, z0), (right - bar, top, z1), "painted_timber"),
        box((left + bar, bottom + bar, z0), (right - bar, top - bar, z1 - 0.025), filling),
    ]
