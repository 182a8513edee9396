"""The lamps of a site that are lit."""

from __future__ import annotations

import numpy as np

from ..colour import LUMINANCE
from ..light.lamps.base import adapts_to
from ..light.lamps.measured import MeasuredLamp
from ..site.lamps import PlacedLamp
from .graph import Graph
from .sources import PHOTOMETRY, Source


def lit_lamps(graph: Graph) -> list[tuple[PlacedLamp, np.ndarray | None]]:
    """Those that are lit, the strongest first, with the profile of the file that it takes its shape from, where it has one:
    float32 (181, 360), see :func:`cenote.formats.photometry.read_photometry`."""
    document = graph.document
    found = [(one, _profile(graph, one)) for one in document.lamps if one.lit(document.light)]
    return sorted(found, key=lambda pair: -float(pair[0].lamp.beam(pair[1]).intensity @ LUMINANCE))


def _profile(graph: Graph, placed: PlacedLamp) -> np.ndarray | None:
    if not isinstance(placed.lamp, MeasuredLamp):
        return None
    arrays = graph.get(Source(PHOTOMETRY, placed.lamp.source))
    return arrays["profile"] if arrays else None


def lamplight(lit: list[tuple[PlacedLamp, np.ndarray | None]]) -> float:
    """What an eye is used to among lamps, see :func:`cenote.light.lamps.base.adapts_to`."""
    return adapts_to(one.lamp.beam(profile) for one, profile in lit)
