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

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ..parameters import Declared
from ..registry import Family
from .around import Around
from .scene import MeasuredScene, Samples


@dataclass(frozen=True)
class Reading:
    """How a signal's values read: its title, unit, and the range over which histograms and ramps are drawn."""

    title: str
    unit: str
    low: float
    high: float


class Signal(Declared):
    """A quantity that can be measured at any point of a surface.

    :cvar reading: how its values read.
    :cvar on_cells: true where measuring is costly, by rays or over the whole scene. Such a signal is measured on cells
        of a few centimetres, cached, and interpolated; the others are computed at each texel or point itself.
    :cvar pointwise: whether each sample's value is its own, whatever other samples there are; then, where something was
        moved, only blocks of cells that it may reach are measured anew. Only for what is measured on cells.
    :cvar grain: how far neighbouring cells may differ by chance alone, where few rays stand for all: on surfaces such
        differences are smoothed away, larger ones are kept. 0 for none.
    :cvar suggested: the ramp of a new card: starts at, full at.
    """

    kind: str
    reading: ClassVar[Reading]
    on_cells: ClassVar[bool] = False
    pointwise: ClassVar[bool] = True
    grain: ClassVar[float] = 0.0
    suggested: ClassVar[tuple[float, float]] = (0.0, 1.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        """The signal's values.

        :returns: float32 (N,), in the unit of ``reading``.
        """
        raise NotImplementedError

    def smooth_over(self) -> float:
        """The largest texel, metres, from which it can be interpolated as if it were computed at each point; 0 for none.

        On finer texels it is computed on coarser ones, for speed. Only for what is not ``on_cells``.
        """
        return 0.0

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        """What besides the samples and the parameters decides the values of samples within boxes, bool (N, T).

        What is named here, and by :meth:`looks_at`, is all that :meth:`measure` may look at, and what its results are
        kept under; so what is far away is left out where that can be said for sure.

        :param low, high: float64 (N, 3), metres.
        """
        return np.zeros((len(low), len(around)), bool)

    def meets(self, around: Around, samples: Samples) -> np.ndarray:
        """Which samples anything of what is around may decide, bool (N,): asked where few things have changed.

        As :meth:`reaches` has it for the places of the samples; a signal may know better, as long as it is sure.
        """
        places = samples.positions.astype(np.float64)
        return np.asarray(self.reaches(around, places, places).any(1))

    def looks_at(self) -> tuple[str, ...]:
        """The planting layers that it looks at."""
        return ()


SIGNALS: Family[type[Signal]] = Family("cenote.signals", "signal")
