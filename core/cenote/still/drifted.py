"""What falls, floats and burns before a still: each drop, flake, leaf, ember and flame where the view has it, behind what is nearer."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numba import njit

from ..derive.shelter import Sheltered
from ..geometry.camera import Camera
from ..light.drifting import Drift
from ..light.flames import LONG, Sprites
from .scene import LensBlur
from .tracing import Picture

# At most so many of a kind are drawn; the rest is thinner than a pixel, and part of the haze.
_MOST = 1_500_000
# Nearer than this, metres, nothing is drawn; and the width that the narrowest is drawn with, pixels.
_NEAREST, _NARROWEST = 0.3, 1.2
# How far through its sway and its turn one is, by its own number.
_PHASES = (40.0, 70.0, 100.0)


def drifted(
    drifts: Sequence[Drift], shelter: Sheltered, camera: Camera, picture: Picture, depth: np.ndarray, blur: LensBlur, moment: float
) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
    """What is left of a picture's light behind what drifts, float32 (h, w), and what that sends itself, float32 (h, w, 3).

    :param depth: metres along the rays of a picture's window, float32 (h, w), infinite where there is nothing. :param moment: of the wind, seconds.
    """
    kept = np.ones(depth.shape, np.float32)
    sent = np.zeros((*depth.shape, 3), np.float32)
    for drift in drifts:
        seeds = drift.seeds(_MOST)
        heads = _places(drift, seeds, camera, shelter.source, moment)
        size = drift.wide * (0.6 + 0.8 * seeds[:, 3])
        away = np.linalg.norm(heads - camera.eye, axis=1)
        free = away > _NEAREST
        if drift.sheltered:
            free &= _falls_freely(heads, shelter)
        # The farthest first: the nearer ones lie over them.
        order = np.argsort(-away)
        order = order[free[order]]
        tails = heads - drift.velocity(shelter.source) * drift.shutter
        facing = np.cos(2 * np.pi * drift.turns * moment * (0.5 + seeds[:, 3]) + seeds[:, 3] * _PHASES[2])
        shape = np.column_stack(
            [
                size * np.where(drift.turns > 0, np.maximum(np.abs(facing), 0.2), 1),
                size * drift.long,
                seeds[:, 3] * _PHASES[1],
            ]
        )
        colours = np.asarray(drift.colours, np.float64)[(seeds[:, 3] * 997).astype(int) % len(drift.colours)]
        ends = np.stack([heads, tails], axis=1)
        hides = np.full(len(seeds), drift.hides)
        _paint((ends, shape, colours, away, hides), order, drift.turns > 0, camera, picture, blur, depth, kept, sent)
    return kept, sent


def burning(
    flames: Sequence[Sprites], camera: Camera, picture: Picture, depth: np.ndarray, blur: LensBlur
) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
    """As :func:`drifted`, for flames."""
    kept = np.ones(depth.shape, np.float32)
    sent = np.zeros((*depth.shape, 3), np.float32)
    for flame in flames:
        away = np.linalg.norm(flame.places - camera.eye, axis=1)
        shape = np.column_stack([flame.wide, flame.wide * LONG, np.full(len(away), np.pi / 2)])
        ends = np.stack([flame.places, flame.places], axis=1)
        sprites = (ends, shape, flame.colours, away, flame.hides)
        _paint(sprites, np.argsort(-away), False, camera, picture, blur, depth, kept, sent)
    return kept, sent


def _paint(
    sprites: tuple[np.ndarray, ...], order: np.ndarray, tumbles: bool, camera: Camera, picture: Picture, blur: LensBlur,
    depth: np.ndarray, kept: np.ndarray, sent: np.ndarray,
) -> None:  # fmt: skip
    """Draw sprites in an order, the farthest first. :param sprites: both ends of their streaks, float64 (N, 2, 3); their shapes (N, 3), colours (N, 3), how far
    away they are and how much they hide (N,)."""
    ends, *others = (one[order] for one in sprites)
    first, _, top, _ = picture.window
    at = _seen(ends.reshape(-1, 3), camera, picture).reshape(ends.shape) - (first, top, 0)
    shapes, colours, away, hides = others
    a_pixel = picture.width / (2 * camera.width)
    lens = (2 * blur.radius * a_pixel, blur.focus)
    _draw(at, shapes, colours, away, tumbles, hides, a_pixel, lens, depth, kept, sent)


def _places(drift: Drift, seeds: np.ndarray, camera: Camera, source: np.ndarray, moment: float) -> np.ndarray:
    """Where they are, float64 (N, 3): what leaves the cube before the eye on one side comes in again on the other."""
    corner = camera.eye + camera.ahead * 0.45 * drift.about - drift.about / 2
    places = corner + np.mod(seeds[:, :3] * drift.about + drift.velocity(source) * moment - corner, drift.about)
    places[:, 0] += drift.sways * np.sin(moment * 1.7 + seeds[:, 3] * _PHASES[0])
    places[:, 2] += drift.sways * np.cos(moment * 1.3 + seeds[:, 3] * _PHASES[1])
    return places


def _falls_freely(places: np.ndarray, shelter: Sheltered) -> np.ndarray:
    x, y, z = np.asarray(shelter.source, float)
    at = places[:, [0, 2]] - np.array([x, z]) / y * places[:, 1:2]
    column, row = np.round((at - shelter.low) / shelter.cell).astype(int).T
    rows, columns = shelter.tops.shape
    known = (column >= 0) & (row >= 0) & (column < columns) & (row < rows)
    tops = shelter.tops[np.clip(row, 0, rows - 1), np.clip(column, 0, columns - 1)]
    return np.asarray(~known | (places[:, 1] > tops))


def _seen(places: np.ndarray, camera: Camera, picture: Picture) -> np.ndarray:
    """Column and row, and metres straight ahead: float64 (N, 3)."""
    away = places - camera.eye
    ahead = away @ camera.ahead
    right, up = away @ np.cross(camera.ahead, camera.up), away @ camera.up
    with np.errstate(divide="ignore", invalid="ignore"):
        x = (right / ahead / camera.width + 1) / 2 * picture.width
        y = (1 - (up / ahead - camera.shift) / camera.height) / 2 * picture.height
    return np.column_stack([x, y, ahead])


@njit(cache=True, nogil=True)
def _draw(ends, shapes, colours, away, tumbles, hides, a_pixel, lens, depth, kept, sent):  # type: ignore
    rows, columns = depth.shape
    for i in range(len(ends)):
        head, tail = ends[i, 0], ends[i, 1]
        if head[2] < _NEAREST or tail[2] < _NEAREST:
            continue
        # What is out of focus is spread over as wide a disc more.
        spread = lens[0] * abs(1 / head[2] - 1 / lens[1])
        wide = shapes[i, 0] * a_pixel / head[2]
        dx, dy = head[0] - tail[0], head[1] - tail[1]
        streak = np.sqrt(dx * dx + dy * dy)
        if tumbles:
            dx, dy = np.cos(shapes[i, 2]), np.sin(shapes[i, 2])
        elif streak > 0.01:
            dx, dy = dx / streak, dy / streak
        else:
            dx, dy = 0.0, 1.0
        long = shapes[i, 1] * a_pixel / head[2] + streak
        across, along = max(wide + spread, _NARROWEST), max(long + spread, _NARROWEST)
        cover = hides[i] * min(wide / across, 1.0) * min(long / along, 1.0)
        x, y = (head[0] + tail[0]) / 2, (head[1] + tail[1]) / 2
        reach = (across + along) / 2 + 1
        left, right = max(int(x - reach), 0), min(int(x + reach) + 1, columns)
        top, bottom = max(int(y - reach), 0), min(int(y + reach) + 1, rows)
        pointed = tumbles and spread < wide
        for row in range(top, bottom):
            for column in range(left, right):
                if depth[row, column] < away[i]:
                    continue
                u = ((column + 0.5 - x) * dx + (row + 0.5 - y) * dy) * 2 / along
                v = ((row + 0.5 - y) * dx - (column + 0.5 - x) * dy) * 2 / across
                if abs(u) >= 1:
                    continue
                if pointed:
                    # A leaf's outline, a pixel soft.
                    share = min(max((1 - u * u - abs(v)) * across / 2 + 0.5, 0.0), 1.0)
                else:
                    far = np.sqrt(v * v + 0.81 * u * u)
                    ease = min(max((far - 0.4) / 0.6, 0.0), 1.0)
                    share = 1 - ease * ease * (3 - 2 * ease)
                share *= cover
                kept[row, column] *= 1 - share
                for k in range(3):
                    sent[row, column, k] = sent[row, column, k] * (1 - share) + colours[i, k] * share
