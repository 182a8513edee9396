"""Drops as arrays, and the surface that they lie on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields, replace
from functools import cached_property

import numpy as np

from ..geometry.barycentric import weights_of
from ..geometry.mesh import face_normals
from ..geometry.rays import RayScene
from .cap import base_radius, flattened, held, sphere_radius, weight_along, widest_radius


@dataclass(frozen=True)
class Drops:
    """Drops on a surface.

    :ivar ids: uint64 (N,), each one's own number for ever. :ivar faces: int64 (N,), the triangles that they lie on. :ivar positions: float64 (N, 3), metres, the middle of their base.
    :ivar normals: unit float64 (N, 3). :ivar volumes: float64 (N,), m³. :ivar advancing, receding: float64 (N,), contact angles, radians.
    :ivar drawn: float64 (N,), how far each is drawn out down its slope: 1 is round, 4 twice as long and half as wide.
    """

    ids: np.ndarray
    faces: np.ndarray
    positions: np.ndarray
    normals: np.ndarray
    volumes: np.ndarray
    advancing: np.ndarray
    receding: np.ndarray
    drawn: np.ndarray

    def __len__(self) -> int:
        return len(self.ids)

    def only(self, rows: np.ndarray) -> Drops:
        """Some of them: int (K,) or bool (N,)."""
        return Drops(*(getattr(self, one.name)[rows] for one in fields(self)))

    @property
    def angles(self) -> np.ndarray:
        """Contact angles of drops that nothing pulls, float64 (N,), radians."""
        return (self.advancing + self.receding) / 2

    @cached_property
    def flat(self) -> np.ndarray:
        """Factor of gravity on their height, float64 (N,)."""
        return flattened(self.volumes, self.angles, self.normals[:, 1])

    @cached_property
    def radii(self) -> np.ndarray:
        """How far each reaches at most, seen from above, float64 (N,), metres."""
        return widest_radius(self.volumes, self.angles, self.flat) * np.sqrt(self.drawn)

    @cached_property
    def bases(self) -> np.ndarray:
        """Radii of the ground that they cover, were they round: float64 (N,), metres."""
        return base_radius(self.volumes, self.angles, self.flat)

    @property
    def heights(self) -> np.ndarray:
        """How high each stands over its surface, float64 (N,), metres."""
        return sphere_radius(self.volumes, self.angles) * (1 - np.cos(self.angles)) * self.flat

    @cached_property
    def pull(self) -> np.ndarray:
        """Their weight along the slope over what holds them, float64 (N,); one above 1 runs."""
        return weight_along(self.volumes, self.normals[:, 1]) / np.maximum(self.holds, 1e-30)

    @cached_property
    def holds(self) -> np.ndarray:
        """What of their weight their edges can bear, float64 (N,), newton."""
        return held(self.bases, self.advancing, self.receding)

    @property
    def ways(self) -> np.ndarray:
        """The way down their surface of each, unit float64 (N, 3); any way along it where it is level."""
        down = self.normals * self.normals[:, 1:2] - np.array([0.0, 1.0, 0.0])
        steep = np.linalg.norm(down, axis=1, keepdims=True)
        aside = np.cross(
            self.normals, np.where(np.abs(self.normals[:, :1]) < 0.9, [[1.0, 0.0, 0.0]], [[0.0, 0.0, 1.0]])
        )
        aside /= np.linalg.norm(aside, axis=1, keepdims=True)
        return np.where(steep > 1e-3, down / np.maximum(steep, 1e-9), aside)


def no_drops() -> Drops:
    """None at all."""
    none = np.zeros(0)
    return Drops(
        none.astype(np.uint64), none.astype(np.int64), np.zeros((0, 3)), np.zeros((0, 3)), none, none, none, none
    )


def joined(many: list[Drops]) -> Drops:
    """Drops of several kinds as one."""
    return (
        Drops(*(np.concatenate([getattr(one, name.name) for one in many]) for name in fields(Drops)))
        if many
        else no_drops()
    )


@dataclass(frozen=True)
class Wetted:
    """A surface that drops lie on.

    :ivar corners: float32 (M, 3, 3), metres. :ivar shading: unit float32 (M, 3, 3), normals at corners, as the surface is meant.
    :ivar parts: integers (M,), the part that each face belongs to. :ivar wettings: float64 (parts, 3), advancing and receding contact angle of each, radians, and how much
        stands on it. :ivar wanted: gives how much of drops is wanted at places, float (N,) in [0, 1], of faces int (N,) and float (N, 3), barycentric coordinates.
    """

    corners: np.ndarray
    shading: np.ndarray
    parts: np.ndarray
    wettings: np.ndarray
    wanted: Callable[[np.ndarray, np.ndarray], np.ndarray]

    @cached_property
    def rays(self) -> RayScene:
        """For what is asked of it by rays."""
        return RayScene(self.corners)

    @cached_property
    def normals(self) -> np.ndarray:
        """Of its triangles, unit float64 (M, 3)."""
        return face_normals(self.corners)[0].astype(np.float64)

    @cached_property
    def areas(self) -> np.ndarray:
        """Of its triangles, float64 (M,), m²."""
        return face_normals(self.corners)[1]

    def at(self, faces: np.ndarray, weights: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Places float64 (N, 3) and normals unit float64 (N, 3) at barycentric coordinates float (N, 3)."""
        places = np.einsum("nk,nki->ni", weights, self.corners[faces].astype(np.float64))
        normals = np.einsum("nk,nki->ni", weights, self.shading[faces].astype(np.float64))
        return places, normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)

    def below(self, points: np.ndarray, normals: np.ndarray, above: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Where the surface lies below points: faces int64 (N,), -1 for none, and places float64 (N, 3).

        :param normals: unit float (N, 3), upwards from it. :param above: float (N,), metres that are looked from above each, and twice as far.
        """
        start = points + normals * above[:, None]
        faces = self.rays.first(start, -normals).astype(np.int64)
        met = faces >= 0
        corner, normal = self.corners[faces, 0].astype(np.float64), self.normals[faces]
        slant = (normals * normal).sum(1)
        # On the very plane of the triangle: what rays tell is rounded.
        far = ((start - corner) * normal).sum(1) / np.where(np.abs(slant) > 0.05, slant, 1)
        met &= (np.abs(slant) > 0.05) & (far <= 2.5 * above) & (far > -1e-9)
        return np.where(met, faces, -1), np.where(met[:, None], start - normals * far[:, None], points)

    def lying(self, ids: np.ndarray, faces: np.ndarray, weights: np.ndarray, volumes: np.ndarray) -> Drops:
        """Round drops at places of it. :param weights: float (N, 3), barycentric coordinates."""
        places, normals = self.at(faces, weights)
        advancing, receding, _ = self.wettings[self.parts[faces]].T
        return Drops(ids, faces, places, normals, volumes, advancing, receding, np.ones(len(ids)))

    def moved(self, drops: Drops, rows: np.ndarray, faces: np.ndarray, places: np.ndarray) -> Drops:
        """Drops of which some have come to other places of it. :param rows: int (K,), which. :param faces: int (K,). :param places: float (K, 3), on these."""
        advancing, receding, _ = self.wettings[self.parts[faces]].T
        normals = self.at(faces, weights_of(self.corners[faces], places))[1]
        now = {"faces": faces, "positions": places, "normals": normals, "advancing": advancing, "receding": receding}
        after = {name: getattr(drops, name).copy() for name in now}
        for name, values in now.items():
            after[name][rows] = values
        return replace(drops, **after)
