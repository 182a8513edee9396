"""Patches: parts of a surface's maps at a level of their own, for whoever looks at them from near."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..weather.compose import Maps
from .maps import composed, composed_of
from .site import Site
from .surfaces import BORDER, PATCH, Patches
from .target import Read, Target

# Patches are composed side by side, up to so many along a side: what it takes besides their texels is shared.
_TOGETHER = 4
# At most so many patches are composed for each that is wanted.
_FILLED = 1.25


@dataclass(frozen=True)
class PatchMaps(Target):
    """The final maps of patches that lie side by side, with the border about them: :class:`cenote.weather.compose.Maps`."""

    id: str
    level: int
    patches: Patches
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return composed_of(site, self.id, self.level, False, self.patches)

    @staticmethod
    def make(read: Read) -> Maps:
        return composed(read, True)


def together(wanted: Iterable[tuple[int, int]]) -> dict[Patches, list[tuple[int, int]]]:
    """Patches of one level, by row and column, as they are composed: near ones side by side."""
    out: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for row, column in wanted:
        out.setdefault((row // _TOGETHER, column // _TOGETHER), []).append((row, column))
    return {patches: some for near in out.values() for patches, some in _boxes(near)}


def _boxes(some: list[tuple[int, int]]) -> Iterator[tuple[Patches, list[tuple[int, int]]]]:
    """Patches parted until most of the boxes about them is wanted."""
    (top, left), (bottom, right) = np.min(some, axis=0).tolist(), np.max(some, axis=0).tolist()
    rows, columns = bottom - top + 1, right - left + 1
    if rows * columns <= _FILLED * len(some):
        yield (top, left, rows, columns), some
        return
    along, middle = (0, top + rows // 2) if rows >= columns else (1, left + columns // 2)
    yield from _boxes([one for one in some if one[along] < middle])
    yield from _boxes([one for one in some if one[along] >= middle])


def cut(picture: np.ndarray, patches: Patches, patch: tuple[int, int]) -> np.ndarray:
    """One patch with its border, (136, 136, …), out of a map of several. :param picture: (H, W, …)."""
    row, column = PATCH * (patch[0] - patches[0]), PATCH * (patch[1] - patches[1])
    side = PATCH + 2 * BORDER
    return picture[row : row + side, column : column + side]
