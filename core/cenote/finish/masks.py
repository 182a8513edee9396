"""Where in a picture kinds of things are, and single ones."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.ndimage import uniform_filter

# Of these it is known what share of each pixel they take; of the others, which pixels.
MEASURED_KINDS = ("planting", "structures")
# Pixels round about that are looked at, the fewest last; and what there is where they show none of a kind.
_REACHES, _GROUND = (7, 3), 0


@dataclass(frozen=True)
class Masks:
    """What each pixel shows.

    :ivar cover: float32 (h, w) in [0, 1], the share of it where something stands.
    :ivar kinds: float32 (h, w, 2) in [0, 1], the shares that are of :data:`MEASURED_KINDS`.
    :ivar thing: integers (h, w), the number of the thing that is nearest. :ivar things: id and kind of each, in the order of the numbers;
        none where that is not known.
    :ivar covers: float32 (h, w) in [0, 1], the share of it that each cover takes, by its layer's id.
    """

    cover: np.ndarray
    kinds: np.ndarray
    thing: np.ndarray
    things: Sequence[tuple[str, str]] = ()
    covers: Mapping[str, np.ndarray] = field(default_factory=dict)

    def of_kind(self, kind: str) -> np.ndarray:
        """Where a kind of things is: float32 (h, w) in [0, 1]."""
        if kind in MEASURED_KINDS:
            return self.kinds[..., MEASURED_KINDS.index(kind)]
        return self._left * self._among(self._numbers(kind), self._others)

    def of(self, objects: Collection[str], layers: Collection[str]) -> np.ndarray:
        """Where single objects and planting layers are, by their ids: float32 (h, w) in [0, 1]. What is not in the picture is nowhere."""
        chosen = [
            row for row, (id, kind) in enumerate(self.things) if id in (layers if kind == "planting" else objects)
        ]
        found = np.zeros_like(self.cover)
        for kind in dict.fromkeys(self.things[row][1] for row in chosen):
            measured = kind in MEASURED_KINDS
            whole, all_of = (self.of_kind(kind), self._numbers(kind)) if measured else (self._left, self._others)
            found += whole * self._among([row for row in chosen if self.things[row][1] == kind], all_of)
        return np.clip(found, 0, 1)

    def covered(self, covers: Collection[str]) -> np.ndarray:
        """Where any of some covers lies, by their layers' ids: float32 (h, w) in [0, 1]."""
        bare = np.ones_like(self.cover)
        for id in covers:
            if id in self.covers:
                bare *= 1 - self.covers[id]
        return 1 - bare

    @property
    def _left(self) -> np.ndarray:
        """The share of each pixel that is of no measured kind."""
        return np.clip(self.cover - self.kinds.sum(2), 0, 1)

    @property
    def _others(self) -> list[int]:
        return [row for row, (_, kind) in enumerate(self.things) if kind not in MEASURED_KINDS]

    def _numbers(self, kind: str) -> list[int]:
        return [row for row, (_, of) in enumerate(self.things) if of == kind]

    def _among(self, chosen: list[int], all_of: list[int]) -> np.ndarray:
        """Of the pixels round about that show some things, the share that shows the chosen ones of them: at an edge a pixel shows
        a little of a thing that is not nearest in it."""
        found = np.full(self.cover.shape, float(_GROUND in chosen), np.float32)
        for reach in _REACHES:
            one, whole = (
                uniform_filter(np.isin(self.thing, rows).astype(np.float32), reach, mode="nearest")
                for rows in (chosen, all_of)
            )
            np.divide(one, whole, out=found, where=whole > 1e-4)
        return found


def nothing_known(height: int, width: int) -> Masks:
    """Masks of a picture of which nothing is known but its colours."""
    none = np.zeros((height, width), np.float32)
    return Masks(none, np.zeros((height, width, len(MEASURED_KINDS)), np.float32), none)
