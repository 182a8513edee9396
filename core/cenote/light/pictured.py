"""A sky out of a panorama that somebody took: its sun found in it, and its light as strong as that of a usual day."""

from __future__ import annotations

import numpy as np
from scipy import ndimage

from ..colour import LUMINANCE
from .sky import Disc, Lit, Ways, ways_of

# The sun is looked for as what is so many degrees wide, and is one where it is so many times as bright as what is around it.
_WIDE, _STANDS_OUT = 3.0, 4.0
# Light on level ground of a usual day, against the sun's outside the air: what a panorama tells is in no unit.
USUAL = 0.6


class PicturedSky:
    """A sky that a panorama shows; what :class:`cenote.light.sky.Sky` is for one that is worked out."""

    def __init__(self, pixels: np.ndarray, turn: float = 0.0) -> None:
        """:param pixels: float (rows, 2 × rows, 3), radiance in any unit: from the zenith down, and from north over east round to north.
        :param turn: degrees that it is turned, clockwise seen from above.
        """
        rows = len(pixels)
        up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
        whole = pixels.astype(np.float32)
        sun, rest = _split(whole, up)
        falls = (np.maximum(np.sin(up), 0) * np.cos(up) * (np.pi / rows) ** 2)[:, None, None]
        ground = (rest * falls).sum((0, 1)) + (sun.light * max(sun.direction[1], 0.0) if sun else 0)
        scale = np.float32(USUAL / max(float(ground @ LUMINANCE), 1e-12))
        self.on_ground: np.ndarray = ground * float(scale)
        self._turn = np.radians(turn)
        self.direct = [Lit(_turned(sun.direction, self._turn), sun.light * float(scale))] if sun else []
        self.discs: list[Disc] = []
        self._whole, self._halved = whole * scale, [rest * scale]
        while len(self._halved[-1]) > 16 and len(self._halved[-1]) % 2 == 0:
            last = self._halved[-1]
            self._halved.append(last.reshape(len(last) // 2, 2, len(last), 2, 3).mean((1, 3)))

    def stars(self) -> tuple[np.ndarray, np.ndarray]:
        """None, float64 (0, 3) twice: those that it shows are in its pixels."""
        return np.empty((0, 3)), np.empty((0, 3))

    def radiance(self, ways: np.ndarray) -> np.ndarray:
        """What it sends, without its sun: float64 (N, 3). :param ways: unit float64 (N, 3)."""
        return along(self._halved[min(2, len(self._halved) - 1)], ways, self._turn)

    def at_horizon(self, ways: np.ndarray) -> np.ndarray:
        """As :meth:`radiance`."""
        return self.radiance(ways)

    def picture(self, height: Ways, rows: int, columns: int, seen: bool) -> np.ndarray:
        """As :meth:`cenote.light.sky.Sky.picture`; its sun is in what is seen, and not in what lights."""
        # Each pixel is the mean of those it stands for.
        level = int(np.clip(np.log2(max(len(self._whole) / rows, 1)), 0, len(self._halved) - 1))
        light = along(self._whole if seen else self._halved[level], ways_of(height, rows, columns), self._turn)
        return np.column_stack([light, np.ones(len(light))]).reshape(rows, columns, 4)


def along(picture: np.ndarray, ways: np.ndarray, turn: float) -> np.ndarray:
    """What a panorama shows along ways, float64 (N, 3).

    :param picture: float (rows, 2 × rows, 3), as :class:`PicturedSky` takes it. :param ways: unit float (N, 3). :param turn: radians, clockwise from above.
    """
    rows, columns = picture.shape[:2]
    y = np.clip((0.5 - np.arcsin(np.clip(ways[:, 1], -1, 1)) / np.pi) * rows - 0.5, 0, rows - 1)
    x = ((np.arctan2(ways[:, 0], -ways[:, 2]) - turn) / (2 * np.pi) % 1) * columns - 0.5
    return np.stack(
        [ndimage.map_coordinates(picture[..., c], [y, x], order=1, mode="grid-wrap") for c in range(3)], axis=1
    ).astype(np.float64)


def _turned(way: np.ndarray, turn: float) -> np.ndarray:
    east, up, south = way
    return np.array([east * np.cos(turn) - south * np.sin(turn), up, south * np.cos(turn) + east * np.sin(turn)])


def _split(pixels: np.ndarray, up: np.ndarray) -> tuple[Lit | None, np.ndarray]:
    """A panorama's sun, where it has one, and what is left without it: float32 (rows, 2 × rows, 3).

    The sun is what stands out from its surroundings around the brightest place; its light then casts shadows as one from afar.
    """
    rows, columns = pixels.shape[:2]
    bright = pixels @ LUMINANCE.astype(np.float32)
    smooth = ndimage.gaussian_filter(bright, max(rows * 0.25 / 180, 0.5), mode=("nearest", "wrap"))
    smooth[up < 0] = 0
    row, column = np.unravel_index(int(smooth.argmax()), smooth.shape)
    round_ = (np.arange(columns) + 0.5) / columns * 2 * np.pi
    at = np.array(
        [np.cos(up[row]) * np.sin(round_[column]), np.sin(up[row]), -np.cos(up[row]) * np.cos(round_[column])]
    )
    cosine = np.sin(up)[:, None] * at[1] + np.cos(up)[:, None] * (np.sin(round_) * at[0] - np.cos(round_) * at[2])
    inside = cosine > np.cos(np.radians(_WIDE))
    ring = (cosine > np.cos(np.radians(3 * _WIDE))) & ~inside
    if not inside.any() or not ring.any():
        return None, pixels
    around = np.median(pixels[ring], axis=0)
    excess = np.maximum(pixels - around, 0) * inside[..., None]
    light = (excess * (np.cos(up) * (np.pi / rows) ** 2)[:, None, None]).sum((0, 1), dtype=np.float64)
    # Against what as much of the surroundings sends.
    share = 2 * np.pi * (1 - np.cos(np.radians(_WIDE)))
    if float(light @ LUMINANCE) < _STANDS_OUT * share * float(around @ LUMINANCE):
        return None, pixels
    return Lit(at, light), pixels - excess
