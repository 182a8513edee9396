"""What is out of focus, afterwards."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from scipy import signal

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step

_LAYERS = 8


def disc(radius: float) -> np.ndarray:
    """An even disc of a radius in pixels, its edge smooth, float32 (k, k), of sum 1."""
    reach = int(np.ceil(radius))
    y, x = np.mgrid[-reach : reach + 1, -reach : reach + 1]
    out = np.clip(radius + 0.5 - np.hypot(x, y), 0, 1).astype(np.float32)
    return np.asarray(out / out.sum())


@STEPS.register
class DepthOfField(Step):
    """Blurs what is nearer or farther than what is in focus."""

    kind: Literal["depth_of_field"] = "depth_of_field"
    title: ClassVar[str] = "Depth of field"
    help: ClassVar[str] = (
        "Blurs what is out of focus by how far away it is. An f-number of the shot does it truly; this does it afterwards."
    )
    domain: ClassVar[Domain] = "light"
    focus: float = quantity(8, low=0.05, high=2000, unit="m", step=0.1, help="What is so far away is sharp.")
    blur: float = quantity(
        0.8,
        low=0,
        high=5,
        unit="%",
        step=0.05,
        help="How wide points infinitely far behind become, of the picture's width.",
    )

    def radii(self, negative: Negative) -> np.ndarray:
        """Radii of the discs that points become, pixels, float32 (h, w): by the law of thin lenses."""
        depth = np.maximum(np.where(np.isfinite(negative.depth), negative.depth, 1e9), 0.01)
        far = self.blur / 200 * negative.size[1]
        return np.minimum(far * np.abs(1 - self.focus / depth), 3 * far).astype(np.float32)

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Slices of like blur are blurred each with what they cover, from far to near, and laid over one another."""
        radii = self.radii(negative)
        depth = np.where(np.isfinite(negative.depth), negative.depth, 1e9)
        behind = depth >= self.focus
        out = np.zeros_like(picture)
        for side, near_first in ((behind, False), (~behind, True)):
            edges = np.linspace(0, max(float(radii[side].max(initial=0)), 1e-3), _LAYERS + 1)
            order = range(_LAYERS) if near_first else reversed(range(_LAYERS))
            for number in order:
                inside = side & (radii >= edges[number]) & ((radii < edges[number + 1]) | (number == _LAYERS - 1))
                if not inside.any():
                    continue
                mask = inside.astype(np.float32)
                radius = float(radii[inside].mean())
                slice_, cover = picture * mask[..., None], mask
                if radius > 0.6:
                    kernel = disc(radius)
                    spread = signal.fftconvolve(np.dstack([slice_, cover]), kernel[..., None], mode="same", axes=(0, 1))
                    slice_, cover = spread[..., :3], np.clip(spread[..., 3], 0, 1)
                out = out * (1 - cover[..., None]) + slice_
        return _filled(out, picture, radii)


def _filled(out: np.ndarray, picture: np.ndarray, radii: np.ndarray) -> np.ndarray:
    """What no slice has reached stays as it was."""
    empty = (out.sum(2) <= 0) & (picture.sum(2) > 0)
    return np.where(empty[..., None], picture, np.maximum(out, 0)).astype(np.float32)
