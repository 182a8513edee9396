"""How much darker porous things are when they are wet.

A film of water sends part of the light that comes back from below down again, where more of it is lost: Lekner and Dorf,
"Why some things are darker when wet", Applied Optics 27 (1988), for diffuse light and a rough surface.
"""

from __future__ import annotations

import numpy as np
from numba import njit

# Water of index 1.33: the share of diffuse light that its surface sends back from above, and from below.
ABOVE = np.float32(0.066)
BELOW = np.float32(1 - (1 - 0.066) / 1.333**2)
_ONE = np.float32(1)


@njit(inline="always", cache=True, fastmath=True)
def wet_share(albedo):  # type: ignore
    """How bright something is when it is wet against when it is dry, from 0.49 for black to 0.93 for white.

    :param albedo: dry, linear, float32 in [0, 1]: a number, or an array of any shape.
    """
    return (_ONE - ABOVE) * (_ONE - BELOW) / (_ONE - BELOW * albedo)
