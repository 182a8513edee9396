"""Why is it here? Each signal's value at a point, what its ramp makes of it, and how much it decides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..geometry.strokes import stroked
from ..grass.layer import Grass
from ..masks.where import SignalCard, Where, chain, ramp
from ..scatter.clear import KeepClear
from ..scatter.fill import bodies_of
from ..scatter.layer import Scatter
from ..scatter.placements import BY_HAND, BY_RULE, IN_ROW, Placements
from ..signals.base import Reading, Signal
from ..signals.scene import Bodies, MeasuredScene, Samples
from ..site.decals import PlacedDecal
from ..site.document import CoverLayer
from ..site.droplets import DropletLayer
from .decals import decals_of
from .fields import on_cells
from .graph import Graph
from .planting import LayerPlacements, layer_of, widest_of
from .scene import Scenery, around_site, bits_of
from .shelves import ItemsOnShelf, whole_shelf
from .site import Site
from .surfaces import ObjectCells, part_names

if TYPE_CHECKING:
    from .surfaces import Cells


@dataclass(frozen=True)
class Reason:
    """One card, or another rule, at a point.

    :ivar card: the card's id; empty for other rules. :ivar name: what it is called. :ivar value: the signal's value, None
        where there is none. :ivar unit: its unit. :ivar weight: what the ramp makes of it, in [0, 1].
    :ivar share: how much less the mask is for it: the mask without it minus the mask with it.
    :ivar words: a sentence that says so.
    """

    card: str
    name: str
    value: float | None
    unit: str
    weight: float
    share: float
    words: str


@dataclass(frozen=True)
class Why:
    """A layer at a point.

    :ivar reaches: whether the layer is on that surface at all. :ivar mask: its mask there, in [0, 1].
    :ivar reasons: in the order of the chain, then other rules. :ivar words: the outcome in a sentence.
    """

    layer: str
    name: str
    reaches: bool
    mask: float
    reasons: list[Reason]
    words: str


def scene_for(graph: Graph, what: Signal | KeepClear) -> MeasuredScene:
    """The part of the scene that a signal, or something to keep clear of, looks at wherever it is asked."""
    around = around_site(Site(graph))
    reached = what.reaches(around, np.full((1, 3), -np.inf), np.full((1, 3), np.inf))[0]
    scene: MeasuredScene = graph.get(Scenery(bits_of(reached), tuple(sorted(what.looks_at()))))
    return scene


def at_point(graph: Graph, surface: str, position: Sequence[float]) -> Samples:
    """The surface's cell nearest to a point of the world, as a sample."""
    cells: Cells = graph.get(ObjectCells(surface))
    row = int(((cells.samples.positions - np.asarray(position, np.float32)) ** 2).sum(1).argmin())
    parts = None if cells.samples.parts is None else cells.samples.parts[row : row + 1]
    return Samples(
        np.asarray(position, np.float32).reshape(1, 3), cells.samples.normals[row : row + 1], parts,
        part_names(Site(graph), surface),
    )  # fmt: skip


def _value(graph: Graph, surface: str, card: SignalCard, sample: Samples) -> float:
    if not card.signal.on_cells:
        return float(card.signal.measure(sample, scene_for(graph, card.signal))[0])
    cells: Cells = graph.get(ObjectCells(surface))
    row = int(((cells.samples.positions - sample.positions[0]) ** 2).sum(1).argmin())
    return float(graph.get(on_cells(surface, card.signal)).values[cells.ys[row], cells.xs[row]])


def _number(value: float, reading: Reading) -> str:
    digits = 0 if reading.unit == "°" else 2 if abs(value) < 10 else 1
    return f"{value:.{digits}f} {reading.unit}".strip()


def _words(card: SignalCard, value: float, weight: float) -> str:
    reading = card.signal.reading
    said, starts, full = (_number(one, reading) for one in (value, card.starts_at, card.full_at))
    what = f"{reading.title} is {said}"
    if weight <= 0.001:
        says = f"it would count from {starts} on" if not card.inverted else f"inverted, it stops counting at {full}"
        return f"{what}: {says}, so here it says no."
    if weight >= 0.999:
        says = f"full at {full}" if not card.inverted else f"inverted, full until {starts}"
        return f"{what} ({says}): it says yes in full."
    return f"{what}, between {starts} and {full}: it counts {100 * weight:.0f} %."


def reasons_of(graph: Graph, where: Where, surface: str, sample: Samples) -> tuple[list[Reason], float]:
    """Each active card of a chain at a point, and the mask there."""
    cards = where.active
    values = [_value(graph, surface, card, sample) for card in cards]
    arrays = [np.array([value], np.float32) for value in values]
    mask = float(chain(cards, arrays)[0]) if cards else 1.0
    out = []
    for row, (card, value) in enumerate(zip(cards, values, strict=True)):
        rest = tuple(one for k, one in enumerate(cards) if k != row)
        without = float(chain(rest, [one for k, one in enumerate(arrays) if k != row])[0]) if rest else 1.0
        weight = float(ramp(arrays[row], card)[0])
        reading = card.signal.reading
        words = _words(card, value, weight)
        out.append(Reason(card.id, reading.title, value, reading.unit, weight, without - mask, words))
    return out, mask


def why_here(
    graph: Graph, layer: CoverLayer | Scatter | DropletLayer | Grass, surface: str, position: Sequence[float]
) -> Why:
    """A layer at a point of a surface.

    :raises KeyError: if there is no such surface.
    """
    sample = at_point(graph, surface, position)
    reaches = surface in layer.surfaces
    reasons, mask = reasons_of(graph, layer.where, surface, sample)
    if isinstance(layer, Scatter):
        more, mask = _of_scatter(graph, layer, sample, mask)
        reasons += more
    if isinstance(layer, Grass):
        more, mask = _of_clears(graph, layer.clears, layer.longest, sample, mask)
        reasons += more
    if not layer.shown:
        words = f"{layer.name} is hidden."
    elif not reaches:
        words = f"{layer.name} is not laid on {Site(graph).title(surface)}."
    elif mask <= 0.001:
        least = max(reasons, key=lambda reason: reason.share, default=None)
        words = f"Nothing of {layer.name} comes here" + (f", most of all for {least.name.lower()}." if least else ".")
    else:
        rate = (
            f", {mask * layer.density:.2g} of {layer.density:g} a square metre"
            if isinstance(layer, Scatter | Grass)
            else ""
        )
        words = f"{layer.name} comes here at {100 * mask:.0f} %{rate}."
    return Why(layer.id, layer.name, reaches, mask, reasons, words)


def why_decal(graph: Graph, decal: PlacedDecal, surface: str, position: Sequence[float]) -> Why:
    """A decal at a point of a surface. See :func:`why_here`."""
    sample = at_point(graph, surface, position)
    on = [box for _, box in decals_of(graph, decal.id, surface) if box.holds(sample.positions)[0]]
    reasons, mask = reasons_of(graph, decal.where, surface, sample)
    if on:
        box = on[-1]
        turned = float(np.degrees(np.arccos(np.clip(sample.normals[0] @ box.matrix[:3, 1], -1, 1))))
        weight = float(box.faces(sample.normals)[0])
        reasons.append(Reason("", "Angle", turned, "°", weight, mask * (1 - weight),
                              f"The surface is turned {turned:.0f}° away from it; it ends at {box.limit:.0f}°."))  # fmt: skip
        mask *= weight
        if box.gone > 0.005:
            words = f"{100 * box.gone:.0f} % of it has worn off, in flecks."
            reasons.append(Reason("", "Worn", 100 * box.gone, "%", 1 - box.gone, mask * box.gone, words))
    if not decal.shown:
        words = f"{decal.name} is hidden."
    elif not on:
        words = f"{decal.name} does not reach this point of {Site(graph).title(surface)}."
    elif mask <= 0.001:
        least = max(reasons, key=lambda reason: reason.share)
        words = f"{decal.name} does not show here, most of all for {least.name.lower()}."
    else:
        words = f"{decal.name} lies here, {decal.lies}."
    return Why(decal.id, decal.name, bool(on), mask if on else 0.0, reasons, words)


def _of_scatter(graph: Graph, layer: Scatter, sample: Samples, mask: float) -> tuple[list[Reason], float]:
    """What besides the chain decides a scatter at a point."""
    out = []
    if layer.strokes:
        after = float(stroked(sample.positions, layer.strokes, np.array([mask], np.float32))[0])
        if abs(after - mask) > 1e-4:
            did = "sown" if after > mask else "thinned"
            out.append(Reason("", did.capitalize(), None, "", after, mask - after,
                              f"It was {did} here by hand: {100 * mask:.0f} % became {100 * after:.0f} %."))  # fmt: skip
        mask = after
    site = Site(graph)
    clears = [clear for clear in layer_of(site, layer.id).keep_clear if clear.enabled]
    more, mask = _of_clears(graph, clears, float(widest_of(site, layer)[1]), sample, mask)
    return out + more, mask


def _of_clears(
    graph: Graph, clears: Sequence[KeepClear], height: float, sample: Samples, mask: float
) -> tuple[list[Reason], float]:
    """What is kept clear of at a point. :param height: of what would stand there, metres. :param mask: before that."""
    out = []
    body = Bodies(sample.positions.astype(np.float64), np.zeros(1), np.full(1, height))
    for clear in clears:
        weight = float(clear.weight(body, scene_for(graph, clear))[0])
        if weight < 0.999:
            says = "nothing may stand here" if weight <= 0.001 else f"{100 * weight:.0f} % may stand here"
            out.append(Reason("", f"Clear of {clear.of}", None, "m", weight, mask * (1 - weight),
                              f"It is kept {clear.distance:g} m clear of {clear.of}: {says}."))  # fmt: skip
        mask *= weight
    return out, mask


def about_item(graph: Graph, layer: Scatter, placed_id: int) -> str:
    """What a placed item is and how it came to stand there.

    :raises KeyError: if the layer has placed no such item.
    """
    placed: Placements = graph.get(LayerPlacements(layer.id))
    rows = np.flatnonzero(placed.ids == np.uint64(placed_id))
    if not len(rows):
        raise KeyError(f"{placed_id:016x}")
    one = placed.only(rows)
    name = whole_shelf(Site(graph)).title(placed.names[int(one.items[0])])
    body = bodies_of(one, graph.get(ItemsOnShelf(tuple(sorted(set(placed.names))))))
    how = {BY_RULE: "placed by rule", IN_ROW: "set in a row", BY_HAND: "planted by hand"}[int(one.origins[0])]
    return f"{name}, {100 * body.heights[0]:.0f} cm high and {200 * body.radii[0]:.0f} cm wide, {how}."
