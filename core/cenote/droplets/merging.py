"""Drops that touch become one."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
from numba import njit
from scipy.spatial import cKDTree

from .drops import Drops, Wetted

_ROUNDS = 24
# Drops whose normals lie farther apart than this cosine are on other sides of a board.
_SAME_SIDE = 0.3


@njit(cache=True)
def taken_into(first, second, order, into):  # type: ignore
    """Let drops take in those that touch them, the largest first; pairs come in the order of the larger one."""
    for k in order:
        larger, smaller = first[k], second[k]
        if into[larger] == larger and into[smaller] == smaller:
            into[smaller] = larger
    return into


def _touching(drops: Drops, grown: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    """Pairs that touch, the larger of each first: all, or those of some alone. :param grown: bool (N,)."""
    if len(drops) < 2 or (grown is not None and not grown.any()):
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    radii, tree = drops.radii, cKDTree(drops.positions)
    found = []
    # By sizes, so that what is fine does not look as far as what is large.
    bounds = np.quantile(radii, [0, 0.5, 0.9, 1])
    widest = float(radii.max())
    for least, most in pairwise(bounds):
        mine = np.flatnonzero((radii >= least) & (radii <= most) & (grown if grown is not None else True))
        if not len(mine):
            continue
        # Where all look, the larger of each two sees the other.
        far = 2 * most if grown is None else most + widest
        near = cKDTree(drops.positions[mine]).sparse_distance_matrix(tree, far, output_type="ndarray")
        one, other = mine[near["i"]], near["j"]
        touch = (near["v"] < radii[one] + radii[other]) & (one != other)
        found.append(np.column_stack([one[touch], other[touch]]))
    one, other = np.concatenate(found).T
    facing = (drops.normals[one] * drops.normals[other]).sum(1) > _SAME_SIDE
    one, other = one[facing], other[facing]
    # Of two alike the one that came first.
    swap = (drops.volumes[other] > drops.volumes[one]) | ((drops.volumes[other] == drops.volumes[one]) & (other < one))
    return np.where(swap, other, one), np.where(swap, one, other)


def merged(drops: Drops, on: Wetted) -> Drops:
    """Drops of which none touch: those that do become one in the middle of their weights, with all their water, again and again."""
    grown: np.ndarray | None = None
    for _ in range(_ROUNDS):
        # What has not grown since it was looked at touches nothing.
        larger, smaller = _touching(drops, grown)
        if not len(larger):
            break
        order = np.lexsort((smaller, larger, -drops.volumes[larger]))
        into = taken_into(larger, smaller, order, np.arange(len(drops)))
        drops, grown = _gathered(drops, into, on)
    return drops


def _gathered(drops: Drops, into: np.ndarray, on: Wetted) -> tuple[Drops, np.ndarray]:
    """Drops with what they took in, and which of them took in any."""
    volumes = np.bincount(into, drops.volumes, len(drops))
    middles = np.column_stack([np.bincount(into, drops.volumes * drops.positions[:, k], len(drops)) for k in range(3)])
    kept = into == np.arange(len(drops))
    grown = kept & (volumes > drops.volumes * (1 + 1e-12))
    rows = np.flatnonzero(grown)
    middle = middles[rows] / volumes[rows, None]
    # The middle is brought back onto the surface; where there is none, the larger one stays where it is.
    faces, places = on.below(middle, drops.normals[rows], np.maximum(drops.radii[rows], 1e-4))
    found = faces >= 0
    gathered = on.moved(replace(drops, volumes=volumes), rows[found], faces[found], places[found])
    return gathered.only(kept), grown[kept]
