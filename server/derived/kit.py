"""What placed items look like, and pictures of items and materials for their browsers."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router

from cenote.derive.cache import key as key_of
from cenote.derive.workshop import Workshop
from cenote.formats.pack import pack
from cenote.kit.base import DETAILS, KitItem
from cenote.render.portraits import item_portrait, tile_portrait
from cenote.weather.compose import LaidTile, encoded, shrunk, tile_pictures
from config.security import SignedInRequest
from sites.errors import Problem

from .answers import opaque, pack_response, png_response, same_key
from .store import shared_cache
from .workshops import workshop_of

router = Router(tags=["kit"])


def _item(workshop: Workshop, kind: str) -> KitItem:
    try:
        return workshop.shelf.item(kind)
    except KeyError as error:
        raise Problem(str(error.args[0]), status=404) from None


@router.get("/sites/{uuid:site_id}/kit", include_in_schema=False)
def get_kit(request: SignedInRequest, site_id: UUID, key: str = "", plain: bool = False) -> HttpResponse:
    """What the site's placed items look like, in one piece: meshes, pictures of leaves, tiles of their materials.

    With ``plain`` tiles are their colours alone, on a quarter of the pixels, as machines want that draw slowly.
    """
    _, workshop = workshop_of(request, site_id)
    return pack_response(kit_pack(workshop, plain), forever=same_key(key, kit_name(workshop)))


def kit_pack(workshop: Workshop, plain: bool) -> bytes:
    """What the site's placed items look like, as a pack kept in memory."""
    return shared_cache().get(f"kit pack {kit_name(workshop)} {plain}", lambda: pack(_kit_arrays(workshop, plain)))


def placed_items(workshop: Workshop) -> list[str]:
    """The kit items that the site's shown scatters place, in order of first use."""
    return list(dict.fromkeys(item for layer in workshop.shown_scatters() for item in layer.kinds()))


def tiles_of_items(workshop: Workshop) -> list[str]:
    """The materials that these items are made of."""
    parts = dict.fromkeys(part for kind in placed_items(workshop) for part in workshop.items.parts(kind))
    return [part for part in parts if workshop.document.has_material(part)]


def kit_name(workshop: Workshop) -> str:
    """The key of all that placed items look like."""
    items = [workshop.items.look_name(kind) for kind in placed_items(workshop)]
    return key_of("kit", items, [workshop.tile_name(kind) for kind in tiles_of_items(workshop)])


def _kit_arrays(workshop: Workshop, plain: bool) -> dict[str, np.ndarray]:
    arrays: dict[str, np.ndarray] = {}
    for kind in placed_items(workshop):
        for detail in DETAILS:
            meshes = workshop.items.pack(kind, detail)
            arrays |= {f"item/{kind}/{detail}/{name}": array for name, array in meshes.items()}
        far = workshop.items.stand_in(kind) or {}
        arrays |= {f"item/{kind}/{len(DETAILS)}/{name}": array for name, array in far.items()}
        card = workshop.shelf.card(kind)
        if card is not None:
            arrays[f"item/{kind}/card"] = encoded(card)
    for kind in tiles_of_items(workshop):
        if plain:
            tile = workshop.tile(kind)
            small = shrunk(tile, tile.size / len(tile.pixels) * 1.5)
            arrays[f"tile/{kind}/base"] = opaque(tile_pictures(small)[0])
            continue
        for name, picture in zip(("base", "orm", "normal"), tile_pictures(workshop.tile(kind)), strict=True):
            arrays[f"tile/{kind}/{name}"] = opaque(picture)
    return arrays


@router.get("/sites/{uuid:site_id}/kit/{item}/picture", include_in_schema=False)
def get_item_picture(request: SignedInRequest, site_id: UUID, item: str, key: str = "") -> HttpResponse:
    """A kit item as a small picture."""
    _, workshop = workshop_of(request, site_id)
    _item(workshop, item)
    return png_response(item_portrait(workshop, item), forever=same_key(key, workshop.items.name(item)))


@router.get("/sites/{uuid:site_id}/materials/{kind}/tile", include_in_schema=False)
def get_tile(request: SignedInRequest, site_id: UUID, kind: str, key: str = "") -> HttpResponse:
    """A baked material: colour, roughness and metalness, and normals of one tile."""
    _, workshop = workshop_of(request, site_id)
    tile = _tile(workshop, kind)
    base, orm, normal = (opaque(picture) for picture in tile_pictures(tile))
    content = pack({"base": base, "orm": orm, "normal": normal}, {"size": tile.size})
    return pack_response(content, forever=same_key(key, workshop.tile_name(kind)))


@router.get("/sites/{uuid:site_id}/materials/{kind}/picture", include_in_schema=False)
def get_material_picture(request: SignedInRequest, site_id: UUID, kind: str, key: str = "") -> HttpResponse:
    """A material as a small picture of a lit tile."""
    _, workshop = workshop_of(request, site_id)
    return png_response(tile_portrait(_tile(workshop, kind)), forever=same_key(key, workshop.tile_name(kind)))


def _tile(workshop: Workshop, kind: str) -> LaidTile:
    if not workshop.document.has_material(kind):
        raise Problem(f"There is no material “{kind}” on this site.", status=404)
    return workshop.tile(kind)
