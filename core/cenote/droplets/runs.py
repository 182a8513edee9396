"""Runs: drops that grow, start, run, leave trails and drip."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..parameters import quantity
from .base import DROPLETS, MOST, Moment, wetness
from .beads import Beaded
from .drops import Drops, Wetted, no_drops
from .merging import merged
from .running import STEP, Run, Running, begun, stepped

# Seconds between two times that are kept.
EVERY = 4.0


@DROPLETS.register
class Runs(Beaded):
    """Drops that grow, start, run and leave trails."""

    kind: Literal["runs"] = "runs"
    title: ClassVar[str] = "Running drops"
    help: ClassVar[str] = (
        "Drops that grow until they are too heavy, then run down, take others in, leave trails, hang at edges and drip."
    )
    after: float = quantity(
        6, low=0, high=120, unit="s", step=0.25, help="How long it has been running: scrub it to any moment."
    )
    more: float = quantity(0.4, low=0, high=40, unit="/cm²·s", step=0.1, help="How many more come down each second.")
    gathers: float = quantity(
        0.2,
        low=0,
        high=5,
        unit="mm/min",
        step=0.05,
        help="How fast the water grows that lies there, as on what is cold.",
    )
    trail: float = quantity(
        0.03, low=0, high=0.4, unit="mm", step=0.005, help="How thick a film is left behind, which breaks into drops."
    )
    dries: float = quantity(
        20, low=0, high=600, unit="s", step=1, help="After so long half of a trail has dried; 0 for never."
    )
    swerves: float = quantity(25, low=0, high=70, unit="°", step=1, help="How far dirt turns them aside.")
    dirt: float = quantity(12, low=1, high=200, unit="mm", step=1, help="Size of what turns them aside.")

    def lie(self, on: Wetted, key: np.uint64, moment: Moment) -> Drops:
        return self.gone_on(self.begun(on, key, moment), on, key, moment, self.after).seen

    def begun(self, on: Wetted, key: np.uint64, moment: Moment) -> Run:
        """All that has come down at first, at rest."""
        on = self.wetted(on)
        return begun(merged(self.fallen(on, key, wetness(moment.damp)), on))

    def gone_on(self, run: Run, on: Wetted, key: np.uint64, moment: Moment, until: float) -> Run:
        """What has become of drops at a time. :param run: an earlier time. :param until: seconds from the beginning."""
        on = self.wetted(on)
        how = Running(
            self.trail / 1000,
            self.dries,
            np.radians(self.swerves),
            self.dirt / 1000,
            self.gathers / 60_000,
            int(key) % 9973,
        )
        last = round(until / STEP)
        share = wetness(moment.damp)
        while run.steps < last:
            # Where there are as many as there may be, no more come.
            come = self._come(on, key, share, run.steps) if len(run.drops) < MOST else no_drops()
            run = stepped(run, on, how, come)
        return run

    def _come(self, on: Wetted, key: np.uint64, share: float, step: int) -> Drops:
        """What comes down in a step: the same drops whoever asks."""
        rate = self.model_copy(update={"number": self.more * STEP})
        return rate.fallen(on, np.uint64((int(key) + 7919 * (step + 1)) % 2**64), share)
