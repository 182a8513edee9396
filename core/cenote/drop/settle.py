"""Letting rigid bodies fall until they rest, by MuJoCo (Todorov, Erez and Tassa, 2012)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import mujoco
import numpy as np

from ..kit.base import Dice
from ..refused import Refused
from .colliders import Collider
from .heap import Drop

# What the solver warns of is told by `settle` itself; without this it writes a file into the working folder.
mujoco.set_mju_user_warning(lambda message: None)

# Seconds: of a step, between two releases, at most until all rest; all rest that stay where they are for this long.
STEP, RELEASE, PATIENCE, REST = 0.004, 0.05, 12.0, 0.3
# Seconds after the last release until what trembles is calmed down; how soft contacts are.
CALMED, SOFT = 1.5, 0.01
# Long thin things turn about their length as if they were this much stouter; without it their contacts need tiny steps.
_STOUT = 8
_SIDE = 40.0
# Metres between what is let go and what is there.
_ROOM = 0.02
# How many of the last that were let go count as falling.
_FRESH = 8
_MOST_SCENERY = 12_000
# After these warnings the solver has begun anew from nothing.
_LOST = (mujoco.mjtWarning.mjWARN_BADQPOS, mujoco.mjtWarning.mjWARN_BADQVEL, mujoco.mjtWarning.mjWARN_BADQACC)


class DropRefused(Refused):
    """A drop that cannot be done; the message says why and what to do."""


@dataclass(frozen=True)
class Body:
    """Something that falls.

    :ivar colliders: its convex bodies in its own frame, metres.
    :ivar density: kg/m³.
    """

    colliders: Sequence[Collider]
    density: float


@dataclass(frozen=True)
class Rest:
    """How bodies came to rest.

    :ivar positions: float64 (N, 3), of their own origins, metres.
    :ivar rotations: float64 (N, 3, 3).
    :ivar kept: bool (N,), false for what fell off the scenery.
    :ivar overlap: the deepest that two bodies, or a body and the scenery, are inside each other; metres.
    """

    positions: np.ndarray
    rotations: np.ndarray
    kept: np.ndarray
    overlap: float


# Called with the rows that have been let go, their positions float64 (n, 3) and quaternions w, x, y, z (n, 4); may raise
# to stop.
Watch = Callable[[Sequence[int], np.ndarray, np.ndarray], None]


def settle(bodies: Sequence[Body], scenery: Sequence[Collider], drop: Drop, watch: Watch) -> Rest:
    """Drop bodies one after another over a disc about the origin, +Y up, and wait until all rest.

    :param drop: how they fall; of its mix nothing is read.
    :raises DropRefused: if the scenery is too fine, there is no room to let something go, or the solver loses it.
    """
    if len(scenery) > _MOST_SCENERY:
        raise DropRefused(
            f"Around the area there are {len(scenery):,} surfaces to fall on, at most {_MOST_SCENERY:,} can be. "
            "Take a smaller radius, or hide what is finely made."
        )
    model = _model(bodies, scenery, drop.grip)
    data = mujoco.MjData(model)
    _park(model, data, len(bodies))
    dice = Dice("drop", drop.seed)
    order = np.argsort(dice.many(len(bodies)))
    # A fixed part of the scenery's boxes in the world: where nothing can be let go.
    still = np.array([one.bounds for one in scenery]).reshape(-1, 2, 3)
    floor = (still[:, 0, 1].min() if len(still) else 0.0) - 3.0
    every = round(RELEASE / STEP)
    watched = round(REST / STEP)
    released = steps = waited = refused = 0
    resting, before = False, data.qpos.reshape(-1, 7).copy()
    while not resting and waited * STEP < PATIENCE:
        if steps % every == 0 and released < len(order):
            falling = np.abs(data.qvel.reshape(-1, 6)[:, :3]).max(1) > 0.5
            falling[order[max(released - _FRESH, 0) : released]] = True
            free = _release(model, data, int(order[released]), dice, still, falling, drop)
            released, refused = (released + 1, 0) if free else (released, refused + 1)
            if refused * RELEASE > PATIENCE:
                raise DropRefused(
                    "There is no room above the area to let things go. Move it, or take another radius or height."
                )
        mujoco.mj_step(model, data)
        steps += 1
        if steps % 20 == 0:
            if any(data.warning[one].number for one in _LOST):
                raise DropRefused(
                    "The things were thrown about too wildly to be followed. Take fewer, a lower height, or another seed."
                )
            rows = order[:released]
            places = data.qpos.reshape(-1, 7)[rows]
            watch(rows.tolist(), places[:, :3], places[:, 3:])
        if released == len(order):
            waited += 1
            # What still trembles after a while is calmed down; heaps rest on friction, and that creeps in a computer.
            if waited * STEP > CALMED:
                data.qvel[:] *= 0.95
            if waited % watched == 0:
                now = data.qpos.reshape(-1, 7).copy()
                resting = waited > watched and _at_rest(before, now, now[:, 1] > floor)
                before = now
    mujoco.mj_forward(model, data)
    places = data.qpos.reshape(-1, 7)
    turned = np.array([_matrix(quaternion) for quaternion in places[:, 3:]])
    kept = places[:, 1] > floor
    deepest = max(0.0, -float(data.contact.dist[: data.ncon].min(initial=0.0)))
    return Rest(places[:, :3].copy(), turned, kept, deepest)


def _model(bodies: Sequence[Body], scenery: Sequence[Collider], grip: float) -> mujoco.MjModel:
    spec = mujoco.MjSpec()
    option = spec.option
    option.timestep, option.gravity = STEP, [0, -9.81, 0]
    option.integrator, option.cone = mujoco.mjtIntegrator.mjINT_IMPLICITFAST, mujoco.mjtCone.mjCONE_PYRAMIDAL
    option.enableflags |= int(mujoco.mjtEnableBit.mjENBL_DIAGEXACT)
    names: dict[int, str] = {}

    def add(owner, collider: Collider, density: float) -> None:  # type: ignore[no-untyped-def]
        friction = {"friction": [grip, 0.005, 0.0001], "condim": 3, "density": density}
        stiff = {"solref": [SOFT, 1.0], "solimp": [0.95, 0.995, 0.001, 0.5, 2]}
        if collider.box is not None:
            centre, half, axes = collider.box
            owner.add_geom(
                type=mujoco.mjtGeom.mjGEOM_BOX, pos=centre, size=half, quat=_quaternion(axes), **friction, **stiff
            )
            return
        if id(collider) not in names:
            names[id(collider)] = f"hull {len(names)}"
            spec.add_mesh(name=names[id(collider)], uservert=collider.points.ravel(), maxhullvert=48,
                          inertia=mujoco.mjtMeshInertia.mjMESH_INERTIA_CONVEX)  # fmt: skip
        owner.add_geom(type=mujoco.mjtGeom.mjGEOM_MESH, meshname=names[id(collider)], **friction, **stiff)

    for collider in scenery:
        add(spec.worldbody, collider, 1000)
    for body in bodies:
        owner = spec.worldbody.add_body(gravcomp=1)
        owner.add_freejoint()
        for collider in body.colliders:
            add(owner, collider, body.density)
    model = spec.compile()
    model.body_inertia[1:] = np.maximum(model.body_inertia[1:], model.body_inertia[1:].max(1, keepdims=True) / _STOUT)
    mujoco.mj_setConst(model, mujoco.MjData(model))
    return model


def _at_rest(before: np.ndarray, now: np.ndarray, here: np.ndarray) -> bool:
    """Whether poses (N, 7) have stayed within 12 mm and 2.5° of what they were: what moves no faster only creeps."""
    moved = np.linalg.norm(now[:, :3] - before[:, :3], axis=1)
    alike = np.abs((now[:, 3:] * before[:, 3:]).sum(1))
    return bool(((moved < 0.012) & (alike > np.cos(np.radians(1.25))))[here].all())


def _park(model: mujoco.MjModel, data: mujoco.MjData, count: int) -> None:
    """Put all bodies where they touch nothing until it is their turn; there they float."""
    places = data.qpos.reshape(-1, 7)
    rows = np.arange(count)
    places[:, :3] = np.column_stack([rows % 20 * _SIDE, 1e3 + rows // 400 * _SIDE, rows // 20 % 20 * _SIDE])
    places[:, 3:] = [1, 0, 0, 0]


def _release(
    model: mujoco.MjModel,
    data: mujoco.MjData,
    row: int,
    dice: Dice,
    still: np.ndarray,
    falling: np.ndarray,
    drop: Drop,
) -> bool:
    """Let a body go over the disc, above what rests there and clear of all else; say whether there was room just now."""
    mujoco.mj_kinematics(model, data)
    boxes = _boxes(model, data)
    own = model.geom_bodyid == row + 1
    free = (model.geom_bodyid > 0) & ~own
    others, falls = boxes[free], falling[model.geom_bodyid[free] - 1]
    place = data.qpos.reshape(-1, 7)[row]
    parked = place.copy()
    for _ in range(12):
        turn, tip, roll = (dice.one(-1, 1) * np.pi * share for share in (1, drop.tumble, drop.tumble))
        place[:3], place[3:] = (0, 5e3, 0), _from_angles(turn, tip, roll)
        mujoco.mj_kinematics(model, data)
        mine = _boxes(model, data)[own]
        low, high = mine[:, 0].min(0) - place[:3] - _ROOM, mine[:, 1].max(0) - place[:3] + _ROOM
        away, angle = drop.radius * np.sqrt(dice.one()), dice.one(0, 2 * np.pi)
        spot = np.array([away * np.cos(angle), 0, away * np.sin(angle)])
        over = ((others[:, 1] > low + spot) & (others[:, 0] < high + spot))[:, [0, 2]].all(1)
        spot[1] = others[over & ~falls & (others[:, 1, 1] < 500), 1, 1].max(initial=0.0) + drop.height - low[1]
        for _ in range(40):
            if not _meets(still, low + spot, high + spot):
                break
            spot[1] += 0.25
        else:
            continue
        if not _meets(others, low + spot, high + spot):
            place[:3] = spot
            data.qvel.reshape(-1, 6)[row] = 0
            model.body_gravcomp[row + 1] = 0
            return True
    place[:] = parked
    return False


def _meets(boxes: np.ndarray, low: np.ndarray, high: np.ndarray) -> bool:
    """Whether any of boxes (G, 2, 3) meets the box from ``low`` to ``high``."""
    return bool(((boxes[:, 1] > low) & (boxes[:, 0] < high)).all(1).any())


def _boxes(model: mujoco.MjModel, data: mujoco.MjData) -> np.ndarray:
    """The box of each geom in the world, float64 (G, 2, 3)."""
    turned = data.geom_xmat.reshape(-1, 3, 3)
    middle = data.geom_xpos + np.einsum("gij,gj->gi", turned, model.geom_aabb[:, :3])
    half = np.einsum("gij,gj->gi", np.abs(turned), model.geom_aabb[:, 3:])
    return np.stack([middle - half, middle + half], axis=1)


def _from_angles(turn: float, tip: float, roll: float) -> np.ndarray:
    """The quaternion w, x, y, z of turns about y, then x, then z; radians."""
    out = np.empty(4)
    mujoco.mju_euler2Quat(out, np.array([turn, tip, roll]), "yxz")
    return out


def _matrix(quaternion: np.ndarray) -> np.ndarray:
    out = np.empty(9)
    mujoco.mju_quat2Mat(out, quaternion)
    return out.reshape(3, 3)


def _quaternion(axes: np.ndarray) -> np.ndarray:
    out = np.empty(4)
    mujoco.mju_mat2Quat(out, np.ascontiguousarray(axes, np.float64).ravel())
    return out
