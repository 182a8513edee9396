"""What a site refers to and users have brought in, but the store has not any more."""

from __future__ import annotations

from ..site.document import SiteDocument
from ..site.references import Reference, brought
from .cache import Cache
from .sources import source_name


def lost_sources(document: SiteDocument, cache: Cache) -> list[Reference]:
    """The references of a document whose files are lost. What is made of these has something else in their place:
    a box for a mesh, humps for a height map, plain grey for textures."""
    return [one for one in brought(document) if not cache.has_source(source_name(one.family, one.id))]
