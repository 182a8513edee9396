"""Decals laid many times over a surface by rule: places that stay where they are when more are asked for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..geometry.mesh import face_normals
from ..randomness import key_of, uniforms
from .spacing import arrivals_on, distances, kept_apart

# Channels of what is by chance about each.
_TAKEN, _SIZE, _TURN, _SEED = 1, 2, 3, 4
# A surface on which a picture is upright as it is told, in place of towards the sky.
_LEVEL = 0.9


@dataclass(frozen=True)
class Places:
    """Places on a surface, in order of arrival.

    :ivar ids: uint64 (N,), each one's own number for ever. :ivar faces: int64 (N,). :ivar weights: float64 (N, 3), barycentric coordinates.
    :ivar positions: float64 (N, 3), metres. :ivar normals: unit float64 (N, 3).
    """

    ids: np.ndarray
    faces: np.ndarray
    weights: np.ndarray
    positions: np.ndarray
    normals: np.ndarray

    def only(self, rows: np.ndarray) -> Places:
        """Some of them: int (K,) or bool (N,)."""
        return Places(*(one[rows] for one in (self.ids, self.faces, self.weights, self.positions, self.normals)))


def places_on(corners: np.ndarray, density: float, spacing: float, *key: int | str) -> Places:
    """Places that arrive on triangles, apart from each other.

    For one key and spacing those of a lower density are among those of a higher one.

    :param corners: float32 (M, 3, 3), metres. :param density: per m². :param spacing: metres.
    """
    normals, areas = face_normals(corners)
    arrived = arrivals_on(areas, density, spacing, key_of(*key))
    positions = np.einsum("nk,nki->ni", arrived.weights, corners[arrived.faces].astype(np.float64))
    all_of = Places(arrived.ids, arrived.faces, arrived.weights, positions, normals[arrived.faces].astype(np.float64))
    return all_of.only(kept_apart(positions, distances(arrived.times, spacing, 0.0)))


def taken(places: Places, mask: np.ndarray) -> np.ndarray:
    """Which places are taken where a mask tells how likely that is, bool (N,): a stricter mask only removes. :param mask: float (N,) in [0, 1]."""
    return np.asarray(uniforms(places.ids, _TAKEN) < mask)


def sizes_of(places: Places, least: float, most: float) -> np.ndarray:
    """Factors between two on the size of each, float64 (N,)."""
    return np.asarray(least + (most - least) * uniforms(places.ids, _SIZE))


def seeds_of(places: Places) -> np.ndarray:
    """A seed for each, int64 (N,) in [0, 10000)."""
    return (uniforms(places.ids, _SEED) * 10_000).astype(np.int64)


def matrices_of(places: Places, upright: bool, strays: float) -> np.ndarray:
    """Rigid matrices from boxes at the places to the world, float64 (N, 4, 4): x to the right, y out of the surface, z down the picture.

    :param upright: whether upper sides are up, north where it is level; else they are turned by chance. :param strays: degrees by which each is turned at most.
    """
    count = len(places.ids)
    out = places.normals
    up = np.zeros((count, 3))
    up[:, 1] = 1.0
    up[np.abs(out[:, 1]) > _LEVEL] = (0, 0, -1)
    down = -(up - out * (up * out).sum(1, keepdims=True))
    down /= np.maximum(np.linalg.norm(down, axis=1, keepdims=True), 1e-9)
    across = np.cross(out, down)
    turns = (uniforms(places.ids, _TURN) * 2 - 1) * np.radians(strays if upright else 180.0)
    cos, sin = np.cos(turns)[:, None], np.sin(turns)[:, None]
    matrices = np.tile(np.eye(4), (count, 1, 1))
    matrices[:, :3, 0], matrices[:, :3, 1], matrices[:, :3, 2] = (
        across * cos - down * sin,
        out,
        across * sin + down * cos,
    )
    matrices[:, :3, 3] = places.positions
    return matrices
