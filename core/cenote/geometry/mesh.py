"""Triangle meshes as plain arrays, and the few operations that everything else is built from."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numba import njit
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

CREASE_DEGREES = 40.0


class MeshError(ValueError):
    """A mesh that cannot be used; the message says why, in words for its owner."""


@dataclass(frozen=True)
class Mesh:
    """Triangles with named parts.

    :ivar positions: float32 (N, 3), metres, Y up.
    :ivar faces: int32 (M, 3), rows of ``positions``, counter-clockwise seen from outside.
    :ivar parts: int32 (M,), for each face a row of ``part_names``.
    :ivar part_names: one name a part.
    :ivar colours: float32 (N, 3), linear albedo in [0, 1] or a factor on a texture, or None.
    :ivar uv: float32 (N, 2), texture coordinates, or None; NaN where they are to be projected.
    :ivar normals: float32 (N, 3), unit, or None; NaN where they follow from the faces.
    """

    positions: np.ndarray
    faces: np.ndarray
    parts: np.ndarray
    part_names: tuple[str, ...]
    colours: np.ndarray | None = field(default=None)
    uv: np.ndarray | None = field(default=None)
    normals: np.ndarray | None = field(default=None)

    @staticmethod
    def of(positions, faces, part: str = "all", colours=None, uv=None, normals=None) -> Mesh:
        """Make a mesh of one part from anything array-like."""
        faces = np.asarray(faces, np.int32).reshape(-1, 3)
        return Mesh(
            np.asarray(positions, np.float32).reshape(-1, 3),
            faces,
            np.zeros(len(faces), np.int32),
            (part,),
            None if colours is None else np.asarray(colours, np.float32).reshape(-1, 3),
            None if uv is None else np.asarray(uv, np.float32).reshape(-1, 2),
            None if normals is None else np.asarray(normals, np.float32).reshape(-1, 3),
        )

    def as_arrays(self) -> dict[str, np.ndarray]:
        """Triangles, parts, and what it has of colours and texture coordinates, as arrays alone, one a field of the mesh, each (V, k) or (M, …), for files."""
        names = np.frombuffer("\n".join(self.part_names).encode(), np.uint8)
        more = {name: array for name, array in (("colours", self.colours), ("uv", self.uv)) if array is not None}
        return {"positions": self.positions, "faces": self.faces, "parts": self.parts, "part_names": names} | more

    @staticmethod
    def from_arrays(arrays: dict[str, np.ndarray]) -> Mesh:
        """The mesh of :meth:`as_arrays`; ``arrays`` as that gives them, each (V, k) or (M, …)."""
        names = tuple(arrays["part_names"].tobytes().decode().split("\n"))
        more = (arrays.get("colours"), arrays.get("uv"))
        return Mesh(arrays["positions"], arrays["faces"], arrays["parts"], names, *more)

    @property
    def corners(self) -> np.ndarray:
        """The corner positions of each face, float32 (M, 3, 3)."""
        return self.positions[self.faces]

    @property
    def bounds(self) -> np.ndarray:
        """Least and greatest corner, float64 (2, 3)."""
        return np.array([self.positions.min(0), self.positions.max(0)], np.float64)

    def digest(self) -> str:
        """A hash of the content, the same on every machine."""
        sha = hashlib.sha256()
        for array in (self.positions, self.faces, self.parts, self.colours, self.uv, self.normals):
            sha.update(b"-" if array is None else np.ascontiguousarray(array).tobytes())
        sha.update("\x1f".join(self.part_names).encode())
        return sha.hexdigest()

    def moved(self, matrix: np.ndarray) -> Mesh:
        """The mesh under an affine matrix (4, 4); faces are turned where the matrix mirrors."""
        positions = self.positions @ matrix[:3, :3].T + matrix[:3, 3]
        mirrored = np.linalg.det(matrix[:3, :3]) < 0
        faces = self.faces[:, ::-1] if mirrored else self.faces
        normals = self.normals
        if normals is not None:
            normals = normals @ np.linalg.inv(matrix[:3, :3])
            normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-9)[:, None]
            normals = normals.astype(np.float32)
        return replace(self, positions=positions.astype(np.float32), faces=np.ascontiguousarray(faces), normals=normals)

    def coloured(self, colour) -> Mesh:
        """The mesh with one colour (3,), or one for each vertex (N, 3)."""
        colours = np.broadcast_to(np.asarray(colour, np.float32), self.positions.shape)
        return replace(self, colours=np.ascontiguousarray(colours))

    def at(self, x: float = 0, y: float = 0, z: float = 0) -> Mesh:
        """The mesh shifted by metres."""
        return replace(self, positions=self.positions + np.array([x, y, z], np.float32))


def join(meshes: Sequence[Mesh]) -> Mesh:
    """Put meshes into one; parts of the same name become one part.

    Where only some have colours, the others become white; where only some have texture coordinates or normals, those of
    the others are NaN.
    """
    names: list[str] = []
    positions, faces, parts, offset = [], [], [], 0
    for mesh in meshes:
        for name in mesh.part_names:
            if name not in names:
                names.append(name)
        table = np.array([names.index(name) for name in mesh.part_names], np.int32)
        positions.append(mesh.positions)
        faces.append(mesh.faces + np.int32(offset))
        parts.append(table[mesh.parts])
        offset += len(mesh.positions)

    def column(name: str, width: int, missing: float) -> np.ndarray | None:
        arrays = [getattr(mesh, name) for mesh in meshes]
        if all(array is None for array in arrays):
            return None
        return np.concatenate([
            np.full((len(mesh.positions), width), missing, np.float32) if array is None else array
            for mesh, array in zip(meshes, arrays, strict=True)
        ])  # fmt: skip

    return Mesh(np.concatenate(positions), np.concatenate(faces), np.concatenate(parts), tuple(names),
                column("colours", 3, 1), column("uv", 2, np.nan), column("normals", 3, np.nan))  # fmt: skip


def face_normals(corners: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Unit normals and areas of triangles.

    :param corners: float (M, 3, 3), metres.
    :returns: float32 (M, 3), zero for a face without area; float64 (M,) in m².
    """
    normals, areas = np.empty((len(corners), 3), np.float32), np.empty(len(corners))
    # Some at a time, so that millions take little room beside the results.
    for k in range(0, len(corners), 1 << 18):
        edges = corners[k : k + (1 << 18)].astype(np.float64)
        cross = np.cross(edges[:, 1] - edges[:, 0], edges[:, 2] - edges[:, 0])
        length = np.linalg.norm(cross, axis=1)
        normals[k : k + len(edges)] = cross / np.maximum(length, 1e-30)[:, None]
        areas[k : k + len(edges)] = length / 2
    return normals, areas


def welded(positions: np.ndarray) -> np.ndarray:
    """For each position the number of its place, int64 (N,): positions within 0.1 mm count as one place."""
    keys = np.round(positions.astype(np.float64) * 1e4).astype(np.int64)
    return np.unique(keys, axis=0, return_inverse=True)[1].reshape(-1)


def pieces(mesh: Mesh) -> np.ndarray:
    """For each face the number of the connected piece that it belongs to, int32 (M,)."""
    place = welded(mesh.positions)[mesh.faces]
    count = int(place.max()) + 1 if len(place) else 0
    rows, columns = place[:, [0, 1]].ravel(), place[:, [1, 2]].ravel()
    joined = coo_matrix((np.ones(len(rows), bool), (rows, columns)), (count, count))
    return connected_components(joined, directed=False)[1][place[:, 0]].astype(np.int32)


@njit(cache=True, nogil=True)
def _shared_normals(order, starts, normals, weights, crease, out):  # type: ignore
    for place in range(len(starts) - 1):
        for a in range(starts[place], starts[place + 1]):
            own = order[a] // 3
            x, y, z = 0.0, 0.0, 0.0
            for b in range(starts[place], starts[place + 1]):
                other = order[b] // 3
                alike = (
                    normals[own, 0] * normals[other, 0]
                    + normals[own, 1] * normals[other, 1]
                    + normals[own, 2] * normals[other, 2]
                )
                if other == own or alike > crease:
                    weight = weights[order[b]]
                    x += normals[other, 0] * weight
                    y += normals[other, 1] * weight
                    z += normals[other, 2] * weight
            length = np.sqrt(x * x + y * y + z * z)
            corner = order[a]
            if length > 1e-30:
                out[corner, 0], out[corner, 1], out[corner, 2] = x / length, y / length, z / length
            else:
                out[corner, 0], out[corner, 1], out[corner, 2] = normals[own, 0], normals[own, 1], normals[own, 2]


def _corner_angles(corners: np.ndarray) -> np.ndarray:
    """The angles of triangles at their corners, float64 (M, 3), radians. :param corners: float (M, 3, 3)."""
    at = corners.astype(np.float64)
    one, two = np.roll(at, -1, axis=1) - at, np.roll(at, 1, axis=1) - at
    return np.arctan2(np.linalg.norm(np.cross(one, two), axis=2), (one * two).sum(2))


def corner_normals(mesh: Mesh, crease_degrees: float = CREASE_DEGREES) -> np.ndarray:
    """Shading normals of each face's corners, float32 (M, 3, 3).

    At a corner the normals of those faces are averaged that meet there at less than the crease angle to its own, weighed by
    their area and by their angle there: so large faces stay flat beside bevels, and it does not matter how a face with four
    corners is divided (after Max, "Weights for Computing Vertex Normals from Facet Normals", 1999).
    """
    normals, areas = face_normals(mesh.corners)
    weights = (areas[:, None] * _corner_angles(mesh.corners)).astype(np.float32).ravel()
    place = welded(mesh.positions)[mesh.faces].ravel()
    order = np.argsort(place, kind="stable")
    starts = np.searchsorted(place[order], np.arange(int(place.max()) + 2 if len(place) else 1))
    rows = np.empty((len(place), 3), np.float32)
    _shared_normals(order, starts, normals, weights, np.cos(np.radians(crease_degrees)), rows)
    out = rows.reshape(-1, 3, 3)
    if mesh.normals is not None:
        given = mesh.normals[mesh.faces]
        out = np.where(np.isnan(given), out, given)
    return out.astype(np.float32)


def corner_uv(mesh: Mesh) -> np.ndarray:
    """Texture coordinates of each face's corners, float32 (M, 3, 2).

    Where the mesh has none, the face is projected along the axis that it faces most, in metres.
    """
    normals, _ = face_normals(mesh.corners)
    axis = np.abs(normals).argmax(1)
    across = np.array([2, 0, 0])[axis]
    up = np.array([1, 2, 1])[axis]
    rows = np.arange(len(mesh.faces))
    flat = np.stack([mesh.corners[rows, :, across], mesh.corners[rows, :, up]], -1)
    if mesh.uv is not None:
        given = mesh.uv[mesh.faces]
        flat = np.where(np.isnan(given), flat, given)
    return flat.astype(np.float32)


def corner_tangents(corners: np.ndarray, normals: np.ndarray, uv: np.ndarray) -> np.ndarray:
    """Tangents as glTF wants them: along the texture's u, and how the bitangent stands to it.

    :param corners, normals: float (M, 3, 3). :param uv: float (M, 3, 2), v downwards.
    :returns: float32 (M, 3, 4), unit, at right angles to the normals; the fourth is 1 or −1.
    """
    e1, e2 = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    d1, d2 = uv[:, 1] - uv[:, 0], uv[:, 2] - uv[:, 0]
    area = d1[:, 0] * d2[:, 1] - d2[:, 0] * d1[:, 1]
    sign = np.where(area < 0, -1.0, 1.0)
    along = (e1 * d2[:, 1:] - e2 * d1[:, 1:]) * sign[:, None]
    flat = np.linalg.norm(along, axis=1) < 1e-12
    along[flat] = e1[flat]
    out = along[:, None] - normals * (normals * along[:, None]).sum(2, keepdims=True)
    length = np.linalg.norm(out, axis=2, keepdims=True)
    # Where the texture runs along the normal any direction across will do.
    spare = np.cross(normals, np.where(np.abs(normals[..., 1:2]) < 0.9, [0, 1.0, 0], [1.0, 0, 0]))
    spare /= np.maximum(np.linalg.norm(spare, axis=2, keepdims=True), 1e-12)
    out = np.where(length > 1e-9, out / np.maximum(length, 1e-12), spare)
    return np.concatenate([out, np.broadcast_to(-sign[:, None, None], (*out.shape[:2], 1))], axis=2).astype(np.float32)


def checked(mesh: Mesh) -> Mesh:
    """Return the mesh without faces that have no area.

    :raises MeshError: if nothing is left, or a coordinate is not a finite number, or a face names no vertex.
    """
    if not len(mesh.faces):
        raise MeshError("it has no triangles")
    if mesh.faces.min() < 0 or mesh.faces.max() >= len(mesh.positions):
        raise MeshError("a triangle names a vertex that is not there")
    if not np.isfinite(mesh.positions).all():
        raise MeshError("some of its vertices are not finite numbers")
    good = face_normals(mesh.corners)[1] > 1e-12
    if not good.any():
        raise MeshError("all its triangles have zero area")
    return mesh if good.all() else replace(mesh, faces=mesh.faces[good], parts=mesh.parts[good])


def placement_matrix(
    position: Sequence[float],
    turn_degrees: float,
    size: float = 1.0,
    tip_degrees: float = 0.0,
    roll_degrees: float = 0.0,
) -> np.ndarray:
    """The matrix of a placement, float64 (4, 4): scale, then turns about its own z (roll), x (tip) and the upright axis (turn), then
    a shift in metres."""
    (sy, sx, sz), (cy, cx, cz) = (f(np.radians([turn_degrees, tip_degrees, roll_degrees])) for f in (np.sin, np.cos))
    matrix = np.eye(4)
    matrix[:3, :3] = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]]) * size
    if tip_degrees or roll_degrees:
        tip = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
        roll = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
        matrix[:3, :3] = matrix[:3, :3] @ tip @ roll
    matrix[:3, 3] = position
    return matrix


def placement_angles(rotation: np.ndarray) -> tuple[float, float, float]:
    """Turn, tip and roll in degrees that :func:`placement_matrix` makes a rotation of.

    :param rotation: float (3, 3), without scale. :returns: turn and roll in [-180, 180], tip in [-90, 90].
    """
    tip = np.arcsin(np.clip(-rotation[1, 2], -1, 1))
    if abs(rotation[1, 2]) > 1 - 1e-7:
        # Tipped straight up or down, turn and roll are about the same axis: all of it is turn.
        turn, roll = np.arctan2(-rotation[2, 0], rotation[0, 0]), 0.0
    else:
        turn = np.arctan2(rotation[0, 2], rotation[2, 2])
        roll = np.arctan2(rotation[1, 0], rotation[1, 1])
    return float(np.degrees(turn)), float(np.degrees(tip)), float(np.degrees(roll))


def indexed(columns: dict[str, np.ndarray]) -> tuple[dict[str, np.ndarray], np.ndarray]:
    """Give equal corners one row, as drawing wants it.

    :param columns: float32 (C, k) each, one row a corner, three rows a triangle.
    :returns: the distinct rows of each column, float32 (V, k), and indices uint32 (C,).
    """
    table = np.ascontiguousarray(np.concatenate(list(columns.values()), axis=1), np.float32) + np.float32(0)
    rows = table.view(np.dtype((np.void, table.dtype.itemsize * table.shape[1]))).ravel()
    _, first, back = np.unique(rows, return_index=True, return_inverse=True)
    # In order of first use, which keeps neighbours near each other.
    order = np.argsort(first, kind="stable")
    place = np.empty(len(order), np.int64)
    place[order] = np.arange(len(order))
    kept = first[order]
    return {name: np.ascontiguousarray(column[kept]) for name, column in columns.items()}, place[back.ravel()].astype(
        np.uint32
    )
