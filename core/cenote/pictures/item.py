"""Pictures of single kit items by ray casting, for the kit browser."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..colour import srgb_bytes
from ..geometry.barycentric import weights_of
from ..geometry.mesh import Mesh, corner_normals, corner_uv, face_normals
from ..geometry.rays import LIFT, RayScene
from ..kit.base import CARD
from ..weather.tiles import LaidTile

_SUN = np.array([0.45, 0.72, 0.53]) / np.linalg.norm([0.45, 0.72, 0.53])
_PAPER = np.array([0.80, 0.77, 0.69])
# How many leaves a ray may pass through the empty parts of before it counts as blocked.
_LAYERS = 10

# Parts that light goes through, and whose normals are those of the plant.
_LEAVES = (CARD, "blade")


class CastItem:
    """A mesh with what its faces look like, for rays to meet."""

    def __init__(self, mesh: Mesh, card: np.ndarray | None, tiles: Mapping[str, LaidTile]) -> None:
        self.mesh, self.card, self.tiles = mesh, card, tiles
        self.corners = mesh.corners.astype(np.float32)
        self.uv, self.normals = corner_uv(mesh), corner_normals(mesh)
        self.colours = np.ones((len(mesh.positions), 3), np.float32) if mesh.colours is None else mesh.colours
        self.rays = RayScene(self.corners)
        self.is_card = np.array([name == CARD for name in mesh.part_names])[mesh.parts]
        self.is_leaf = np.array([name in _LEAVES for name in mesh.part_names])[mesh.parts]
        self.flat, _ = face_normals(self.corners)

    def weights(self, faces: np.ndarray, origins: np.ndarray, directions: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Barycentric coordinates (K, 3) and distances (K,) of hits on faces (K,)."""
        a, b, c = (self.corners[faces, k].astype(float) for k in range(3))
        normal = np.cross(b - a, c - a)
        slope = (directions * normal).sum(1)
        t = ((a - origins) * normal).sum(1) / np.where(np.abs(slope) < 1e-14, 1e-14, slope)
        p = origins + directions * t[:, None]
        return weights_of(self.corners[faces], p), t

    def texels(self, faces: np.ndarray, weights: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Linear colour (K, 3) and alpha (K,) at hits."""
        colour = np.einsum("nk,nki->ni", weights, self.colours[self.mesh.faces[faces]].astype(float))
        alpha = np.ones(len(faces))
        uv = np.einsum("nk,nki->ni", weights, self.uv[faces].astype(float))
        parts = self.mesh.parts[faces]
        for row, name in enumerate(self.mesh.part_names):
            mine = np.flatnonzero(parts == row)
            if not len(mine):
                continue
            if name == CARD and self.card is not None:
                height, width = self.card.shape[:2]
                x = np.clip((uv[mine, 0] * width).astype(int), 0, width - 1)
                y = np.clip((uv[mine, 1] * height).astype(int), 0, height - 1)
                colour[mine] *= self.card[y, x, :3]
                alpha[mine] = self.card[y, x, 3]
            elif name in self.tiles:
                tile = self.tiles[name]
                n = len(tile.pixels)
                x, y = (np.floor(uv[mine, axis] / tile.size * n).astype(int) % n for axis in (0, 1))
                colour[mine] *= tile.pixels[y, x, :3]
        return colour, alpha

    def first(self, origins: np.ndarray, directions: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """The first face that is not empty where each ray meets it.

        :param origins, directions: float32 (N, 3). :returns: faces int (N,), -1 for none; barycentric coordinates (N, 3);
            distances (N,).
        """
        count = len(origins)
        faces, weights, far = np.full(count, -1), np.zeros((count, 3)), np.zeros(count)
        going, starts = np.arange(count), origins.astype(np.float64).copy()
        for _ in range(_LAYERS):
            if not len(going):
                break
            hits = self.rays.first(starts[going].astype(np.float32), directions[going].astype(np.float32))
            going, hits = going[hits >= 0], hits[hits >= 0]
            w, t = self.weights(hits, starts[going], directions[going].astype(float))
            solid = np.ones(len(hits), bool)
            leafy = self.is_card[hits]
            solid[leafy] = self.texels(hits[leafy], w[leafy])[1] > 0.5
            done = going[solid]
            faces[done], weights[done] = hits[solid], w[solid]
            far[done] = np.linalg.norm(starts[done] + directions[done] * t[solid][:, None] - origins[done], axis=1)
            going, t = going[~solid], t[~solid]
            starts[going] += directions[going] * (t + 2e-4)[:, None]
        return faces, weights, far


def item_picture(
    mesh: Mesh, card: np.ndarray | None, tiles: Mapping[str, LaidTile], width: int, height: int, samples: int = 2
) -> np.ndarray:
    """An item on pale ground, in sun and sky light, seen from a little above.

    :param tiles: baked materials by the names of the mesh's parts.
    :param samples: rays across each pixel.
    :returns: uint8 (height, width, 3), sRGB.
    """
    item = CastItem(mesh, card, tiles)
    low, high = mesh.bounds
    low[1] = max(low[1], 0.0)
    middle, reach = (low + high) / 2, float(np.linalg.norm(high - low)) / 2
    away = np.array([0.55, 0.34, 0.95])
    ahead = -away / np.linalg.norm(away)
    right = np.cross(ahead, [0, 1, 0])
    right /= np.linalg.norm(right)
    up = np.cross(right, ahead)
    spots = (np.stack([low, high])[[*np.ndindex(2, 2, 2)], range(3)] - middle) @ np.stack([right, up], 1)
    # As close as the item's box allows, with a little air.
    half = 1.08 * max(np.abs(spots[:, 0]).max() / (width / height), np.abs(spots[:, 1]).max())
    lens = np.tan(np.radians(14))
    eye = middle - ahead * (half / lens + reach * 0.3)
    h, w = height * samples, width * samples
    y, x = np.mgrid[0:h, 0:w]
    u, v = (x + 0.5 - w / 2) / (h / 2) * lens, (h / 2 - y - 0.5) / (h / 2) * lens
    directions = (ahead + u[..., None] * right + v[..., None] * up).reshape(-1, 3)
    directions /= np.linalg.norm(directions, axis=1)[:, None]
    origins = np.broadcast_to(eye, directions.shape)
    faces, weights, far = item.first(origins, directions)
    hit = faces >= 0
    ground = ~hit & (directions[:, 1] < -1e-4)
    far[ground] = -eye[1] / directions[ground, 1]
    points = origins + directions * far[:, None]
    normals = np.tile(np.array([0, 1.0, 0]), (len(points), 1))
    colour = np.tile(_PAPER, (len(points), 1))
    normals[hit] = np.einsum("nk,nki->ni", weights[hit], item.normals[faces[hit]].astype(float))
    colour[hit], _ = item.texels(faces[hit], weights[hit])
    backwards = np.zeros(len(points), bool)
    backwards[hit] = (item.flat[faces[hit]] * directions[hit]).sum(1) > 0
    flip = backwards.copy()
    flip[hit] &= ~item.is_leaf[faces[hit]]
    normals[flip] *= -1
    normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-9)[:, None]
    # Leaves let light through: what faces away from the sun is not dark.
    lit = np.clip(normals @ _SUN, 0, 1)
    leafy = np.zeros(len(points), bool)
    leafy[hit] = item.is_leaf[faces[hit]]
    lit[leafy] = 0.35 + 0.65 * lit[leafy]
    seen = np.flatnonzero((hit | ground) & (lit > 0))
    start = points[seen] - directions[seen] * 4 * LIFT + _SUN * 8 * LIFT
    shaded = item.first(start, np.broadcast_to(_SUN, start.shape))[0] >= 0
    lit[seen[shaded]] *= np.where(leafy[seen[shaded]], 0.35, 0.0)
    open_ = np.ones(len(points))
    around = np.flatnonzero(hit | ground)
    golden = np.array([[np.cos(k * 2.4) * s, np.sqrt(1 - s * s), np.sin(k * 2.4) * s]
                       for k, s in enumerate(np.sqrt((np.arange(5) + 0.5) / 5.5))])  # fmt: skip
    blocked = np.zeros(len(around))
    begin = (points[around] - directions[around] * 6 * LIFT).astype(np.float32)
    for way in golden:
        near = item.rays.distance(begin, np.broadcast_to(way.astype(np.float32), begin.shape))
        blocked += np.clip(1 - near / max(reach, 0.05), 0, 1)
    open_[around] = 1 - 0.75 * blocked / len(golden)
    sky = (0.55 + 0.45 * normals[:, 1]) * open_
    radiance = colour * (lit[:, None] * [1.45, 1.36, 1.2] + sky[:, None] * [0.62, 0.68, 0.78])
    paper = _PAPER * 1.9
    radiance[~hit & ~ground] = paper
    edge = np.clip(np.hypot(u, v * 1.1).ravel() / lens - 0.55, 0, 1)[:, None]
    radiance = np.where(ground[:, None], radiance * (1 - edge) + paper * edge, radiance)
    radiance = radiance.reshape(height, samples, width, samples, 3).mean((1, 3))
    return srgb_bytes(radiance / (1 + 0.28 * radiance))
