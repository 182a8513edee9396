"""Colour spaces: linear light inside, sRGB at the border alone (IEC 61966-2-1)."""

from __future__ import annotations

import numpy as np

# Luminance of linear red, green and blue (ITU-R BT.709).
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


def srgb_of(linear: np.ndarray) -> np.ndarray:
    """sRGB values of linear ones, both floats of any shape in [0, 1] (IEC 61966-2-1)."""
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)


def linear_of(shown: np.ndarray) -> np.ndarray:
    """Linear values of sRGB ones of any shape: float in [0, 1], or uint8, to float in [0, 1] (IEC 61966-2-1)."""
    if shown.dtype == np.uint8:
        return np.asarray(_LINEAR[shown])
    return np.where(shown <= 0.04045, shown / 12.92, ((np.clip(shown, 0, 1) + 0.055) / 1.055) ** 2.4)


_LINEAR = linear_of(np.arange(256) / 255)
# sRGB bytes of 4096 evenly spaced linear values, for compiled passes.
SRGB_BYTES = np.round(srgb_of(np.linspace(0, 1, 4096)) * 255).astype(np.uint8)


def srgb_bytes(linear: np.ndarray) -> np.ndarray:
    """Linear colour, and alpha if there is a fourth channel, as sRGB bytes: float (…, 3 or 4) in [0, 1] to uint8."""
    out = np.clip(linear, 0, 1)
    colour = SRGB_BYTES[np.round(out[..., :3] * 4095).astype(np.int32)]
    return np.concatenate([colour, np.round(out[..., 3:] * 255).astype(np.uint8)], axis=-1)
