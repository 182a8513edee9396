"""``droplets.beads`` and ``droplets.run``: how long drops on a bell take to lie, to be shaped and to run, beside rays at the same bell."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from measuring import Figure, seconds

from cenote.droplets.base import Moment
from cenote.droplets.beads import Beads
from cenote.droplets.cap import volume_of
from cenote.droplets.drops import Drops, Wetted
from cenote.droplets.running import Running, begun, stepped
from cenote.droplets.shaping import shaped
from cenote.geometry.mesh import corner_normals, face_normals
from cenote.scatter.spacing import kept_apart
from cenote.structures.turned_pieces import Bell

KEY, WET = np.uint64(5), Moment(1.0)
RUNNING, STEPS = 5_000, 10


def _bell() -> Wetted:
    mesh = Bell().build()
    angles = np.tile([np.radians(88), np.radians(46), 1.0], (len(mesh.part_names), 1))
    return Wetted(mesh.corners, corner_normals(mesh), mesh.parts, angles, lambda faces, weights: np.ones(len(faces)))


def _board() -> Wetted:
    """A steep board of 4 m by 4 m."""
    turn = np.radians(80)
    square = np.array([[[-1, 0, -1], [-1, 0, 1], [1, 0, 1]], [[-1, 0, -1], [1, 0, 1], [1, 0, -1]]]) * 2.0
    corners = (
        square @ np.array([[np.cos(turn), -np.sin(turn), 0], [np.sin(turn), np.cos(turn), 0], [0, 0, 1]])
    ).astype(np.float32)
    normals = np.repeat(face_normals(corners)[0][:, None], 3, axis=1)
    angles = np.array([[np.radians(88), np.radians(46), 1.0]])
    return Wetted(corners, normals, np.zeros(2, int), angles, lambda faces, weights: np.ones(len(faces)))


def _running(on: Wetted) -> Drops:
    """So many drops apart from each other, each heavy enough to run."""
    places = Beads(number=0.1).fallen(on, KEY, 1.0)
    kept = kept_apart(places.positions, np.full(len(places), 0.02))
    drops = places.only(np.flatnonzero(kept)[:RUNNING])
    return replace(drops, volumes=volume_of(np.full(len(drops), 0.0042)))


def figures() -> Iterator[Figure]:
    """18,000 drops, fine and large, on one bell; and 5,000 that run."""
    on = _bell()
    way = Beads(number=19, sizes=(0.4, 4.5), fine=0.85)
    origins = on.corners.mean(1).repeat(40, 0)[:400_000]
    rays = seconds(lambda: on.rays.first(origins, np.broadcast_to(np.float32([0, 1, 0]), origins.shape)))
    lie, drops = seconds(lambda: way.lie(on, KEY, WET)), way.lie(on, KEY, WET)
    shape, mesh = seconds(lambda: shaped(drops, on, fine=True)), shaped(drops, on, fine=True)
    size = (mesh.positions.nbytes + mesh.normals.nbytes + mesh.faces.nbytes) / 1e6
    large = int((drops.radii > 0.0012).sum())
    yield Figure(
        "droplets.beads",
        lie + shape,
        "s",
        f" for {len(drops) - large:,} fine and {large:,} large ones; the aim is at most 3",
    )
    yield Figure("droplets.beads.ratio", (lie + shape) / rays, "×", f" of the time of {len(origins):,} rays")
    yield Figure(
        "droplets.beads.triangles",
        len(mesh.faces) / 1e6,
        "million",
        f" for stills, {size:.0f} MB; {len(shaped(drops, on).faces) / 1e6:.2f} million in the view",
    )
    how = Running(3e-5, 20, np.radians(25), 0.012, 3e-6, 1)
    board = _board()
    run = begun(_running(board))
    none = run.drops.only(np.zeros(0, int))

    def go() -> None:
        now = run
        for _ in range(STEPS):
            now = stepped(now, board, how, none)

    took = seconds(go)
    yield Figure(
        "droplets.run", STEPS / took, "steps/s", f" of {len(run.drops):,} that run; a frame at 24 a second is 1.7 steps"
    )
