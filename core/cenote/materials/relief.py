"""Relief out of normals."""

from __future__ import annotations

import numpy as np
from scipy import fft


def heights_of(normals: np.ndarray) -> tuple[np.ndarray, float]:
    """The relief whose slopes fit normals best, float32 (h, w) in [0, 1], wrapping round, and how far its highest is above its lowest, in pixels.

    Frankot and Chellappa, "A method for enforcing integrability in shape from shading algorithms" (1988).

    :param normals: float (h, w, 3), as pictures of normals have them: to the right, up in the picture, out of it; about unit.
    """
    z = np.maximum(normals[..., 2], 0.05)
    dx, dy = -normals[..., 0] / z, normals[..., 1] / z
    rows, columns = z.shape
    u, v = (np.asarray(fft.fftfreq(side) * 2 * np.pi, z.dtype) for side in (columns, rows))
    u, v = u[None], v[:, None]
    size = u * u + v * v
    size[0, 0] = 1
    spectrum = (-1j * u * fft.fft2(dx) - 1j * v * fft.fft2(dy)) / size
    spectrum[0, 0] = 0
    height = np.real(fft.ifft2(spectrum))
    low, high = np.percentile(height, [0.5, 99.5])
    return np.clip((height - low) / max(high - low, 1e-9), 0, 1).astype(np.float32), float(high - low)
