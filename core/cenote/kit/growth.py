"""Trees that grow into the space that light leaves them: branches reach for points of a crown, and thicken by what they carry.

The space colonisation algorithm (Runions, Lane and Prusinkiewicz, "Modeling trees with a space colonization algorithm", 2007). Limbs are as
thick as the pipe model has it (Shinozaki and others, "A quantitative analysis of plant form", 1964), heights follow Richards' growth function
("A flexible growth function for empirical use", 1959).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import Dice, along_y
from .trees import Habit, sprays

# How the section of a limb is shared out among what it carries: a power of its radius.
_PIPE = 2.3
_TIP = 0.006
# How deep roots go, metres.
_DEEP = 0.28


@dataclass(frozen=True)
class Crown:
    """How a kind of tree fills its space when it is grown up.

    :ivar height: metres. :ivar base: where the crown begins, as a share of the height. :ivar radius: of the crown, against the height. :ivar widest: where it is widest,
        from 0 at its base to 1 at its top. :ivar round: above 1 it is fuller, below it is more pointed. :ivar plates: how many clouds of leaves it parts into; 0 for one. :ivar trunk: radius at
        the foot, against the height. :ivar points: that branches reach for. :ivar step: of growth, metres. :ivar rise: how far growth tends upwards. :ivar mature: years until it is grown up. :ivar full: years that it grows old in.
    """

    height: float
    base: float
    radius: float
    widest: float
    round: float
    trunk: float
    points: int
    step: float
    rise: float
    mature: float
    full: float
    plates: int = 0


def grown(age: float, mature: float) -> float:
    """How much of its full height a tree of an age has, in (0, 1). :param age, mature: years."""
    return float((1 - np.exp(-2.6 * age / mature)) ** 1.25)


def envelope(crown: Crown, height: float, dice: Dice) -> np.ndarray:
    """Points that branches reach for, evenly in the crown's space, float64 (N, 3), metres."""
    low, tall = crown.base * height, (1 - crown.base) * height
    power = np.log(0.5) / np.log(crown.widest)
    wanted = crown.points
    share, turn, out = dice.many(wanted * 6), dice.many(wanted * 6, high=2 * np.pi), np.sqrt(dice.many(wanted * 6))
    reach = np.sin(np.pi * np.clip(share, 0, 1) ** power) ** (1 / crown.round)
    kept = np.flatnonzero(dice.many(wanted * 6) < reach**2)[:wanted]
    share, turn, out, reach = share[kept], turn[kept], out[kept], reach[kept]
    away = crown.radius * height * reach * out
    points = np.column_stack([away * np.cos(turn), low + tall * share, away * np.sin(turn)])
    if crown.plates:
        # Clouds of leaves with gaps between them, as old pines have.
        middles = points[(dice.many(crown.plates) * len(points)).astype(int)]
        flat = (points[:, None] - middles) * [1, 2.6, 1]
        near = np.linalg.norm(flat, axis=2).min(1)
        points = points[near < np.quantile(near, 0.62)]
    return points


def colonised(
    points: np.ndarray, stem: np.ndarray, step: float, rise: float, most: int = 4000
) -> tuple[np.ndarray, np.ndarray]:
    """Branches that have grown towards points.

    :param points: float (N, 3). :param stem: float (K, 3), what there is of it at first, from the foot upwards. :param step: metres a growth.
    :param rise: how far growth tends upwards.
    :returns: nodes float64 (M, 3) and the row of each one's parent, int64 (M,), -1 at the foot; parents come before what grows out of them.
    """
    nodes, parents = [*stem], [-1, *range(len(stem) - 1)]
    left, kill, reach = points.copy(), 1.6 * step, 12 * step
    seen = set()
    for _ in range(240):
        if not len(left) or len(nodes) >= most:
            break
        here = np.array(nodes)
        far, nearest = cKDTree(here).query(left, distance_upper_bound=reach)
        found = np.isfinite(far)
        if not found.any():
            # Out of reach of everything: the nearest one is grown towards all the same.
            far, nearest = cKDTree(here).query(left)
            found = far <= far.min() + 1e-9
        ways = left[found] - here[nearest[found]]
        ways /= np.maximum(np.linalg.norm(ways, axis=1), 1e-9)[:, None]
        growing, where = np.unique(nearest[found], return_inverse=True)
        sums = np.zeros((len(growing), 3))
        np.add.at(sums, where, ways)
        sums += np.array([0, rise, 0]) * np.bincount(where)[:, None]
        sums /= np.maximum(np.linalg.norm(sums, axis=1), 1e-9)[:, None]
        new = 0
        for row, way in zip(growing.tolist(), sums, strict=True):
            place = here[row] + way * step
            mark = (row, *np.round(place / step * 4).astype(int).tolist())
            # A node between two points would grow the same way for ever.
            if mark in seen:
                continue
            seen.add(mark)
            nodes.append(place)
            parents.append(row)
            new += 1
        if not new:
            break
        away = cKDTree(np.array(nodes)).query(left)[0]
        left = left[away > kill]
    return np.array(nodes), np.array(parents)


def carried(parents: np.ndarray) -> np.ndarray:
    """How many tips each node carries, int64 (M,)."""
    count = np.zeros(len(parents), np.int64)
    has = np.zeros(len(parents), bool)
    has[parents[parents >= 0]] = True
    count[~has] = 1
    for row in range(len(parents) - 1, 0, -1):
        if parents[row] >= 0:
            count[parents[row]] += count[row]
    return count


def thickness(tips: np.ndarray, foot: float) -> np.ndarray:
    """Radii of nodes that carry so many tips (M,), float64 (M,), metres. :param foot: radius of what carries all of them."""
    share = (tips ** (1 / _PIPE) - 1) / max(float(tips.max()) ** (1 / _PIPE) - 1, 1e-9)
    return np.asarray(_TIP + (foot - _TIP) * share)


def chains(parents: np.ndarray, tips: np.ndarray) -> list[list[int]]:
    """Limbs: from each fork the thickest goes on, and the others begin anew. Rows of nodes, from root to tip, each with the node that it leaves.

    :param parents, tips: integers (M,), as :func:`colonised` and :func:`carried` give them.
    """
    children: list[list[int]] = [[] for _ in parents]
    for row, parent in enumerate(parents.tolist()):
        if parent >= 0:
            children[parent].append(row)
    out, open_ = [], [[0]]
    while open_:
        path = open_.pop()
        while children[path[-1]]:
            at = path[-1]
            first, *others = sorted(children[at], key=lambda row: -int(tips[row]))
            open_ += [[at, one] for one in others]
            path.append(first)
        out.append(path)
    return out


def aged_tree(crown: Crown, habit: Habit, dice: Dice, detail: int, age: float) -> Mesh:
    """A tree of an age, its limbs of bark and its leaves on cards.

    :param habit: what its leaves are like, and its bark. :param detail: 1 has no twigs and fewer, larger sprays, 2 only its main limbs. :param age: years; old ones die back from the top.
    """
    height = crown.height * grown(age, crown.mature) * dice.one(0.88, 1.12)
    step = crown.step * np.clip(height / crown.height, 0.15, 1) ** 0.8
    bole = int(np.ceil(crown.base * height / step)) + 1
    lean = along_y(dice.one(0, 2 * np.pi)) * dice.one(0, 0.05)
    wander = np.cumsum(dice.many(bole + 1, 3, low=-0.03, high=0.03) * [1, 0, 1], axis=0)
    stem = (
        np.array([0.0, -0.12, 0])
        + np.arange(bole + 1)[:, None] * step * (np.array([0, 1.0, 0]) + lean)
        + wander * step * 3
    )
    stem[0] = [0, -0.12, 0]
    points = envelope(crown, height, dice) + (stem[-1] - [0, stem[-1][1], 0]) * 0.8
    nodes, parents = colonised(points, stem, step, crown.rise)
    tips = carried(parents)
    radius = thickness(tips, crown.trunk * height)
    # It spreads at the foot.
    low = np.clip(1 - nodes[:, 1] / (0.09 * height), 0, 1)
    radius = radius * (1 + 0.55 * np.where(radius > 0.4 * radius.max(), low**2, 0))
    least = (0.0, 0.016, 0.04)[detail] * height / 10
    limbs: list[Mesh] = _roots(dice, radius[0], habit.bark, detail)
    ends: list[tuple[np.ndarray, np.ndarray]] = []
    # The oldest have dead limbs above, without leaves: stag-headed.
    old = float(np.clip((age - crown.full) / max(crown.full, 1), 0, 0.6))
    for path in chains(parents, tips):
        rows = np.array(path)
        line, thick = nodes[rows], radius[rows].copy()
        if path[0] != 0:
            # A branch begins inside what it leaves, no thicker than itself.
            thick[0] = thick[1]
        top = line[-1, 1] / height
        dead = old > 0 and dice.one() < old * (0.3 + 0.9 * top)
        if thick[0] >= least or path[0] == 0:
            # Fewer rings where it is thin, and none at all of what is not seen.
            keep = np.unique(
                np.linspace(0, len(rows) - 1, max(2, len(rows) if thick[0] > 0.03 else len(rows) // 2 + 1)).astype(int)
            )
            sides = (9, 6, 4)[detail] if thick[0] > 0.4 * radius[0] else (6, 4, 3)[detail] if thick[0] > 0.03 else 3
            limbs.append(limb(line[keep], thick[keep], sides, habit.bark))
        if not dead and len(line) > 1:
            way = line[-1] - line[-2]
            way = way / max(np.linalg.norm(way), 1e-9)
            ends += [(line[k], way) for k in range(len(line) - 1, 0, -2) if tips[rows[k]] <= 5]
    if detail:
        # Simpler forms have one spray where there were several: as many places stand for as many leaves.
        ends = ends * habit.sprays
    return join([*limbs, sprays(ends, habit, dice, detail)])


def _roots(dice: Dice, foot: float, bark: str, detail: int) -> list[Mesh]:
    """Roots that run out from the foot, half in the ground."""
    if detail or foot < 0.05:
        return []
    out = []
    for k in range(5):
        way = along_y(k * 2 * np.pi / 5 + dice.one(-0.4, 0.4))
        t = np.linspace(0, 1, 5)
        path = way * (foot * (0.2 + 2.0 * t))[:, None]
        path[:, 1] = foot * (0.85 * (1 - t) ** 2.6 - 0.22 * t - 0.1)
        thick = foot * (0.62 - 0.4 * t)
        # Not so deep that a slope would lay them bare.
        path[:, 1] = np.maximum(path[:, 1], thick - _DEEP)
        out.append(limb(path, thick, 5, bark))
    return out
