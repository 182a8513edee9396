"""Signals on surfaces: measured on cells by workers, or computed where they are asked for."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from hashlib import blake2b
from typing import Any

import numpy as np

from ..geometry.charts import CELL_RANGE
from ..signals.around import PARTS, Around
from ..signals.base import Signal
from ..signals.crevice import Crevice
from ..signals.noise import Noise
from ..signals.scene import MeasuredScene, Samples
from ..signals.smooth import smoothed
from .digest import encoded, hashed, of_declared
from .regional import fields_on
from .regions import corners_of, region_of
from .scene import Scenery, around_site, bits_of
from .site import Site
from .surfaces import Cells, ObjectAtlas, ObjectCells, Patches, Points, TexelPoints, cell_of_layout, part_names
from .target import Keep, Read, Target

# Two signals that every surface needs: occlusion for its final maps, and a slow drift of brightness.
OCCLUSION = Crevice(radius=1.0)
DRIFT = Noise(size=2.2, octaves=3, seed=77)
# Bytes of a block's key and of its mark.
_DIGEST = 16
# Metres: the side of the finest cells, those of small objects.
FINEST_CELL = CELL_RANGE[0]
# With more changes than this, whole blocks are measured anew; cells asked about at a time.
_MOST_CHANGES, _AT_ONCE = 40, 65_536


@dataclass(frozen=True)
class Against:
    """The objects that a field was measured against.

    :ivar around: objects, with boxes. :ivar digests: for each what tells its triangles from others.
    """

    around: Around
    digests: tuple[str, ...]

    def pack(self) -> dict[str, np.ndarray]:
        """As arrays for the store: text uint8 (B,), corners of boxes float64 (T, 3) each."""
        names = [name for _, name in self.around.things]
        text = json.dumps([names, self.digests]).encode()
        return {"against": np.frombuffer(text, np.uint8), "low": self.around.low, "high": self.around.high}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Against:
        """What :meth:`pack` wrote."""
        names, digests = json.loads(arrays["against"].tobytes())
        return Against(Around(tuple(("object", name) for name in names), arrays["low"], arrays["high"]), tuple(digests))

    def beside(self, other: Against) -> Around:
        """What is here, and not the same there."""
        there = set(zip(other.around.things, other.digests, strict=True))
        here = zip(self.around.things, self.digests, strict=True)
        return self.around.part(np.array([row for row, one in enumerate(here) if one not in there], np.int64))


def _against(scene: MeasuredScene) -> Against:
    around = scene.around
    rows = np.flatnonzero(around.all_of("object"))
    objects = around.part(rows)
    return Against(objects, tuple(scene.objects[name].digest for _, name in objects.things))


@dataclass(frozen=True)
class Field:
    """A signal on the cells of a surface.

    :ivar values: float32 (h, w); 0 where there is no surface.
    :ivar measured: float32 (h, w), the same before it was smoothed: what blocks are taken over from.
    :ivar keys: uint8 (B, 16), for each of :class:`cenote.derive.surfaces.Blocks` what it was measured from.
    :ivar marks: uint8 (B, 16), for each a digest of its values.
    :ivar against: the objects that it was measured against.
    """

    values: np.ndarray
    measured: np.ndarray
    keys: np.ndarray
    marks: np.ndarray
    against: Against


def _inputs(site: Site, id: str, signal: Signal) -> dict[str, Any]:
    bits, named = reached_by(site, signal)[id]
    region = None if signal.pointwise else region_of(site, id)
    scene = Scenery(bits, signal.looks_at(), None if region is None else corners_of(site, region))
    return {"signal": signal, "scene": scene, "parts": part_names(site, id) if named else (),
            "owner": id}  # fmt: skip


def told_by(site: Site, id: str, signal: Signal) -> tuple[Target | bytes, ...]:
    """What tells a signal's values on a surface, at texels of any size: for keys, together with the surface's shape."""
    out: tuple[Target | bytes, ...] = (
        (MeasuredField(id, signal), *fields_on(site, id, signal)) if signal.on_cells else ()
    )
    if not signal.on_cells or (signal.pointwise and has_finer_cells(site, id)):
        out = (*out, _computed_from(site, id, signal))
    return out


def has_finer_cells(site: Site, id: str) -> bool:
    """Whether cells of some of an object's patches are finer than those that it is measured on as a whole."""
    return cell_of_layout(site, id) > FINEST_CELL


def _computed_from(site: Site, id: str, signal: Signal) -> bytes:
    """What a signal's values on a surface are computed from, whatever they come to."""

    def computed_from(at: Site) -> dict[str, bytes]:
        # One pass over all surfaces: there may be hundreds, each under a dozen signals, and most look at the same things.
        by_scene: dict[bytes, bytes] = {}
        out = dict[str, bytes]()
        for one, (bits, named) in reached_by(at, signal).items():
            found = by_scene.get(bits)
            if found is None:
                scene = at.key(Scenery(bits, signal.looks_at()))
                found = by_scene[bits] = hashed(of_declared(signal) + scene.encode())
            out[one] = found + encoded(part_names(at, one)) if named else found
        return out

    return site.once(("computed from", of_declared(signal)), computed_from)[id]


def reached_by(site: Site, signal: Signal) -> dict[str, tuple[bytes, bool]]:
    """What a signal looks at on each object of a site, as bits for :class:`Scenery`, and whether names of parts are among it."""
    return site.once(("reached by", of_declared(signal)), lambda at: _reached(at, signal))


def _reached(site: Site, signal: Signal) -> dict[str, tuple[bytes, bool]]:
    """What a signal looks at on each object of a site, as bits, and whether names of parts are among it."""
    around, ids = around_site(site), site.surface_ids()
    # Objects come first among the things around, in the same order.
    reached = signal.reaches(around, around.low[: len(ids)], around.high[: len(ids)])
    named = (reached & around.only(PARTS)).any(1).tolist()
    return {id: (bits_of(row), parts) for id, row, parts in zip(ids, reached, named, strict=True)}


@dataclass(frozen=True)
class MeasuredField(Target):
    """A signal that is measured by rays or over the whole scene, on the cells of a surface: :class:`Field`.

    Where the signal is pointwise, blocks that nothing has changed for are taken from an earlier field.
    """

    id: str
    signal: Signal
    keep = "store"
    slow = True
    lineage = ("signal", "cells")

    def inputs(self, site: Site) -> Mapping[str, Any]:
        atlas = ObjectAtlas(self.id) if self.signal.grain else None
        return _inputs(site, self.id, self.signal) | {"cells": ObjectCells(self.id), "atlas": atlas}

    @staticmethod
    def make(read: Read) -> Field:
        signal: Signal = read.signal
        cells: Cells = read.cells
        scene: MeasuredScene = read.scene
        blocks = cells.blocks
        keys = _block_keys(signal, scene, blocks.low, blocks.high)
        against = _against(scene)
        values = np.zeros(cells.grid.faces.shape, np.float32)
        rows = blocks.order
        before, differs = _likest(keys, read.earlier()) if len(keys) else (None, keys)
        if before is not None:
            values = before.measured.copy()
            rows = _changed(signal, cells, rows[np.repeat(differs, np.diff(blocks.first))], before.against, against)
        if len(rows):
            some = replace(cells.samples.only(rows), part_names=read.parts, owner=read.owner)
            values[cells.ys[rows], cells.xs[rows]] = signal.measure(some, scene)
        measured = values
        if signal.grain:
            faces = cells.grid.faces
            values = smoothed(
                measured, np.where(faces >= 0, read.atlas.charts[faces], -1).astype(np.int32), signal.grain
            )
        return Field(values, measured, keys, _marks(values, cells), against)

    @staticmethod
    def pack(value: Field) -> dict[str, np.ndarray]:
        own = {} if value.measured is value.values else {"measured": value.measured}
        return {"values": value.values, "keys": value.keys, "marks": value.marks} | own | value.against.pack()

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Field:
        measured = arrays.get("measured", arrays["values"])
        return Field(arrays["values"], measured, arrays["keys"], arrays["marks"], Against.unpack(arrays))

    @staticmethod
    def mark(value: Field) -> np.ndarray:
        # Something without any cells is known by that.
        return value.marks.ravel() if len(value.marks) else np.zeros(_DIGEST, np.uint8)

    def doing(self, site: Site) -> str:
        return f"{self.signal.reading.title} on {site.title(self.id)}"


def _likest(keys: np.ndarray, earlier: Iterable[Field]) -> tuple[Field | None, np.ndarray]:
    """Of earlier fields the one with the most blocks in common, and which of them are not: bool (B,)."""
    found, least = None, np.ones(len(keys), bool)
    for one in earlier:
        if one.keys.shape == keys.shape:
            differs = (one.keys != keys).any(1)
            if found is None or differs.sum() < least.sum():
                found, least = one, differs
    return found, least


def _changed(signal: Signal, cells: Cells, rows: np.ndarray, before: Against, now: Against) -> np.ndarray:
    """Of some rows of the cells those that may meet what has gone, or what has come: int64 (K,)."""
    changes = [around for around in (before.beside(now), now.beside(before)) if len(around)]
    if sum(map(len, changes)) > _MOST_CHANGES:
        return rows
    out = []
    for first in range(0, len(rows), _AT_ONCE):
        part = rows[first : first + _AT_ONCE]
        samples = cells.samples.only(part)
        out.append(part[np.any([signal.meets(around, samples) for around in changes], axis=0)] if changes else part[:0])
    return np.concatenate(out) if out else rows


def _block_keys(signal: Signal, scene: MeasuredScene, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """What the blocks of a field are measured from, besides the samples and the signal: uint8 (B, 16).

    None at all, (0, 16), where not each block can be told from the objects that it reaches.
    """
    around: Around = scene.around
    digests = [scene.objects[name].digest if what == "object" else "" for what, name in around.things]
    reached = signal.reaches(around, low, high)
    if not signal.pointwise or (reached & ~around.all_of("object")).any():
        return np.zeros((0, _DIGEST), np.uint8)
    patterns, which = np.unique(reached, axis=0, return_inverse=True)
    keys = np.zeros((len(patterns), _DIGEST), np.uint8)
    for row, pattern in enumerate(patterns):
        text = "\n".join(sorted(digests[k] for k in np.flatnonzero(pattern)))
        keys[row] = np.frombuffer(blake2b(text.encode(), digest_size=_DIGEST).digest(), np.uint8)
    return keys[which.ravel()]


def _marks(values: np.ndarray, cells: Cells) -> np.ndarray:
    """Digests of the values of each block, uint8 (B, 16)."""
    blocks = cells.blocks
    out = np.zeros((len(blocks), _DIGEST), np.uint8)
    ordered = np.ascontiguousarray(values[cells.ys[blocks.order], cells.xs[blocks.order]])
    for row, (first, beyond) in enumerate(zip(blocks.first[:-1], blocks.first[1:], strict=True)):
        content = ordered[first:beyond].tobytes()
        out[row] = np.frombuffer(blake2b(content, digest_size=_DIGEST).digest(), np.uint8)
    return out


@dataclass(frozen=True)
class ComputedField(Target):
    """A signal that is cheap to compute, on the texels of a surface at a level from 0 up, or of patches of one: float32 (H, W)."""

    id: str
    signal: Signal
    level: int
    patches: Patches | None = None

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """What there is of a patch is asked for once, to be composed."""
        return "memory" if self.patches is None else "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        given = _inputs(site, self.id, self.signal)
        if self.level == 0 and self.patches is None:
            return given | {"cells": ObjectCells(self.id), "points": None}
        return given | {
            "cells": None,
            "points": TexelPoints(self.id, self.level, self.patches, self.signal.smooth_over()),
        }

    @staticmethod
    def make(read: Read) -> np.ndarray:
        if read.cells is not None:
            cells: Cells = read.cells
            at = cells.samples
            samples = Samples(at.positions, at.normals, at.parts, read.parts, read.owner)
            field = np.zeros(cells.grid.faces.shape, np.float32)
            field[cells.ys, cells.xs] = read.signal.measure(samples, read.scene)
            return field
        points: Points = read.points
        samples = Samples(points.positions, points.normals, points.parts, read.parts, read.owner)
        return points.spread(read.signal.measure(samples, read.scene))


@dataclass(frozen=True)
class CellField(Target):
    """A signal on the cells of a surface, or on every so manyth of them for previews: float32 (h, w).

    :ivar level: at most 0; below it, texels as large as several cells.
    """

    id: str
    signal: Signal
    level: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"field": on_cells(self.id, self.signal), "step": 2**-self.level}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        values, step = values_of(read.field), read.step
        return values if step == 1 else np.ascontiguousarray(values[step // 2 :: step, step // 2 :: step])


def on_cells(id: str, signal: Signal) -> Target:
    """A signal on the cells of a surface, measured or computed: :class:`Field` or float32 (h, w)."""
    return MeasuredField(id, signal) if signal.on_cells else ComputedField(id, signal, 0)


def values_of(found: Field | np.ndarray) -> np.ndarray:
    """The values of :func:`on_cells`, float32 (h, w)."""
    return found.values if isinstance(found, Field) else found
