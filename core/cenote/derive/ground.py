"""The ground's heights, stroke by stroke, and the water that stands in its hollows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..site.ground import Ground
from .site import Site
from .sources import HEIGHT_MAP, Source
from .target import Read, Target

# Of all strokes the heights after the last few are kept: enough to go on from, and to step back to.
_KEPT_STROKES = 3


def shape_of(site: Site) -> Ground:
    """The ground as it is before any stroke, whatever it is made of."""

    def bare(at: Site) -> Ground:
        ground: Ground = at.ground
        return ground.model_copy(update={"strokes": (), "paints": (), "material": "meadow", "goes_on": True})

    return site.once("the ground's shape", bare)


def _map_of(site: Site) -> Source | None:
    given = site.ground.height_map
    return Source(HEIGHT_MAP, given.map) if given else None


@dataclass(frozen=True)
class Heights:
    """Heights after some strokes.

    :ivar strokes: these. :ivar heights: float64 (rows, columns), metres. :ivar before: the last few states on the
        way there, in the same form.
    """

    strokes: tuple[Any, ...]
    heights: np.ndarray
    before: tuple[tuple[int, np.ndarray], ...]

    def reached(self, strokes: tuple[Any, ...]) -> tuple[int, np.ndarray] | None:
        """The furthest of its states that lies on the way to other strokes: how many of them, and the heights, float (h, w)."""
        same = 0
        while same < min(len(strokes), len(self.strokes)) and strokes[same] == self.strokes[same]:
            same += 1
        states = [*self.before, (len(self.strokes), self.heights)]
        return max((state for state in states if state[0] <= same), key=lambda state: state[0], default=None)


@dataclass(frozen=True)
class GroundHeights(Target):
    """The heights of the ground after all its strokes: :class:`Heights`. One stroke more costs only itself."""

    lineage = ("shape", "map")

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"shape": shape_of(site), "strokes": site.ground.strokes, "map": _map_of(site)}

    @staticmethod
    def make(read: Read) -> Heights:
        shape, strokes = read.shape, read.strokes
        reached = [found for one in read.earlier() if (found := one.reached(strokes)) is not None]
        if reached:
            at, heights = max(reached, key=lambda state: state[0])
        else:
            # Where its map is lost the ground has humps again.
            given = read.map
            at, heights = 0, shape.shaped((lambda _: given["heights"]) if given else None)
        states = [(at, heights)]
        for row in range(at, len(strokes)):
            heights = shape.stroked(heights, strokes[row], row)
            states.append((row + 1, heights))
        return Heights(strokes, heights, tuple(states[-1 - _KEPT_STROKES : -1]))


@dataclass(frozen=True)
class OutlineLevels(Target):
    """The mean height along the outline of each hollow before it was dug, metres; no stroke changes it."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"shape": shape_of(site), "map": _map_of(site)}

    @staticmethod
    def make(read: Read) -> list[float]:
        shape: Ground = read.shape
        given = read.map
        return shape.outline_levels((lambda _: given["heights"]) if given else None)


@dataclass(frozen=True)
class Pools(Target):
    """Hollows that hold water: pairs of the level in metres and the outline float64 (N, 2)."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"ground": shape_of(site), "heights": GroundHeights(), "levels": OutlineLevels()}

    @staticmethod
    def make(read: Read) -> list[tuple[float, np.ndarray]]:
        ground: Ground = read.ground
        return ground.waters(read.heights.heights, read.levels)
