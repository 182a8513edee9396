"""Everything that stands on a site, for signals: whole, and the parts of it that each of them looks at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..signals.around import EXTENT, PARTS, WATER, Around, Thing, around_of
from ..signals.scene import MeasuredScene, SceneObject
from .digest import encoded, hashed
from .meshes import ObjectMesh
from .site import Site
from .surfaces import ObjectShape, matrix_of
from .target import Read, Target, Unkeyed


@dataclass(frozen=True)
class SceneObjectOf(Target):
    """An object as signals see it, whatever it is made of; what is worked out about it stays while others are moved."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        # The layout does not count, so the shape is read for its corners alone.
        return {"mesh": ObjectMesh(self.id), "matrix": matrix_of(site, self.id), "shape": Unkeyed(ObjectShape(self.id))}

    @staticmethod
    def make(read: Read) -> SceneObject:
        return SceneObject(read.shape.corners, read.own_key())


@dataclass(frozen=True)
class WholeScene(Target):
    """All objects together. What signals work out for it is kept in memory for as long as there is room."""

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"objects": {id: SceneObjectOf(id) for id in site.surface_ids()}}

    @staticmethod
    def make(read: Read) -> MeasuredScene:
        return MeasuredScene(read.objects, keeper=read.keeper())


@dataclass(frozen=True)
class Scenery(Target):
    """The part of a scene that something looks at.

    :ivar bits: which of the things around the site, as :func:`bits_of` writes them. :ivar planted: planting layers.
    :ivar region: the box that it is worked out in, its least and its greatest corner, metres; None for all of it.
    """

    bits: bytes
    planted: tuple[str, ...] = ()
    region: tuple[tuple[float, ...], tuple[float, ...]] | None = None

    def inputs(self, site: Site) -> Mapping[str, Any]:
        around = around_site(site)
        rows = np.flatnonzero(np.unpackbits(np.frombuffer(self.bits, np.uint8), count=len(around)))
        ids = site.surface_ids()
        objects = rows[rows < len(ids)]
        things = [around.things[row] for row in rows[len(objects) :]]
        asked = {what: {name for kind, name in things if kind == what} for what in ("zone", "shot")}
        zones = {zone.id: zone.corners() for zone in site.zones if zone.id in asked["zone"]} if asked["zone"] else {}
        cameras = {shot.id: shot.camera() for shot in site.shots if shot.id in asked["shot"]} if asked["shot"] else {}
        water = site.water.level if WATER in things and site.water.shown else None
        return {
            # Hundreds of objects, and as many parts of the scene: their keys are kept as one array.
            "keys": _object_keys(site)[objects],
            "objects": Unkeyed([ids[row] for row in objects.tolist()]),
            "extent": extent_of(site) if EXTENT in things else None,
            "water": water, "zones": zones, "cameras": cameras,
            "planted": {layer: site.target("PlantedBodies", layer) for layer in self.planted},
            "whole": Unkeyed(WholeScene()), "region": self.region,
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> MeasuredScene:
        whole: MeasuredScene = read.whole
        region = None if read.region is None else (np.array(read.region[0]), np.array(read.region[1]))
        return whole.part(read.objects, read.extent is not None, region, water_level=read.water, zones=read.zones,
                          cameras=read.cameras, planted=read.planted)  # fmt: skip


def _object_keys(site: Site) -> np.ndarray:
    """What tells the objects of a site, with their names: uint8 (O, 16)."""

    def keys(at: Site) -> np.ndarray:
        each = [hashed(encoded((id, at.key(SceneObjectOf(id))))) for id in at.surface_ids()]
        return np.frombuffer(b"".join(each), np.uint8).reshape(len(each), -1)

    return site.once("keys of objects", keys)


def extent_of(site: Site) -> tuple[np.ndarray, np.ndarray]:
    """The box about all objects, each corner float64 (3,)."""
    around = around_site(site)
    some = around.all_of("object")
    return around.low[some].min(0), around.high[some].max(0)


def around_site(site: Site) -> Around:
    """What there is on a site, with boxes, before anything is measured."""
    return site.once("around", _around)


def _around(site: Site) -> Around:
    boxes: list[tuple[Thing, np.ndarray, np.ndarray]] = [
        (("object", id), *site.get(SceneObjectOf(id)).box) for id in site.surface_ids()
    ]
    for zone in site.zones:
        corners = zone.corners()
        (x0, z0), (x1, z1) = corners.min(0), corners.max(0)
        boxes.append((("zone", zone.id), np.array([x0, -np.inf, z0]), np.array([x1, np.inf, z1])))
    for shot in site.shots:
        boxes.append((("shot", shot.id), shot.camera().eye, shot.camera().eye))
    return around_of(boxes, [WATER, EXTENT, PARTS])


def bits_of(looked_at: np.ndarray) -> bytes:
    """Which things something reaches, bool (T,), for :class:`Scenery`."""
    return np.packbits(looked_at).tobytes()
