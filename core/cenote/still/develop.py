"""From what was traced to a picture: the sky behind, the air before, and tones as the view has them."""

from __future__ import annotations

import numpy as np
from scipy import ndimage

from ..colour import srgb_bytes
from ..geometry.camera import Camera
from ..light.daylight import Above, Daylight
from .tracing import Film, Picture

# What the view exposes by, besides.
VIEW_EXPOSURE = 0.92
# Khronos PBR Neutral tone mapping (Khronos Group, 2024): where it starts to hold back, how it loses colour, and what dark ones lose.
_START, _PALER, _FOOT = 0.8 - 0.04, 0.15, 0.04

# Columns by which a dome is carried on beyond its edge.
_AROUND = 3


def developed(
    film: Film, radiance: np.ndarray, picture: Picture, camera: Camera, sky: Daylight, above: Above
) -> np.ndarray:
    """Radiance of a picture as it is seen through the air, before the sky: linear float32 (h, w, 3), of its window.

    :param radiance: of the film, with or without its noise, float32 (h, w, 3).
    """
    first, last, top, bottom = picture.window
    origins, ways = (part.reshape(picture.height, picture.width, 3)[top : bottom + 1, first : last + 1].reshape(-1, 3).astype(np.float64)
                     for part in camera.rays(picture.width, picture.height))  # fmt: skip
    cover = np.clip(film.channels["alpha"].reshape(-1, 1), 0, 1)
    far = film.channels["depth"].reshape(-1).astype(np.float64)
    # The engine's own sky is coarse: what is seen of it gives way to the one that is looked at.
    before = np.maximum(radiance.reshape(-1, 3).astype(np.float64) - (1 - cover) * sky.at(ways), 0)
    nothing = np.zeros_like(before)
    added = sky.through(nothing, origins, ways, far)
    kept = sky.through(nothing + 1, origins, ways, far) - added
    behind = sky.through(seen_above(above, ways) * sky.brighter, origins, ways, np.full(len(ways), np.inf))
    out = before * kept + cover * added + (1 - cover) * behind
    return out.astype(np.float32).reshape(bottom - top + 1, last - first + 1, 3)


def seen_above(above: Above, ways: np.ndarray) -> np.ndarray:
    """The sky along ways, with sun and moon: float64 (N, 3). :param ways: unit float64 (N, 3)."""
    rows, columns = above.dome.shape[:2]
    up = np.sqrt(np.arcsin(np.clip(ways[:, 1], 0, 1)) / (np.pi / 2))
    round_ = np.arctan2(ways[:, 0], -ways[:, 2]) / (2 * np.pi) % 1
    y, x = np.maximum(up * rows - 0.5, 0.0), round_ * columns - 0.5 + _AROUND
    wide = np.pad(above.dome, ((0, 0), (_AROUND, _AROUND), (0, 0)), "wrap")
    # By splines that smooth a little, as the view does.
    seen = np.stack([ndimage.map_coordinates(wide[..., c], [y, x], order=3, mode="nearest", prefilter=False)
                     for c in range(4)], axis=1)  # fmt: skip
    out = seen[:, :3].astype(np.float64)
    for disc in above.discs:
        ahead = ways @ disc.direction
        beside = ways - ahead[:, None] * disc.direction
        away = np.linalg.norm(beside, axis=1) / disc.radius
        inside = np.flatnonzero((away < 1) & (ahead > 0) & (ways[:, 1] > 0))
        facing = np.sqrt(1 - away[inside] ** 2)
        if disc.lit_from is None:
            # Darker towards the limb.
            bright = 0.4 + 0.6 * facing
        else:
            normal = beside[inside] / disc.radius - disc.direction * facing[:, None]
            bright = np.clip((normal @ disc.lit_from + 0.02) / 0.08, 0, 1)
        out[inside] += disc.radiance * (bright * seen[inside, 3])[:, None]
    return out


def toned(radiance: np.ndarray) -> np.ndarray:
    """What is shown of radiance (…, 3), linear in [0, 1]: Khronos PBR Neutral (Khronos Group, 2024)."""
    colour = np.maximum(radiance, 0) * VIEW_EXPOSURE
    least = colour.min(-1, keepdims=True)
    colour = colour - np.where(least < 0.08, least - 6.25 * least**2, _FOOT)
    peak = colour.max(-1, keepdims=True)
    held = 1 - (1 - _START) ** 2 / (peak + 1 - 2 * _START)
    paler = 1 - 1 / (_PALER * (peak - held) + 1)
    bright = colour * (held / np.maximum(peak, 1e-9)) * (1 - paler) + held * paler
    return np.asarray(np.where(peak < _START, colour, bright))


def shown(radiance: np.ndarray) -> np.ndarray:
    """A picture as bytes, uint8 (h, w, 3)."""
    return srgb_bytes(toned(radiance))
