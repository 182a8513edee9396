"""``drop.planks``: sixty planks and twenty crates fall and come to rest, and MuJoCo alone on one plank beside it."""

from __future__ import annotations

from collections.abc import Iterator

import mujoco
from measuring import Figure, seconds

from cenote.derive.cache import memory_cache
from cenote.derive.dropping import Dropped, drop_here
from cenote.derive.graph import Graph
from cenote.drop.heap import Drop, DropShare
from cenote.drop.settle import STEP
from cenote.geometry.pose import Placement
from cenote.site.document import SiteDocument
from cenote.site.ground import Ground

DROP = Drop(mix=(DropShare(item="plank", number=60), DropShare(item="crate", number=20)), radius=1.8)


def one_plank() -> None:
    """Six seconds of a single box on a plane."""
    spec = mujoco.MjSpec()
    spec.option.timestep = STEP
    spec.worldbody.add_geom(type=mujoco.mjtGeom.mjGEOM_PLANE, size=[9, 9, 1])
    body = spec.worldbody.add_body(pos=[0, 0, 1])
    body.add_freejoint()
    body.add_geom(type=mujoco.mjtGeom.mjGEOM_BOX, size=[1, 0.1, 0.02])
    model = spec.compile()
    data = mujoco.MjData(model)
    for _ in range(round(6 / STEP)):
        mujoco.mj_step(model, data)


def figures() -> Iterator[Figure]:
    """Seconds until all rest, how deep any two are inside each other, and the time of a plank alone beside it."""
    site = SiteDocument(ground=Ground(size=(20, 20)))
    made: list[Dropped] = []

    def fall() -> None:
        made.append(drop_here(Graph(site, memory_cache()), DROP, Placement(), None, lambda *_: None))

    fall()
    taken = seconds(fall, times=1)
    yield Figure("drop.planks", taken, "s", f" until {len(made[-1].pieces)} things rest")
    yield Figure("drop.planks.overlap", made[-1].overlap * 1000, "mm", " at the deepest contact; at most 5")
    yield Figure("drop.planks.ratio", taken / seconds(one_plank), "×", " six seconds of one plank")
