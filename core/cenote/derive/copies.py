"""Placed items as meshes that many copies share: for files, and for pictures that are traced."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, Protocol, TypeVar

import numpy as np

from ..geometry.mesh import Mesh, corner_tangents
from ..kit.base import CARD
from ..scatter.instances import item_columns
from ..scatter.placements import Placements
from ..scatter.rotations import multiplied
from ..weather.coats import Coat, laid
from .colours import FaceColours, ItemMesh
from .graph import Graph
from .items import ItemLook, LookOfItem, sway_of

Manner = Literal["instanced", "merged"]
# A part's name, its first corner, and how many it has.
Group = tuple[str, int, int]
Made = TypeVar("Made", covariant=True)

# Copies that share a mesh have their coats in so many steps; and a textured face is hidden or it is not.
_COAT_STEPS = 3
_HIDDEN = 0.5


class Materials(Protocol[Made]):
    """What parts of items are made of."""

    def of(self, item: str, part: str) -> Made:
        """The material of a part of an item."""

    def coated(self, item: str, part: str) -> Made:
        """The material of what a coat hides of a part: its own outline in the colour of each corner."""


def alike(
    rows: np.ndarray, amounts: np.ndarray, manner: Manner = "instanced"
) -> Iterator[tuple[np.ndarray, np.ndarray]]:
    """Copies that are written as one, and their coats: float32 (R, K), or (1, K) where they share a mesh."""
    if manner == "merged" or not amounts.shape[1]:
        yield rows, amounts[rows] if manner == "merged" else amounts[:1]
        return
    steps, which = np.unique(np.round(amounts[rows] * _COAT_STEPS), axis=0, return_inverse=True)
    for number, step in enumerate(steps):
        yield rows[which.ravel() == number], (step[None] / _COAT_STEPS).astype(np.float32)


def season_columns(graph: Graph, item: str, variant: int) -> tuple[dict[str, np.ndarray], list[Group]]:
    """An item's mesh as :func:`cenote.scatter.instances.item_columns` has it, in the colours of the season.

    :returns: its columns, and besides ``shown``, the colour that each corner shows with that of its texture, float32 (3M, 3); and its parts.
    """
    look: ItemLook = graph.get(LookOfItem(item))
    mesh: Mesh = graph.get(ItemMesh(item, variant))
    columns, groups = item_columns(mesh, look.tile_size)
    for part, start, count in groups:
        if not graph.document.has_material(part):
            columns["colour"][start : start + count] *= look.colour.astype(np.float32)
    columns["colour"] = np.clip(columns["colour"], 0, 1)
    # What a textured face shows, apart from its texture: a coat takes that colour's place, not a factor's.
    order = np.argsort(mesh.parts, kind="stable")
    columns["shown"] = np.repeat(graph.get(FaceColours(item, variant))[order], 3, axis=0)
    return columns, groups


def once(columns: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    """Corner columns (N, …) of one copy as it is built, each with a first axis of one."""
    return {name: values[None] for name, values in columns.items()}


def leaning(graph: Graph, item: str, placements: Placements, rows: np.ndarray) -> np.ndarray:
    """Turns of copies that share a mesh, float32 (R, 4), quaternions x, y, z, w: they cannot be bent one by one, so each leans as a whole."""
    lean = sway_of(graph, item).leaning(placements.positions[rows])
    return multiplied(lean, placements.rotations[rows]).astype(np.float32)


def pieces_of(
    graph: Graph,
    copies: dict[str, np.ndarray],
    groups: list[Group],
    coats: Sequence[Coat],
    amounts: np.ndarray,
    item: str,
    materials: Materials[Made],
) -> list[tuple[Made, dict[str, np.ndarray], np.ndarray | None]]:
    """Pieces of a mesh, one for each part, and one more for what a coat hides of a textured one.

    :param copies: columns float32 (R, N, …), corners of R copies: of one as :func:`once` has it. :param amounts: float32 (R, K).
    :param materials: what each is made of.
    :returns: for each its material, its attributes as glTF names them, and no faces: corners come three to a triangle.
    """
    pieces: list[tuple[Made, dict[str, np.ndarray], np.ndarray | None]] = []
    for part, start, count in groups:
        mine = {name: values[:, start : start + count] for name, values in copies.items()}
        textured = graph.document.has_material(part) or part == CARD
        hidden = np.zeros((len(mine["colour"]), count), bool)
        if coats:
            up = np.ascontiguousarray(mine["normal"][..., 1])
            colour, hides, wet = laid(mine["shown"] if textured else mine["colour"], up, amounts, coats)
            if textured:
                # A texture can be darkened by a factor, not whitened: a face is hidden as a whole, or only wet.
                hidden = np.repeat(hides.reshape(len(hides), -1, 3).mean(2) > _HIDDEN, 3, axis=1)
                colour = np.where(hidden[..., None], colour, mine["colour"] * wet[..., None])
            mine["colour"] = np.clip(colour, 0, 1)
        for covered in (False, True):
            chosen = hidden if covered else ~hidden
            if not chosen.any():
                continue
            attributes = {
                attribute: np.ascontiguousarray(mine[column][chosen], np.float32)
                for attribute, column in (("POSITION", "position"), ("NORMAL", "normal"), ("COLOR_0", "colour"),
                                          ("TEXCOORD_0", "uv"))
            }  # fmt: skip
            attributes["NORMAL"] = unit(attributes["NORMAL"])
            if graph.document.has_material(part) and not covered:
                attributes["TANGENT"] = _tangents(attributes)
            elif part != CARD:
                del attributes["TEXCOORD_0"]
            material = materials.coated(item, part) if covered else materials.of(item, part)
            pieces.append((material, attributes, None))
    return pieces


def _tangents(attributes: dict[str, np.ndarray]) -> np.ndarray:
    """Tangents of corners that come three to a triangle, float32 (3M, 4)."""
    triangles = [
        attributes[name].reshape(-1, 3, width) for name, width in (("POSITION", 3), ("NORMAL", 3), ("TEXCOORD_0", 2))
    ]
    return corner_tangents(*triangles).reshape(-1, 4)


def unit(normals: np.ndarray) -> np.ndarray:
    """Normals of length 1, straight up where there is none, float32 (N, 3)."""
    length = np.linalg.norm(normals, axis=1)[:, None]
    return np.where(length > 1e-6, normals / np.maximum(length, 1e-6), [0, 1, 0]).astype(np.float32)
