"""``scatter.send``: what a page is sent of a million placements: the whole table, and after one object was moved."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import zstandard
from measuring import Figure

from cenote.derive.cache import Cache
from cenote.derive.graph import Graph
from cenote.derive.store import MemoryStore
from cenote.formats.pack import pack

from .scatter_fill import site

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "server"))


def _sent(arrays: dict, meta: dict) -> bytes:
    return zstandard.ZstdCompressor(level=1).compress(pack(arrays, meta))


def figures() -> Iterator[Figure]:
    """Bytes and milliseconds, beside those of the whole table as it is."""
    from derived.packs.parts import only_changed
    from derived.packs.planting import PlacementsPack

    graph = Graph(site(), Cache(MemoryStore(), limit=8 * 1024**3))
    arrays, meta = graph.get(PlacementsPack("bench"))
    plain = len(pack(arrays, meta))
    began = time.perf_counter()
    whole = _sent(arrays, meta)
    took = time.perf_counter() - began
    yield Figure(
        "scatter.send.whole", len(whole) / 1e6, "MB", f" for {meta['count']:,} items; {plain / 1e6:.0f} MB as they are"
    )
    yield Figure("scatter.send.whole.time", took * 1e3, "ms", " to write and compress")
    moved = Graph(site(4.0), graph.cache, graph)
    moved.get(PlacementsPack("bench"))
    began = time.perf_counter()
    after, told = moved.get(PlacementsPack("bench"))
    part = _sent(only_changed(after, arrays), told)
    took = time.perf_counter() - began
    yield Figure("scatter.send", len(part) / 1e3, "kB", " after one of 40 objects was moved")
    yield Figure("scatter.send.time", took * 1e3, "ms", " to find what differs, write and compress it")
    yield Figure("scatter.send.ratio", len(whole) / len(part), "×", " less than the whole table")
