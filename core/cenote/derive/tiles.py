"""Baked materials."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, get_args

import numpy as np

from ..materials.laid import Laying, Pieces
from ..materials.own import ImportedSet
from ..materials.recipe import Recipe
from ..materials.tile import PIXELS
from ..weather.base import CoverLook, Film
from ..weather.laying import LAYINGS
from ..weather.tiles import AS_LARGE, LaidTile, baked, film_tile, shrunk
from .site import Site
from .sources import TEXTURE_SET, Source
from .target import Read, Target

# Materials are baked to at most so many times twice the usual pixels a side: 0.9 mm in a tile of 1.8 m, in 50 MB.
FINEST = 2
_LOST = Film((0.18, 0.18, 0.18))


@dataclass(frozen=True)
class MaterialTile(Target):
    """A material baked to a tile that repeats: :class:`cenote.weather.tiles.LaidTile`.

    :ivar kind: the material's name in documents.
    :ivar finer: how many times it has twice as many pixels a side as usual; what comes from files has those of its files.
    """

    kind: str
    finer: int = 0
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        source: Recipe | ImportedSet = site.material(self.kind)
        if isinstance(source, ImportedSet):
            laid = {"size": source.size, "relief": source.depth, "uneven": source.uneven, "laying": source.laying}
            return {"recipe": None, "maps": Source(TEXTURE_SET, source.maps), "laid": laid, "finer": 0}
        return {"recipe": source, "maps": None, "laid": None, "finer": self.finer}

    @staticmethod
    def make(read: Read) -> LaidTile:
        if read.recipe is None:
            # Where its files are lost, plain grey stands in.
            return LaidTile.of(read.maps["tile"], **read.laid) if read.maps else film_tile(_LOST)
        return baked(read.recipe, PIXELS << read.finer)

    @staticmethod
    def pack(value: LaidTile) -> dict[str, np.ndarray]:
        """Its pixels uint16 (n, n, 6), its numbers float64 (4,), its laying as a number, and where it has courses, numbers
        float64 (4,) and spans float32 (P, 2) of its pieces."""
        out = {"stored": value.stored, "numbers": np.array([value.size, value.relief, value.uneven, value.seam]),
               "laying": np.array(LAYINGS[value.laying])}  # fmt: skip
        if value.pieces is not None:
            of = value.pieces
            out |= {"courses": np.array([of.rows, of.columns, of.shift, of.differ], np.float64), "spans": of.spans}
        return out

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> LaidTile:
        pieces = None
        if "courses" in arrays:
            rows, columns, shift, differ = arrays["courses"].tolist()
            pieces = Pieces(int(rows), int(columns), shift, differ, arrays["spans"])
        laying = get_args(Laying)[int(arrays["laying"])]
        size, relief, uneven, seam = arrays["numbers"].tolist()
        return LaidTile(arrays["stored"], size, relief, uneven, laying, pieces, seam)


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
        many = site.material(self.of).size / 2 ** (self.step / 2) / (AS_LARGE * PIXELS)
        finer = int(np.clip(np.ceil(np.log2(many)), 0, FINEST))
        return {"film": None, "tile": MaterialTile(self.of, finer), "step": self.step}

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
