"""Lines that bend, and colours that part."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from scipy import ndimage

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step
from ..lens import away_from_middle


def drawn_from(picture: np.ndarray, factor: np.ndarray, channel: int) -> np.ndarray:
    """One channel of a picture, each pixel taken from so many times as far from the middle, float32 (h, w).

    :param factor: float (h, w).
    """
    height, width = picture.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    rows = (y + 0.5 - height / 2) * factor + height / 2 - 0.5
    columns = (x + 0.5 - width / 2) * factor + width / 2 - 0.5
    return np.asarray(ndimage.map_coordinates(picture[..., channel], [rows, columns], order=1, mode="nearest"))


@STEPS.register
class Distortion(Step):
    """Bends straight lines, as wide lenses do."""

    kind: Literal["distortion"] = "distortion"
    title: ClassVar[str] = "Lens distortion"
    help: ClassVar[str] = (
        "Bends straight lines outwards, as wide lenses do, or inwards; parts colours towards the corners."
    )
    domain: ClassVar[Domain] = "light"
    barrel: float = quantity(
        0,
        low=-30,
        high=30,
        unit="%",
        step=0.5,
        help="How far the corners are drawn in; less than nothing draws them out.",
    )
    fringe: float = quantity(0, low=0, high=2, unit="%", step=0.02, help="How much larger blue is drawn than red.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Radially, by the first term of Brown's model (1966), for each colour its own size."""
        bend = 1 + self.barrel / 100 * away_from_middle(*picture.shape[:2]) ** 2
        sizes = 1 + self.fringe / 100 * np.array([0.5, 0, -0.5])
        return np.stack([drawn_from(picture, bend * size, channel) for channel, size in enumerate(sizes)], axis=2)
