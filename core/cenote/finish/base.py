"""What a step of a finish is.

To add one, add a file to this package with a class that derives from :class:`Step` and is registered with ``@STEPS.register``. It declares
its parameters and says what it makes of a picture; where it counts, and by how much, is the same for all.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..parameters import Declared, Identities, choice, only, quantity, switch
from ..registry import Family
from .masks import Masks
from .tones import shown_of, toned

# What a step works on: light, linear and without a bound; or tones, as they are shown, from 0 to 1.
Domain = Literal["light", "tones"]
_BY_DISTANCE = ["nearer", "farther"]


@dataclass(frozen=True)
class Backdrop:
    """What is behind all that stands.

    :ivar sky: float32 (h, w, 3), how much of a picture's light is the sky's that is looked at. :ivar ways: unit float32 (h, w, 3), where each pixel looks.
    :ivar panorama: float (rows, 2 × rows, 3), the site's own, as :func:`cenote.light.pictured.along` takes it; None where it has none.
    """

    sky: np.ndarray
    ways: np.ndarray
    panorama: np.ndarray | None = None


@dataclass(frozen=True)
class Negative:
    """What a finish is made of.

    :ivar radiance: float32 (h, w, 3), linear sRGB, exposed. :ivar lights: by what sends it, its share of that, each float32 (h, w, 3).
    :ivar depth: float32 (h, w), metres, infinite where nothing stands. :ivar masks: where what is. :ivar backdrop: what is behind all that stands.
    """

    radiance: np.ndarray
    lights: Mapping[str, np.ndarray]
    depth: np.ndarray
    masks: Masks
    backdrop: Backdrop | None = None

    @property
    def size(self) -> tuple[int, int]:
        """Its height and width, pixels."""
        return self.radiance.shape[0], self.radiance.shape[1]


class Step(Declared):
    """A step of a finish.

    :cvar title: its name for people. :cvar help: what it does, in one sentence. :cvar domain: what it works on.
    :cvar by_colour: whether what becomes of a pixel follows from its own colour alone: only such steps are seen live in the view.
    """

    kind: str
    title: ClassVar[str]
    help: ClassVar[str]
    domain: ClassVar[Domain]
    by_colour: ClassVar[bool] = False
    on: bool = switch(True, help="Whether it is done at all.")
    amount: float = quantity(100, low=0, high=100, unit="%", step=1, help="How much of it is done.")
    within: Literal[
        "all", "nearer", "farther", "things", "sky", "ground", "structures", "planting", "water", "chosen"
    ] = choice(
        "all",
        help="Where it is done: everywhere, on what is nearer or farther than a distance, on all that stands, on the sky, on one kind of "
        "things, or on those that are chosen.",
    )
    objects: Identities = only(
        "within", "chosen", Field((), description="The objects.", json_schema_extra={"picks": "surfaces"})
    )
    layers: Identities = only(
        "within", "chosen", Field((), description="The planting layers.", json_schema_extra={"picks": "planting"})
    )
    covers: Identities = only(
        "within", "chosen", Field((), description="The covers.", json_schema_extra={"picks": "covers"})
    )
    distance: float = only(
        "within",
        _BY_DISTANCE,
        quantity(20, low=0.05, high=5000, unit="m", step=0.5, help="The distance that parts near from far."),
    )
    soft: float = only(
        "within",
        _BY_DISTANCE,
        quantity(0.3, low=0, high=1, unit="", step=0.05, help="Share of the distance over which near becomes far."),
    )

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """What becomes of a picture where the step is done whole.

        :param picture: float32 (h, w, 3), light or tones. :returns: the same.
        """
        raise NotImplementedError

    def mask(self, negative: Negative) -> np.ndarray:
        """Where the step is done, float32 (h, w) in [0, 1]."""
        masks = negative.masks
        if self.within == "things":
            return masks.cover
        if self.within == "sky":
            return 1 - masks.cover
        if self.within == "all":
            return np.ones_like(masks.cover)
        if self.within == "chosen":
            return np.maximum(masks.of(self.objects, self.layers), masks.covered(self.covers))
        if self.within not in _BY_DISTANCE:
            return masks.of_kind(self.within)
        low, high = self.distance * (1 - self.soft / 2), self.distance * (1 + self.soft / 2)
        far = np.clip((np.minimum(negative.depth, 1e9) - low) / max(high - low, 1e-6), 0, 1)
        return (far if self.within == "farther" else 1 - far).astype(np.float32)

    def done(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """A picture after this step: float32 (h, w, 3). :param picture: as for :meth:`apply`."""
        if not self.on or self.amount == 0:
            return picture
        share = self.mask(negative)[..., None] * np.float32(self.amount / 100)
        applied = self.apply(picture, negative).astype(np.float32)
        return np.asarray(applied if share.min() == 1 else picture + (applied - picture) * share)


STEPS: Family[type[Step]] = Family("cenote.finish.steps", "step of a finish")


def finished(negative: Negative, steps: Sequence[Step]) -> np.ndarray:
    """A finished picture: tones as they are shown, sRGB float32 (h, w, 3) in [0, 1].

    Steps on light come first, in their order, then light becomes tones, then the steps on tones in theirs.
    """
    picture = negative.radiance
    for step in steps:
        if step.domain == "light":
            picture = step.done(picture, negative)
    picture = shown_of(toned(picture).astype(np.float32))
    for step in steps:
        if step.domain == "tones":
            picture = np.clip(step.done(picture, negative), 0, 1)
    return picture
