"""The ground's heights, kept stroke by stroke, and the water that stands in its hollows."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import map_coordinates

from ..site.ground import Ground
from .cache import Cache, key, unpack_arrays

# Of all strokes the heights after the last few are kept: enough to go on from.
_KEPT_STROKES = 3


def height_map_name(digest: str) -> str:
    """The name in the store of a height map that was brought in."""
    return f"heights-{digest}"


class GroundHeights:
    """Heights of one ground."""

    def __init__(self, ground: Ground, cache: Cache) -> None:
        self.ground, self.cache = ground, cache

    def after(self, strokes: int | None = None) -> np.ndarray:
        """Heights after some of its strokes, or after all: float64 (rows, columns), metres.

        What earlier strokes have made is kept, so that one more costs only itself.
        """
        ground = self.ground
        shape = ground.model_dump(mode="json", exclude={"material", "strokes", "paints"})
        done = [key("ground before strokes", shape)]
        for stroke in ground.strokes[:strokes]:
            done.append(key("ground after", done[-1], stroke.model_dump(mode="json")))
        at, heights = 0, None
        for row in range(len(done) - 1, 0, -1):
            there, kept = self.cache.peek(done[row])
            if there:
                at, heights = row, kept
                break
        if heights is None:
            heights = self.cache.get(done[0], lambda: ground.shaped(self.map))
        for row in range(at, len(done) - 1):
            heights = ground.stroked(heights, ground.strokes[row], row)
            if row >= len(done) - 1 - _KEPT_STROKES:
                made = heights
                heights = self.cache.get(done[row + 1], lambda made=made: made)  # type: ignore[misc]
        return heights

    def map(self, digest: str) -> np.ndarray:
        """A height map that was brought in, float32 (rows, columns) in [0, 1].

        :raises KeyError: if it is not in the store.
        """
        content = self.cache.store.read(height_map_name(digest))
        if content is None:
            raise KeyError(f"the height map {digest[:8]} is missing from the store")
        return unpack_arrays(content)["heights"]

    def pools(self) -> list[tuple[float, np.ndarray]]:
        """Hollows that hold water: the level in metres, and the outline float64 (N, 2)."""
        x, z = self.ground.grid()
        out = []
        for hollow in self.ground.hollows:
            if not hollow.filled:
                continue
            corners = hollow.corners()
            at = [(corners[:, 1] - z[0, 0]) / (z[1, 0] - z[0, 0]), (corners[:, 0] - x[0, 0]) / (x[0, 1] - x[0, 0])]
            rim = float(map_coordinates(self.after(), at, order=1, mode="nearest").mean()) - hollow.rim_height
            out.append((rim - hollow.water, corners))
        return out
