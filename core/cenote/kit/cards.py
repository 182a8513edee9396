"""Pictures of leaves, twigs and flowers, drawn by numbers: what cards are cut out of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .base import Dice

Colour = tuple[float, float, float]


@dataclass(frozen=True)
class LeafShape:
    """The outline and face of a leaf.

    :ivar width: greatest full width, against its length.
    :ivar widest: where it is widest, from 0 at the stalk to 1 at the tip.
    :ivar tip: how pointed it ends: 1 is round, 2 comes to a point.
    :ivar teeth: number of teeth along an edge. :ivar depth: how deep they are, as a share of the width.
    :ivar lobes: number of lobes a side. :ivar veins: pairs of side veins.
    """

    width: float = 0.5
    widest: float = 0.45
    tip: float = 1.3
    teeth: int = 0
    depth: float = 0.1
    lobes: int = 0
    veins: int = 7

    def half(self, t: np.ndarray) -> np.ndarray:
        """Half width at places ``t`` along the leaf, float (N,) in [0, 1], against its length: float (N,)."""
        power = np.log(0.5) / np.log(self.widest)
        body = np.sin(np.pi * np.clip(t, 0, 1) ** power) ** np.where(t < self.widest, 0.8, self.tip)
        edge = np.ones_like(t)
        if self.teeth:
            edge = edge - self.depth * ((t * self.teeth) % 1)
        if self.lobes:
            edge = edge * (0.62 + 0.38 * np.abs(np.cos(np.pi * t * self.lobes)))
        return 0.5 * self.width * body * edge


def blank(height: int, width: int) -> np.ndarray:
    """An empty card, float32 (height, width, 4)."""
    return np.zeros((height, width, 4), np.float32)


def paint(card: np.ndarray, rows: slice, columns: slice, colour: np.ndarray, alpha: np.ndarray) -> None:
    """Lay a colour over a window of a card.

    :param card: float (h, w, 4), linear colour and alpha, changed in place. :param rows, columns: the window.
    :param colour: float (…, 3), linear. :param alpha: float (rows, columns) in [0, 1].
    """
    window = card[rows, columns]
    window[..., :3] += alpha[..., None] * (colour - window[..., :3])
    window[..., 3] += alpha * (1 - window[..., 3])


def leaf(
    card: np.ndarray, root: tuple[float, float], angle: float, length: float, shape: LeafShape,
    dark: Colour, light: Colour, tone: float = 1.0,
) -> None:  # fmt: skip
    """Draw a leaf.

    :param card: float (h, w, 4), linear colour and alpha, changed in place.
    :param root: where its stalk is, x and y in pixels, y downwards.
    :param angle: the way it points, radians; 0 is to the right, a quarter turn upwards.
    :param length: in pixels.
    """
    height, width = card.shape[:2]
    reach = length * 1.05
    x0, x1 = int(max(0, root[0] - reach)), int(min(width, root[0] + reach + 1))
    y0, y1 = int(max(0, root[1] - reach)), int(min(height, root[1] + reach + 1))
    if x0 >= x1 or y0 >= y1:
        return
    y, x = np.mgrid[y0:y1, x0:x1]
    dx, dy = x + 0.5 - root[0], -(y + 0.5 - root[1])
    t = (dx * np.cos(angle) + dy * np.sin(angle)) / length
    s = (-dx * np.sin(angle) + dy * np.cos(angle)) / length
    half = np.where((t > 0) & (t < 1), shape.half(t), 0)
    alpha = np.clip((half - np.abs(s)) * length + 0.5, 0, 1) * ((t > 0) & (t < 1))
    rib = np.exp(-((np.abs(s) * length / 1.4) ** 2))
    vein = np.abs(((t - np.abs(s) * 0.75) * shape.veins) % 1 - 0.5) < 0.07
    lit = np.clip(0.34 + 0.30 * (s > 0) + 0.25 * t + 0.12 * np.sin(t * 9 + s * 14), 0, 1)
    colour = np.asarray(dark) + (np.asarray(light) - np.asarray(dark)) * lit[..., None]
    colour = colour * (1 + 0.55 * rib + 0.22 * vein)[..., None] * tone
    paint(card, slice(y0, y1), slice(x0, x1), colour, alpha.astype(np.float32))


def stem(card: np.ndarray, points: list[tuple[float, float]], width: tuple[float, float], colour: Colour) -> None:
    """Draw a stem through points in pixels on a card (h, w, 4), tapering from one width to another."""
    height, wide = card.shape[:2]
    way = np.array(points, float)
    for k in range(len(way) - 1):
        a, b = way[k], way[k + 1]
        pad = max(width) + 2
        x0, x1 = int(max(0, min(a[0], b[0]) - pad)), int(min(wide, max(a[0], b[0]) + pad))
        y0, y1 = int(max(0, min(a[1], b[1]) - pad)), int(min(height, max(a[1], b[1]) + pad))
        if x0 >= x1 or y0 >= y1:
            continue
        y, x = np.mgrid[y0:y1, x0:x1] + 0.5
        d = b - a
        t = np.clip(((x - a[0]) * d[0] + (y - a[1]) * d[1]) / max(d @ d, 1e-9), 0, 1)
        away = np.hypot(x - a[0] - t * d[0], y - a[1] - t * d[1])
        share = (k + t) / (len(way) - 1)
        half = (width[0] + (width[1] - width[0]) * share) / 2
        alpha = np.clip(half - away + 0.5, 0, 1).astype(np.float32)
        shade = np.asarray(colour) * (0.75 + 0.5 * np.clip(1 - away / np.maximum(half, 0.5), 0, 1))[..., None]
        paint(card, slice(y0, y1), slice(x0, x1), shade, alpha)


def twig(
    card: np.ndarray, box: tuple[int, int, int, int], dice: Dice, shape: LeafShape, size: float, count: int,
    dark: Colour, light: Colour, wood: Colour,
) -> None:  # fmt: skip
    """Fill a cell of a card (h, w, 4) with a leafy twig that grows from the middle of its lower edge.

    :param box: left, top, right, bottom in pixels. :param size: length of a leaf, against the cell's height.
    """
    left, top, right, bottom = box
    tall, middle = bottom - top, (left + right) / 2
    sprigs: list[tuple[np.ndarray, float]] = []
    for k in range(5):
        lean = (k - 2) * 0.36 + dice.one(-0.12, 0.12)
        reach = tall * (0.86 - 0.11 * abs(k - 2)) * dice.one(0.88, 1.0)
        t = np.linspace(0, 1, 7)
        bend = lean * (0.45 + 0.75 * t)
        path = np.column_stack([middle + np.sin(bend) * reach * t, bottom - np.cos(bend) * reach * t])
        stem(card, [(float(x), float(y)) for x, y in path], (tall * 0.018, tall * 0.006), wood)
        sprigs.append((path, lean))
    spots = [(path, lean, share) for path, lean in sprigs for share in np.linspace(0.22, 1, count)]
    # Leaves nearer to the root are laid over those behind them in no particular order.
    for k in np.argsort(dice.many(len(spots))):
        path, lean, share = spots[k]
        at = path[min(int(share * 6), 5)] + (path[min(int(share * 6) + 1, 6)] - path[min(int(share * 6), 5)]) * (
            share * 6 - min(int(share * 6), 5)
        )
        way = np.pi / 2 - lean * 1.2 + (dice.one(0.35, 1.2) if k % 2 else -dice.one(0.35, 1.2)) * (1.15 - 0.7 * share)
        length = tall * size * dice.one(0.75, 1.1)
        leaf(card, (float(at[0]), float(at[1])), way, length, shape, dark, light, dice.one(0.7, 1.25))


def finished(card: np.ndarray) -> np.ndarray:
    """The card, float32 (h, w, 4), with the colour of its shapes spread into its empty parts, so that edges have no dark rim."""
    colour, alpha = card[..., :3] * card[..., 3:], card[..., 3:]
    out = card.copy()
    known = alpha.copy()
    # From fine to coarse averages: the first that has any colour near by gives it.
    for step in (2, 4, 8, 16, 32, 64):
        height, width = card.shape[0] // step, card.shape[1] // step
        weight = alpha.reshape(height, step, width, step, 1).mean((1, 3))
        mean = colour.reshape(height, step, width, step, 3).mean((1, 3)) / np.maximum(weight, 1e-4)
        mean, weight = (v.repeat(step, 0).repeat(step, 1) for v in (mean, weight))
        fill = (known < 0.02) & (weight > 0.01)
        out[..., :3] = np.where(fill, mean, out[..., :3])
        known = np.maximum(known, fill)
    return np.clip(out, 0, 1).astype(np.float32)
