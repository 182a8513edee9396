"""The land around a site, as far as the horizon: of the ground's own material, and as the ground's edge looks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.ndimage import uniform_filter1d

from ..colour import linear_of
from ..geometry.skirt import border, carried_on, outer_points, skirt
from ..signals.around import GROUND
from ..signals.noise import world_noise
from ..site.ground import Ground
from ..weather.compose import Maps
from .ground import shape_of
from .maps import SurfaceMaps
from .site import Site
from .surfaces import ObjectShape, Shape
from .target import Read, Target
from .tiles import TileMean

# How far it goes, metres, and at least so many times the site's half width.
_BEYOND, _TIMES = 1500.0, 3.0
# Size and height of the hills towards the horizon, metres.
_HILLS, _HIGH = 320.0, 14.0
# Along the edge its colour is evened out over so many metres; outwards it goes over into the mean within about as many.
_EVEN, _FADES = 3.0, 25.0
# Where covers, snow for instance, change the ground's colour by more than so many times, its material is not seen any more.
_COVERED = 2.5


@dataclass(frozen=True)
class Land:
    """Triangles of the land around a site.

    :ivar positions: float32 (P, 3), metres. :ivar normals: float32 (P, 3), unit.
    :ivar textured: whether the ground's material is seen on it.
    :ivar tints: float32 (P, 3), factors on the linear colour of that material; where it is not seen, linear colours.
    :ivar faces: uint32 (F, 3).
    """

    positions: np.ndarray
    normals: np.ndarray
    textured: bool
    tints: np.ndarray
    faces: np.ndarray


@dataclass(frozen=True)
class Surroundings(Target):
    """The land around a site: :class:`Land`. It takes its colours from the ground's maps at a level."""

    level: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {
            "ground": shape_of(site),
            "shape": ObjectShape(GROUND),
            "maps": SurfaceMaps(GROUND, self.level),
            "mean": TileMean(site.ground.material),
        }

    @staticmethod
    def make(read: Read) -> Land:
        ground: Ground = read.ground
        shape: Shape = read.shape
        at = border(*ground.grid()[0].shape)
        edge = shape.mesh.positions[at].astype(np.float64)
        beyond = goes_on_for(ground)
        rolling = _hills(outer_points(edge, beyond), ground.seed)
        positions, faces, away = skirt(edge, beyond, rolling)
        local = _evened(edge, _seen(shape, read.maps, at))
        factor = local / np.maximum(read.mean[:3], 1e-3)
        textured = bool(1 / _COVERED < factor.mean() < _COVERED)
        return Land(
            positions.astype(np.float32),
            _normals(positions, faces).astype(np.float32),
            textured,
            _spread(factor if textured else local, len(positions), away).astype(np.float32),
            faces.astype(np.uint32),
        )


def goes_on_for(ground: Ground) -> float:
    """How far the land goes on beyond the ground's edge, metres."""
    return max(_BEYOND, _TIMES * max(ground.size) / 2)


def _hills(places: np.ndarray, seed: int) -> np.ndarray:
    """Heights (R, K) of gentle hills at places (R, K, 2), metres, never below nothing."""
    flat = np.zeros((places[..., 0].size, 3), np.float32)
    flat[:, [0, 2]] = places.reshape(-1, 2)
    noise = world_noise(flat, _HILLS, 3, seed + 1).reshape(places.shape[:2])
    return np.asarray(np.clip(noise - 0.35, 0, None) * _HIGH, np.float64)


def _seen(shape: Shape, maps: Maps, vertices: np.ndarray) -> np.ndarray:
    """The linear colour (N, 3) that maps show at vertices of a mesh (N,)."""
    flat = shape.mesh.faces.ravel()
    first = np.zeros(len(shape.mesh.positions), np.int64)
    first[flat[::-1]] = np.arange(len(flat))[::-1]
    uv = shape.atlas.uv().reshape(-1, 2)[first[vertices]]
    height, width = maps.base.shape[:2]
    column = np.clip((uv[:, 0] * width).astype(int), 0, width - 1)
    row = np.clip((uv[:, 1] * height).astype(int), 0, height - 1)
    return np.asarray(linear_of(maps.base[row, column, :3] / 255.0))


def _evened(edge: np.ndarray, seen: np.ndarray) -> np.ndarray:
    """Colours (N, 3) of the points of an edge, evened out along it."""
    step = float(np.linalg.norm(np.diff(edge[:, [0, 2]], axis=0), axis=1).mean())
    even = uniform_filter1d(seen[:-1], max(1, round(_EVEN / step)), axis=0, mode="wrap")
    return np.append(even, even[:1], 0)


def _spread(local: np.ndarray, count: int, away: np.ndarray) -> np.ndarray:
    """Tints of all points (P, 3): along rays from the edge they go over into the mean tint."""
    on = carried_on(len(local))
    tints = np.concatenate([local, np.tile(local[on], ((count - len(local)) // len(on), 1))])
    kept = 1 / (1 + (away[:, None] / _FADES) ** 2)
    return np.asarray(local.mean(0) + (tints - local.mean(0)) * kept)


def _normals(positions: np.ndarray, faces: np.ndarray) -> np.ndarray:
    """Unit normals (P, 3) of vertices, weighted by the area of their triangles."""
    a, b, c = (positions[faces[:, k]] for k in range(3))
    way = np.cross(b - a, c - a)
    out = np.zeros_like(positions)
    for k in range(3):
        np.add.at(out, faces[:, k], way)
    return out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)
