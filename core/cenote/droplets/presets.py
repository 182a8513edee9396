"""Drops as they come together: layers to begin with, each of which can be changed at will."""

from __future__ import annotations

from dataclasses import dataclass

from .base import Droplets
from .beads import Beads
from .hanging import Hanging
from .runs import Runs


@dataclass(frozen=True)
class Preset:
    """Layers of drops under a name. :ivar layers: each with what it is called."""

    kind: str
    title: str
    help: str
    layers: tuple[tuple[str, Droplets], ...]


AFTER_RAIN = Preset("after_rain", "A shower just past", "Drops of all sizes as they fell, and a row of them along every lower edge.",
           (("Fallen rain", Beads(number=6, sizes=(0.6, 4.6), fine=0.55)), ("Along the edges", Hanging(spacing=11, gaps=25))))  # fmt: skip

PRESETS: tuple[Preset, ...] = (
    Preset("mist", "Mist settled", "Fine drops all over, none yet large enough to run.",
           (("Mist settled", Beads(number=60, sizes=(0.25, 1.0), fine=0.9)),)),
    Preset("chilled", "Taken from the cold", "What the air leaves on something cold: fine and grown ones, drops at the lower edges.",
           (("Grown on the cold", Beads(number=30, sizes=(0.3, 3.6), fine=1)), ("At cold edges", Hanging(sizes=(2, 4), gaps=55)))),
    AFTER_RAIN,
    Preset("shower", "In a shower", "Rain that still falls: drops run, leave trails and drip from the edges.",
           (("Running rain", Runs(number=5, sizes=(0.6, 4.6), fine=0.55, after=5)), ("Along the edges", Hanging(spacing=11, gaps=25)))),
    Preset("thaw", "Thaw", "Few, large, heavy drops; edges drip.",
           (("Thawed", Beads(number=2, sizes=(1.5, 5), fine=0.3)), ("Dripping", Hanging(spacing=8, sizes=(2.2, 4.3), gaps=10)))),
    Preset("spray", "Spray", "Fine drops thrown against it, in many sizes, rather flat.",
           (("Spray", Beads(number=24, sizes=(0.3, 2.4), fine=0.75, contact="their own", angle=48, clings=30)),)),
)  # fmt: skip
