"""Cameras: where they stand, what they look at, and the rays of their pixels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

# The cosine of the steepest way that a shifted lens can look.
_STEEP = 0.5


@dataclass(frozen=True)
class Camera:
    """A camera without lens faults.

    :ivar eye: float64 (3,), metres. :ivar ahead, up: unit float64 (3,). :ivar height, width: tangents of half its angles.
    :ivar shift: how far the middle of its picture lies above what is straight ahead, a tangent; other than 0 where the lens is shifted.
    """

    eye: np.ndarray
    ahead: np.ndarray
    up: np.ndarray
    height: float
    width: float
    shift: float = 0.0

    @staticmethod
    def looking(
        position: Sequence[float], target: Sequence[float], width: float, height: float, upright: bool = False
    ) -> Camera:
        """A camera that is not tilted sideways.

        :param position, target: metres. :param width, height: tangents of half its angles. :param upright: whether it stays level and
            its lens is shifted instead, so that what stands upright does so in the picture; not where it looks steeply.
        """
        eye = np.array(position, float)
        ahead = np.array(target, float) - eye
        length = np.linalg.norm(ahead)
        ahead = ahead / length if length > 1e-9 else np.array([0.0, 0.0, -1.0])
        right = np.cross(ahead, [0.0, 1.0, 0.0])
        # Straight up or down, east is to the right.
        right = right / np.linalg.norm(right) if np.linalg.norm(right) > 1e-6 else np.array([1.0, 0.0, 0.0])
        level = float(np.hypot(ahead[0], ahead[2]))
        if upright and level > _STEEP:
            shift = float(ahead[1] / level)
            return Camera(
                eye, np.array([ahead[0], 0, ahead[2]]) / level, np.array([0.0, 1.0, 0.0]), height, width, shift
            )
        return Camera(eye, ahead, np.cross(right, ahead), height, width)

    def rays(self, width: int, height: int) -> tuple[np.ndarray, np.ndarray]:
        """Origins and unit directions of one ray a pixel, each float32 (N, 3) for N = height·width, row by row from the top."""
        right = np.cross(self.ahead, self.up)
        y, x = np.mgrid[0:height, 0:width]
        u = (2 * (x + 0.5) / width - 1) * self.width
        v = (1 - 2 * (y + 0.5) / height) * self.height + self.shift
        ways = self.ahead + u[..., None] * right + v[..., None] * self.up
        ways /= np.linalg.norm(ways, axis=2)[..., None]
        return np.broadcast_to(self.eye.astype(np.float32), (height * width, 3)), ways.reshape(-1, 3).astype(np.float32)
