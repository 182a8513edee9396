"""Blades as ribbons of triangles, for stills and files."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..scatter.wind import Sway
from .blades import Blades
from .layer import Grass
from .shapes import POINTS, blade_shapes

# Points along a blade that are drawn: all of them, and few of what is far away.
ALL_POINTS, FEW_POINTS = list(range(POINTS)), [0, POINTS // 2, POINTS - 1]
# How much the surface's own normal counts against where a blade leans: grass is lit as the meadow lies.
_AROUND = 0.3


@dataclass(frozen=True)
class Ribbons:
    """Blades as triangles.

    :ivar positions, normals, colours: float32 (V, 3), colours linear. :ivar faces: int32 (F, 3).
    """

    positions: np.ndarray
    normals: np.ndarray
    colours: np.ndarray
    faces: np.ndarray


def standing_for_all(blades: Blades, eyes: np.ndarray, whole: float) -> tuple[np.ndarray, np.ndarray]:
    """Which blades stand for all as seen from some places, and how wide: fewer and wider ones farther away.

    Stochastic simplification (Cook, Halstead, Planck and Ryu, "Stochastic simplification of aggregate detail", 2007): a share
    that falls with distance is left, and those are as much wider.

    :param eyes: float (E, 3). :param whole: up to how far away all of them are drawn, metres.
    :returns: bool (N,), which are left; float32 (N,), how many times as wide each is.
    """
    away = np.min([np.linalg.norm(blades.positions - eye, axis=1) for eye in np.atleast_2d(eyes)], axis=0)
    share = np.minimum(1, whole / np.maximum(away, 1e-6))
    return blades.ranks < share, (1 / share).astype(np.float32)


def ribbons(
    layer: Grass,
    blades: Blades,
    season: np.ndarray,
    wide: np.ndarray | float = 1.0,
    sway: Sway | None = None,
    points: Sequence[int] = ALL_POINTS,
) -> Ribbons:
    """Blades as ribbons that stand across the way they lean.

    :param points: those of :data:`cenote.grass.shapes.POINTS` that are drawn, from root to tip.
    :param season: float (3,), factor on the colour of what lives. :param wide: factors on their widths, (N,) or for all.
    :param sway: what the wind does to them; of height 1, as each blade is as large as it is long.
    """
    curve = blade_shapes(layer)[:, points][blades.shapes].astype(np.float64)
    count = len(blades)
    ahead = np.column_stack([np.sin(blades.turns), np.zeros(count), np.cos(blades.turns)]).astype(np.float64)
    aside = np.column_stack([ahead[:, 2], np.zeros(count), -ahead[:, 0]])
    path = ahead[:, None] * curve[..., :1] + np.array([0, 1.0, 0]) * curve[..., 1:2]
    path = path * blades.lengths[:, None, None]
    if sway is not None:
        path = sway.vertices(path, blades.positions.astype(np.float64), blades.lengths.astype(np.float64))
    half = (curve[..., 2] * np.broadcast_to(wide, (count,))[:, None])[..., None] * aside[:, None]
    middle = path + blades.positions[:, None]
    positions = np.stack([middle - half, middle + half], axis=2).reshape(-1, 3)
    normals = blades.normals + _AROUND * ahead
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    along = np.linspace(0, 1, POINTS)[points, None]
    root, tip = np.array(layer.root_colour), np.array(layer.tip_colour)
    shade = (root + (tip - root) * along) * season
    gone = shade * 0.3 + np.array(layer.dead_colour) * (0.35 + 0.35 * along)
    colours = np.where(blades.dead[:, None, None], gone, shade) * blades.tones[:, None, None]
    step = np.arange(len(points) - 1)[:, None] * 2
    quads = (step + np.array([0, 1, 3, 0, 3, 2])).reshape(-1, 3)
    faces = (np.arange(count)[:, None, None] * 2 * len(points) + quads).reshape(-1, 3)
    repeat = 2 * len(points)
    return Ribbons(
        positions.astype(np.float32),
        np.repeat(normals, repeat, axis=0).astype(np.float32),
        np.repeat(colours, 2, axis=1).reshape(-1, 3).clip(0, 1).astype(np.float32),
        faces.astype(np.int32),
    )
