"""Blades of grass on surfaces, square by square of the plan, each kept under what decides it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Any

import numpy as np

from ..grass.blades import CELL, Blades, Square, lay
from ..grass.layer import Grass
from ..kit.grass_tuft import GrassTuft
from ..kit.seasons import season_colour
from ..scatter.fill import Filling, mask_at
from ..scatter.spots import FillSurface, Spots
from ..scatter.wind import Sway
from ..signals.around import PARTS
from ..signals.base import Signal
from ..signals.scene import MeasuredScene
from .fields import MeasuredField
from .planting import SurfaceToFill, carried_from
from .scene import Scenery, around_site, bits_of
from .site import Site
from .surfaces import ObjectAtlas, ObjectMesh, matrix_of
from .target import Read, Target, Unkeyed

if TYPE_CHECKING:
    from .graph import Graph

# Squares are at least so wide, and about so many on a surface.
_LEAST_SIDE, _ABOUT = 4.0, 24
# Blades of a layer on one surface: where more are asked for there are fewer and wider ones.
MOST = 3_000_000
WIDEST = 4.0
# Places along a square's side that tell whether anything grows on it at all.
_TRIED = 16
# The wind that leans a blade of 1 m by 45°, m/s, and how much stiffer one of a tenth of that is.
_STIFFNESS = 8.0


def _layer(site: Site, id: str) -> Grass:
    return next(one for one in site.grass if one.id == id)


def grown_surfaces(graph: Graph) -> list[tuple[Grass, str]]:
    """The layers of grass that are shown, with each surface that they are on."""
    site = Site(graph)
    there = set(site.surface_ids())
    return [(layer, id) for layer in site.grass if layer.shown for id in layer.surfaces if id in there]


def fields_of_grass(graph: Graph) -> list[Target]:
    """What tells where the grass of a site is wanted, as far as that is measured on cells."""
    return [MeasuredField(id, signal) for layer, id in grown_surfaces(graph) for signal in _signals(layer)]


def _signals(layer: Grass) -> list[Signal]:
    """The signals of a layer's masks that are measured on cells, each once."""
    asked = [card.signal for chain in layer.chains for card in chain.active if card.signal.on_cells]
    return list(dict.fromkeys(asked))


def season_of(site: Site) -> np.ndarray:
    """The season's factor on the colour of grass, linear float64 (3,)."""
    return season_colour(GrassTuft(), site.climate.season)


def sway_of_grass(site: Site, layer: Grass) -> Sway:
    """The site's wind as a layer's blades meet it, each as large as it is long."""
    return Sway(site.wind, stiffness_of(layer), 1.0)


def stiffness_of(layer: Grass) -> float:
    """The wind at which the blades of a layer lean by 45°, m/s: short ones are the stiffer."""
    return float(_STIFFNESS * (0.3 / max(float(np.mean(layer.height)), 0.03)) ** 0.4)


@dataclass(frozen=True)
class Squares:
    """The squares of the plan that a surface lies in.

    :ivar at: float64 (K, 2), their least corners along x and z, metres. :ivar side: metres. :ivar low, high: how far the surface goes down
        and up, metres.
    """

    at: np.ndarray
    side: float
    low: float
    high: float


def _squares(site: Site, id: str) -> Squares:
    """The squares that a surface lies in, by its box."""

    def found(at: Site) -> Squares:
        mesh, matrix = at.get(ObjectMesh(id)), matrix_of(at, id)
        corners = mesh.positions @ matrix[:3, :3].T + matrix[:3, 3]
        low, high = corners.min(0).astype(float), corners.max(0).astype(float)
        extent = max(high[0] - low[0], high[2] - low[2])
        side = max(_LEAST_SIDE, 2.0 ** np.ceil(np.log2(max(extent, CELL) / _ABOUT)))
        first, last = np.floor(low[[0, 2]] / side).astype(int), np.floor(high[[0, 2]] / side).astype(int)
        x, z = np.meshgrid(*(np.arange(first[k], last[k] + 1) for k in (0, 1)), indexing="ij")
        return Squares(np.column_stack([x.ravel(), z.ravel()]) * side, side, float(low[1]), float(high[1]))

    return site.once(("squares of grass", id), found)


def _shared(site: Site, layer_id: str, id: str) -> dict[str, Any]:
    """What all squares of a layer on a surface have in common."""

    def made(at: Site) -> dict[str, Any]:
        layer = _layer(at, layer_id)
        around, anywhere = around_site(at), (np.full((1, 3), -np.inf), np.full((1, 3), np.inf))
        asked = [card.signal for chain in layer.chains for card in chain.active]
        named = any((one.reaches(around, *anywhere) & around.only(PARTS)).any() for one in asked)
        signals = _signals(layer)
        return {
            "rules": layer.rules(), "surface": SurfaceToFill(id, named), "atlas": ObjectAtlas(id), "signals": signals,
            "marks": [at.mark(MeasuredField(id, one)) for one in signals],
            "fields": Unkeyed([MeasuredField(id, one) for one in signals]),
        }  # fmt: skip

    return site.once(("grass", layer_id, id), made)


def _reached(site: Site, layer_id: str, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """Which things decide what grows in boxes, bool (K, T)."""
    layer, around = _layer(site, layer_id), around_site(site)
    out = np.zeros((len(low), len(around)), bool)
    for chain in layer.chains:
        for card in chain.active:
            if not card.signal.on_cells:
                out |= card.signal.reaches(around, low, high)
    tall = np.array([layer.longest, layer.longest, layer.longest])
    for clear in layer.clears:
        out |= clear.reaches(around, low - tall, high + tall)
    # What may be solid around a blade stands over it.
    return out | around.all_of("object") & around.near(low, high + np.array([0, np.inf, 0]), np.array([0.1, 0, 0.1]))


def _filling(read: Read) -> Filling:
    scene: MeasuredScene = read.scene
    return Filling([read.surface], scene, carried_from(read.signals, [read.atlas], [read.fields]))


def _planted(site: Site, layer_id: str) -> tuple[str, ...]:
    return tuple(sorted(_layer(site, layer_id).looks_at()))


@dataclass(frozen=True)
class GrassExtent(Target):
    """Where on a surface a layer grows at all: float32 (K,), how full each of the surface's squares is, in [0, 1]."""

    layer: str
    id: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        squares = _squares(site, self.id)
        low = np.array([[*squares.at.min(0)]]).T
        box = (np.array([[low[0, 0], squares.low, low[1, 0]]]),
               np.array([[squares.at[:, 0].max() + squares.side, squares.high, squares.at[:, 1].max() + squares.side]]))  # fmt: skip
        reached = _reached(site, self.layer, *box)[0]
        return _shared(site, self.layer, self.id) | {
            "scene": Scenery(bits_of(reached), _planted(site, self.layer)), "at": squares.at, "side": squares.side}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        layer: Grass = read.rules
        surface: FillSurface = read.surface
        step = (np.arange(_TRIED) + 0.5) / _TRIED * read.side
        offsets = np.stack(np.meshgrid(step, step, indexing="ij"), axis=-1).reshape(-1, 2)
        places = (read.at[:, None] + offsets).reshape(-1, 2)
        rows, faces, weights, positions, normals = surface.drop(places)
        none = np.zeros(len(rows), np.int8)
        spots = Spots(rows.astype(np.uint64), none, none.astype(np.int16), faces, weights, positions, normals)
        full = np.zeros(len(places), np.float32)
        full[rows] = mask_at(layer.where, _filling(read), spots)
        return full.reshape(len(read.at), -1).mean(1)

    @staticmethod
    def pack(value: np.ndarray) -> dict[str, np.ndarray]:
        return {"full": value}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> np.ndarray:
        return arrays["full"]


@dataclass(frozen=True)
class Sown:
    """How a layer is sown on a surface. :ivar density: per m², less than its own where it would have too many. :ivar wide: how many
    times as wide each blade is for that. :ivar expected: about how many blades that comes to, before it is kept clear of anything."""

    density: float
    wide: float
    expected: int


def sown(site: Site, layer_id: str, id: str) -> Sown:
    """How a layer is sown on a surface."""
    layer, squares = _layer(site, layer_id), _squares(site, id)
    wanted = float(site.get(GrassExtent(layer_id, id)).sum()) * squares.side**2 * layer.density
    if wanted <= MOST:
        return Sown(layer.density, 1.0, round(wanted))
    # In steps, so that a small change of the extent leaves it.
    share = 1.25 ** np.floor(np.log(MOST / wanted) / np.log(1.25))
    return Sown(float(layer.density * share), float(min(1 / share, WIDEST)), round(wanted * share))


@dataclass(frozen=True)
class GrassSquare(Target):
    """The blades of a layer on a surface in one of its squares: :class:`cenote.grass.blades.Blades`. :ivar row: of the squares."""

    layer: str
    id: str
    row: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        bits, density = _plan(site, self.layer, self.id)
        squares = _squares(site, self.id)
        x, z = squares.at[self.row].tolist()
        return _shared(site, self.layer, self.id) | {
            "square": (x, z, squares.side), "density": density,
            "scene": Scenery(bits[self.row], _planted(site, self.layer)),
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> Blades:
        return lay(read.rules, read.surface, Square(*read.square), _filling(read), read.density)


def _plan(site: Site, layer_id: str, id: str) -> tuple[list[bytes], float]:
    """What each square looks at, and how densely they are sown."""

    def planned(at: Site) -> tuple[list[bytes], float]:
        squares = _squares(at, id)
        low = np.column_stack([squares.at[:, 0], np.full(len(squares.at), squares.low), squares.at[:, 1]])
        high = np.column_stack([low[:, 0] + squares.side, np.full(len(low), squares.high), low[:, 2] + squares.side])
        return [bits_of(row) for row in _reached(at, layer_id, low, high)], sown(at, layer_id, id).density

    return site.once(("plan of grass", layer_id, id), planned)


@dataclass(frozen=True)
class LaidGrass:
    """The blades of a layer on a surface, square by square.

    :ivar blades: all of them. :ivar first: int64 (T + 1,), where each square that has any begins; within it they are in the order of their ranks.
    """

    blades: Blades
    first: np.ndarray


@dataclass(frozen=True)
class LyingGrass(Target):
    """The blades of a layer on a surface: :class:`LaidGrass`."""

    layer: str
    id: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        full = site.get(GrassExtent(self.layer, self.id))
        return {"squares": [GrassSquare(self.layer, self.id, int(row)) for row in np.flatnonzero(full > 0)]}

    @staticmethod
    def make(read: Read) -> LaidGrass:
        parts: list[Blades] = [one for one in read.squares if len(one)]
        sorted_ = [one.only(np.argsort(one.ranks, kind="stable")) for one in parts]
        return LaidGrass(Blades.together(sorted_), np.cumsum([0, *(len(one) for one in parts)]))

    @staticmethod
    def pack(value: LaidGrass) -> dict[str, np.ndarray]:
        return {"first": value.first} | {one.name: getattr(value.blades, one.name) for one in fields(Blades)}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> LaidGrass:
        return LaidGrass(Blades(**{one.name: arrays[one.name] for one in fields(Blades)}), arrays["first"])
