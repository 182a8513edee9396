"""``signals.occlusion``: 1 M texels × 64 rays on the demo site's lock."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from measuring import Figure, seconds

from cenote.derive.cache import memory_cache
from cenote.derive.graph import Graph
from cenote.derive.scene import WholeScene
from cenote.derive.surfaces import ObjectCells
from cenote.geometry.rays import LIFT, hemisphere
from cenote.signals.crevice import RAYS, Crevice
from cenote.signals.scene import Samples
from cenote.site.tallow_lock import tallow_lock

TEXELS = 1_000_000


def plain(corners: np.ndarray, samples: Samples, radius: float) -> float:
    """Rays a second of a plain embreex call on one thread, on a share of the same rays."""
    scene = EmbreeScene()
    TriangleMesh(scene, corners)
    few = slice(0, len(samples), 16)
    positions, normals = samples.positions[few], samples.normals[few]
    sideways = np.where(np.abs(normals[:, :1]) > 0.9, [[0.0, 1, 0]], [[1.0, 0, 0]])
    u = np.cross(normals, sideways)
    u /= np.linalg.norm(u, axis=1)[:, None]
    frame = np.stack([u, np.cross(normals, u), normals], axis=1)
    directions = np.einsum("kj,nji->nki", hemisphere(RAYS), frame).reshape(-1, 3).astype(np.float32)
    origins = np.repeat(positions + normals * LIFT, RAYS, axis=0).astype(np.float32)
    reaches = np.full(len(origins), radius, np.float32)
    scene.run(origins[:1], directions[:1])
    began = time.perf_counter()
    scene.run(origins, directions, dists=reaches, query="OCCLUDED")
    return len(origins) / (time.perf_counter() - began)


def figures() -> Iterator[Figure]:
    """The figure, and a plain call beside it."""
    graph = Graph(tallow_lock(), memory_cache())
    cells, scene = graph.get(ObjectCells("lock_walls")).samples, graph.get(WholeScene())
    rows = np.resize(np.arange(len(cells)), TEXELS)
    samples = Samples(cells.positions[rows], cells.normals[rows])
    signal = Crevice(radius=0.6)
    taken = seconds(lambda: signal.measure(samples, scene), times=2)
    corners = np.concatenate([scene.objects[name].corners for name in sorted(scene.objects)])
    ours, theirs = TEXELS * RAYS / taken, plain(corners, samples, 0.6)
    yield Figure(
        "signals.occlusion", taken, "s", f" for {TEXELS:,} texels × {RAYS} rays against {len(corners):,} triangles"
    )
    yield Figure("signals.occlusion.rate", ours / 1e6, "M rays/s")
    yield Figure(
        "signals.occlusion.embreex", theirs / 1e6, "M rays/s", " plain embreex call on one thread, tracing alone"
    )
    yield Figure("signals.occlusion.ratio", ours / theirs, "×", " the aim is at least 1.8")
