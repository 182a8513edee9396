"""What there is around samples, as far as it is known before anything is measured: boxes, and what rays may meet."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit

# The ground's id among objects.
GROUND = "ground"

# What a scene holds besides objects, and what of it is told by a box: ``(what, name)``.
Thing = tuple[str, str]
WATER: Thing = ("water", "")
EXTENT: Thing = ("extent", "")
PARTS: Thing = ("parts", "")


@dataclass(frozen=True)
class Around:
    """What there is around samples, as far as it is known before anything is measured: signals say what of it they look at.

    :ivar things: objects, zones and shots by name, and what there is one of. :ivar low, high: float64
        (T, 3), boxes about them, metres; without end for what is not in a place.
    """

    things: tuple[Thing, ...]
    low: np.ndarray
    high: np.ndarray

    def __len__(self) -> int:
        return len(self.things)

    @cached_property
    def _whats(self) -> np.ndarray:
        return np.array([what for what, _ in self.things] or [""])

    @cached_property
    def _rows(self) -> dict[Thing, int]:
        return {thing: row for row, thing in enumerate(self.things)}

    def part(self, rows: np.ndarray) -> Around:
        """Some of it. :param rows: int (K,)."""
        return Around(tuple(self.things[row] for row in rows.tolist()), self.low[rows], self.high[rows])

    def all_of(self, what: str, names: Iterable[str] = ()) -> np.ndarray:
        """Things of a kind, bool (T,): the named ones, or all of them where no name is given."""
        names = tuple(names)
        if not names:
            return (self._whats == what)[: len(self)]
        out = np.zeros(len(self), bool)
        out[[self._rows[what, name] for name in names if (what, name) in self._rows]] = True
        return out

    def only(self, *things: Thing) -> np.ndarray:
        """Single things, bool (T,)."""
        out = np.zeros(len(self), bool)
        out[[self._rows[thing] for thing in things if thing in self._rows]] = True
        return out

    def structures(self, names: Iterable[str] = ()) -> np.ndarray:
        """The named objects, or all but the ground where no name is given: bool (T,)."""
        names = tuple(names)
        return self.all_of("object", names) if names else self.all_of("object") & ~self.only(("object", GROUND))

    def near(self, low: np.ndarray, high: np.ndarray, reach: float | np.ndarray = 0.0) -> np.ndarray:
        """What comes within a reach of boxes, bool (N, T). :param low, high: float64 (N, 3). :param reach: metres."""
        low, high = low[:, None] - reach, high[:, None] + reach
        return np.asarray(np.all((self.low <= high) & (self.high >= low), axis=2))

    def rising(self, low: np.ndarray, high: np.ndarray, slope: float) -> np.ndarray:
        """What rays from boxes may meet that rise at least by a slope, whichever way they go: bool (N, T).

        :param low, high: float64 (N, 3), metres. :param slope: metres up for each metre along the plan.
        """
        gap = np.maximum(np.maximum(self.low - high[:, None], low[:, None] - self.high), 0)
        with np.errstate(invalid="ignore"):
            least = low[:, None, 1] + slope * np.hypot(gap[..., 0], gap[..., 2])
        return np.asarray(self.high[:, 1] >= least)

    def along(self, low: np.ndarray, high: np.ndarray, ways: np.ndarray) -> np.ndarray:
        """What rays from boxes along some directions may meet, bool (N, T).

        :param low, high: float64 (N, 3). :param ways: float (D, 3).
        """
        out = np.zeros((len(low), len(self)), np.bool_)
        _meet(low, high, self.low, self.high, np.asarray(ways, np.float64), out)
        return out


@njit(cache=True, nogil=True)
def _meet(low, high, thing_low, thing_high, ways, out):  # type: ignore
    """Slabs (Kay and Kajiya, "Ray Tracing Complex Scenes", 1986) of boxes grown by the boxes that the rays begin in."""
    level = np.abs(ways) < 1e-9
    inverse = 1 / np.where(level, 1.0, ways)
    a, b = np.empty(3), np.empty(3)
    for n in range(len(low)):
        for t in range(len(thing_low)):
            for axis in range(3):
                a[axis], b[axis] = thing_low[t, axis] - high[n, axis], thing_high[t, axis] - low[n, axis]
            for d in range(len(ways)):
                first, last = 0.0, np.inf
                for axis in range(3):
                    if level[d, axis]:
                        if a[axis] > 0 or b[axis] < 0:
                            last = -1.0
                    else:
                        near, far = a[axis] * inverse[d, axis], b[axis] * inverse[d, axis]
                        first, last = max(first, min(near, far)), min(last, max(near, far))
                    if first > last:
                        break
                if first <= last:
                    out[n, t] = True
                    break


def around_of(boxes: Sequence[tuple[Thing, np.ndarray, np.ndarray]], others: Sequence[Thing]) -> Around:
    """What there is around: things with a box about them, its corners float (3,), and things without."""
    endless = np.full((len(others), 3), np.inf)
    low = np.array([one for _, one, _ in boxes], np.float64).reshape(-1, 3)
    high = np.array([one for _, _, one in boxes], np.float64).reshape(-1, 3)
    return Around((*(thing for thing, _, _ in boxes), *others), np.concatenate([low, -endless]), np.concatenate([high, endless]))  # fmt: skip
