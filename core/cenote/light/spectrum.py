"""Colours of light that is known at a few wavelengths."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

# Nanometres.
WAVELENGTHS = np.arange(400.0, 681.0, 40.0)
# The sun's outside the air at these, W/(m² nm) (ASTM G-173, extraterrestrial).
SUN = np.array([1.72765, 1.91198, 1.93377, 1.8685, 1.8341, 1.7533, 1.6048, 1.474])
# From CIE XYZ to the linear light of sRGB (IEC 61966-2-1).
_TO_RGB = np.array([[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]])


def matching(wavelengths: np.ndarray) -> np.ndarray:
    """The CIE's colour matching functions of 1931: float64 (N, 3), x, y and z (Wyman, Sloan and Shirley, "Simple Analytic
    Approximations to the CIE XYZ Color Matching Functions", JCGT 2, 2013).

    :param wavelengths: float (N,), nanometres.
    """

    def lobe(middle: float, below: float, above: float) -> np.ndarray:
        away = wavelengths - middle
        return np.asarray(np.exp(-0.5 * (away * np.where(away < 0, below, above)) ** 2))

    x = 0.362 * lobe(442.0, 0.0624, 0.0374) + 1.056 * lobe(599.8, 0.0264, 0.0323) - 0.065 * lobe(501.1, 0.0490, 0.0382)
    y = 0.821 * lobe(568.8, 0.0213, 0.0247) + 0.286 * lobe(530.9, 0.0613, 0.0322)
    z = 1.217 * lobe(437.0, 0.0845, 0.0278) + 0.681 * lobe(459.0, 0.0385, 0.0725)
    return np.stack([x, y, z], axis=1)


def _weights() -> np.ndarray:
    xyz = SUN[:, None] * matching(WAVELENGTHS)
    return np.asarray((xyz / xyz[:, 1].sum()) @ _TO_RGB.T)


# What each wavelength of sunlight adds to linear sRGB, float64 (8, 3): the sun outside the air has a luminance of 1.
TO_RGB = _weights()


def rgb(light: np.ndarray) -> np.ndarray:
    """Shares of the sun's light at each wavelength as linear sRGB, none below 0: float64 (…, 3).

    :param light: float64 (…, 8), against the sun's outside the air.
    """
    return np.asarray(np.maximum(light @ TO_RGB, 0.0))


# The sun's own colour outside the air, float64 (3,).
OUTSIDE = rgb(np.ones(len(WAVELENGTHS)))


@lru_cache(maxsize=256)
def _blackbody(kelvin: float) -> tuple[float, float, float]:
    wavelengths = np.arange(380.0, 781.0, 5.0)
    sent = wavelengths**-5.0 / np.expm1(1.438777e7 / (wavelengths * kelvin))
    found = np.maximum((sent / sent.max()) @ matching(wavelengths) @ _TO_RGB.T, 0.0)
    red, green, blue = found / found.max()
    return float(red), float(green), float(blue)


def blackbody(kelvin: float) -> np.ndarray:
    """The colour of what glows at a temperature: linear sRGB, float64 (3,), its greatest 1 (Planck's law)."""
    return np.array(_blackbody(kelvin))
