"""Drops that grow too heavy for their slope, and run: followed in fixed steps, so that the same seed gives the same drops on any machine."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from ..signals.noise import world_noise
from .cap import heaviest_hanging, volume_of, weight_along
from .drops import Drops, Wetted, joined, no_drops
from .merging import merged, taken_into

# A step, seconds, and how many steps lie between two times that drops which only grow are looked through for those that touch.
STEP, _LOOKS = 1 / 40, 15
# Of water, Pa·s; the logarithm of how much larger a drop is than what its edge slides over; the fastest that a drop runs, m/s.
_VISCOSITY, _RANGE, _FASTEST = 1.1e-3, 12.0, 0.3
# A trail breaks into drops at lengths of so many times its width (Plateau and Rayleigh: 9 radii for a thread), which is such a share of the drop's own.
_BREAKS, _TRAIL_WIDE = 4.5, 0.35
# Less than this is gone, m³.
_GONE = float(volume_of(np.array(0.00008)))
# What faces a drop's way by less than this cosine stands against it.
_FACES_AGAINST = -0.5
# Drops hang from a surface whose normal looks down by more than this cosine.
_UNDERSIDE = -0.2
# What stays behind of a hanging drop that falls.
_STAYS_BACK = 0.25
# Walking over a surface: how far above it rays begin, metres.
_HOVER = 3e-5


@dataclass(frozen=True)
class Running:
    """How drops run.

    :ivar trail: metres, how thick a film they leave behind. :ivar dries: seconds after which what they left has half dried; 0 for never.
    :ivar swerves: radians, how far dirt turns them aside. :ivar dirt: metres across what turns them. :ivar gathers: metres a second that the water on each grows by.
    """

    trail: float
    dries: float
    swerves: float
    dirt: float
    gathers: float
    seed: int


@dataclass(frozen=True)
class Run:
    """Where all drops are at a time.

    :ivar drops: all of them. :ivar travelled: float64 (N,), metres since each left something behind; of those that run. :ivar left: bool (N,), whether it was left behind by another.
    :ivar hangs: bool (N,), whether it is held at an edge. :ivar speeds: float64 (N,), m/s. :ivar steps: since the beginning. :ivar dripped: m³ that have fallen.
    :ivar dried: m³ that have gone into the air. :ivar gained: m³ that have come since the beginning.
    """

    drops: Drops
    travelled: np.ndarray
    left: np.ndarray
    hangs: np.ndarray
    speeds: np.ndarray
    steps: int = 0
    dripped: float = 0.0
    dried: float = 0.0
    gained: float = 0.0

    def only(self, rows: np.ndarray) -> Run:
        """With some of its drops: int (K,) or bool (N,)."""
        return replace(self, drops=self.drops.only(rows), travelled=self.travelled[rows], left=self.left[rows],
                       hangs=self.hangs[rows], speeds=self.speeds[rows])  # fmt: skip

    def with_more(self, more: Drops, left: bool) -> Run:
        """With drops that have come: on their own, or left behind by others."""
        count = len(more)
        return replace(self, drops=joined([self.drops, more]), travelled=np.append(self.travelled, np.zeros(count)),
                       left=np.append(self.left, np.full(count, left)), hangs=np.append(self.hangs, np.zeros(count, bool)),
                       speeds=np.append(self.speeds, np.zeros(count)))  # fmt: skip

    @property
    def seen(self) -> Drops:
        """The drops as they look: what runs is drawn out, the more the faster."""
        return replace(self.drops, drawn=np.maximum(self.drops.drawn, 1 + 1.2 * np.minimum(self.speeds / 0.15, 1)))


def begun(drops: Drops) -> Run:
    """Drops that have just come down, those that touch as one already."""
    none = np.zeros(len(drops))
    return Run(drops, none, none.astype(bool), none.astype(bool), none)


def walked(
    on: Wetted, places: np.ndarray, normals: np.ndarray, ways: np.ndarray, lengths: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Where drops come to that go some way over a surface: faces int64 (N,), -1 where it ends, and places float64 (N, 3).

    Straight on against what stands in the way, else down onto the surface as it goes on, else round an edge onto the side that begins there.

    :param places, normals, ways: float64 (N, 3), the last two unit. :param lengths: float64 (N,), metres.
    """
    faces, there = np.full(len(places), -1, np.int64), places.copy()
    rays = on.rays

    def look(rows: np.ndarray, origins: np.ndarray, to: np.ndarray, reach: np.ndarray) -> None:
        hit, far = rays.hits(origins, to)
        met = (hit >= 0) & (far <= reach)
        some = rows[met]
        faces[some] = hit[met]
        there[some] = origins[met] + to[met] * far[met, None]

    rows = np.arange(len(places))
    start = places + normals * _HOVER
    look(rows, start, ways, lengths)
    rows = np.flatnonzero(faces < 0)
    ahead = start[rows] + ways[rows] * lengths[rows, None]
    look(rows, ahead, -normals[rows], lengths[rows] * 1.5 + 2 * _HOVER)
    rows = np.flatnonzero(faces < 0)
    below = start[rows] + ways[rows] * lengths[rows, None] - normals[rows] * (2 * _HOVER + 0.4 * lengths[rows, None])
    look(rows, below, -ways[rows], 1.6 * lengths[rows])
    return faces, there


def stepped_over(
    on: Wetted, places: np.ndarray, normals: np.ndarray, ways: np.ndarray, heights: np.ndarray, wide: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Where drops come to that stand against what is lower than themselves, and flow over it: faces int64 (N,), -1 where nothing lower lies behind it, and places float64 (N, 3).

    :param places, normals, ways: float64 (N, 3), the last two unit. :param heights, wide: float64 (N,), metres, how high each stands, and how far it reaches.
    """
    tops = places + normals * heights[:, None]
    free, far = on.rays.hits(tops, ways)
    clear = (free < 0) | (far > wide)
    hit, deep = on.rays.hits(tops + ways * wide[:, None], -normals)
    there = tops + ways * wide[:, None] - normals * np.where(hit >= 0, deep, 0.0)[:, None]
    lower = (hit >= 0) & clear & (deep < 3 * heights) & (there[:, 1] < places[:, 1] - 1e-6)
    return np.where(lower, hit, -1), np.where(lower[:, None], there, places)


def _grown(run: Run, how: Running) -> Run:
    """Water is added to what lies, and what was left behind dries."""
    drops = run.drops
    volumes = drops.volumes + how.gathers * STEP * np.pi * drops.bases**2
    gained = float((volumes - drops.volumes).sum())
    dried = 0.0
    if how.dries > 0:
        rest = 0.5 ** (STEP / how.dries)
        after = np.where(run.left, volumes * rest, volumes)
        dried, volumes = float((volumes - after).sum()), after
    gone = volumes < _GONE
    dried += float(volumes[gone].sum())
    return replace(
        run, drops=replace(drops, volumes=volumes), gained=run.gained + gained, dried=run.dried + dried
    ).only(~gone)


def _speeds(drops: Drops) -> np.ndarray:
    """How fast drops run, m/s, float64 (N,), of what pulls them beyond what holds them, against the friction of their edge (de Gennes,
    "Wetting: statics and dynamics", Rev. Mod. Phys. 57, 1985, section III)."""
    pulls = weight_along(drops.volumes, drops.normals[:, 1])
    friction = 6 * _VISCOSITY * _RANGE * 2 * drops.bases / np.maximum(drops.angles, 0.2)
    return np.clip((pulls - drops.holds) / friction, 0, _FASTEST)


def _moved(run: Run, on: Wetted, how: Running) -> tuple[Run, Drops]:
    """One step of those that run; and what they leave behind."""
    drops = run.drops
    rows = np.flatnonzero((run.speeds > 0) & ~run.hangs)
    if not len(rows):
        return run, no_drops()
    some = drops.only(rows)
    way = some.ways
    turn = (
        how.swerves
        * 2
        * (world_noise(some.positions.astype(np.float32), how.dirt, octaves=2, seed=how.seed).astype(float) - 0.5)
        * 2
    )
    aside = np.cross(some.normals, way)
    way = way * np.cos(turn)[:, None] + aside * np.sin(turn)[:, None]
    lengths = run.speeds[rows] * STEP
    faces, places = walked(on, some.positions, some.normals, way, lengths)
    # Nothing runs uphill: what would is held where it is.
    passed = (faces >= 0) & (places[:, 1] <= some.positions[:, 1] + 1e-7)
    over = faces < 0
    against = ~over & (~passed | ((on.normals[faces] * way).sum(1) < _FACES_AGAINST))
    stands = np.flatnonzero(against)
    if len(stands):
        held_up = some.only(stands)
        reach = lengths[stands] + 1.5 * held_up.radii
        behind, there = stepped_over(on, held_up.positions, held_up.normals, way[stands], held_up.heights, reach)
        flows = stands[behind >= 0]
        faces[flows], places[flows] = behind[behind >= 0], there[behind >= 0]
        passed[flows] = True
    to = rows[passed]
    hangs, speeds = run.hangs.copy(), run.speeds.copy()
    hangs[rows[over]] = True
    speeds[rows[~passed]] = 0
    went = np.zeros(len(drops))
    went[to] = np.linalg.norm(places[passed] - some.positions[passed], axis=1)
    travelled = run.travelled + went
    # What is left behind is taken from what runs.
    wide = _TRAIL_WIDE * 2 * drops.bases
    leaves = (went > 0) & (travelled > _BREAKS * wide)
    volumes = drops.volumes.copy()
    behind = np.flatnonzero(leaves)
    left = np.minimum(how.trail * wide[behind] * travelled[behind], 0.3 * volumes[behind])
    volumes[behind] -= left
    middle = np.searchsorted(rows, behind)
    ids = drops.ids[behind] * np.uint64(2654435761) + np.uint64(run.steps + 1)
    longer = np.clip(travelled[behind] / np.maximum(3 * wide[behind], 1e-6), 1, 2.2)
    trail = Drops(
        ids,
        some.faces[middle],
        some.positions[middle],
        some.normals[middle],
        left,
        some.advancing[middle],
        some.receding[middle],
        longer,
    )
    travelled = np.where(leaves, 0.0, travelled)
    after = on.moved(replace(drops, volumes=volumes), to, faces[passed], places[passed])
    return replace(run, drops=after, travelled=travelled, hangs=hangs, speeds=speeds), trail.only(left > _GONE)


def _taken_in(run: Run) -> Run:
    """What runs takes in all that it touches, and goes on from where it is; of two that run, the larger."""
    drops = run.drops
    active = np.flatnonzero((run.speeds > 0) | run.hangs)
    if not len(active):
        return run
    radii, tree = drops.radii, cKDTree(drops.positions)
    near = cKDTree(drops.positions[active]).sparse_distance_matrix(
        tree, float(radii[active].max() + radii.max()), output_type="ndarray"
    )
    one, other = active[near["i"]], near["j"]
    touch = (one != other) & (near["v"] < 0.9 * (radii[one] + radii[other]))
    one, other = one[touch], other[touch]
    facing = (drops.normals[one] * drops.normals[other]).sum(1) > 0.3
    # What it has just left behind it does not take back: that lies above it, and it runs away.
    own = run.left[other] & (drops.positions[other, 1] > drops.positions[one, 1])
    one, other = one[facing & ~own], other[facing & ~own]
    if not len(one):
        return run
    goes = (run.speeds > 0) | run.hangs
    # Of two that run, the larger takes in the smaller.
    takes = (
        ~goes[other]
        | (drops.volumes[one] > drops.volumes[other])
        | ((drops.volumes[one] == drops.volumes[other]) & (one < other))
    )
    one, other = one[takes], other[takes]
    into = taken_into(one, other, np.lexsort((other, -drops.volumes[one])), np.arange(len(drops)))
    volumes = np.bincount(into, drops.volumes, len(drops))
    kept = into == np.arange(len(drops))
    return replace(run, drops=replace(drops, volumes=volumes)).only(kept)


def _dripped(run: Run) -> Run:
    """What hangs, at an edge or under a belly where nothing leads on, and has grown too heavy, falls; a little of it stays."""
    drops = run.drops
    rows = np.flatnonzero(run.hangs | ((run.speeds == 0) & (drops.normals[:, 1] < _UNDERSIDE)))
    if not len(rows):
        return run
    clings = drops.bases[rows]
    too_heavy = rows[drops.volumes[rows] > heaviest_hanging(clings)]
    volumes = drops.volumes.copy()
    volumes[too_heavy] *= _STAYS_BACK
    fallen = float((drops.volumes - volumes).sum())
    return replace(run, drops=replace(drops, volumes=volumes), dripped=run.dripped + fallen)


def stepped(run: Run, on: Wetted, how: Running, come: Drops) -> Run:
    """One step on. :param come: drops that come down in it."""
    run = _grown(run, how)
    if len(come):
        run = replace(run.with_more(come, False), gained=run.gained + float(come.volumes.sum()))
    if run.steps % _LOOKS == 0:
        run = _settled(run, on)
    drops = run.drops
    free = np.flatnonzero(~run.hangs & (drops.pull > 1))
    speeds = np.zeros(len(drops))
    speeds[free] = _speeds(drops.only(free))
    run = replace(run, speeds=speeds)
    run, trail = _moved(run, on, how)
    run = run.with_more(trail, True)
    return _dripped(replace(_taken_in(run), steps=run.steps + 1))


def _settled(run: Run, on: Wetted) -> Run:
    """Those that lie and have grown until they touch become one."""
    lying = np.flatnonzero((run.speeds == 0) & ~run.hangs)
    if len(lying) < 2:
        return run
    found = merged(run.drops.only(lying), on)
    if len(found) == len(lying):
        return run
    by_id = {id: row for row, id in zip(lying.tolist(), run.drops.ids[lying].tolist(), strict=True)}
    rows = np.array([by_id[id] for id in found.ids.tolist()], np.int64)
    rest = np.setdiff1d(np.arange(len(run.drops)), lying)
    kept = run.only(np.concatenate([rest, rows]))
    return replace(kept, drops=joined([run.drops.only(rest), found]))
