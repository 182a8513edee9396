"""Placing charts on the plane of their materials so that a pattern goes on from one to the next.

Charts that look nearly the same way down share a border, and what is laid on one can go on across it on the other: a course of bricks round a corner, a stain
round a bell. All borders cannot be served at once (a round of charts closes at some length, not at a whole number of tiles), so charts are joined along a
spanning tree of their best borders: the longest that match well (Kruskal, "On the shortest spanning subtree of a graph", Proc. AMS 7, 1956).
"""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import breadth_first_order, connected_components, minimum_spanning_tree

# Charts whose ways down differ by more than this cosine are not joined: courses would no longer lie level.
_ALIKE = 0.5
# Metres by which borders match well enough, and how much worse one is whose charts look differently down.
_NEAR, _TURNED = 0.004, 20.0


def joining_shifts(flat: np.ndarray, charts: np.ndarray, downs: np.ndarray, neighbours: np.ndarray) -> np.ndarray:
    """How far to move each chart on its plane so that it goes on from those beside it, float64 (C, 2), metres.

    :param flat: float (M, 3, 2), corners of faces on their charts' planes, metres. :param charts: int (M,), the chart of each face.
    :param downs: float (C, 3), the way that is down on each chart, unit. :param neighbours: int (M, 3), the faces across the edges of each (first to second
        corner, and so on); -1 for none.
    """
    count = len(downs)
    shifts = np.zeros((count, 2))
    one, edge = np.nonzero((neighbours >= 0) & (charts[neighbours] > charts[:, None]))
    other = neighbours[one, edge]
    if not len(one):
        return shifts
    # The edge as the other face has it, which runs it the other way.
    back = np.argmax(neighbours[other] == one[:, None], axis=1)
    begin, end = flat[one, edge], flat[one, (edge + 1) % 3]
    met_end, met_begin = flat[other, back], flat[other, (back + 1) % 3]
    long = np.linalg.norm(end - begin, axis=1)
    apart = ((begin - met_begin) + (end - met_end)) / 2
    pairs, of = np.unique(charts[one].astype(np.int64) * count + charts[other], return_inverse=True)
    total = np.maximum(np.bincount(of, long), 1e-12)
    mean = np.column_stack([np.bincount(of, long * apart[:, axis]) for axis in (0, 1)]) / total[:, None]
    # What is left of it at both ends of each edge, so that a border which is turned counts as one that does not match.
    left = (((begin - met_begin) - mean[of]) ** 2).sum(1) + (((end - met_end) - mean[of]) ** 2).sum(1)
    rest = np.sqrt(np.bincount(of, long * left / 2) / total)
    low, high = pairs // count, pairs % count
    alike = (downs[low] * downs[high]).sum(1)
    good = alike > _ALIKE
    low, high, mean = low[good], high[good], mean[good]
    cost = ((_NEAR + rest) / total)[good] * (1 + _TURNED * (1 - alike[good]))
    tree = minimum_spanning_tree(coo_array((cost, (low, high)), shape=(count, count)).tocsr())
    row = {pair: at for at, pair in enumerate(zip(low.tolist(), high.tolist(), strict=True))}
    _, group = connected_components(tree, directed=False)
    for start in np.unique(group, return_index=True)[1].tolist():
        order, before = breadth_first_order(tree, start, directed=False)
        for chart in order[1:].tolist():
            from_it = int(before[chart])
            at = row.get((from_it, chart))
            # Moved by how far it lies from where its neighbour's border is.
            shifts[chart] = shifts[from_it] + (mean[at] if at is not None else -mean[row[chart, from_it]])
    return shifts
