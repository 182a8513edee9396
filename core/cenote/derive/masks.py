"""Masks on the texels of surfaces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..masks.evaluate import card_table, evaluate
from ..masks.where import Where
from .fields import CellField, ComputedField, on_cells, values_of
from .graph import Keep, Read, Target
from .meshes import ObjectMesh
from .site import Site
from .surfaces import Grid, part_materials


@dataclass(frozen=True)
class Mask(Target):
    """A chain of cards on the texels of a surface, float32 (H, W) in [0, 1].

    :ivar where: the chain, plain (:attr:`cenote.masks.where.Where.plain`).
    """

    id: str
    where: Where
    level: int

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """Those at fine texels are large and asked for once, to be composed."""
        return "memory" if self.level <= 0 else "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        cells: list[Target] = []
        texels: list[Target] = []
        sources: list[tuple[bool, int]] = []
        for card in self.where.cards:
            if self.level < 0:
                sources.append((False, len(texels)))
                texels.append(CellField(self.id, card.signal, self.level))
            elif card.signal.on_cells or self.level == 0:
                sources.append((True, len(cells)))
                cells.append(on_cells(self.id, card.signal))
            else:
                sources.append((False, len(texels)))
                texels.append(ComputedField(self.id, card.signal, self.level))
        table = card_table(self.where.cards, sources)
        return {
            "grid": Grid(self.id, self.level),
            "level": self.level,
            "table": table,
            "cells": cells,
            "texels": texels,
        }

    @staticmethod
    def make(read: Read) -> np.ndarray:
        shape: tuple[int, int] = read.grid.faces.shape
        rows, columns = (max(1, round(side / 2.0**read.level)) for side in shape)
        cells = (
            np.stack([values_of(one) for one in read.cells]) if read.cells else np.zeros((0, rows, columns), np.float32)
        )
        texels = np.stack(read.texels) if read.texels else np.zeros((0, *shape), np.float32)
        return evaluate(cells, texels, read.table, shape, 2.0**read.level)


def holds(site: Site, sits_on: Mapping[Any, float], id: str) -> np.ndarray:
    """How well a cover holds to each part of a surface, by what it is made of: float32 (parts,) in [0, 1].

    :param sits_on: how well it holds to each nature; not at all where none is given.
    """
    natures = [site.nature(kind) for kind in part_materials(site, id)]
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
