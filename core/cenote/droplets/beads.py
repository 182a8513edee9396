"""Beads: drops that lie where they came down."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np

from ..parameters import choice, only, quantity, span
from ..randomness import uniforms
from ..scatter.spacing import arrivals_on
from .base import DROPLETS, MOST, Droplets, Moment, at_most, wetness
from .cap import volume_of
from .drops import Drops, Wetted
from .merging import merged

# Places on a surface that are thought of at most.
_THOUGHT_OF = 2_000_000
# Channels of what is by chance about each.
_SIZE, _STANDS = 11, 12
# On drops that grow and merge, those larger than r cover a share of 1 − (r / r_max)^(1/3) of the ground (Le Fevre and Rose, "A theory of heat transfer by dropwise
# condensation", 1966): their number goes with r to the power of −8/3.
_STEEP = 8 / 3


def sizes_between(chance: np.ndarray, least: float, most: float, fine: float) -> np.ndarray:
    """Diameters by the inverse of their cumulative distribution, float64 (N,).

    :param chance: float (N,), uniform in [0, 1). :param fine: 1 where as many are fine as on what condenses, 0 where all sizes are alike.
    """
    power = 1 - _STEEP * fine
    if abs(power) < 1e-6:
        return np.asarray(least * (most / least) ** chance)
    return np.asarray((least**power + chance * (most**power - least**power)) ** (1 / power))


class Beaded(Droplets):
    """What all ways share that begin with drops by chance."""

    number: float = quantity(
        8,
        low=0,
        high=400,
        unit="/cm²",
        step=0.5,
        help="How many come down, before those that touch become one; at most 60,000 on a surface.",
    )
    sizes: tuple[float, float] = span((0.5, 4.0), low=0.1, high=8, unit="mm", help="Diameters of drops as they fall.")
    fine: float = quantity(
        0.8,
        low=0,
        high=1,
        unit="",
        step=0.05,
        help="How much more of them are small: 1 as on what mists over, 0 all sizes alike.",
    )
    contact: Literal["as their material", "their own"] = choice(
        "as their material",
        help="What tells how round they stand: they bead on wax and metal, and lie flat on stone and glass.",
    )
    angle: float = only(
        "contact",
        "their own",
        quantity(
            70, low=10, high=150, unit="°", step=1, help="Between drop and surface: flat below 40, round above 90."
        ),
    )
    clings: float = only(
        "contact",
        "their own",
        quantity(30, low=0, high=100, unit="°", step=1, help="How far that angle may be strained before a drop runs."),
    )

    def wetted(self, on: Wetted) -> Wetted:
        """The surface with the contact angles that are asked for."""
        if self.contact == "as their material":
            return on
        own = np.array(on.wettings, float)
        own[:, 0], own[:, 1] = (
            np.radians(min(self.angle + self.clings / 2, 170)),
            np.radians(max(self.angle - self.clings / 2, 1)),
        )
        own[:, 2] = 1
        return replace(on, wettings=own)

    def fallen(self, on: Wetted, key: np.uint64, share: float) -> Drops:
        """Drops where they come down, in order of arrival, whether they touch or not."""
        area = float(on.areas.sum())
        # Of a mask that leaves little, many more places are thought of than there may be drops.
        density = min(self.number * 1e4 * share, _THOUGHT_OF / max(area, 1e-9))
        arrived = arrivals_on(on.areas, density, 0.0, key)
        wanted = on.wanted(arrived.faces, arrived.weights) * on.wettings[on.parts[arrived.faces], 2]
        rows = np.flatnonzero(uniforms(arrived.ids, _STANDS) < wanted)[:MOST]
        ids = arrived.ids[rows]
        size = sizes_between(uniforms(ids, _SIZE), *self.sizes, self.fine) / 1000
        return on.lying(ids, arrived.faces[rows], arrived.weights[rows], volume_of(size))

    def expected(self, area: float, moment: Moment) -> int:
        return at_most(area * self.number * 1e4 * wetness(moment.damp))


@DROPLETS.register
class Beads(Beaded):
    """Drops that lie where they came down."""

    kind: Literal["beads"] = "beads"
    title: ClassVar[str] = "Beads"
    help: ClassVar[str] = "Drops that lie where they came down; those too heavy for their slope are gone."
    stays: float = quantity(
        1, low=0.2, high=5, unit="×", step=0.1, help="Factor on the weight that a slope holds, before a drop is gone."
    )

    def lie(self, on: Wetted, key: np.uint64, moment: Moment) -> Drops:
        on = self.wetted(on)
        drops = merged(self.fallen(on, key, wetness(moment.damp)), on)
        return drops.only(drops.pull <= self.stays)
