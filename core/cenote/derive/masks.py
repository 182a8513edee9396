"""Masks on the texels of surfaces."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..masks.evaluate import card_table, evaluate
from ..masks.where import Where
from ..materials.base import Nature
from ..signals.base import Signal
from .digest import encoded, hashed, of_declared
from .fields import CellField, ComputedField, MeasuredField, told_by, values_of
from .finer import CellsOfPatches, FinerField, cells_at
from .meshes import ObjectMesh
from .site import Site
from .surfaces import Grid, ObjectShape, Patches, part_materials
from .target import Keep, Read, Target, Unkeyed


@dataclass(frozen=True)
class Mask(Target):
    """A chain of cards on the texels of a surface, or on those of patches of a level above 0: float32 (H, W) in [0, 1].

    :ivar where: the chain, plain (:attr:`cenote.masks.where.Where.plain`).
    """

    id: str
    where: Where
    level: int
    patches: Patches | None = None

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """Those at fine texels are large and asked for once, to be composed."""
        return "memory" if self.level <= 0 else "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        cells: list[Target] = []
        texels: list[Target] = []
        finer = cells_at(site, self.id, self.level, self.patches)
        for signal, on_cells in _signals(self.where, self.level):
            if on_cells and finer is not None and self.patches is not None:
                cells.append(FinerField(self.id, signal, self.level, self.patches, finer.level))
            elif on_cells:
                cells.append(MeasuredField(self.id, signal) if signal.on_cells else ComputedField(self.id, signal, 0))
            elif self.level < 0:
                texels.append(CellField(self.id, signal, self.level))
            else:
                texels.append(ComputedField(self.id, signal, self.level, self.patches))
        return {
            "told": told_of_mask(site, self.id, self.where), "grid": Grid(self.id, self.level, self.patches), "level": self.level,
            "where": Unkeyed(self.where), "cells": Unkeyed(cells), "texels": Unkeyed(texels),
            "finer": Unkeyed(finer),
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        shape: tuple[int, int] = read.grid.faces.shape
        rows, columns = (max(1, round(side / 2.0**read.level)) for side in shape)
        cells = (
            np.stack([values_of(one) for one in read.cells]) if read.cells else np.zeros((0, rows, columns), np.float32)
        )
        texels = np.stack(read.texels) if read.texels else np.zeros((0, *shape), np.float32)
        sources, counts = list[tuple[bool, int]](), {True: 0, False: 0}
        for _, on_cells in _signals(read.where, read.level):
            sources.append((on_cells, counts[on_cells]))
            counts[on_cells] += 1
        finer: CellsOfPatches | None = read.finer
        scale, origin = (2.0**read.level, read.grid.origin) if finer is None else (finer.scale, finer.origin)
        return evaluate(cells, texels, card_table(read.where.cards, sources), shape, scale, origin)


def _signals(where: Where, level: int) -> list[tuple[Signal, bool]]:
    """The signals of a chain, and whether each is read on cells rather than on the texels themselves."""
    return [(card.signal, level == 0 or (level > 0 and card.signal.on_cells)) for card in where.cards]


def told_of_mask(site: Site, id: str, where: Where) -> tuple[Any, ...]:
    """What tells a chain of cards on a surface, at texels of any size: for keys, together with the layout."""
    curves = site.once(("curves", of_declared(where)), lambda at: curves_of(where))
    return curves, signals_of_mask(site, id, where)


def signals_of_mask(site: Site, id: str, where: Where) -> list[Any]:
    """What tells the signals that a chain of cards reads on a surface, at texels of any size."""
    told: list[Any] = [one for card in where.cards for one in told_by(site, id, card.signal)]
    if any(isinstance(one, bytes) for one in told):
        # What is computed at texels follows from where these lie in the world.
        told.append(ObjectShape(id))
    return told


def curves_of(where: Where) -> bytes:
    """A digest of how the cards of a chain answer to their signals, and of how they are joined."""
    return hashed(encoded([(one.starts_at, one.full_at, one.soft, one.inverted, one.combine) for one in where.cards]))


def part_natures(site: Site, id: str) -> tuple[Nature, ...]:
    """What each part of a surface is to the weather."""
    return tuple(site.nature(kind) for kind in part_materials(site, id))


def holds(sits_on: Mapping[Any, float], natures: Sequence[Nature]) -> np.ndarray:
    """How well a cover holds to parts of some natures: float32 (parts,) in [0, 1].

    :param sits_on: how well it holds to each nature; not at all where none is given.
    """
    return np.array([sits_on.get(nature, 0.0) for nature in natures], np.float32)


@dataclass(frozen=True)
class HeldMask(Target):
    """A cover's mask with what it holds to, and how strongly it is wanted: float32 (H, W) in [0, 1].

    :ivar factors: for each part of the surface.
    """

    id: str
    where: Where
    factors: tuple[float, ...]
    level: int
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        field = None if len(set(self.factors)) == 1 else PartFactors(self.id, self.factors, self.level)
        return {"mask": Mask(self.id, self.where, self.level), "factors": self.factors, "field": field}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        mask: np.ndarray = read.mask
        if read.field is not None:
            return np.minimum(mask * read.field, 1)
        factor = np.float32(read.factors[0])
        return mask if factor == 1 else np.minimum(mask * factor, 1)


@dataclass(frozen=True)
class PartFactors(Target):
    """A factor for each part of a surface, on its texels: float32 (H, W)."""

    id: str
    factors: tuple[float, ...]
    level: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"grid": Grid(self.id, self.level), "mesh": ObjectMesh(self.id), "factors": self.factors}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        faces = read.grid.faces
        factors = np.array(read.factors, np.float32)
        return np.where(faces >= 0, factors[read.mesh.parts[faces]], np.float32(0))
