"""What users brought in: bytes that nothing can make again, kept apart from what is derived."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..geometry.build import block
from ..geometry.mesh import Mesh
from ..site.references import BROUGHT
from .site import Site
from .store import Arrays, unpack_arrays
from .target import Read, Target

MESH, HEIGHT_MAP, TEXTURE_SET, PANORAMA, PHOTOMETRY = "mesh", "heights", "maps", "panorama", "photometry"
PICTURE, OWN_TEXTURES = "picture", "textures"
# Side of the box that stands in for a mesh whose file is lost, metres.
_STAND_IN_SIDE = 1.0


def source_name(what: str, digest: str) -> str:
    """The name under which something that was brought in is kept.

    :param what: a key of :data:`cenote.site.references.BROUGHT`. :param digest: the hash of its content.
    """
    return f"{what}-{digest}"


class SourceMissing(KeyError):
    """Something that was brought in was there a moment ago, and is not in the store any more."""

    def __str__(self) -> str:
        return str(self.args[0])


@dataclass(frozen=True)
class Source(Target):
    """The arrays of something that was brought in; none at all where its file is lost.

    What is made of it has another key then, so that all is well again as soon as the file is.
    """

    what: str
    digest: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        name = source_name(self.what, self.digest)
        return {"name": name, "words": f"{BROUGHT[self.what].called} {self.digest[:8]}", "there": site.has_source(name)}

    @staticmethod
    def make(read: Read) -> Arrays:
        if not read.there:
            return {}
        content = read.source_content(read.name)
        if content is None:
            raise SourceMissing(f"the imported {read.words} is missing from the store")
        return unpack_arrays(content)


@dataclass(frozen=True)
class ImportedMesh(Target):
    """The mesh of a file that was brought in; a box in its place where that is lost."""

    digest: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"source": Source(MESH, self.digest)}

    @staticmethod
    def make(read: Read) -> Mesh:
        return Mesh.from_arrays(read.source) if read.source else stand_in()


def stand_in() -> Mesh:
    """A box that stands where an object's mesh is lost."""
    return block((0, 0, 0), (_STAND_IN_SIDE,) * 3)
