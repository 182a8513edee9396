"""Patches: parts of a surface's maps at a level of their own, for whoever looks at them from near."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
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
    found: dict[Patches, list[tuple[int, int]]] = {}
    for some in out.values():
        (top, left), (bottom, right) = np.min(some, axis=0).tolist(), np.max(some, axis=0).tolist()
        found[top, left, bottom - top + 1, right - left + 1] = some
    return found


def cut(picture: np.ndarray, patches: Patches, patch: tuple[int, int]) -> np.ndarray:
    """One patch with its border, (136, 136, …), out of a map of several. :param picture: (H, W, …)."""
    row, column = PATCH * (patch[0] - patches[0]), PATCH * (patch[1] - patches[1])
    side = PATCH + 2 * BORDER
    return picture[row : row + side, column : column + side]
