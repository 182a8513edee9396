"""Baked materials."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..materials.own import ImportedSet
from ..materials.recipe import Recipe
from ..weather.base import CoverLook, Film
from ..weather.compose import LaidTile, film_tile, shrunk
from .site import Site
from .sources import TEXTURE_SET, Source
from .target import Read, Target

_LOST = Film((0.18, 0.18, 0.18))


@dataclass(frozen=True)
class MaterialTile(Target):
    """A material baked to a tile that repeats: :class:`cenote.weather.compose.LaidTile`.

    :ivar kind: the material's name in documents.
    """

    kind: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        source: Recipe | ImportedSet = site.material(self.kind)
        if isinstance(source, ImportedSet):
            laid = {"size": source.size, "relief": source.depth, "uneven": source.uneven}
            return {"recipe": None, "maps": Source(TEXTURE_SET, source.maps), "laid": laid}
        return {"recipe": source, "maps": None, "laid": None}

    @staticmethod
    def make(read: Read) -> LaidTile:
        if read.recipe is None:
            # Where its files are lost, plain grey stands in.
            return LaidTile(read.maps["tile"], **read.laid) if read.maps else film_tile(_LOST)
        recipe: Recipe = read.recipe
        return LaidTile(recipe.bake().packed(), recipe.size, recipe.depth, recipe.uneven)

    @staticmethod
    def pack(value: LaidTile) -> dict[str, np.ndarray]:
        return {name: np.asarray(getattr(value, name)) for name in ("pixels", "size", "relief", "uneven")}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> LaidTile:
        return LaidTile(arrays["pixels"], *(float(arrays[name]) for name in ("size", "relief", "uneven")))


@dataclass(frozen=True)
class LaidMaterial(Target):
    """A material, or the film of a cover, ready for texels of a size.

    :ivar step: twice the base-2 logarithm of the texel's side in metres, rounded down.
    """

    of: str | Film
    step: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        if isinstance(self.of, Film):
            return {"film": self.of, "tile": None, "step": 0}
        return {"film": None, "tile": MaterialTile(self.of), "step": self.step}

    @staticmethod
    def make(read: Read) -> LaidTile:
        return film_tile(read.film) if read.film is not None else shrunk(read.tile, 2 ** (read.step / 2))


def laid(of: str | Film, texel: float) -> LaidMaterial:
    """A material ready for texels of a side in metres."""
    return LaidMaterial(of, int(np.floor(np.log2(max(texel, 1e-4)) * 2)))


@dataclass(frozen=True)
class TileMean(Target):
    """The mean of a material's tile over all pixels, float32 (6,): linear colour, height, roughness, metalness."""

    kind: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"tile": MaterialTile(self.kind)}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        return np.asarray(read.tile.pixels.mean((0, 1)))


def graded(mean: np.ndarray, look: CoverLook) -> tuple[np.ndarray, float]:
    """The mean linear colour (3,) of a tile as a cover grades its brightness, and its mean roughness."""
    return np.minimum(mean[:3].astype(np.float64) * look.brightness, 1), float(mean[4])
