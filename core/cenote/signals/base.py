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

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, ClassVar

import numpy as np

from ..geometry.closest import NearestTriangles
from ..geometry.rays import RayScene
from ..parameters import Declared
from ..registry import Family


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
    """

    positions: np.ndarray
    normals: np.ndarray

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


@dataclass
class MeasuredScene:
    """Everything around the samples.

    :ivar objects: by id; the ground has the id ``ground``.
    :ivar water_level: metres, or None where there is no water.
    """

    objects: Mapping[str, SceneObject]
    water_level: float | None = None
    _nearest: dict[tuple[str, ...], NearestTriangles] = field(default_factory=dict)

    @cached_property
    def rays(self) -> RayScene:
        """Rays against all objects together."""
        corners = [self.objects[name].corners for name in sorted(self.objects)]
        return RayScene(np.concatenate(corners) if corners else np.zeros((0, 3, 3), np.float32))

    def chosen(self, names: tuple[str, ...]) -> tuple[str, ...]:
        """The named objects that exist; all but the ground where no name is given."""
        if not names:
            return tuple(sorted(name for name in self.objects if name != "ground"))
        return tuple(sorted(name for name in names if name in self.objects))

    def nearest(self, names: tuple[str, ...]) -> NearestTriangles:
        """Distances to chosen objects; the tree is built once."""
        names = self.chosen(names)
        if names not in self._nearest:
            corners = [self.objects[name].corners for name in names]
            self._nearest[names] = NearestTriangles(np.concatenate(corners) if corners else np.zeros((0, 3, 3)))
        return self._nearest[names]

    def digest(self, names: tuple[str, ...] | None = None) -> list[str]:
        """Hashes of the objects that a signal looks at; all of them where ``names`` is None."""
        return sorted(self.objects[name].digest for name in (self.objects if names is None else names))


class Signal(Declared):
    """A quantity that can be measured at any point of a surface.

    :cvar reading: how its values read.
    :cvar by_rays: true where measuring costs rays. Such a signal is measured on cells of a few centimetres, cached, and
        interpolated; the others are computed at each texel or point itself.
    :cvar suggested: the ramp of a new card: starts at, full at.
    """

    kind: str
    reading: ClassVar[Reading]
    by_rays: ClassVar[bool] = False
    suggested: ClassVar[tuple[float, float]] = (0.0, 1.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        """The signal's values.

        :returns: float32 (N,), in the unit of ``reading``.
        """
        raise NotImplementedError

    def depends_on(self, scene: MeasuredScene) -> list[Any]:
        """What besides the samples and the parameters decides the values: hashes for the cache."""
        return []


SIGNALS: Family[type[Signal]] = Family("cenote.signals", "signal")
