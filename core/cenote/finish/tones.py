"""From light to tones."""

from __future__ import annotations

import numpy as np

from ..colour import linear_of, srgb_of

# What the view exposes by, besides.
VIEW_EXPOSURE = 0.92
# Khronos PBR Neutral: where it starts to hold back, how it loses colour, and what dark ones lose.
_START, _PALER, _FOOT = 0.8 - 0.04, 0.15, 0.04


def toned(radiance: np.ndarray) -> np.ndarray:
    """What is shown of radiance (…, 3), linear in [0, 1]: the tone mapping Khronos PBR Neutral (Khronos Group, 2024)."""
    colour = np.maximum(radiance, 0) * VIEW_EXPOSURE
    least = colour.min(-1, keepdims=True)
    colour = colour - np.where(least < 0.08, least - 6.25 * least**2, _FOOT)
    peak = colour.max(-1, keepdims=True)
    held = 1 - (1 - _START) ** 2 / (peak + 1 - 2 * _START)
    paler = 1 - 1 / (_PALER * (peak - held) + 1)
    bright = colour * (held / np.maximum(peak, 1e-9)) * (1 - paler) + held * paler
    return np.asarray(np.where(peak < _START, colour, bright))


def shown_of(linear: np.ndarray) -> np.ndarray:
    """Tones as they are shown, evenly spaced to an eye, of linear ones (…, 3), both float32 in [0, 1]."""
    return srgb_of(np.clip(linear, 0, 1)).astype(np.float32)


def eight_bits(tones: np.ndarray) -> np.ndarray:
    """Tones as they are shown (…, 3), float32 in [0, 1], as uint8."""
    return np.round(tones * 255).astype(np.uint8)


def light_of(shown: np.ndarray) -> np.ndarray:
    """Linear tones of shown ones (…, 3), both float32 in [0, 1]."""
    return linear_of(np.clip(shown, 0, 1).astype(np.float32)).astype(np.float32)
