"""Another sky behind a picture."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numba import njit

from ...colour import LUMINANCE
from ...light.pictured import along
from ...parameters import choice, colour, count, only, quantity
from ...randomness import layered_noise
from ..base import STEPS, Domain, Negative, Step

Colour = tuple[float, float, float]
_PAINTED = "painted"
# Clouds are painted on a sheet so high above the eye, in any unit of length; nearer to the horizon than this sine they are
# too far to be told apart, and the largest are so wide.
_LOWEST, _LUMPS = 0.03, 1.4


@STEPS.register
class SkyBehind(Step):
    """Puts another sky in place of the one that is seen."""

    kind: Literal["sky_behind"] = "sky_behind"
    title: ClassVar[str] = "Sky behind"
    help: ClassVar[str] = (
        "Another sky where the sky is seen: painted, or the panorama that is kept under Light. What stands keeps its light."
    )
    domain: ClassVar[Domain] = "light"
    of: Literal["painted", "panorama"] = choice(
        _PAINTED, help="Painted of three colours and clouds, or the site's panorama, whether or not it lights."
    )
    high: Colour = only("of", _PAINTED, colour((0.16, 0.3, 0.55), help="The colour overhead."))
    middle: Colour = only("of", _PAINTED, colour((0.42, 0.55, 0.68), help="The colour half way up."))
    low: Colour = only("of", _PAINTED, colour((0.85, 0.72, 0.55), help="The colour at the horizon."))
    clouds: float = only(
        "of", _PAINTED, quantity(30, low=0, high=100, unit="%", step=5, help="How much of it is clouds.")
    )
    cloud: Colour = only("of", _PAINTED, colour((0.9, 0.85, 0.8), help="The colour of clouds."))
    seed: int = only("of", _PAINTED, count(1, low=0, high=9999, help="Another number gives other clouds."))
    turn: float = only(
        "of", "panorama", quantity(0, low=0, high=360, unit="°", step=1, help="How far it is turned, clockwise.")
    )
    brightness: float = quantity(
        0, low=-6, high=6, unit="stops", step=0.1, help="Brighter or darker than it is; each stop is twice as bright."
    )

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """What is sky in a pixel gives way, as far as that is not covered by what stands."""
        there = negative.backdrop
        if there is None or (self.of == "panorama" and there.panorama is None):
            return picture
        ways = there.ways.reshape(-1, 3).astype(np.float64)
        if self.of == _PAINTED or there.panorama is None:
            new = self._painted(ways)
        else:
            new = along(np.asarray(there.panorama, np.float32), ways, np.radians(self.turn))
            # A panorama is in no unit: it is as bright as what it stands for.
            before, now = (
                float(np.mean(one.reshape(-1, 3) @ LUMINANCE)) for one in (there.sky, new * self._open(negative))
            )
            new *= before / max(now, 1e-9)
        share = np.clip(there.sky / np.maximum(negative.radiance, 1e-6), 0, 1)
        new = (new * self._open(negative) * 2.0**self.brightness).reshape(picture.shape)
        return np.asarray(picture * (1 - share) + new, np.float32)

    @staticmethod
    def _open(negative: Negative) -> np.ndarray:
        return 1 - negative.masks.cover.reshape(-1, 1)

    def _painted(self, ways: np.ndarray) -> np.ndarray:
        up = np.clip(ways[:, 1], 0, 1)
        height = np.sqrt(np.arcsin(up) / (np.pi / 2))
        stops = (0.0, 0.5, 1.0)
        sky = np.column_stack([np.interp(height, stops, (self.low[c], self.middle[c], self.high[c])) for c in range(3)])
        if self.clouds == 0:
            return sky
        sheet = ways / np.maximum(up, _LOWEST)[:, None]
        lumps = _lumps(sheet / _LUMPS, np.uint32(self.seed))
        starts = 0.5 + 0.28 * (1 - 2 * self.clouds / 100)
        there = np.clip((lumps - starts) / 0.18, 0, 1) * np.clip(up / (3 * _LOWEST), 0, 1)
        cover = (there * there * (3 - 2 * there))[:, None]
        # The thicker a cloud is, the less light gets through it to who looks up.
        body = np.array(self.cloud) * (1.08 - 0.4 * np.clip((lumps - starts) / 0.3, 0, 1))[:, None]
        return np.asarray(sky * (1 - cover) + body * cover)


@njit(cache=True, nogil=True)
def _lumps(places, seed):  # type: ignore
    out = np.empty(len(places))
    for i in range(len(places)):
        out[i] = layered_noise(places[i, 0], 0.0, places[i, 2], 6, seed)
    return out
