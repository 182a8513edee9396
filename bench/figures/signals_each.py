"""``signals.*``: seconds for a million texels of each signal, on the demo site's lock; slope beside them."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from measuring import Figure

from cenote.derive.cache import memory_cache
from cenote.derive.graph import Graph
from cenote.derive.surfaces import ObjectCells
from cenote.derive.why import scene_for
from cenote.geometry.strokes import BrushStroke
from cenote.signals.base import SIGNALS, Signal
from cenote.signals.leaf_fall import LeafFall
from cenote.signals.painted import Painted
from cenote.signals.scene import Samples
from cenote.site.tallow_lock import tallow_lock

TEXELS = 1_000_000


def asked(signal: type[Signal]) -> Signal:
    """A signal with something to look at."""
    if signal is LeafFall:
        return LeafFall(layers=("alders",))
    if signal is Painted:
        path = tuple((0.1 * k, 0.0, 0.2 * k) for k in range(60))
        return Painted(strokes=(BrushStroke(radius=1.5, path=path),))
    return signal()


def figures() -> Iterator[Figure]:
    """One figure for each signal. What is worked out once for a whole scene is told apart."""
    graph = Graph(tallow_lock(), memory_cache())
    cells = graph.get(ObjectCells("lock_walls")).samples
    rows = np.resize(np.arange(len(cells)), TEXELS)
    parts = None if cells.parts is None else cells.parts[rows]
    samples = Samples(cells.positions[rows], cells.normals[rows], parts, cells.part_names, "lock_walls")
    few = replace(samples, positions=samples.positions[:1000], normals=samples.normals[:1000],
                  parts=None if parts is None else parts[:1000])  # fmt: skip
    for kind in SIGNALS:
        signal = asked(kind)
        scene = scene_for(graph, signal)
        began = time.perf_counter()
        signal.measure(few, scene)
        once = time.perf_counter() - began
        began = time.perf_counter()
        signal.measure(samples, scene)
        took = time.perf_counter() - began
        name = str(kind.model_fields["kind"].default)
        remark = f" for {TEXELS:,} texels; {once:.1f} s before, once for the scene or compiling"
        yield Figure(f"signals.{name}", took, "s", remark)
