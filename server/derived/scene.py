"""What there is to show of a site: the scene by keys, and meshes and maps as binary packs."""

from __future__ import annotations

import json
import math
from hashlib import blake2b
from uuid import UUID

from django.http import HttpResponse
from django.utils.cache import get_conditional_response
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.items import ItemLook, LookOfItem, placed_items, shown_scatters
from cenote.derive.lost import lost_sources
from cenote.derive.maps import Composition, FaceGlow
from cenote.derive.own_textures import wrapped_parts
from cenote.derive.scene import extent_of
from cenote.derive.site import Site
from cenote.derive.target import Target
from cenote.derive.wanted import fields_of_site
from cenote.derive.waters import waters
from cenote.formats.pack import pack
from cenote.pictures.stand_in import PART as STAND_IN
from cenote.scatter.wind import MOST, waves
from cenote.signals.around import GROUND
from cenote.site.references import BROUGHT
from cenote.structures.grade import PartGrade

from .answers import pack_response, packed, same_key
from .blankets import BlanketEntry, blanket_entries
from .droplets import DropletEntry, droplet_entries
from .foam import foam_key
from .graphs import graph_of, key_or_none, measured, surface_of
from .grass import GrassEntry, grass_entries
from .packs.kit import KitPack, tiles_of
from .packs.planting import CoatsPack, PlacementsPack
from .packs.surfaces import MapsPack, MeshPack
from .scatters import CoatEntry, coat_entries
from .shelter import shelter_key
from .sunlit import sunlit_key
from .surroundings import SurroundingsEntry, surroundings_entry
from .warm import read_ahead

router = Router(tags=["derived"])
FINEST_TEXEL = 0.002


class PatchLayout(Schema):
    """How a surface is parted into patches: texels of level 0 are its cells, and each further level halves them."""

    of: str = Field(description="Key of what its maps are composed of at any level; empty until that is measured.")
    columns: int = Field(description="Cells of its layout, to the right.")
    rows: int = Field(description="Cells of its layout, downwards.")
    level: int = Field(description="The level of its maps as a whole.")
    finest: int = Field(description="The finest level that it has patches of.")


class SurfaceEntry(Schema):
    """A surface of the scene."""

    id: str
    name: str
    shown: bool
    mesh: str = Field(description="Key of its mesh.")
    maps: str = Field(description="Key of its final maps at this texel size; empty until its signals are measured.")
    bare: str = Field(description="Key of its maps without any weather, at this texel size.")
    coarse: str = Field(description="Key of its maps at the coarsest texels, for a first picture.")
    matrix: list[float] = Field(description="4×4, row by row.")
    triangles: int
    area: float = Field(description="m².")
    texel: float = Field(description="Side of a texel of its maps, metres.")
    texels: int
    cells: int = Field(description="Texels at the coarsest level.")
    parts: list[str]
    materials: list[str]
    wrapped: list[bool] = Field(description="Whether each part shows textures that came with it, and no material.")
    grades: list[PartGrade] = Field(description="The grading of each part before anybody grades it.")
    low: list[float] = Field(description="Least corner in its own frame, metres.")
    high: list[float] = Field(description="Greatest corner in its own frame, metres.")
    patches: PatchLayout
    glows: bool = Field(description="Whether any of it gives light of its own.")


class ObstacleEntry(Schema):
    """What is seen by its shadow alone."""

    id: str
    mesh: str = Field(description="Key of its mesh.")
    matrix: list[float] = Field(description="4×4, row by row.")


class ScatterEntry(Schema):
    """A scatter layer of the scene."""

    id: str
    placements: str = Field(description="Key of its placements; empty until the signals it asks for are measured.")
    coats: str = Field(description="Key of what covers lie on its items; empty where none do.")


class ItemEntry(Schema):
    """A kit item that the scene places."""

    kind: str
    grows: bool
    roughness: float
    variants: int
    parts: list[str] = Field(description="Names of its parts: materials, its own card, plain; last its stand-in.")
    leaves: float = Field(description="Share of its leaves that hang in the site's season; the first ones of its card.")
    leaf: int = Field(description="Faces of one leaf.")
    colour: list[float] = Field(description="The season's factor on the linear colour of what is of no material.")
    litter: bool = Field(description="Whether there is more or less of it by season.")
    stiffness: float | None = Field(description="Wind at which it leans by 45°, m/s; null where it does not move.")
    height: float = Field(description="Of its tallest variant at size 1, metres.")


class WindEntry(Schema):
    """The wind as drawing wants it: the speed is the mean times one and the sum of the waves."""

    way: list[float] = Field(description="Level direction that it blows to, along x and z.")
    strength: float = Field(description="Mean speed, m/s.")
    waves: list[list[float]] = Field(
        description="For each wave: radians a metre along x and z, radians a second, phase, share of the mean."
    )
    moment: float = Field(description="The moment that stills are taken at, seconds.")
    most: float = Field(description="The furthest that anything is bent, radians.")


class WaterEntry(Schema):
    """Water of the scene: over the whole ground, or inside the outline of a hollow."""

    level: float
    outline: list[list[float]] = Field(description="Corners along x and z; none for the whole ground.")
    clarity: float
    colour: list[float]
    foams: float = Field(description="How much foam there is on it, from 0 to 1.")
    foam: str = Field(description="Key of the foam on it; empty where it has none, and until objects are there.")


class LostFile(Schema):
    """Something that the site uses, that was brought in, and whose file is not in the store any more."""

    field: str = Field(description="Where the document names it.")
    name: str = Field(description="What the user calls the thing that uses it.")
    message: str


class SceneManifest(Schema):
    """What there is to show, by key: equal keys are equal content."""

    revision: int
    texel: float = Field(description="Side of a texel that its maps are wanted at, metres.")
    surfaces: list[SurfaceEntry]
    obstacles: list[ObstacleEntry] = Field(description="What is seen by its shadow alone.")
    scatters: list[ScatterEntry]
    items: list[ItemEntry]
    tiles: list[str] = Field(description="Materials that placed items are made of.")
    kit: str = Field(description="Key of what placed items look like; empty where none are placed.")
    water: list[WaterEntry]
    wind: WindEntry
    coats: list[CoatEntry] = Field(description="Covers that lie on placed items, in the order of their masks' columns.")
    droplets: list[DropletEntry] = Field(description="Drops that lie on surfaces.")
    grass: list[GrassEntry] = Field(description="Grass that grows on surfaces.")
    surroundings: SurroundingsEntry | None = Field(
        description="The land around the site; null where it ends at its edge."
    )
    shelter: str = Field(description="Key of what keeps rain and snow off; empty until objects are there.")
    sunlit: str = Field(description="Key of where the sun shines through fog; empty where there is none to show.")
    blankets: list[BlanketEntry] = Field(description="Covers that lie as sheets of their own.")
    low: list[float]
    high: list[float]
    measuring: UUID | None = Field(description="The job that measures what is missing.")
    lost: list[LostFile]


def lost_files(graph: Graph) -> list[LostFile]:
    """What the site uses of files that are lost, in words."""
    out = []
    for one in lost_sources(graph.document, graph.cache):
        section, row, *_ = one.field.split("/")
        name = str(getattr(graph.document, section)[int(row)].name) if row.isdigit() else f"The {section}"
        message = (
            f"{name}: {BROUGHT[one.family].stands_in}, whose file is not in the store any more. All else is kept. Restore the "
            "store from a backup, and it is as it was; or bring the file in again and use that."
        )
        out.append(LostFile(field=one.field, name=name, message=message))
    return out


def _waters(graph: Graph) -> list[WaterEntry]:
    water = graph.document.water
    out: list[WaterEntry] = []
    for level, outline in waters(graph):
        corners = [[float(x), float(z)] for x, z in outline]
        foam = foam_key(graph, level, outline)
        out.append(
            WaterEntry(
                level=level,
                outline=corners,
                clarity=water.clarity,
                colour=list(water.colour),
                foams=water.foam / 100,
                foam=foam,
            )
        )
    return out


def stiffness_of(look: ItemLook) -> float | None:
    """The wind at which an item leans by 45°, m/s; None where it does not move, which JSON has no number for."""
    return look.stiffness if math.isfinite(look.stiffness) else None


def _item_entry(graph: Graph, kind: str) -> ItemEntry:
    look: ItemLook = graph.get(LookOfItem(kind))
    return ItemEntry(
        kind=kind,
        grows=look.grows,
        roughness=look.roughness,
        variants=look.variants,
        parts=[*look.parts, STAND_IN],
        leaves=look.leaves,
        leaf=look.leaf,
        colour=look.colour.tolist(),
        litter=look.litter,
        stiffness=stiffness_of(look),
        height=look.height,
    )


def wind_entry(graph: Graph) -> WindEntry:
    """The site's wind."""
    wind = graph.document.wind
    return WindEntry(
        way=wind.way.tolist(), strength=wind.strength, waves=waves(wind).tolist(), moment=wind.moment, most=MOST
    )


def _surface_entry(graph: Graph, id: str, texel: float) -> SurfaceEntry:
    surface, site = surface_of(graph, id), Site(graph)
    shape = surface.shape
    level = shape.level_for(texel)
    atlas, bounds = shape.atlas, shape.mesh.bounds
    return SurfaceEntry(
        id=id,
        name=site.title(id),
        shown=True,
        mesh=graph.key(MeshPack(id)),
        maps=key_or_none(graph, MapsPack(id, level)),
        bare=key_or_none(graph, MapsPack(id, level, bare=True)),
        coarse=key_or_none(graph, MapsPack(id, shape.coarsest_level)),
        matrix=shape.matrix.ravel().tolist(),
        triangles=len(shape.mesh.faces),
        area=shape.area,
        texel=atlas.cell / 2**level,
        texels=atlas.width * atlas.height * 4**level,
        cells=atlas.width * atlas.height,
        parts=list(surface.parts),
        materials=list(surface.materials),
        wrapped=list(wrapped_parts(site, id)) or [False] * len(surface.parts),
        grades=[_usual_grade(graph, id, part) for part in surface.parts],
        low=bounds[0].tolist(),
        high=bounds[1].tolist(),
        patches=PatchLayout(
            of=key_or_none(graph, Composition(id)),
            columns=atlas.width,
            rows=atlas.height,
            level=level,
            finest=shape.finest_level,
        ),
        glows=graph.get(FaceGlow(id)) is not None,
    )


def _obstacle_entry(graph: Graph, id: str) -> ObstacleEntry:
    matrix = surface_of(graph, id).shape.matrix
    return ObstacleEntry(id=id, mesh=graph.key(MeshPack(id)), matrix=matrix.ravel().tolist())


def _usual_grade(graph: Graph, id: str, part: str) -> PartGrade:
    """The grading of a part of an object before anybody grades it."""
    return PartGrade(spread=0) if id == GROUND else graph.document.structure(id).usual_grade(part)


@router.get("/sites/{uuid:site_id}/scene", response=SceneManifest)
def get_scene(request: SignedInRequest, site_id: UUID, texel: float = 0, revision: int = 0) -> SceneManifest:
    """What there is to show. Signals that are missing are measured by a job; the scene is asked for again after it.

    It is that of the revision that is asked for, or of a later one: it says which.
    """
    site, graph = graph_of(request, site_id)
    if revision > site.revision:
        why = f"The site is at revision {site.revision}, which is before {revision}. Read the site again."
        raise Problem.of_field("revision", why)
    texel = min(max(texel, FINEST_TEXEL), 0.5) if texel > 0 else graph.document.usual_texel
    ids = graph.document.surface_ids()
    for id in ids:
        surface_of(graph, id)
    job = measured(site, graph, fields_of_site(graph))
    layers = shown_scatters(graph)
    coated = bool(coat_entries(graph))
    scatters = []
    for layer in layers:
        placements = key_or_none(graph, PlacementsPack(layer.id))
        coats = graph.key(CoatsPack(layer.id)) if placements and coated else ""
        scatters.append(ScatterEntry(id=layer.id, placements=placements, coats=coats))
    kinds, site_of_graph = placed_items(layers), Site(graph)
    low, high = extent_of(site_of_graph)
    return SceneManifest(
        revision=site.revision,
        texel=texel,
        surfaces=[_surface_entry(graph, id, texel) for id in ids],
        obstacles=[_obstacle_entry(graph, id) for id in graph.document.obstacle_ids()],
        scatters=scatters,
        items=[_item_entry(graph, kind) for kind in kinds],
        tiles=tiles_of(site_of_graph, kinds),
        kit=graph.key(KitPack(False)) if kinds else "",
        water=_waters(graph),
        wind=wind_entry(graph),
        coats=coat_entries(graph),
        blankets=blanket_entries(graph),
        droplets=droplet_entries(graph),
        grass=grass_entries(graph),
        surroundings=surroundings_entry(graph),
        shelter=shelter_key(graph),
        sunlit=sunlit_key(graph),
        low=low.tolist(),
        high=high.tolist(),
        measuring=job.pk if job else None,
        lost=lost_files(graph),
    )


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/mesh", include_in_schema=False)
def get_mesh(request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "") -> HttpResponse:
    """A surface's triangles in its own frame."""
    _, graph = graph_of(request, site_id)
    surface_of(graph, surface_id)
    return packed(graph.get(MeshPack(surface_id)), forever=same_key(key, graph.key(MeshPack(surface_id))))


@router.get("/sites/{uuid:site_id}/opening", include_in_schema=False)
def get_opening(request: SignedInRequest, site_id: UUID) -> HttpResponse:
    """Triangles and coarsest maps of all surfaces in one piece: what a page that opens would ask for one by one.

    The meta tells under which keys each would have been given; surfaces that are not measured yet come without maps.
    """
    site, graph = graph_of(request, site_id)
    keys: dict[str, dict[str, str]] = {}
    parts: dict[str, Target] = {}
    for id in graph.document.surface_ids():
        mesh, maps = MeshPack(id), MapsPack(id, surface_of(graph, id).shape.coarsest_level)
        keys[id], parts[f"{id}/mesh"] = {"mesh": graph.key(mesh)}, mesh
        if key := key_or_none(graph, maps):
            keys[id]["maps"], parts[f"{id}/maps"] = key, maps
    read_ahead.opened(site)
    # A page that has all of it from before is told so, and nothing is made.
    tag = f'W/"{blake2b(json.dumps(keys).encode(), digest_size=16).hexdigest()}"'
    if (same := get_conditional_response(request, etag=tag)) is not None and same.status_code == 304:
        return same
    arrays = {f"{at}/{name}": array for at, part in parts.items() for name, array in graph.get(part).items()}
    response = packed(arrays, keys)
    response["ETag"], response["Cache-Control"] = tag, "private, no-cache"
    return response


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/maps", include_in_schema=False)
def get_maps(
    request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "", texel: str = "coarsest", bare: bool = False
) -> HttpResponse:
    """A surface's final maps, at a texel size in metres or at the coarsest there is; bare is without any weather."""
    _, graph = graph_of(request, site_id)
    shape = surface_of(graph, surface_id).shape
    try:
        level = (
            shape.coarsest_level if texel == "coarsest" else shape.level_for(min(max(float(texel), FINEST_TEXEL), 0.5))
        )
    except ValueError:
        raise Problem("texel: a number of metres is wanted.", status=422) from None
    target = MapsPack(surface_id, level, bare)
    content = pack(graph.get(target), {"texel": shape.atlas.cell / 2**level})
    return pack_response(content, forever=same_key(key, graph.key(target)))
