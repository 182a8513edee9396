"""Cow parsley."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, blend, ribbon
from .cards import LeafShape, blank, finished, leaf, stem

# Where the leaf and the umbellet lie on the card: left, top, right, bottom.
_LEAF, _UMBELLET = (0.0, 0.0, 0.66, 1.0), (0.67, 0.0, 1.0, 0.333)
_STALK = ((0.055, 0.075, 0.02), (0.11, 0.145, 0.05))


@KIT.register
class CowParsley(KitItem):
    """Cow parsley: ribbed stalks that fork, each with a compound umbel of white, over leaves cut as finely as a fern's."""

    kind: Literal["cow_parsley"] = "cow_parsley"
    title: ClassVar[str] = "Cow parsley"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("flower", "umbel", "hedge", "meadow", "medium")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 12.0
    seasons: ClassVar[Seasons] = ((0.95, 1.15, 0.85), (1.0, 1.0, 1.0), (1.7, 1.2, 0.85), (2.3, 1.25, 0.85))

    def card(self) -> np.ndarray:
        card = blank(384, 384)
        self._draw_leaf(card)
        self._draw_umbellet(card)
        return finished(card)

    def _draw_leaf(self, card: np.ndarray) -> None:
        # Twice pinnate: side stalks, each with leaflets of its own that are toothed.
        shape = LeafShape(0.42, 0.4, 1.5, teeth=5, depth=0.5, veins=3)
        dark, light = (0.022, 0.050, 0.012), (0.085, 0.150, 0.034)
        stem(card, [(126, 383), (126, 20)], (4.5, 1.2), (0.10, 0.13, 0.045))
        for k, share in enumerate(np.linspace(0.16, 0.97, 11)):
            reach = 112 * np.sin(np.pi * np.clip(0.2 + share * 0.78, 0, 1)) ** 0.8 + 6
            for side in (-1, 1):
                up = 0.55 + 0.35 * share
                root = np.array([126.0, 383 - 370 * share])
                end = root + reach * np.array([side * np.cos(up), -np.sin(up)])
                stem(card, [tuple(root), tuple(end)], (2.2, 0.8), (0.09, 0.12, 0.04))  # type: ignore[list-item]
                for j, part in enumerate(np.linspace(0.25, 1, 6)):
                    at = root + (end - root) * part
                    small = reach * 0.3 * (1.15 - 0.75 * part) + 3
                    tone = 0.82 + 0.36 * ((k * 31 + j * 17) % 11) / 11
                    angle = up if side > 0 else np.pi - up
                    for turn in (-0.75, 0.75) if part < 1 else (0.0,):
                        leaf(card, (float(at[0]), float(at[1])), angle + turn, small, shape, dark, light, tone)

    def _draw_umbellet(self, card: np.ndarray) -> None:
        # A head of small flowers, each of five petals, seen from above.
        middle, reach = np.array([320.0, 64.0]), 56.0
        petal = LeafShape(0.8, 0.62, 0.7, veins=0)
        spots = [(0.0, 0.0)] + [
            (ring * reach * np.cos(turn), ring * reach * np.sin(turn))
            for ring, count in ((0.42, 6), (0.82, 12))
            for turn in np.arange(count) * 2 * np.pi / count + ring
        ]
        for x, y in spots:
            stem(card, [(320, 64), (320 + x, 64 + y)], (1.6, 1.2), (0.16, 0.19, 0.07))
        for k, (x, y) in enumerate(spots):
            for turn in np.arange(5) * 2 * np.pi / 5 + k:
                leaf(card, (middle[0] + x, middle[1] + y), turn, 17, petal, (0.56, 0.57, 0.51), (0.76, 0.76, 0.70), 1.0)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((3 + variant % 2, 3, 2)[detail]):
            turn = dice.one(0, 2 * np.pi)
            foot, tall = along_y(turn) * dice.one(0, 0.06), dice.one(0.55, 1.05)
            lean = along_y(turn) * dice.one(0.05, 0.18)
            t = np.linspace(0, 1, (5, 3, 2)[detail])
            path = foot + lean * (t**2)[:, None] + np.array([0, tall, 0]) * t[:, None]
            wide = np.interp(t, [0, 1], [0.0075, 0.0032]) * (1, 1.4, 2.2)[detail]
            # Two strips that cross, so that no stalk is lost from where it is seen by its edge.
            for across in (0.0, 1.57)[: (2, 2, 1)[detail]]:
                out.append(ribbon(path, wide, along_y(turn + 1.57 + across), blend(*_STALK, t), "stalk"))
            out.append(self._umbel(path[-1], along_y(turn) * 0.25 + [0, 1, 0], dice.one(0.055, 0.085), dice, detail))
            # It forks, twice as a rule; what comes later stands a little lower and is smaller.
            for level in (0.55, 0.75) if detail < 2 else ():
                way = along_y(dice.one(0, 2 * np.pi))
                root = foot + lean * level**2 + np.array([0, tall * level, 0])
                reach = tall * (1 - level) * dice.one(0.75, 1.0)
                end = root + way * reach * 0.55 + np.array([0, reach * 0.85, 0])
                branch = root + (end - root) * np.array([0, 0.5, 1])[:, None] + way * np.array([0, 0.03, 0])[:, None]
                tone = blend(*_STALK, np.array([0.4, 0.7, 1]))
                for across in (0.0, 1.57):
                    out.append(
                        ribbon(branch, np.array([0.0045, 0.0036, 0.0026]), along_y(turn + across), tone, "stalk")
                    )
                out.append(self._umbel(end, way * 0.35 + [0, 1, 0], dice.one(0.035, 0.055), dice, detail))
        for _ in range((9, 6, 4)[detail]):
            way, reach = along_y(dice.one(0, 2 * np.pi)), dice.one(0.22, 0.42)
            u = np.linspace(0, 1, (5, 3, 2)[detail])
            path = way * (0.02 + reach * u)[:, None] + [0, 1, 0] * (reach * (0.95 * u - 0.75 * u**2))[:, None]
            side = np.array([-way[2], dice.one(-0.25, 0.25), way[0]])
            shade = np.tile(np.ones(3) * dice.one(0.75, 1.2), (len(u), 1)) * (0.6 + 0.4 * u)[:, None]
            out.append(ribbon(path, np.full(len(u), reach * 0.66), side, shade, CARD, _LEAF))
        return join(out)

    def _umbel(self, at: np.ndarray, up: np.ndarray, wide: float, dice: Dice, detail: int) -> Mesh:
        """Rays from one point, each with a small umbel at its end; all of them make a shallow dome."""
        up = np.asarray(up, float) / np.linalg.norm(up)
        right = np.cross(up, [0.3, 0.1, 1.0])
        right /= np.linalg.norm(right)
        ahead = np.cross(right, up)
        rays = (13, 8, 1)[detail]
        out = []
        for k in range(rays):
            # The golden angle spreads them evenly over the dome (Vogel, "A better way to construct the sunflower head", 1979).
            share, turn = np.sqrt((k + 0.5) / rays), k * 2.39996 + dice.one(-0.2, 0.2)
            out_by = wide * share if rays > 1 else 0.0
            way = right * np.cos(turn) + ahead * np.sin(turn)
            end = at + way * out_by + up * wide * (0.9 - 0.42 * share**2)
            if detail < 2:
                path = np.stack([at, end])
                out.append(
                    ribbon(
                        path,
                        np.array([0.0016, 0.0012]) * (1 + detail),
                        np.cross(up, way),
                        blend(*_STALK, np.array([0.5, 1.0])),
                        "ray",
                    )
                )
            tip = up + way * 0.55 * share
            tip /= np.linalg.norm(tip)
            a = np.cross(tip, [0.2, 0.3, 1.0])
            a /= np.linalg.norm(a)
            b = np.cross(tip, a)
            half = wide * (0.42, 0.52, 1.3)[detail] * dice.one(0.85, 1.15)
            corners = end + half * np.array([-a - b, a - b, -a + b, a + b])
            left, top, right_, bottom = _UMBELLET
            uv = [(left, top), (right_, top), (left, bottom), (right_, bottom)]
            out.append(Mesh.of(corners, [[0, 1, 2], [1, 3, 2]], CARD, np.full((4, 3), dice.one(0.85, 1.1)), uv))
        return join(out)
