"""Covers on placed items: how much of each face a cover takes, by how far it looks up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .soaking import wet_share

# How much darker soaking makes what a placed item is made of: one number for all that its own textures hold.
_SOAKED = np.float32(1 - wet_share(np.float32(0.2)))


@dataclass(frozen=True)
class Coat:
    """A cover as placed items have it, in the site's climate.

    :ivar cover: id of the cover's layer.
    :ivar strength: factor on an item's mask, at least 0.
    :ivar colour: linear, (3,). :ivar opacity: in [0, 1]. :ivar soak: in [0, 1], how far it darkens.
    :ivar above: 1 where it lies on what faces up alone, 0 where it is all over.
    """

    cover: str
    strength: float
    colour: tuple[float, float, float]
    opacity: float
    soak: float
    above: float


def amounts(masks: np.ndarray, coats: Sequence[Coat]) -> np.ndarray:
    """How much of each coat items have: masks uint8 (N, at least K) to float32 (N, K) in [0, 1]."""
    strengths = np.array([coat.strength for coat in coats], np.float32)
    return np.minimum(masks[:, : len(coats)].astype(np.float32) / 255 * strengths, 1)


def share(amount: np.ndarray, up: np.ndarray, coat: Coat) -> np.ndarray:
    """The share of a surface that a coat takes: the more there is, the further it comes down from the top.

    The page's shader has the same numbers (``coats.ts``).

    :param amount: float (N,) in [0, 1]. :param up: how far the surface looks up, the upright part of its normal, float
        (N,) in [-1, 1].
    :returns: float (N,) in [0, 1].
    """
    low, high = 0.75 - amount, 1.15 - 0.9 * amount
    t = np.clip((up - low) / (high - low), 0, 1)
    over = t * t * (3 - 2 * t)
    return np.asarray(amount * (1 + coat.above * (over - 1)), np.float32)


def laid(
    colours: np.ndarray, up: np.ndarray, amounts: np.ndarray, coats: Sequence[Coat]
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Colours with coats laid over them, for copies of an item.

    :param colours: linear, float32 (R, N, 3). :param up: float32 (R, N). :param amounts: float32 (R, K).
    :returns: the colours; how much of what was there is hidden, float32 (R, N) in [0, 1]; and how much darker soaking
        alone makes it, a factor float32 (R, N).
    """
    out = np.array(colours, np.float32)
    seen, wet = np.ones(up.shape, np.float32), np.ones(up.shape, np.float32)
    for k, coat in enumerate(coats):
        taken = share(amounts[:, k, None], up, coat)
        darker = 1 - _SOAKED * coat.soak * taken
        hides = taken * coat.opacity
        wet *= darker
        out *= (darker * (1 - hides))[..., None]
        out += np.array(coat.colour, np.float32) * hides[..., None]
        seen *= 1 - hides
    return out, 1 - seen, wet
