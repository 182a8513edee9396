"""A brought mesh with textures of its own as a kit item: all of them in one picture, simpler forms that keep it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PIL import Image
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from ..colour import linear_of
from ..geometry.mesh import Mesh, corner_normals, pieces, welded
from ..geometry.simplify import decimated
from ..materials.own_textures import OwnTexture, OwnTextures
from ..randomness import key_of, keys_from, uniforms
from .base import CARD

# A side of the picture, pixels, at most; how often a texture may repeat in it; pixels about each texture that repeat its edge.
_MOST, _REPEATS, _EDGE = 2048, 4, 2
# From how many separate pieces on, of no more than so many triangles each, something is foliage: simpler forms leave pieces out.
_MANY, _SMALL = 24, 40
# How much larger a piece may be made that stands for others.
_LARGER = 2.2
# What has no texture among parts that have one: pale grey.
_PLAIN = (150, 148, 143)


def in_one_picture(mesh: Mesh, textures: OwnTextures) -> tuple[Mesh, np.ndarray]:
    """A mesh of one part that is cut out of one picture, and that picture: float32 (h, w, 4), linear colour and what is there of it.

    Each texture has a square cell of it, in which it repeats as often as the mesh has it, up to four times each way; beyond that it is shown
    larger. Relief, roughness and metalness are left out.

    :param mesh: with texture coordinates, v downwards.
    """
    uv = np.zeros((len(mesh.positions), 2)) if mesh.uv is None else mesh.uv.astype(np.float64)
    # Corners that several parts share would want a place in several cells.
    corners = mesh.faces.ravel()
    uv, rows = np.nan_to_num(uv[corners]), np.array([textures.row(part) for part in range(len(mesh.part_names))])
    owner = np.repeat(rows[mesh.parts], 3)
    used = np.unique(owner)
    across = int(np.ceil(np.sqrt(len(used))))
    largest = max([max(textures.textures[row].base.shape[:2]) for row in used if row >= 0], default=1)
    side = int(min(_MOST, 2 ** int(np.ceil(np.log2(max(largest, 16)))) * across)) // across
    picture = np.zeros((side * across, side * across, 4), np.uint8)
    for place, row in enumerate(used):
        mine = owner == row
        low = np.floor(uv[mine].min(0) + 1e-4)
        spans = np.maximum(np.ceil(uv[mine].max(0) - low - 1e-4), 1)
        times = np.minimum(spans, _REPEATS).astype(int)
        top, left = (place // across) * side, (place % across) * side
        picture[top : top + side, left : left + side] = _cell(None if row < 0 else textures.textures[row], times, side)
        within = (uv[mine] - low) / spans
        inner = side - 2 * _EDGE
        uv[mine] = (np.array([left, top]) + _EDGE + within * inner) / (side * across)
    colours = None if mesh.colours is None else mesh.colours[corners]
    made = Mesh(mesh.positions[corners], np.arange(len(corners), dtype=np.int32).reshape(-1, 3), np.zeros(len(mesh.faces), np.int32), (CARD,),
                colours, uv.astype(np.float32), corner_normals(mesh).reshape(-1, 3).astype(np.float32))  # fmt: skip
    linear = linear_of(picture[..., :3].astype(np.float32) / 255)
    return made, np.dstack([linear, picture[..., 3].astype(np.float32) / 255]).astype(np.float32)


def _cell(texture: OwnTexture | None, times: np.ndarray, side: int) -> np.ndarray:
    """A texture as often as it repeats, uint8 (side, side, 4), with its edge about it."""
    if texture is None:
        return np.broadcast_to(np.array([*_PLAIN, 255], np.uint8), (side, side, 4))
    base = texture.base
    cut = np.full(base.shape[:2], 255, np.uint8) if texture.cut is None else _as_large(texture.cut, base.shape[:2])
    # What is cut away is as its leaves are, so that no edge of it is pale or dark.
    there = cut > 127
    if there.any() and not there.all():
        base = np.where(there[..., None], base, base[there].mean(0).astype(np.uint8))
    inner = side - 2 * _EDGE
    # Apart, so that colours are not lost where nothing is there.
    small = np.dstack([np.asarray(Image.fromarray(np.tile(one, (times[1], times[0], 1)[: one.ndim])).resize((inner, inner), Image.Resampling.BOX))
                       for one in (np.ascontiguousarray(base), cut)])  # fmt: skip
    return np.pad(small, ((_EDGE, _EDGE), (_EDGE, _EDGE), (0, 0)), mode="edge")


def _as_large(grey: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    height, width = shape[:2]
    return np.asarray(Image.fromarray(grey).resize((width, height), Image.Resampling.BILINEAR))


def simpler(mesh: Mesh, share: float) -> Mesh:
    """A mesh of one picture with about a share of its triangles.

    Of foliage, which is many small pieces, some are left out and the rest are larger for it (Cook, Halstead, Planck and Ryu, "Stochastic
    simplification of aggregate detail", 2007). What is of few pieces is simplified as a whole, and shows the texture of what was
    nearest there.
    """
    if share >= 1 or len(mesh.faces) <= 60:
        return mesh
    owner = pieces(mesh)
    count = int(owner.max()) + 1
    if count >= _MANY and len(mesh.faces) / count <= _SMALL:
        return _thinned(mesh, owner, count, share)
    return _simplified(mesh, share)


def _thinned(mesh: Mesh, owner: np.ndarray, count: int, share: float) -> Mesh:
    chosen = uniforms(keys_from(key_of("pieces"), count), 1)
    kept = chosen <= max(np.quantile(chosen, share), chosen.min())
    faces = mesh.faces[kept[owner]]
    of_corner = np.zeros(len(mesh.positions), np.int64)
    of_corner[mesh.faces.ravel()] = np.repeat(owner, 3)
    sums = np.stack([np.bincount(of_corner, mesh.positions[:, axis], count) for axis in range(3)], axis=1)
    middles = sums / np.maximum(np.bincount(of_corner, minlength=count), 1)[:, None]
    larger = min(np.sqrt(1 / max(kept.mean(), 1e-6)), _LARGER)
    positions = middles[of_corner] + (mesh.positions - middles[of_corner]) * larger
    # Nothing grows into the ground for it.
    positions[:, 1] = np.maximum(positions[:, 1], mesh.positions[:, 1].min())
    used, where = np.unique(faces, return_inverse=True)

    def of(column: np.ndarray | None) -> np.ndarray | None:
        return None if column is None else column[used]

    made = replace(mesh, positions=positions[used].astype(np.float32), faces=where.reshape(-1, 3).astype(np.int32))
    return replace(
        made, parts=np.zeros(len(faces), np.int32), colours=of(mesh.colours), uv=of(mesh.uv), normals=of(mesh.normals)
    )


def _simplified(mesh: Mesh, share: float) -> Mesh:
    same = welded(mesh.positions)
    firsts, where = np.unique(same, return_index=True)[1], np.unique(same, return_inverse=True)[1]
    plain = decimated(Mesh.of(mesh.positions[firsts], where[mesh.faces], CARD), share)
    corners = plain.corners.astype(np.float64)
    nearest = cKDTree(mesh.corners.mean(1)).query(corners.mean(1))[1]
    island = _islands(mesh)[nearest]
    # The nearest corner that was there, of the same island of the picture: far apart from others in a fourth direction.
    far = 10 * float(np.ptp(mesh.positions, axis=0).max() + 1)
    of_corner = np.zeros(len(mesh.positions))
    of_corner[mesh.faces.ravel()] = np.repeat(_islands(mesh), 3)
    tree = cKDTree(np.column_stack([mesh.positions, of_corner * far]))
    near = tree.query(np.column_stack([corners.reshape(-1, 3), np.repeat(island, 3) * far]))[1]

    def read(column: np.ndarray | None) -> np.ndarray | None:
        return None if column is None else column[near]

    return Mesh(corners.reshape(-1, 3).astype(np.float32), np.arange(3 * len(corners), dtype=np.int32).reshape(-1, 3), np.zeros(len(corners), np.int32), (CARD,),
                read(mesh.colours), read(mesh.uv), corner_normals(plain).reshape(-1, 3).astype(np.float32))  # fmt: skip


def _islands(mesh: Mesh) -> np.ndarray:
    """For each face the number of the connected piece of the picture that it shows, int32 (M,)."""
    if mesh.uv is None:
        return pieces(mesh)
    # Faces that meet on the mesh and in the picture.
    both = np.unique(np.column_stack([welded(mesh.positions), np.round(mesh.uv * 1e5)]), axis=0, return_inverse=True)[1]
    place = both.reshape(-1)[mesh.faces]
    rows, columns = place[:, [0, 1]].ravel(), place[:, [1, 2]].ravel()
    count = int(place.max()) + 1
    joined = coo_matrix((np.ones(len(rows), bool), (rows, columns)), (count, count))
    return np.asarray(connected_components(joined, directed=False)[1][place[:, 0]], np.int32)
