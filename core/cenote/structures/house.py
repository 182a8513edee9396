"""A small brick house with a tiled roof."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import block, box, prism, tube, turned
from ..geometry.mesh import Mesh, join, placement_matrix
from ..parameters import count, quantity, switch
from .base import MAKERS, Maker, framed, wall_panel

_WALL = 0.32


@MAKERS.register
class House(Maker):
    """Brick walls on a stone plinth, a pitched tiled roof, a door and sash windows, a chimney."""

    kind: Literal["house"] = "house"
    title: ClassVar[str] = "House"
    width: float = quantity(7.2, low=3, high=30, unit="m", step=0.1, help="Length of the front.")
    depth: float = quantity(5.2, low=3, high=20, unit="m", step=0.1, help="From front to back.")
    wall_height: float = quantity(3.0, low=2.2, high=8, unit="m", step=0.1, help="From the plinth to the eaves.")
    pitch: float = quantity(42, low=10, high=65, unit="°", step=1, help="How steep the roof is.")
    eaves: float = quantity(
        0.35, low=0, high=1, unit="m", step=0.05, help="How far the roof stands out over the walls."
    )
    windows: int = count(2, low=0, high=6, help="Windows on the front, beside the door.")
    chimney: bool = switch(True, help="Whether there is a chimney.")

    def build(self) -> Mesh:
        w, d, h, plinth = self.width, self.depth, self.wall_height, 0.35
        parts: list[Mesh] = [box((-w / 2 - 0.06, -0.5, -d / 2 - 0.06), (w / 2 + 0.06, plinth, d / 2 + 0.06), "ashlar")]

        def facade(
            length: float, turn: float, away: float, openings: list[tuple[float, float, float, float, str]]
        ) -> None:
            matrix = placement_matrix((0, plinth, 0), turn)
            holes = [o[:4] for o in openings]
            pieces = [wall_panel(length, h, _WALL, holes, "brick").at(-length / 2, 0, away)]
            for left, bottom, right, top, filling in openings:
                pieces += [m.at(-length / 2, 0, away) for m in framed(left, bottom, right, top, 0.11, filling)]
                sill = (left - 0.09, bottom - 0.1, -0.2), (right + 0.09, bottom, 0.07)
                lintel = (left - 0.14, top, -0.2), (right + 0.14, top + 0.2, 0.018)
                pieces += [
                    box(*b, "ashlar").at(-length / 2, 0, away) for b in ((sill, lintel) if bottom > 0.2 else (lintel,))
                ]
            parts.extend(m.moved(matrix) for m in pieces)

        front: list[tuple[float, float, float, float, str]] = [(w * 0.5 - 0.48, 0.0, w * 0.5 + 0.48, 2.1, "timber")]
        slots = [(-1) ** k * (1 + k // 2) for k in range(self.windows)]
        reach = max((abs(s) for s in slots), default=1)
        for slot in slots:
            x = w * 0.5 + np.sign(slot) * (0.48 + (w / 2 - 0.48) * (abs(slot) - 0.5) / reach)
            half = min(0.5, (w / 2 - 0.7) / reach / 2 - 0.12)
            if half > 0.2:
                front.append((x - half, 0.85, x + half, 2.15, "pane"))
        facade(w, 0, d / 2, front)
        facade(
            w,
            180,
            d / 2,
            [
                (w * 0.3 - 0.45, 0.85, w * 0.3 + 0.45, 2.15, "pane"),
                (w * 0.72 - 0.45, 0.85, w * 0.72 + 0.45, 2.15, "pane"),
            ],
        )
        inner = d - 2 * _WALL
        facade(inner, 90, w / 2, [(inner / 2 - 0.45, 0.85, inner / 2 + 0.45, 2.15, "pane")])
        facade(inner, 270, w / 2, [])
        parts += self._roof(plinth + h)
        parts.append(block((0, -0.3, d / 2 + 0.4), (1.5, 0.3 + plinth - 0.17, 0.75), "rock"))
        return join(parts)

    def _roof(self, top: float) -> list[Mesh]:
        w, d = self.width, self.depth
        slope = np.tan(np.radians(self.pitch))
        rise = d / 2 * slope
        out = []
        for end in (-1, 1):
            gable = prism([(-d / 2, 0), (d / 2, 0), (0, rise)], _WALL, "brick")
            out.append(gable.moved(placement_matrix((end * (w / 2 - _WALL / 2), top, 0), 90)))
        run, drop = d / 2 + self.eaves, self.eaves * slope
        thick, over = 0.13, 0.22
        for side in (-1, 1):
            outline = [(0, rise), (0, rise + thick), (-run, -drop + thick), (-run, -drop)]
            slab = prism(outline, w + 2 * over, "roof_tile")
            out.append(slab.moved(placement_matrix((0, top, 0), 90 * side)))
            gutter_z = side * (run + 0.05)
            ends = np.array([[-w / 2 - over, top - drop, gutter_z], [w / 2 + over, top - drop - 0.03, gutter_z]])
            out.append(tube(ends, [0.055, 0.055], 8, "iron"))
        pipe = np.array(
            [
                [w / 2 - 0.1, top - drop - 0.02, run + 0.05],
                [w / 2 - 0.1, top - drop - 0.35, d / 2 + 0.1],
                [w / 2 - 0.1, 0.1, d / 2 + 0.1],
            ]
        )
        out.append(tube(pipe, [0.04, 0.04, 0.04], 8, "iron"))
        ridge = [turned([(0.12, 0), (0.125, 0.38)], 8, "roof_tile") for _ in range(int((w + 2 * over) / 0.37))]
        lying = np.array([[0, 1, 0, 0], [-1, 0, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1.0]])
        for k, piece in enumerate(ridge):
            out.append(piece.moved(lying).at(-w / 2 - over + k * 0.37 + 0.01, top + rise + thick * 0.9, 0))
        if self.chimney:
            x = -w / 2 + 0.75
            out.append(box((x - 0.38, top + rise * 0.3, -0.3), (x + 0.38, top + rise + 0.95, 0.3), "brick"))
            out.append(box((x - 0.45, top + rise + 0.95, -0.37), (x + 0.45, top + rise + 1.05, 0.37), "ashlar"))
            for dx in (-0.17, 0.17):
                pot = turned([(0.11, 0), (0.09, 0.32), (0.12, 0.36)], 10, "roof_tile")
                out.append(pot.at(x + dx, top + rise + 1.05, 0))
        return out
