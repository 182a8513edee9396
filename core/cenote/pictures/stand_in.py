"""Far stand-ins: an item as pictures of itself, for where it is a few dozen pixels high."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from ..geometry.mesh import Mesh
from ..weather.tiles import LaidTile
from .item import CastItem

PART = "stand_in"
# Pixels of each picture across and up, and rays across a pixel.
WIDTH, HEIGHT, SAMPLES = 96, 128, 2
# Empty pixels round a picture, so that none shows its neighbour when it is drawn small.
_RIM = 2
# How far pictures are lit as if they faced the sky rather than the viewer.
_UPWARD = 0.6
# Up to this height against its width something is flat; up to that one it is low: seen from above as much as from beside.
_FLAT, _LOW = 0.2, 0.9


def stand_ins(
    meshes: Sequence[Mesh], card: np.ndarray | None, tiles: Mapping[str, LaidTile]
) -> tuple[list[Mesh], np.ndarray]:
    """Stand-ins for the variants of an item, and the picture that they share.

    What is flat lies as one picture seen from above; all else is two upright ones that cross, and what is low has one that lies as well.

    :param meshes: the variants, whole. :param card: the picture of their leaves, float (h, w, 4), linear.
    :param tiles: baked materials by the names of the meshes' parts.
    :returns: a mesh of two, four or six triangles for each variant, of the one part :data:`PART`; and float32
        (pictures · HEIGHT, WIDTH, 4), linear albedo and alpha.
    """
    boards = [_boards(mesh) for mesh in meshes]
    pictures = [_picture(CastItem(mesh, card, tiles), board)
                for mesh, own in zip(meshes, boards, strict=True) for board in own]  # fmt: skip
    out, row = [], 0
    for mesh, own in zip(meshes, boards, strict=True):
        corners = np.concatenate([board.corners() for board in own])
        uv: list[tuple[float, float]] = []
        for _ in own:
            top, bottom = row / len(pictures), (row + 1) / len(pictures)
            uv += [(0, bottom), (1, bottom), (1, top), (0, top)]
            row += 1
        # Lit as something round is, and mostly from above.
        away = corners - mesh.bounds.mean(0)
        normals = away / np.maximum(np.linalg.norm(away, axis=1), 1e-6)[:, None] * (1 - _UPWARD) + [0, _UPWARD, 0]
        normals /= np.linalg.norm(normals, axis=1)[:, None]
        faces = [[4 * board + k for k in face] for board in range(len(own)) for face in ((0, 1, 2), (0, 2, 3))]
        out.append(Mesh.of(corners, faces, PART, np.ones((len(corners), 3)), uv, normals))
    return out, np.concatenate(pictures).astype(np.float32)


@dataclass(frozen=True)
class _Board:
    """A rectangle that a picture is put on: its lower left corner, and its sides, each float64 (3,), metres."""

    corner: np.ndarray
    across: np.ndarray
    up: np.ndarray

    def corners(self) -> np.ndarray:
        """Lower left, lower right, upper right, upper left, float64 (4, 3)."""
        return np.array(
            [self.corner, self.corner + self.across, self.corner + self.across + self.up, self.corner + self.up]
        )


def _boards(mesh: Mesh) -> list[_Board]:
    low, high = mesh.bounds
    low[1] = min(0.0, high[1])
    extent, middle = high - low, (low + high) / 2
    # A rim of empty pixels all round; upright ones end at the foot.
    x, z = (np.eye(3)[axis] * max(extent[axis], 1e-3) * WIDTH / (WIDTH - 2 * _RIM) for axis in (0, 2))
    back = z * HEIGHT / (HEIGHT - 2 * _RIM) * (WIDTH - 2 * _RIM) / WIDTH
    lying = _Board(middle * [1, 0, 1] + [0, low[1] + extent[1] / 2, 0] - x / 2 + back / 2, x, -back)
    wide = min(extent[0], extent[2])
    if extent[1] < _FLAT * wide:
        return [lying]
    up = np.array([0, 1.0, 0]) * extent[1] * HEIGHT / (HEIGHT - _RIM)
    foot = middle * [1, 0, 1] + [0, low[1], 0]
    upright = [_Board(foot - side / 2, side, up) for side in (x, z)]
    return [*upright, lying] if extent[1] < _LOW * wide else upright


def _picture(item: CastItem, board: _Board) -> np.ndarray:
    """An item seen square on to a board, float64 (HEIGHT, WIDTH, 4), linear albedo and alpha."""
    ahead = np.cross(board.up, board.across)
    ahead /= np.linalg.norm(ahead)
    low, high = item.mesh.bounds
    y, x = np.mgrid[0 : HEIGHT * SAMPLES, 0 : WIDTH * SAMPLES]
    u, v = (x + 0.5) / (WIDTH * SAMPLES), 1 - (y + 0.5) / (HEIGHT * SAMPLES)
    origins = (
        board.corner - ahead * 2 * np.linalg.norm(high - low) + u[..., None] * board.across + v[..., None] * board.up
    )
    origins = origins.reshape(-1, 3)
    faces, weights, _ = item.first(origins, np.broadcast_to(ahead, origins.shape))
    hit = faces >= 0
    shown = np.zeros((len(faces), 4))
    shown[hit, :3] = item.texels(faces[hit], weights[hit])[0]
    shown[hit, 3] = 1
    sums = shown.reshape(HEIGHT, SAMPLES, WIDTH, SAMPLES, 4).sum((1, 3))
    # Thin blades fill a pixel by a part only; they would be gone where the picture is drawn small.
    alpha = np.sqrt(sums[..., 3] / SAMPLES**2)
    colour = sums[..., :3] / np.maximum(sums[..., 3:], 1)
    if (alpha > 0).any():
        # Empty pixels take the colour of the nearest that is not, so that edges do not darken.
        nearest = ndimage.distance_transform_edt(alpha == 0, return_distances=False, return_indices=True)
        colour = colour[tuple(nearest)]
    return np.concatenate([colour, alpha[..., None]], axis=-1)
