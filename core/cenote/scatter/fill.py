"""Filling a surface with a mix of kit items."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from pydantic import Field

from ..geometry.mesh import face_normals
from ..geometry.rays import RayScene
from ..kit.shelf import SHIPPED, Shelf
from ..masks.where import Where, chain
from ..parameters import Declared, count, quantity, span, switch
from ..randomness import key_of, uniforms
from ..signals.base import MeasuredScene, Samples, Signal
from .spacing import greatest_density, spaced_points


class MixItem(Declared):
    """One kind of thing in a mix, and how each copy of it varies."""

    item: str = Field(description="The kit item to place.", json_schema_extra={"picks": "kit"})
    share: float = quantity(
        1, low=0, high=100, unit="", step=0.1, help="How often it comes, against the others' shares."
    )
    size: tuple[float, float] = span(
        (0.8, 1.25), low=0.05, high=10, unit="×", help="Least and greatest size of a copy."
    )
    turn: float = quantity(
        360, low=0, high=360, unit="°", step=5, help="How far a copy may be turned about its upright axis."
    )
    lean: float = quantity(
        30, low=0, high=100, unit="%", step=5, help="How far a copy leans with the ground: 0 % stands upright."
    )
    sink: tuple[float, float] = span(
        (0.0, 0.02), low=-1, high=2, unit="m", help="Least and greatest depth a copy is sunk by."
    )


class Scatter(Declared):
    """A layer of items scattered over one surface."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field("Scatter", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether the layer is seen and exported.")
    surface: str = Field(
        "ground", description="The surface to fill, from above.", json_schema_extra={"picks": "surface"}
    )
    density: float = quantity(
        2, low=0, high=60, unit="/m²", step=0.1, help="How many items on a level square metre where the mask is full."
    )
    spacing: float = quantity(
        0.2, low=0, high=20, unit="m", step=0.05, help="No two items of the layer are nearer to each other than this."
    )
    seed: int = count(1, low=0, high=9999, help="Another number gives another arrangement.")
    mix: tuple[MixItem, ...] = Field(default=(MixItem(item="grass_tuft"),), min_length=1, max_length=12)
    where: Where = Field(default=Where())


@dataclass(frozen=True)
class Placements:
    """A table of placed items, one row each, in order of arrival.

    :ivar ids: uint64 (N,), each item's own number, which no change of density or rules alters.
    :ivar items: int16 (N,), row of the layer's mix.
    :ivar variants: int16 (N,).
    :ivar positions: float32 (N, 3), metres.
    :ivar rotations: float32 (N, 4), unit quaternions x, y, z, w.
    :ivar sizes: float32 (N,), against the built size.
    :ivar tints: float32 (N, 3), factors on the item's linear colour.
    :ivar densest: the most items per m² that the spacing allows; infinite without spacing.
    """

    ids: np.ndarray
    items: np.ndarray
    variants: np.ndarray
    positions: np.ndarray
    rotations: np.ndarray
    sizes: np.ndarray
    tints: np.ndarray
    densest: float = np.inf

    def __len__(self) -> int:
        return len(self.ids)

    def only(self, keep: np.ndarray) -> Placements:
        """The rows where ``keep`` (bool (N,) or row numbers) says so."""
        columns = ("ids", "items", "variants", "positions", "rotations", "sizes", "tints")
        return replace(self, **{name: getattr(self, name)[keep] for name in columns})


class FillSurface:
    """A surface that items can stand on.

    :param corners: float32 (M, 3, 3), its triangles, metres.
    :param normals: float32 (M, 3, 3), shading normals at their corners.
    """

    def __init__(self, corners: np.ndarray, normals: np.ndarray) -> None:
        self.corners, self.normals = corners, normals
        self._rays = RayScene(corners)
        self._flat, _ = face_normals(corners)
        flat = corners.reshape(-1, 3)
        self.low, self.high = flat.min(0).astype(float), flat.max(0).astype(float)

    def drop(self, places: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Find where plan positions (N, 2) meet the surface from above.

        :returns: which of them do, int64 (K,); their faces int64 (K,); barycentric coordinates float64 (K, 3);
            positions float64 (K, 3); unit normals float32 (K, 3).
        """
        origins = np.column_stack([places[:, 0], np.full(len(places), self.high[1] + 1), places[:, 1]]).astype(
            np.float32
        )
        down = np.broadcast_to(np.array([0, -1, 0], np.float32), origins.shape)
        faces = self._rays.first(origins, down)
        rows = np.flatnonzero(faces >= 0)
        faces = faces[rows].astype(np.int64)
        a, b, c = (self.corners[faces, k].astype(np.float64) for k in range(3))
        p = places[rows]
        area = (b[:, 0] - a[:, 0]) * (c[:, 2] - a[:, 2]) - (c[:, 0] - a[:, 0]) * (b[:, 2] - a[:, 2])
        rows, faces, p, a, b, c, area = (v[np.abs(area) > 1e-12] for v in (rows, faces, p, a, b, c, area))
        u = ((b[:, 0] - p[:, 0]) * (c[:, 2] - p[:, 1]) - (c[:, 0] - p[:, 0]) * (b[:, 2] - p[:, 1])) / area
        v = ((c[:, 0] - p[:, 0]) * (a[:, 2] - p[:, 1]) - (a[:, 0] - p[:, 0]) * (c[:, 2] - p[:, 1])) / area
        weights = np.column_stack([u, v, 1 - u - v])
        heights = (weights * self.corners[faces, :, 1]).sum(1)
        normals = np.einsum("nk,nki->ni", weights, self.normals[faces])
        normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-9)[:, None]
        return rows, faces, weights, np.column_stack([p[:, 0], heights, p[:, 1]]), normals.astype(np.float32)


def _inside_solids(scene: MeasuredScene, positions: np.ndarray) -> np.ndarray:
    """Whether each point lies inside something solid: what is above it is first met from within.

    :returns: bool (N,).
    """
    names = sorted(scene.objects)
    corners = np.concatenate([scene.objects[name].corners for name in names])
    origins = positions.astype(np.float32) + np.array([0, 0.02, 0], np.float32)
    hits = scene.rays.first(origins, np.broadcast_to(np.array([0, 1, 0], np.float32), origins.shape))
    normals, _ = face_normals(corners[np.maximum(hits, 0)])
    return (hits >= 0) & (normals[:, 1] > 0)


# Gives a signal that is measured by rays from the cells of a surface, at faces int64 (N,) and barycentric (N, 3).
Carried = Callable[[Signal, np.ndarray, np.ndarray], np.ndarray]


def mask_at(
    where: Where,
    scene: MeasuredScene,
    faces: np.ndarray,
    weights: np.ndarray,
    samples: Samples,
    carried: Carried | None,
) -> np.ndarray:
    """The mask at points of a surface, float32 (N,) in [0, 1]."""
    cards = where.active
    if not cards:
        return np.ones(len(samples), np.float32)
    values = [
        carried(card.signal, faces, weights) if card.signal.by_rays and carried else card.signal.measure(samples, scene)
        for card in cards
    ]
    return chain(cards, values)


def _multiply(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Products of quaternions (N, 4), x, y, z, w: first b, then a."""
    (ax, ay, az, aw), (bx, by, bz, bw) = a.T, b.T
    return np.column_stack(
        [aw * bx + ax * bw + ay * bz - az * by, aw * by - ax * bz + ay * bw + az * bx,
         aw * bz + ax * by - ay * bx + az * bw, aw * bw - ax * bx - ay * by - az * bz]
    )  # fmt: skip


def _leaning(normals: np.ndarray, share: np.ndarray) -> np.ndarray:
    """Quaternions that take +Y to directions between +Y (share 0) and the normals (share 1)."""
    goal = (1 - share)[:, None] * np.array([0.0, 1.0, 0.0]) + share[:, None] * normals
    goal /= np.linalg.norm(goal, axis=1)[:, None]
    out = np.column_stack([goal[:, 2], np.zeros(len(goal)), -goal[:, 0], 1 + goal[:, 1]])
    return out / np.linalg.norm(out, axis=1)[:, None]


def fill(
    scatter: Scatter,
    surface: FillSurface,
    scene: MeasuredScene,
    tint: np.ndarray | None = None,
    carried: Carried | None = None,
    shelf: Shelf = SHIPPED,
) -> Placements:
    """Place a layer.

    Everything about an item follows from its id, and rules thin out what the spacing has kept: so a higher density only
    adds items, and one more rule (by multiply, min or subtract) only takes some away.

    :param tint: float (rows of the mix, 3), a colour factor for each kind, for instance of the season.
    :param carried: gives signals measured by rays from cells; where it is left out they are measured at each point.
    :param shelf: where the mix's items are found.
    """
    key = key_of("scatter", scatter.id, scatter.seed)
    low, high = (surface.low[0], surface.low[2]), (surface.high[0], surface.high[2])
    points = spaced_points(low, high, scatter.density, scatter.spacing, key)
    rows, faces, weights, positions, normals = surface.drop(points.places)
    ids = points.ids[rows]
    mask = mask_at(scatter.where, scene, faces, weights, Samples(positions.astype(np.float32), normals), carried)
    keep = np.flatnonzero(uniforms(ids, 10) < mask)
    keep = keep[~_inside_solids(scene, positions[keep])]
    ids, positions, normals = ids[keep], positions[keep], normals[keep]

    mix = scatter.mix
    shares = np.array([entry.share for entry in mix], float)
    total = shares.sum()
    edges = np.cumsum(shares) / total if total > 0 else np.zeros(len(mix))
    items = np.minimum(np.searchsorted(edges, uniforms(ids, 11), side="right"), len(mix) - 1)
    if total == 0:
        items, ids, positions, normals = items[:0], ids[:0], positions[:0], normals[:0]

    def between(channel: int, spans: list[tuple[float, float]]) -> np.ndarray:
        table = np.array(spans, float)[items]
        return table[:, 0] + (table[:, 1] - table[:, 0]) * uniforms(ids, channel)

    variants = (uniforms(ids, 12) * np.array([shelf.item(entry.item).variants for entry in mix])[items]).astype(
        np.int16
    )
    sizes = between(13, [entry.size for entry in mix])
    turns = np.radians(between(14, [(0, entry.turn) for entry in mix]))
    positions = positions - normals * between(15, [entry.sink for entry in mix])[:, None]
    lean = np.array([entry.lean / 100 for entry in mix])[items]
    upright = np.column_stack([np.zeros(len(ids)), np.sin(turns / 2), np.zeros(len(ids)), np.cos(turns / 2)])
    rotations = _multiply(_leaning(normals, lean), upright)
    # Copies differ a little in brightness and warmth, so that no two read as the same.
    bright = 0.82 + 0.36 * uniforms(ids, 16)
    warm = (uniforms(ids, 17) - 0.5) * 0.22
    tints = bright[:, None] * np.column_stack([1 + warm, np.ones(len(ids)), 1 - warm])
    if tint is not None:
        tints = tints * tint[items]
    place, rotation, size, colour = (np.ascontiguousarray(v, np.float32) for v in (positions, rotations, sizes, tints))
    densest = greatest_density(scatter.spacing)
    return Placements(ids, items.astype(np.int16), variants, place, rotation, size, colour, densest)
