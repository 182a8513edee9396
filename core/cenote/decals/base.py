"""What a decal shows.

To add a kind, add a file to this package with a class that derives from :class:`Decal` and is registered with ``@DECALS.register``. It
declares its parameters, says how large it usually is, and draws itself at places in metres: it is drawn anew for each size of texel, so that it
never is one bitmap enlarged.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np
from numba import njit

from ..masks.where import SignalCard, Where
from ..parallel import over_rows
from ..parameters import Declared
from ..randomness import gradient_noise
from ..registry import Family
from ..signals.base import Signal

# What of a decal lies at a place that a rule chooses.
Hangs = Literal["by its middle", "by its upper side", "by its foot"]
# Places worth a thread of their own.
_LEAST = 4096
# Texels that the smallest waves of noise are wide.
_FINEST = 1.5


@njit(cache=True, nogil=True)
def _noise(x, y, across, up, octaves, shown, seed, out, first, beyond):  # type: ignore
    for i in range(first, beyond):
        u, v, total, norm, weight = x[i] / across, y[i] / up, 0.0, 0.0, 1.0
        for octave in range(octaves):
            norm += weight
            if octave < shown:
                total += weight * gradient_noise(u, v, 0.37, seed + np.uint32(octave * 1013))
            weight *= 0.5
            u, v = u * 2.0 + 17.3, v * 2.0 + 5.9
        out[i] = min(1.0, max(0.0, 0.5 + 0.72 * total / norm))


@dataclass(frozen=True)
class Sheet:
    """Places on a decal that are drawn.

    :ivar x, y: float32 (N,), metres to the right of its middle, and up. :ivar width, height: of the decal, metres.
    :ivar texel: side of a texel, metres. :ivar seed: another one gives another decal of the kind.
    :ivar picture: the picture that a user brought in for it, as :func:`cenote.decals.own_picture.levels_of` gives it; none where it needs none or there is none.
    """

    x: np.ndarray
    y: np.ndarray
    width: float
    height: float
    texel: float
    seed: int
    picture: Sequence[np.ndarray] = ()

    def dice(self, channel: int = 0) -> np.random.Generator:
        """Numbers by chance that follow from the seed. :param channel: other numbers for another use."""
        return np.random.default_rng((self.seed, channel))

    def noise(self, size: float, octaves: int = 3, channel: int = 0, up: float | None = None) -> np.ndarray:
        """Clouds of noise, float32 (N,) in [0, 1], the same ones at any texel: waves finer than this are left out.

        :param size: metres across the largest waves. :param up: metres of these upwards, where that differs.
        """
        tall = size if up is None else up
        shown = int(np.clip(np.log2(max(min(size, tall), 1e-9) / (_FINEST * self.texel)) + 1, 1, octaves))
        out = np.empty(len(self.x), np.float32)
        given = (self.x, self.y, float(size), float(tall), octaves, shown, np.uint32(self.seed * 31 + channel), out)
        over_rows(lambda a, b: _noise(*given, a, b), len(out), _LEAST)
        return out

    def inside(self, distance: np.ndarray, soft: float = 0.0) -> np.ndarray:
        """How much of each texel lies within an outline, float32 (N,) in [0, 1].

        :param distance: float (N,), metres to the outline, below 0 within. :param soft: width of its edge, metres; a texel at least.
        """
        return np.clip(0.5 - distance / max(self.texel, soft), 0, 1).astype(np.float32)

    def moved(self, x: np.ndarray, y: np.ndarray) -> Sheet:
        """The same with its places elsewhere. :param x, y: float (N,), metres."""
        return Sheet(
            x.astype(np.float32), y.astype(np.float32), self.width, self.height, self.texel, self.seed, self.picture
        )


@dataclass(frozen=True)
class Ink:
    """What a decal is at places; numbers stand for all of them.

    :ivar colour: linear sRGB in [0, 1], float (N, 3) or (3,). :ivar opacity: float (N,) in [0, 1], how much it hides of what lies below.
    :ivar rough, metal: in [0, 1], float (N,) or one number. :ivar relief: metres over what lies below, float (N,) or one number; below 0 it is taken away.
    :ivar hides: in [0, 1], float (N,) or one number: how far the relief that lies below is bridged.
    """

    colour: np.ndarray
    opacity: np.ndarray
    rough: np.ndarray | float = 0.8
    metal: np.ndarray | float = 0.0
    relief: np.ndarray | float = 0.0
    hides: np.ndarray | float = 0.0


class Decal(Declared):
    """What a decal shows.

    :cvar title: its name for people. :cvar help: what it is, in one sentence. :cvar size: metres that it is usually wide and high.
    :cvar reach: metres through which it usually goes. :cvar over: whether it usually lies over the weathering, as what is fresh does.
    :cvar hangs: what of it lies at the places that a rule chooses.
    """

    kind: str
    title: ClassVar[str]
    help: ClassVar[str]
    size: ClassVar[tuple[float, float]]
    reach: ClassVar[float] = 0.4
    over: ClassVar[bool] = False
    hangs: ClassVar[Hangs] = "by its middle"

    @classmethod
    def usual_where(cls) -> Where:
        """The mask that a rule of this kind begins with: where such things are found."""
        return Where()

    def draw(self, sheet: Sheet) -> Ink:
        """What is there at the places of a sheet; arrays of as many places as it has."""
        raise NotImplementedError


def found(signal: Signal, starts_at: float, full_at: float) -> Where:
    """A mask of one signal."""
    return Where(cards=(SignalCard(id=signal.kind, signal=signal, starts_at=starts_at, full_at=full_at),))


DECALS: Family[type[Decal]] = Family("cenote.decals", "decal")


def mixed(low: tuple[float, float, float], high: tuple[float, float, float], share: np.ndarray) -> np.ndarray:
    """Colours between two, float32 (N, 3). :param share: float (N,) in [0, 1]."""
    start = np.array(low, np.float32)
    return np.asarray(start + share[:, None] * (np.array(high, np.float32) - start), np.float32)


def ramp(values: np.ndarray, low: float, high: float) -> np.ndarray:
    """Values eased from 0 at ``low`` to 1 at ``high``, float32 (N,)."""
    share = np.clip((values - low) / (high - low), 0, 1)
    return np.asarray(share * share * (3 - 2 * share), np.float32)


def along_places(kernel: Callable[..., None], sheet: Sheet, *given: object) -> np.ndarray:
    """What a compiled kernel ``(x, y, …, out, first, beyond)`` tells of each place: float32 (N,)."""
    out = np.empty(len(sheet.x), np.float32)
    over_rows(lambda a, b: kernel(sheet.x, sheet.y, *given, out, a, b), len(out), _LEAST)
    return out
