"""Winches."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import tube, turned
from ..geometry.mesh import Mesh, join, placement_matrix
from .base import KIT, Group, KitItem
from .wood import worn_box


@KIT.register
class HandWinch(KitItem):
    """A hand winch: two cheeks, a rope drum, a toothed wheel and a crank."""

    kind: Literal["hand_winch"] = "hand_winch"
    title: ClassVar[str] = "Hand winch"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("winch", "iron", "gear", "prop", "medium")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        sides, teeth = (28, 14, 8)[detail], (26, 13, 0)[detail]
        lying = np.array([[0, 1.0, 0, 0], [-1, 0, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]])
        y = 0.52
        parts = [worn_box((-0.42, -0.1, -0.26), (0.42, 0.03, 0.26), 0.012, "rock")]
        for x in (-0.3, 0.3):
            cheek = [(-0.22, 0.03), (0.22, 0.03), (0.1, 0.6), (0.05, 0.66), (-0.05, 0.66), (-0.1, 0.6)]
            flat = np.array(cheek)
            n = len(flat)
            positions = np.concatenate(
                [np.column_stack([np.full(n, x + s * 0.016), flat[:, 1], flat[:, 0]]) for s in (-1, 1)]
            )
            faces = [[0, k + 1, k] for k in range(1, n - 1)] + [[n, n + k, n + k + 1] for k in range(1, n - 1)]
            faces += [f for k in range(n) for m in [(k + 1) % n] for f in ([k, m, n + m], [k, n + m, n + k])]
            parts.append(Mesh.of(positions, [f[::-1] for f in faces], "iron"))
        parts.append(turned([(0.11, -0.27), (0.11, 0.27)], sides, "planed_timber").moved(lying).at(0, y, 0))
        for x in (-0.27, 0.27):
            parts.append(
                turned([(0.19, -0.012), (0.2, -0.008), (0.2, 0.008), (0.19, 0.012)], sides, "iron")
                .moved(lying)
                .at(x, y, 0)
            )
        turns = np.linspace(0, (9 - variant * 2) * 2 * np.pi, (9 - variant * 2) * (16, 9, 5)[detail])
        rope = np.column_stack(
            [np.linspace(-0.24, 0.22 - variant * 0.1, len(turns)), y + 0.125 * np.cos(turns), 0.125 * np.sin(turns)]
        )
        parts.append(tube(rope, [0.014] * len(rope), (6, 5, 3)[detail], "rope"))
        wheel = [turned([(0.24, -0.02), (0.25, -0.016), (0.25, 0.016), (0.24, 0.02)], sides, "iron")]
        for k in range(teeth):
            wheel.append(
                worn_box((0.24, -0.018, -0.014), (0.275, 0.018, 0.014), 0.004, "iron").moved(
                    placement_matrix((0, 0, 0), k * 360 / max(teeth, 1))
                )
            )
        parts.append(join(wheel).moved(lying).at(0.36, y, 0))
        crank = np.array([[0.3, y, 0], [0.46, y, 0], [0.46, y - 0.26, 0.12], [0.64, y - 0.26, 0.12]])
        parts.append(tube(crank, [0.016] * 4, (8, 6, 4)[detail], "bare_metal"))
        return join(parts).coloured(1.0)
