"""What a signal is, and what it may look at.

To add a signal, add a file to this package with a class like this::

    @SIGNALS.register
    class Slope(Signal):
        '''Angle between the surface and the level.'''
        kind: Literal["slope"] = "slope"
        reading = Reading("Slope", "°", 0, 90)

        def measure(self, samples, scene):
            return np.degrees(np.arccos(np.clip(samples.normals[:, 1], -1, 1)))
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, ClassVar, Protocol, TypeVar

import numpy as np

from ..geometry.closest import NearestTriangles
from ..geometry.mesh import face_normals
from ..geometry.rays import RayScene
from ..parameters import Declared
from ..registry import Family

Value = TypeVar("Value")
# The least and the greatest corner of a part of the world, each float64 (3,), metres.
Box = tuple[np.ndarray, np.ndarray]


# How many results with parameters a scene keeps; and what stands for one that is not there.
_KEPT = 24
_NOTHING: Any = object()


@dataclass(frozen=True)
class Bodies:
    """What stands, or would stand, somewhere, as upright cylinders.

    :ivar positions: float64 (N, 3), their feet, metres. :ivar radii, heights: float64 (N,), metres.
    """

    positions: np.ndarray
    radii: np.ndarray
    heights: np.ndarray

    def __len__(self) -> int:
        return len(self.positions)

    def box(self, reach: float) -> Box:
        """The box about all of them and ``reach`` metres more."""
        wide = np.column_stack([self.radii, np.zeros(len(self)), self.radii])
        top = np.column_stack([self.radii, self.heights, self.radii])
        return (self.positions - wide).min(0) - reach, (self.positions + top).max(0) + reach


@dataclass(frozen=True)
class View:
    """What a shot looks at.

    :ivar eye: float64 (3,), metres. :ivar ahead, up: unit float64 (3,). :ivar height, width: tangents of half its angles.
    """

    eye: np.ndarray
    ahead: np.ndarray
    up: np.ndarray
    height: float
    width: float

    def digest(self) -> list[Any]:
        """What decides it."""
        return [self.eye.tolist(), self.ahead.tolist(), self.height, self.width]


class Planted(Protocol):
    """What planting layers have placed."""

    def bodies(self, layer: str) -> Bodies:
        """The items of a layer; none where there is no such layer."""
        ...

    def digest(self, layer: str) -> str:
        """A hash of them, without placing them."""
        ...


class _NothingPlanted:
    def bodies(self, layer: str) -> Bodies:
        return Bodies(np.zeros((0, 3)), np.zeros(0), np.zeros(0))

    def digest(self, layer: str) -> str:
        return ""


@dataclass(frozen=True)
class Reading:
    """How a signal's values read: its name, unit, and the range over which histograms and ramps are drawn."""

    name: str
    unit: str
    low: float
    high: float


@dataclass(frozen=True)
class Samples:
    """Points on surfaces at which signals are wanted.

    :ivar positions: float32 (N, 3), metres.
    :ivar normals: unit float32 (N, 3).
    :ivar parts: int16 (N,), for each the row of its part's name, where that is known.
    :ivar part_names: names of the object's parts.
    """

    positions: np.ndarray
    normals: np.ndarray
    parts: np.ndarray | None = None
    part_names: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.positions)


@dataclass(frozen=True)
class SceneObject:
    """One object as signals see it.

    :ivar corners: float32 (M, 3, 3), its triangles in the world, metres.
    :ivar digest: a hash of those triangles.
    """

    corners: np.ndarray
    digest: str

    @cached_property
    def box(self) -> Box:
        """The box about it."""
        flat = self.corners.reshape(-1, 3)
        return flat.min(0).astype(float), flat.max(0).astype(float)

    @cached_property
    def nearest(self) -> NearestTriangles:
        """Distances to it; worked out once, however often other objects are moved."""
        return NearestTriangles(self.corners)

    @cached_property
    def rays(self) -> RayScene:
        """Rays against it alone."""
        return RayScene(self.corners)

    @cached_property
    def normals(self) -> np.ndarray:
        """Unit normals of its triangles, float32 (M, 3)."""
        return face_normals(self.corners)[0]


@dataclass
class MeasuredScene:
    """Everything around the samples.

    :ivar objects: by id; the ground has the id ``ground``.
    :ivar water_level: metres, or None where there is no water.
    :ivar zones: by id, corners of their outlines along x and z, float64 (N, 2), metres.
    :ivar views: shots by id. :ivar planted: what planting layers have placed.
    """

    objects: Mapping[str, SceneObject]
    water_level: float | None = None
    zones: Mapping[str, np.ndarray] = field(default_factory=dict)
    views: Mapping[str, View] = field(default_factory=dict)
    planted: Planted = field(default_factory=_NothingPlanted)
    _shared: dict[Any, Any] = field(default_factory=dict)

    def with_changes(self, **changes: Any) -> MeasuredScene:
        """The same objects with other zones, water or planting; what was worked out for them is kept."""
        return replace(self, **changes)

    @property
    def corners(self) -> np.ndarray:
        """The triangles of all objects together, in the order of their names, float32 (M, 3, 3)."""

        def make() -> np.ndarray:
            corners = [self.objects[name].corners for name in sorted(self.objects)]
            return np.concatenate(corners) if corners else np.zeros((0, 3, 3), np.float32)

        return self.shared("corners", make)

    @property
    def owners(self) -> np.ndarray:
        """For each triangle of :attr:`corners` the row of its object's name in their order, int64 (M,)."""
        counts = [len(self.objects[name].corners) for name in sorted(self.objects)]
        return self.shared("owners", lambda: np.repeat(np.arange(len(counts)), counts))

    @property
    def rays(self) -> RayScene:
        """Rays against all objects together; triangles count as in :attr:`corners`."""
        return self.shared("rays", lambda: RayScene(self.corners))

    @property
    def ground_rays(self) -> RayScene:
        """Rays against the ground alone."""
        ground = self.objects.get("ground")
        return self.shared(
            "ground rays", lambda: RayScene(ground.corners if ground else np.zeros((0, 3, 3), np.float32))
        )

    @property
    def bounds(self) -> Box:
        """The box about all objects together."""

        def make() -> Box:
            _, low, high = self.shared("boxes", self._boxes)
            return (low.min(0), high.max(0)) if len(low) else (np.zeros(3), np.zeros(3))

        return self.shared("bounds", make)

    def shared(self, key: Any, make: Callable[[], Value]) -> Value:
        """What a signal works out once for the whole scene, and then reads for each surface.

        What depends on parameters, and so has a tuple for a key, is forgotten when there is much newer: parameters are
        dragged.
        """
        found: Value = self._shared.get(key, _NOTHING)
        if found is _NOTHING:
            found = self._shared[key] = make()
            dragged = [one for one in list(self._shared) if isinstance(one, tuple)]
            for one in dragged[:-_KEPT]:
                self._shared.pop(one, None)
        return found

    def chosen(self, names: tuple[str, ...]) -> tuple[str, ...]:
        """The named objects that exist; all but the ground where no name is given."""
        if not names:
            return tuple(sorted(name for name in self.objects if name != "ground"))
        return tuple(sorted(name for name in names if name in self.objects))

    def distance(self, names: Iterable[str], points: np.ndarray, reach: float) -> np.ndarray:
        """Distance to the nearest triangle of some objects.

        :param points: float (N, 3), metres. :param reach: metres; farther distances are given as this.
        :returns: float32 (N,) in [0, reach].
        """
        least = np.full(len(points), reach, np.float32)
        if len(points):
            low, high = points.min(0).astype(float), points.max(0).astype(float)
            here = set(self.near((low, high), reach))

            def away(name: str) -> float:
                """How far an object's middle is from that of the points."""
                first, last = self.objects[name].box
                return float(np.linalg.norm((first + last - low - high) / 2))

            # Each object bounds the search in the next: the likely nearest comes first.
            for name in sorted(here.intersection(names), key=away):
                self.objects[name].nearest.nearer(points, least)
        return least

    def inside_solids(self, points: np.ndarray, ways: np.ndarray) -> np.ndarray:
        """Whether points lie inside something solid: what a ray meets first is met from within.

        :param points: float32 (N, 3), metres. :param ways: unit float32 (N, 3), the rays' directions.
        :returns: bool (N,).
        """
        first, inside = np.full(len(points), np.inf), np.zeros(len(points), bool)
        if not len(points):
            return inside
        _, top = self.bounds
        low, high = points.min(0).astype(float), points.max(0).astype(float)
        if (ways[:, 1] > 0.999).all():
            high[1] = max(high[1], top[1])
            names = self.near((low, high), 0)
        else:
            names = tuple(self.objects)
        for name in names:
            rows, far = self.objects[name].rays.hits(points, ways)
            nearer = (rows >= 0) & (far < first)
            out = (self.objects[name].normals[np.maximum(rows, 0)] * ways).sum(1) > 0
            first, inside = np.where(nearer, far, first), np.where(nearer, out, inside)
        return inside

    def near(self, place: str | Box, reach: float) -> tuple[str, ...]:
        """The objects whose boxes come within ``reach`` metres of a place: of an object's box, itself among them, or of
        a box. All of them where there is no object of that name."""
        if not isinstance(place, str):
            low, high = place
        elif place in self.objects:
            low, high = self._box(place)
        else:
            return tuple(self.objects)
        names, least, most = self.shared("boxes", self._boxes)
        met = np.all((least <= high + reach) & (most >= low - reach), axis=1)
        return tuple(name for name, meets in zip(names, met, strict=True) if meets)

    def _box(self, name: str) -> Box:
        names, low, high = self.shared("boxes", self._boxes)
        row = names.index(name)
        return low[row], high[row]

    def _boxes(self) -> tuple[list[str], np.ndarray, np.ndarray]:
        names = list(self.objects)
        boxes = [self.objects[name].box for name in names]
        low, high = (np.array([box[side] for box in boxes]).reshape(-1, 3) for side in (0, 1))
        return names, low, high

    def digest(self, names: Iterable[str] | None = None) -> list[str]:
        """Hashes of the objects that a signal looks at; all of them where ``names`` is None."""
        return sorted(self.objects[name].digest for name in (self.objects if names is None else names))


class Signal(Declared):
    """A quantity that can be measured at any point of a surface.

    :cvar reading: how its values read.
    :cvar on_cells: true where measuring is costly, by rays or over the whole scene. Such a signal is measured on cells
        of a few centimetres, cached, and interpolated; the others are computed at each texel or point itself.
    :cvar suggested: the ramp of a new card: starts at, full at.
    """

    kind: str
    reading: ClassVar[Reading]
    on_cells: ClassVar[bool] = False
    suggested: ClassVar[tuple[float, float]] = (0.0, 1.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        """The signal's values.

        :returns: float32 (N,), in the unit of ``reading``.
        """
        raise NotImplementedError

    def depends_on(self, scene: MeasuredScene, on: str | Box = "") -> list[Any]:
        """What besides the samples and the parameters decides the values: hashes for the cache.

        :param on: the object whose surface it is measured on, or the box that all samples lie in, where that is known:
            what is far from it may not matter.
        """
        return []

    def looks_at(self) -> tuple[str, ...]:
        """The planting layers that it looks at."""
        return ()


SIGNALS: Family[type[Signal]] = Family("cenote.signals", "signal")
