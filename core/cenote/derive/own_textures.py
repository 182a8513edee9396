"""What objects that were brought in are wrapped in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..geometry.mesh import Mesh
from ..materials.own_textures import OwnTextures, is_wrapped, metres_a_width, relief_of, small, texels_of
from ..signals.around import GROUND
from ..weather.tiles import LaidTile
from .meshes import ObjectMesh
from .site import Site
from .sources import OWN_TEXTURES, Source, source_name
from .surfaces import Grid, ObjectAtlas, Patches
from .target import Read, Target


def wrapped_parts(site: Site, id: str) -> tuple[bool, ...]:
    """Which parts of an object show textures that came with it: those that no material was given to. None of the ground, nor where the file is lost."""

    def found(at: Site) -> tuple[bool, ...]:
        structure = at.structure(id)
        source = structure.source
        if (
            source.kind != "imported"
            or not source.textures
            or not at.has_source(source_name(OWN_TEXTURES, source.textures))
        ):
            return ()
        mesh: Mesh = at.get(ObjectMesh(id))
        told = zip(mesh.part_names, is_wrapped(mesh).tolist(), strict=True)
        return tuple(bool(there and part not in structure.materials) for part, there in told)

    return () if id == GROUND else site.once(("wrapped parts", id), found)


def textures_of(site: Site, id: str) -> Source | None:
    """The textures that came with an object; None where no part of it shows any."""
    if not any(wrapped_parts(site, id)):
        return None
    source = site.structure(id).source
    return Source(OWN_TEXTURES, source.textures) if source.kind == "imported" else None


@dataclass(frozen=True)
class OwnTile(Target):
    """A small copy of a part's texture that stands for it where a tile of its material would: :class:`cenote.weather.tiles.LaidTile`."""

    id: str
    part: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"mesh": ObjectMesh(self.id), "textures": textures_of(site, self.id), "part": self.part}

    @staticmethod
    def make(read: Read) -> LaidTile:
        texture = OwnTextures.from_arrays(read.textures).of(read.part)
        width = metres_a_width(read.mesh, read.part)
        return LaidTile(small(texture), width, relief_of(texture, width), 0.0)


@dataclass(frozen=True)
class OwnTexels(Target):
    """What an object is wrapped in at the texels of a level, or of patches of it: uint16 (H, W, 6), as tiles of materials have it."""

    id: str
    level: int
    patches: Patches | None = None
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"mesh": ObjectMesh(self.id), "atlas": ObjectAtlas(self.id), "grid": Grid(self.id, self.level, self.patches),
                "textures": textures_of(site, self.id), "wrapped": wrapped_parts(site, self.id)}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        return texels_of(read.mesh, read.wrapped, OwnTextures.from_arrays(read.textures), read.atlas, read.grid)
