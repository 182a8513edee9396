"""Drops of water on surfaces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Any

import numpy as np

from ..droplets.base import Droplets, Moment
from ..droplets.drops import Drops, Wetted
from ..droplets.running import STEP, Run
from ..droplets.runs import EVERY, Runs
from ..droplets.shaping import shaped
from ..droplets.wetting import WETTINGS
from ..geometry.charts import Atlas
from ..randomness import key_of
from ..weather.blanket import Sheet
from .digest import hashed
from .masks import Mask, part_natures
from .site import Site
from .surfaces import ObjectShape, Shape
from .target import Read, Target

if TYPE_CHECKING:
    from ..site.droplets import DropletLayer
    from .graph import Graph


def _layer(site: Site, id: str) -> DropletLayer:
    return next(one for one in site.droplets if one.id == id)


def moment_of(site: Site, layer: DropletLayer) -> Moment:
    """How damp it is for a layer."""
    return Moment(site.conditions.damp if layer.follows_damp else 1.0)


def wet_surfaces(graph: Graph) -> list[tuple[DropletLayer, str]]:
    """The layers of drops that are shown, with each surface that they are on."""
    site = Site(graph)
    there = set(site.surface_ids())
    return [(layer, id) for layer in site.droplets if layer.shown for id in layer.surfaces if id in there]


def fields_of_droplets(graph: Graph) -> list[Target]:
    """The drops of a site, and what tells where they are wanted: what is made before they are seen."""
    out: list[Target] = []
    for layer, id in wet_surfaces(graph):
        if layer.where.active:
            out.append(Mask(id, layer.where.plain, 0))
        out.append(LyingDrops(layer.id, id))
    return out


@dataclass(frozen=True)
class WetSurface(Target):
    """A surface as drops of a layer lie on it: :class:`cenote.droplets.drops.Wetted`."""

    layer: str
    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        layer = _layer(site, self.layer)
        return {"shape": ObjectShape(self.id), "natures": part_natures(site, self.id),
                "mask": Mask(self.id, layer.where.plain, 0) if layer.where.active else None}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Wetted:
        shape: Shape = read.shape
        wettings = [WETTINGS[nature] for nature in read.natures]
        angles = np.array([[np.radians(one.advancing), np.radians(one.receding), one.stands] for one in wettings])
        return Wetted(
            shape.corners, shape.normals, shape.mesh.parts, angles.reshape(-1, 3), _Masked(shape.atlas, read.mask)
        )


@dataclass(frozen=True)
class _Masked:
    """Reads a mask at places of a surface. :ivar mask: float32 (H, W) in [0, 1]; None for everywhere."""

    atlas: Atlas
    mask: np.ndarray | None

    def __call__(self, faces: np.ndarray, weights: np.ndarray) -> np.ndarray:
        if self.mask is None:
            return np.ones(len(faces))
        at = np.einsum("nk,nki->ni", weights, self.atlas.corners[faces].astype(np.float64)).astype(int)
        rows, columns = (np.clip(at[:, axis], 0, self.mask.shape[1 - axis] - 1) for axis in (1, 0))
        return self.mask[rows, columns].astype(np.float64)


def _inputs(site: Site, layer: DropletLayer, id: str) -> dict[str, Any]:
    return {"on": WetSurface(layer.id, id), "moment": moment_of(site, layer), "key": (layer.id, id, layer.seed)}


@dataclass(frozen=True)
class RunTo(Target):
    """What has become of drops that run, at each so many seconds: :class:`cenote.droplets.running.Run`. From there any moment until the next is soon told.

    :ivar part: how many such times have passed.
    """

    layer: str
    id: str
    part: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        layer = _layer(site, self.layer)
        before = RunTo(self.layer, self.id, self.part - 1) if self.part else None
        # Whoever scrubs to another moment finds what was before it.
        droplets = layer.droplets.model_copy(update={"after": 0.0})
        return _inputs(site, layer, self.id) | {"droplets": droplets, "before": before, "until": self.part * EVERY}

    @staticmethod
    def make(read: Read) -> Run:
        droplets: Runs = read.droplets
        key = key_of("droplets", *read.key)
        if read.before is None:
            return droplets.begun(read.on, key, read.moment)
        return droplets.gone_on(read.before, read.on, key, read.moment, read.until)


@dataclass(frozen=True)
class LyingDrops(Target):
    """The drops of a layer on a surface: :class:`cenote.droplets.drops.Drops`."""

    layer: str
    id: str
    keep = "store"
    slow = True

    def inputs(self, site: Site) -> Mapping[str, Any]:
        layer = _layer(site, self.layer)
        before = (
            RunTo(self.layer, self.id, int(layer.droplets.after // EVERY)) if isinstance(layer.droplets, Runs) else None
        )
        return _inputs(site, layer, self.id) | {"droplets": layer.droplets, "before": before}

    @staticmethod
    def make(read: Read) -> Drops:
        key = key_of("droplets", *read.key)
        droplets: Droplets = read.droplets
        if isinstance(droplets, Runs):
            return droplets.gone_on(read.before, read.on, key, read.moment, droplets.after).seen
        return droplets.lie(read.on, key, read.moment)

    @staticmethod
    def mark(value: Drops) -> np.ndarray:
        return np.frombuffer(hashed(b"".join(getattr(value, one.name).tobytes() for one in fields(Drops))), np.uint8)

    def doing(self, site: Site) -> str:
        return f"Drops on {site.title(self.id)}"

    @staticmethod
    def pack(value: Drops) -> dict[str, np.ndarray]:
        return {one.name: getattr(value, one.name) for one in fields(Drops)}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Drops:
        return Drops(**arrays)


@dataclass(frozen=True)
class DropletMesh(Target):
    """The drops of a layer on a surface as closed pieces: :class:`cenote.weather.blanket.Sheet`.

    :ivar fine: with more corners, as stills want them.
    """

    layer: str
    id: str
    fine: bool = False

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"on": WetSurface(self.layer, self.id), "drops": LyingDrops(self.layer, self.id), "fine": self.fine,
                "variety": _layer(site, self.layer).variety}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Sheet:
        return shaped(read.drops, read.on, read.fine, read.variety)


def drops_followed(graph: Graph, target: LyingDrops) -> int:
    """About how many drops are laid or followed by a step, to have those of a layer on a surface: what they cost to make."""
    layer = _layer(Site(graph), target.layer)
    steps = layer.droplets.after / STEP if isinstance(layer.droplets, Runs) else 0
    return round(expected_drops(graph, layer, target.id) * (1 + steps))


def expected_drops(graph: Graph, layer: DropletLayer, id: str) -> int:
    """About how many drops of a layer come down on a surface."""
    site = Site(graph)
    shape: Shape = graph.get(ObjectShape(id))
    return layer.droplets.expected(shape.area, moment_of(site, layer))
