"""What placed items look like, and pictures of items and materials for their browsers."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.shelves import whole_shelf
from cenote.derive.site import Site

from .answers import pack_response, png_response, same_key
from .graphs import graph_of
from .packs.kit import ItemPicture, KitPack, MaterialPicture, TilePack

router = Router(tags=["kit"])


@router.get("/sites/{uuid:site_id}/kit", include_in_schema=False)
def get_kit(request: SignedInRequest, site_id: UUID, key: str = "", plain: bool = False) -> HttpResponse:
    """What the site's placed items look like, in one piece: meshes, pictures of leaves, tiles of their materials.

    With ``plain`` tiles are their colours alone, on a quarter of the pixels, as machines want that draw slowly.
    """
    _, graph = graph_of(request, site_id)
    content = graph.get(KitPack(plain))
    # Pages ask by the key of the whole one, and keep the two apart by their addresses.
    return pack_response(content, forever=same_key(key, graph.key(KitPack(False))))


@router.get("/sites/{uuid:site_id}/kit/{item}/picture", include_in_schema=False)
def get_item_picture(request: SignedInRequest, site_id: UUID, item: str, key: str = "") -> HttpResponse:
    """A kit item as a small picture."""
    _, graph = graph_of(request, site_id)
    if item not in whole_shelf(Site(graph)):
        raise Problem(f"There is no kit item called {item!r}.", status=404)
    return png_response(graph.get(ItemPicture(item)), forever=same_key(key, graph.key(ItemPicture(item))))


@router.get("/sites/{uuid:site_id}/materials/{kind}/tile", include_in_schema=False)
def get_tile(request: SignedInRequest, site_id: UUID, kind: str, key: str = "") -> HttpResponse:
    """A baked material: colour, roughness and metalness, and normals of one tile."""
    _, graph = graph_of(request, site_id)
    _require(graph, kind)
    return pack_response(graph.get(TilePack(kind)), forever=same_key(key, graph.key(TilePack(kind))))


@router.get("/sites/{uuid:site_id}/materials/{kind}/picture", include_in_schema=False)
def get_material_picture(request: SignedInRequest, site_id: UUID, kind: str, key: str = "") -> HttpResponse:
    """A material as a small picture of a lit tile."""
    _, graph = graph_of(request, site_id)
    _require(graph, kind)
    return png_response(graph.get(MaterialPicture(kind)), forever=same_key(key, graph.key(MaterialPicture(kind))))


def _require(graph: Graph, kind: str) -> None:
    if not graph.document.has_material(kind):
        raise Problem(f"There is no material “{kind}” on this site.", status=404)
