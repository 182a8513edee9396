"""What counts as white."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...light.spectrum import blackbody
from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step

# Linear sRGB to the responses of cones, sharpened (Bradford: Lam, 1985), by way of CIE XYZ (IEC 61966-2-1).
_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
_CONES = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]]) @ _XYZ


@STEPS.register
class WhiteBalance(Step):
    """Makes light of a temperature white."""

    kind: Literal["white_balance"] = "white_balance"
    title: ClassVar[str] = "White balance"
    help: ClassVar[str] = "Makes light of a colour temperature white: all else becomes warmer or cooler with it."
    domain: ClassVar[Domain] = "light"
    by_colour: ClassVar[bool] = True
    kelvin: float = quantity(6500, low=1500, high=15000, unit="K", step=50, help="The temperature that looks white.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Adapted from that white to the usual one, by von Kries' rule on sharpened cones."""
        seen, usual = (_CONES @ blackbody(kelvin) for kelvin in (self.kelvin, 6500.0))
        change = np.linalg.inv(_CONES) @ np.diag(usual / usual[1] / (seen / seen[1])) @ _CONES
        return np.maximum(picture @ change.T.astype(np.float32), 0)
