"""Regions: parts of a wide site about its shots, where what follows from a whole scene is worked out as finely as in a yard.

Water that runs and stands, and sheets of snow, are worked out over a scene at once, so finely as suits its size. A yard is small
enough; of two kilometres all would be ten metres coarse. What is looked through is a shot, though, so a wide site has
a square of its own about each of the first few: what lies in it is worked out there, as if there were nothing else.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..signals.around import GROUND
from .scene import around_site, extent_of
from .site import Site

# Square metres from which a site is wide.
WIDE = 10_000.0
# Metres: a region's side; how far ahead of a shot its middle lies; the grid that it is set to, so that a shot may be nudged; and the
# strip inside its border over which it gives way to what is known of the whole.
SIDE, _AHEAD, _GRID, FADE = 64.0, 16.0, 8.0, 8.0
# At most so many.
MOST = 4


@dataclass(frozen=True)
class Region:
    """A square of a site's plan. :ivar low, high: its corners along x and z, metres."""

    low: tuple[float, float]
    high: tuple[float, float]

    def holds(self, low: np.ndarray, high: np.ndarray) -> bool:
        """Whether a box lies in it but for its strip. :param low, high: float (3,), metres."""
        inside = [
            self.low[k] + FADE <= low[axis] and high[axis] <= self.high[k] - FADE for k, axis in enumerate((0, 2))
        ]
        return all(inside)

    def weights(self, x: np.ndarray, z: np.ndarray) -> np.ndarray:
        """How far it counts at the crossings of some columns and rows, float32 (R, C): from 0 on its border to 1 beyond its strip.

        :param x: float (C,), of the columns, metres. :param z: float (R,), of the rows.
        """
        along = []
        for k, at in enumerate((x, z)):
            inside = np.clip(np.minimum(at - self.low[k], self.high[k] - at) / FADE, 0, 1)
            along.append(inside * inside * (3 - 2 * inside))
        return np.asarray(along[1][:, None] * along[0][None], np.float32)


def regions_of(site: Site) -> tuple[Region, ...]:
    """The regions of a site: none where all of it is small enough."""
    return site.once("regions", _regions)


def _regions(site: Site) -> tuple[Region, ...]:
    low, high = extent_of(site)
    if (high[0] - low[0]) * (high[2] - low[2]) <= WIDE:
        return ()
    out: dict[Region, None] = {}
    for shot in site.shots:
        eye, target = (np.array(one)[[0, 2]] for one in (shot.position, shot.target))
        way = target - eye
        away = float(np.linalg.norm(way))
        middle = eye + way * min(_AHEAD / away, 1.0) if away > 1e-6 else eye
        middle = np.round(middle / _GRID) * _GRID
        first, last = middle - SIDE / 2, middle + SIDE / 2
        meets = all(last[k] > low[axis] and first[k] < high[axis] for k, axis in enumerate((0, 2)))
        if meets:
            out[Region((float(first[0]), float(first[1])), (float(last[0]), float(last[1])))] = None
    return tuple(out)[:MOST]


def region_of(site: Site, id: str) -> Region | None:
    """The region that an object stands in; None for none, and for the ground."""
    if id == GROUND or not regions_of(site):
        return None

    def found(at: Site) -> dict[str, Region]:
        around, regions = around_site(at), regions_of(at)
        boxes = zip(at.surface_ids(), around.low, around.high, strict=False)
        held = (
            (one, next((region for region in regions if region.holds(low, high)), None)) for one, low, high in boxes
        )
        return {one: region for one, region in held if region is not None}

    return site.once("regions of objects", found).get(id)


def corners_of(site: Site, region: Region) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """A region as a box as tall as the site, no larger than the site: its least and its greatest corner, metres."""
    low, high = (one.copy() for one in extent_of(site))
    for k, axis in enumerate((0, 2)):
        low[axis], high[axis] = max(low[axis], region.low[k]), min(high[axis], region.high[k])
    return tuple(low.tolist()), tuple(high.tolist())
