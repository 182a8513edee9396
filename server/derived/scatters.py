"""What scatter layers place, and what covers lie on it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from cenote.derive.workshop import Workshop
from cenote.formats.pack import pack
from cenote.scatter.instances import triangle_count
from cenote.scatter.placements import Placements
from config.security import SignedInRequest

from .answers import pack_response, packed, same_key
from .workshops import scatter_of, workshop_of

router = Router(tags=["scatters"])


class CoatEntry(Schema):
    """A cover as placed items have it."""

    cover: str
    strength: float = Field(description="Factor on each item's mask.")
    colour: list[float] = Field(description="Linear.")
    opacity: float
    soak: float = Field(description="How far it darkens what is below.")
    above: float = Field(description="1 where it lies on what faces up alone, 0 where it is all over.")


def coat_entries(workshop: Workshop) -> list[CoatEntry]:
    """The covers that lie on placed items."""
    return [CoatEntry(**asdict(coat) | {"colour": list(coat.colour)}) for coat in workshop.coats.all()]


def placement_arrays(
    prefix: str, placements: Placements, workshop: Workshop
) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Placements as drawing wants them, and what is said about them."""
    arrays = {
        f"{prefix}item": placements.items,
        f"{prefix}variant": placements.variants,
        f"{prefix}position": placements.positions,
        f"{prefix}rotation": placements.rotations,
        f"{prefix}size": placements.sizes,
        f"{prefix}tint": placements.tints,
        # Enough of the id to thin by, evenly and always the same ones; and the whole of it, to pick by.
        f"{prefix}rank": (placements.ids >> np.uint64(48)).astype(np.uint16),
        f"{prefix}id": placements.ids.view(np.uint32).reshape(-1, 2),
        f"{prefix}origin": placements.origins,
    }
    meta = {
        "items": list(placements.names),
        "count": len(placements),
        "triangles": triangle_count(placements, workshop.items),
        "densest": placements.densest if np.isfinite(placements.densest) else None,
    }
    return arrays, meta


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/placements", include_in_schema=False)
def get_placements(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """What a scatter layer places."""
    _, workshop = workshop_of(request, site_id)
    layer = scatter_of(workshop, layer_id)
    arrays, meta = placement_arrays("", workshop.placements(layer), workshop)
    return pack_response(pack(arrays, meta), forever=same_key(key, workshop.placements_name(layer)))


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/coats", include_in_schema=False)
def get_coats(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """The masks of covers at a scatter layer's items."""
    _, workshop = workshop_of(request, site_id)
    layer = scatter_of(workshop, layer_id)
    return packed({"masks": workshop.coats.masks(layer)}, forever=same_key(key, workshop.coats.name(layer)))
