"""Grass on surfaces, for the page."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.grass import Sown, grown_surfaces, season_of, sown, stiffness_of
from cenote.derive.site import Site
from cenote.grass.layer import Grass
from cenote.grass.shapes import POINTS, blade_shapes

from .answers import packed, same_key
from .graphs import graph_of, key_or_none
from .packs.grass import GrassPack

router = Router(tags=["grass"])


class GrassLook(Schema):
    """What the blades of a layer look like, as the season has them."""

    points: int = Field(description="Points along a blade.")
    shapes: list[float] = Field(
        description="For each shape and point: how far it leans and rises, as shares of the length, and half its width in metres."
    )
    root: list[float] = Field(description="Linear colour at the root.")
    tip: list[float] = Field(description="Linear colour at the tip.")
    dead: list[float] = Field(description="Linear colour of dead blades.")
    stiffness: float = Field(description="Wind at which a blade leans by 45°, m/s.")


class GrassEntry(Schema):
    """Grass of a layer on a surface."""

    layer: str
    surface: str
    blades: str = Field(description="Key of its blades; empty until what tells where it grows is measured.")
    density: float = Field(
        description="Blades on a square metre where it is full; less than asked for where there would be too many."
    )
    wide: float = Field(description="How many times as wide each blade is for that.")
    expected: int = Field(description="About how many blades that comes to, before it is kept clear of anything.")
    look: GrassLook


def _look(site: Site, layer: Grass) -> GrassLook:
    season = season_of(site)
    return GrassLook(
        points=POINTS,
        shapes=[round(value, 6) for value in blade_shapes(layer).ravel().tolist()],
        root=(season * layer.root_colour).tolist(),
        tip=(season * layer.tip_colour).tolist(),
        dead=list(layer.dead_colour),
        stiffness=stiffness_of(layer),
    )


def grass_entries(graph: Graph) -> list[GrassEntry]:
    """The grass of a site. Where its masks are not measured it has no key yet."""
    site, out = Site(graph), []
    for layer, id in grown_surfaces(graph):
        key = key_or_none(graph, GrassPack(layer.id, id))
        how = sown(site, layer.id, id) if key else Sown(layer.density, 1.0, 0)
        out.append(GrassEntry(layer=layer.id, surface=id, blades=key, look=_look(site, layer), **vars(how)))
    return out


@router.get("/sites/{uuid:site_id}/grass/{layer_id}/on/{surface_id}", include_in_schema=False)
def get_grass(request: SignedInRequest, site_id: UUID, layer_id: str, surface_id: str, key: str = "") -> HttpResponse:
    """The blades of a layer on a surface."""
    _, graph = graph_of(request, site_id)
    if not any(layer.id == layer_id and id == surface_id for layer, id in grown_surfaces(graph)):
        raise Problem(f"No grass “{layer_id}” grows on “{surface_id}”.", status=404)
    target = GrassPack(layer_id, surface_id)
    arrays, meta = graph.get(target)
    return packed(arrays, meta, forever=same_key(key, graph.key(target)))
