"""What signals are measured on and against: samples, objects, and the scene that they make."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from ..geometry.camera import Camera
from ..geometry.closest import NearestTriangles
from ..geometry.mesh import face_normals
from ..geometry.rays import RayScene
from .around import EXTENT, GROUND, PARTS, WATER, Around, around_of

Value = TypeVar("Value")
# The least and the greatest corner of a part of the world, each float64 (3,), metres.
Box = tuple[np.ndarray, np.ndarray]

# How many results with parameters a scene keeps; and what stands for one that is not there.
_KEPT = 24
# And how many an object keeps.
_KEPT_EACH = 4
_NOTHING: Any = object()


@dataclass(frozen=True)
class Bodies:
    """What stands, or would stand, somewhere, as upright cylinders.

    :ivar positions: float64 (N, 3), their feet, metres. :ivar radii, heights: float64 (N,), metres.
    """

    positions: np.ndarray
    radii: np.ndarray
    heights: np.ndarray

    @staticmethod
    def none() -> Bodies:
        """Nothing at all."""
        return Bodies(np.zeros((0, 3)), np.zeros(0), np.zeros(0))

    def __len__(self) -> int:
        return len(self.positions)

    def box(self, reach: float) -> Box:
        """The box about all of them and ``reach`` metres more."""
        wide = np.column_stack([self.radii, np.zeros(len(self)), self.radii])
        top = np.column_stack([self.radii, self.heights, self.radii])
        return (self.positions - wide).min(0) - reach, (self.positions + top).max(0) + reach


@dataclass(frozen=True)
class Samples:
    """Points on surfaces at which signals are wanted.

    :ivar positions: float32 (N, 3), metres.
    :ivar normals: unit float32 (N, 3).
    :ivar parts: int16 (N,), for each the row of its part's name, where that is known.
    :ivar part_names: names of the object's parts.
    :ivar owner: the id of the object that all of them lie on, where that is known.
    """

    positions: np.ndarray
    normals: np.ndarray
    parts: np.ndarray | None = None
    part_names: tuple[str, ...] = ()
    owner: str = ""

    def __len__(self) -> int:
        return len(self.positions)

    def only(self, rows: np.ndarray) -> Samples:
        """Some of them. :param rows: int (K,)."""
        return replace(self, positions=self.positions[rows], normals=self.normals[rows],
                       parts=None if self.parts is None else self.parts[rows])  # fmt: skip


@dataclass(frozen=True)
class SceneObject:
    """One object as signals see it.

    :ivar corners: float32 (M, 3, 3), its triangles in the world, metres.
    :ivar digest: what tells those triangles from all others.
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

    @cached_property
    def _found(self) -> dict[Any, Any]:
        return {}

    def once(self, key: Any, make: Callable[[], Value]) -> Value:
        """What follows from its triangles and a parameter; the last few are kept, however often other objects are moved."""
        found: Value = self._found.pop(key, _NOTHING)
        if found is _NOTHING:
            found = make()
        self._found[key] = found
        for old in list(self._found)[:-_KEPT_EACH]:
            self._found.pop(old, None)
        return found


# Keeps something that is worked out, under a name.
Keeper = Callable[[str, Callable[[], Any]], Any]


@dataclass
class MeasuredScene:
    """Everything around the samples, or the part of it that was asked for.

    :ivar objects: by id; the ground has the id ``ground``.
    :ivar water_level: metres, or None where there is no water.
    :ivar zones: by id, corners of their outlines along x and z, float64 (N, 2), metres.
    :ivar cameras: shots by id. :ivar planted: what planting layers have placed, by id.
    :ivar whole: the scene that this is a part of: rays meet all of it, so that the tree of its triangles is shared.
    :ivar region: the box that it is worked out in, where that is not all of it.
    :ivar keeper: keeps what is worked out for the scene; in the scene itself where there is none.
    """

    objects: Mapping[str, SceneObject]
    water_level: float | None = None
    zones: Mapping[str, np.ndarray] = field(default_factory=dict)
    cameras: Mapping[str, Camera] = field(default_factory=dict)
    planted: Mapping[str, Bodies] = field(default_factory=dict)
    whole: MeasuredScene | None = None
    region: Box | None = None
    keeper: Keeper | None = None
    _shared: dict[Any, Any] = field(default_factory=dict)

    def part(self, objects: Iterable[str], extent: bool, region: Box | None = None, **besides: Any) -> MeasuredScene:
        """A part of the scene: some objects, and what is given besides.

        :param extent: whether its bounds are those of all. :param region: the box that it is worked out in; its bounds, then.
        """
        some = {name: self.objects[name] for name in objects}
        bounds = region or (self.bounds if extent else None)
        return MeasuredScene(some, whole=self, region=region, _shared={"bounds": bounds} if bounds else {}, **besides)

    def bodies(self, layer: str) -> Bodies:
        """The items of a planting layer; none where there is no such layer."""
        return self.planted.get(layer) or Bodies.none()

    @cached_property
    def around(self) -> Around:
        """What there is in this scene, with boxes."""
        boxes = [(("object", name), *self.objects[name].box) for name in self.objects]
        return around_of(boxes, [*(("zone", name) for name in self.zones), *(("shot", name) for name in self.cameras),
                                 WATER, EXTENT, PARTS])  # fmt: skip

    @property
    def corners(self) -> np.ndarray:
        """The triangles that rays meet, those of all objects in the order of their names: float32 (M, 3, 3)."""
        if self.whole is not None:
            return self.whole.corners

        def make() -> np.ndarray:
            corners = [self.objects[name].corners for name in sorted(self.objects)]
            return np.concatenate(corners) if corners else np.zeros((0, 3, 3), np.float32)

        return self.shared("corners", make)

    @property
    def corners_here(self) -> np.ndarray:
        """Those of :attr:`corners` that come into the region; all where there is none: float32 (K, 3, 3)."""
        if self.region is None:
            return self.corners
        (low, high), corners = self.region, self.corners
        return corners[((corners.max(1) >= low) & (corners.min(1) <= high)).all(1)]

    @property
    def owners(self) -> np.ndarray:
        """For each triangle of :attr:`corners` the row of its object's name in their order, int64 (M,)."""
        if self.whole is not None:
            return self.whole.owners
        counts = [len(self.objects[name].corners) for name in sorted(self.objects)]
        return self.shared("owners", lambda: np.repeat(np.arange(len(counts)), counts))

    @property
    def names(self) -> list[str]:
        """The names that :attr:`owners` are rows of."""
        return sorted(self.objects) if self.whole is None else self.whole.names

    @property
    def rays(self) -> RayScene:
        """Rays against all objects together; triangles count as in :attr:`corners`."""
        return self.shared("rays", lambda: RayScene(self.corners)) if self.whole is None else self.whole.rays

    @property
    def ground_rays(self) -> RayScene:
        """Rays against the ground alone."""
        ground = self.objects.get(GROUND)
        return ground.rays if ground else RayScene(np.zeros((0, 3, 3), np.float32))

    @property
    def normals(self) -> np.ndarray:
        """Unit normals of :attr:`corners`, float32 (M + 1, 3): the last is zero, for what rays met nothing, row -1."""
        return self.shared("normals", lambda: np.vstack([face_normals(self.corners)[0], np.zeros((1, 3), np.float32)]))

    @property
    def bounds(self) -> Box:
        """The box about all objects together."""

        def make() -> Box:
            _, low, high = self.worked_out("boxes", self._boxes)
            return (low.min(0), high.max(0)) if len(low) else (np.zeros(3), np.zeros(3))

        return self.worked_out("bounds", make)

    def shared(self, key: Any, make: Callable[[], Value]) -> Value:
        """What a signal works out once for the whole scene, and then reads for each surface.

        What depends on parameters, and so has a tuple for a key, is forgotten when there is much newer: parameters are
        dragged.
        """
        if self.region is not None and self.whole is not None:
            return self.whole.shared((key, [side.tolist() for side in self.region]), make)
        if self.whole is not None:
            return self.whole.shared(key, make)
        if self.keeper is not None:
            return self.keeper(repr(key), make)
        return self.worked_out(key, make)

    def worked_out(self, key: Any, make: Callable[[], Value]) -> Value:
        """As :meth:`shared`, for this part of a scene alone: what follows from water, zones or planting as well."""
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

    def distance(
        self, names: Iterable[str], points: np.ndarray, reach: float, heights: np.ndarray | None = None
    ) -> np.ndarray:
        """Distance to the nearest triangle of some objects.

        :param points: float (N, 3), metres. :param reach: metres; farther distances are given as this.
        :param heights: float (N,), metres, for upright segments that stand at the points; None for the points themselves.
        :returns: float32 (N,) in [0, reach].
        """
        least = np.full(len(points), reach, np.float32)
        if len(points):
            low, high = points.min(0).astype(float), points.max(0).astype(float)
            if heights is not None:
                high = np.maximum(high, [high[0], float((points[:, 1] + heights).max()), high[2]])
            here = set(self.near((low, high), reach))

            def away(name: str) -> float:
                """How far an object's middle is from that of the points."""
                first, last = self.objects[name].box
                return float(np.linalg.norm((first + last - low - high) / 2))

            # Each object bounds the search in the next: the likely nearest comes first.
            for name in sorted(here.intersection(names), key=away):
                if heights is None:
                    self.objects[name].nearest.nearer(points, least)
                else:
                    self.objects[name].nearest.nearer_columns(points, heights, least)
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
        names, least, most = self.worked_out("boxes", self._boxes)
        met = np.all((least <= high + reach) & (most >= low - reach), axis=1)
        return tuple(name for name, meets in zip(names, met, strict=True) if meets)

    def _box(self, name: str) -> Box:
        names, low, high = self.worked_out("boxes", self._boxes)
        row = names.index(name)
        return low[row], high[row]

    def _boxes(self) -> tuple[list[str], np.ndarray, np.ndarray]:
        # What has no triangles is nowhere.
        names = [name for name, one in self.objects.items() if len(one.corners)]
        boxes = [self.objects[name].box for name in names]
        low, high = (np.array([box[side] for box in boxes]).reshape(-1, 3) for side in (0, 1))
        return names, low, high
