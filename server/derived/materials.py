"""Materials at work: recipes baked while they are edited, and texture sets brought in."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.sources import TEXTURE_SET
from cenote.formats.apart import read_set_apart
from cenote.materials.own import OwnRecipe
from cenote.refused import ImportRefused
from cenote.weather.tiles import baked, tile_pictures
from sites.history import owned_site

from .answers import packed
from .bringing import contents, keep
from .packs.kit import opaque

router = Router(tags=["materials"])


class BakeRequest(Schema):
    """A recipe to look at, in some variants."""

    recipe: OwnRecipe
    pixels: int = Field(256, ge=64, le=1024)
    seeds: list[int] = Field([], max_length=6, description="Variants; the recipe's own where none are named.")


class TextureSet(Schema):
    """A texture set that was read and kept; nothing on the site uses it yet."""

    maps: str
    file_names: list[str]
    channels: dict[str, str]
    remarks: list[str]


@router.post("/sites/{uuid:site_id}/materials/bake", include_in_schema=False)
def bake(request: SignedInRequest, site_id: UUID, wanted: BakeRequest) -> HttpResponse:
    """Tiles of a recipe that may not be saved yet: for each variant its colour, roughness and metalness, and normals."""
    owned_site(request.user, site_id)
    pixels = 1 << (wanted.pixels.bit_length() - 1)
    recipe = wanted.recipe
    arrays: dict[str, np.ndarray] = {}
    for row, seed in enumerate(wanted.seeds or [recipe.seed]):
        tile = baked(recipe, pixels, seed)
        for name, picture in zip(("base", "orm", "normal"), tile_pictures(tile), strict=True):
            arrays[f"{row}/{name}"] = opaque(picture)
    return packed(arrays, {"size": recipe.size})


@router.post("/sites/{uuid:site_id}/materials/sets", response=TextureSet)
def upload_set(request: SignedInRequest, site_id: UUID, files: File[list[UploadedFile]]) -> TextureSet:
    """Read a texture set by the habits of its files' names, and keep it for a material of the site's own."""
    owned_site(request.user, site_id)
    try:
        found = read_set_apart(contents(files, "files"))
    except ImportRefused as refusal:
        raise Problem.of_field("files", str(refusal)) from None
    digest = keep(request.user, TEXTURE_SET, {"tile": found.packed}, "files")
    return TextureSet(
        maps=digest, file_names=sorted(found.channels.values()), channels=found.channels, remarks=found.remarks
    )
