"""What users brought in: bytes that nothing can make again, kept apart from what is derived."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..geometry.mesh import Mesh
from .site import Site
from .store import Arrays, unpack_arrays
from .target import Read, Target

MESH, HEIGHT_MAP, TEXTURE_SET = "mesh", "heights", "maps"
_WORDS = {MESH: "mesh", HEIGHT_MAP: "height map", TEXTURE_SET: "texture set"}


def source_name(what: str, digest: str) -> str:
    """The name under which something that was brought in is kept.

    :param what: one of MESH, HEIGHT_MAP, TEXTURE_SET. :param digest: the hash of its content.
    """
    return f"{what}-{digest}"


class SourceMissing(KeyError):
    """Something that was brought in is not in the store any more."""

    def __str__(self) -> str:
        return str(self.args[0])


@dataclass(frozen=True)
class Source(Target):
    """The arrays of something that was brought in.

    :raises SourceMissing: if it is not in the store.
    """

    what: str
    digest: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"name": source_name(self.what, self.digest), "words": f"{_WORDS[self.what]} {self.digest[:8]}"}

    @staticmethod
    def make(read: Read) -> Arrays:
        content = read.source_content(read.name)
        if content is None:
            raise SourceMissing(f"the imported {read.words} is missing from the store")
        return unpack_arrays(content)


@dataclass(frozen=True)
class ImportedMesh(Target):
    """The mesh of a file that was brought in."""

    digest: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"source": Source(MESH, self.digest)}

    @staticmethod
    def make(read: Read) -> Mesh:
        return Mesh.from_arrays(read.source)
