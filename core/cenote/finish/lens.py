"""What steps that do as a lens does share."""

from __future__ import annotations

import numpy as np


def away_from_middle(height: int, width: int) -> np.ndarray:
    """How far each pixel is from the middle, the corners being 1: float64 (height, width)."""
    y, x = np.mgrid[0:height, 0:width]
    return np.asarray(np.hypot(x + 0.5 - width / 2, y + 0.5 - height / 2) / np.hypot(width / 2, height / 2))
