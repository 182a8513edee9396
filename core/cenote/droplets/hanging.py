"""Drops that hang along lower edges."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import welded
from ..parameters import quantity, span
from ..randomness import key_of, keys_from, uniforms
from .base import DROPLETS, Droplets, Moment, at_most, wetness
from .cap import heaviest_hanging, volume_of
from .drops import Drops, Wetted, no_drops

_SIZE, _STAYS, _SHIFT = 11, 12, 13
# An edge counts as bent where its faces look farther apart than this cosine, and as level where it rises less than so much of its length.
_BENT, _RISE = np.cos(np.radians(20)), 0.75
# Hanging drops cling to about so large a part of their own radius, and meet what they hang from at these angles.
_NECK, _ADVANCING, _RECEDING = 0.85, np.radians(125), np.radians(95)
# How far its middle lies in the edge that it hangs from, as a share of its radius.
_GRASPS = 0.15


def lower_edges(corners: np.ndarray, normals: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Edges of triangles that nothing of their faces lies below: ends float64 (E, 2, 3), and a face of each int64 (E,).

    :param corners: float (M, 3, 3), metres. :param normals: unit float (M, 3).
    """
    place = welded(corners.reshape(-1, 3)).reshape(-1, 3)
    pairs = np.stack([place, np.roll(place, -1, axis=1)], axis=2).reshape(-1, 2)
    keys = pairs.min(1).astype(np.int64) * (len(corners) * 3 + 1) + pairs.max(1)
    order = np.argsort(keys, kind="stable")
    first = np.flatnonzero(np.diff(keys[order], prepend=-1))
    many = np.diff(first, append=len(order))
    one = order[first]
    two = np.where(many == 2, order[np.minimum(first + 1, len(order) - 1)], one)
    from_, to = (
        corners.reshape(-1, 3)[one].astype(np.float64),
        np.roll(corners, -1, axis=1).reshape(-1, 3)[one].astype(np.float64),
    )
    middle = (from_[:, 1] + to[:, 1]) / 2
    length = np.linalg.norm(to - from_, axis=1)
    lowest = np.ones(len(one), bool)
    for side in (one, two):
        opposite = corners[side // 3, (side % 3 + 2) % 3, 1]
        # Faces that meet level at the edge are below it where they look down alone.
        lowest &= (opposite > middle + 1e-4 * length) | (
            (np.abs(opposite - middle) <= 1e-4 * length) & (normals[side // 3, 1] < -0.5)
        )
    bent = (many == 1) | ((normals[one // 3] * normals[two // 3]).sum(1) < _BENT)
    level = np.abs(to[:, 1] - from_[:, 1]) < _RISE * length
    rows = np.flatnonzero(lowest & bent & level & (many <= 2) & (length > 0))
    return np.stack([from_[rows], to[rows]], axis=1), one[rows] // 3


@DROPLETS.register
class Hanging(Droplets):
    """Drops that hang along lower edges."""

    kind: Literal["hanging"] = "hanging"
    title: ClassVar[str] = "Hanging drops"
    help: ClassVar[str] = "Drops along lower edges: of rails, sills, boards, lips."
    spacing: float = quantity(12, low=2, high=200, unit="mm", step=1, help="From one to the next, about.")
    sizes: tuple[float, float] = span(
        (1.5, 4.2), low=0.3, high=6, unit="mm", help="Their diameters; what is too heavy to hang has fallen."
    )
    gaps: float = quantity(
        35, low=0, high=100, unit="%", step=5, help="How many of the places along an edge have let go of theirs."
    )

    def lie(self, on: Wetted, key: np.uint64, moment: Moment) -> Drops:
        ends, faces = lower_edges(on.corners, on.normals)
        if not len(ends):
            return no_drops()
        length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
        each = np.maximum(
            np.round(length / (self.spacing / 1000) + uniforms(keys_from(key, len(ends)), 0) - 0.5), 0
        ).astype(np.int64)
        edges = np.repeat(np.arange(len(ends)), each)[: at_most(each.sum())]
        number = np.arange(len(edges)) - np.repeat(np.cumsum(each) - each, each)[: len(edges)]
        ids = keys_from(key_of("hanging", int(key)), len(edges))
        along = (number + 0.15 + 0.7 * uniforms(ids, _SHIFT)) / np.maximum(each[edges], 1)
        places = ends[edges, 0] + (ends[edges, 1] - ends[edges, 0]) * along[:, None]
        least, most = self.sizes
        size = least * (most / least) ** uniforms(ids, _SIZE) / 1000
        on_face = faces[edges]
        weights = np.full((len(ids), 3), 1 / 3)
        wanted = (
            on.wanted(on_face, weights)
            * on.wettings[on.parts[on_face], 2]
            * wetness(moment.damp)
            * (1 - self.gaps / 100)
        )
        hangs = volume_of(size) <= heaviest_hanging(_NECK * size / 2)
        rows = np.flatnonzero((uniforms(ids, _STAYS) < wanted) & hangs)
        down = np.tile([0.0, -1.0, 0.0], (len(rows), 1))
        places = places[rows] + [0, _GRASPS, 0] * (size[rows, None] / 2)
        full = np.full(len(rows), 1.0)
        return Drops(
            ids[rows], on_face[rows], places, down, volume_of(size[rows]), full * _ADVANCING, full * _RECEDING, full
        )

    def expected(self, area: float, moment: Moment) -> int:
        # Of a box of that area, whose edges below are as long as it is about.
        return at_most(4 * np.sqrt(area / 6) / (self.spacing / 1000) * wetness(moment.damp) * (1 - self.gaps / 100))
