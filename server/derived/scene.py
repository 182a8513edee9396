"""What there is to show of a site: the scene by keys, and meshes and maps as binary packs."""

from __future__ import annotations

from hashlib import sha256
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from cenote.derive.workshop import Surface, Workshop
from cenote.formats.pack import pack
from cenote.geometry.mesh import indexed
from cenote.render.stand_in import PART as STAND_IN
from cenote.scatter.wind import MOST, waves
from cenote.structures.grade import PartGrade
from cenote.weather.compose import Maps
from config.security import SignedInRequest
from sites.errors import Problem

from .answers import pack_response, packed, same_key
from .blankets import BlanketEntry, blanket_entries
from .kit import kit_name, placed_items, tiles_of_items
from .scatters import CoatEntry, coat_entries
from .store import shared_cache
from .workshops import measured, surface_of, workshop_of

router = Router(tags=["derived"])
FINEST_TEXEL = 0.002


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
    grades: list[PartGrade] = Field(description="The grading of each part before anybody grades it.")
    low: list[float] = Field(description="Least corner in its own frame, metres.")
    high: list[float] = Field(description="Greatest corner in its own frame, metres.")
    glows: bool = Field(description="Whether any of it gives light of its own.")


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


class SceneManifest(Schema):
    """What there is to show, by key: equal keys are equal content."""

    revision: int
    texel: float = Field(description="Side of a texel that its maps are wanted at, metres.")
    surfaces: list[SurfaceEntry]
    scatters: list[ScatterEntry]
    items: list[ItemEntry]
    tiles: list[str] = Field(description="Materials that placed items are made of.")
    kit: str = Field(description="Key of what placed items look like; empty where none are placed.")
    water: list[WaterEntry]
    wind: WindEntry
    coats: list[CoatEntry] = Field(description="Covers that lie on placed items, in the order of their masks' columns.")
    blankets: list[BlanketEntry] = Field(description="Covers that lie as sheets of their own.")
    low: list[float]
    high: list[float]
    measuring: UUID | None = Field(description="The job that measures what is missing.")


def _waters(workshop: Workshop) -> list[WaterEntry]:
    document = workshop.document
    clarity, colour = document.water.clarity, list(document.water.colour)
    out: list[WaterEntry] = []
    if document.water.shown:
        out.append(WaterEntry(level=document.water.level, outline=[], clarity=clarity, colour=colour))
    for level, corners in workshop.ground.pools():
        outline = [[float(x), float(z)] for x, z in corners]
        out.append(WaterEntry(level=level, outline=outline, clarity=clarity, colour=colour))
    return out


def _item_entry(workshop: Workshop, kind: str) -> ItemEntry:
    item, items = workshop.shelf.item(kind), workshop.items
    stiffness = workshop.shelf.stiffness(kind)
    return ItemEntry(
        kind=kind,
        grows=item.grows,
        roughness=item.roughness,
        variants=item.variants,
        parts=[*items.parts(kind), STAND_IN],
        leaves=items.leaves(kind),
        leaf=item.leaf,
        colour=items.season_colour(kind).tolist(),
        litter=item.litter,
        stiffness=stiffness if np.isfinite(stiffness) else None,
        height=items.height(kind),
    )


def wind_entry(workshop: Workshop) -> WindEntry:
    """The site's wind."""
    wind = workshop.document.wind
    return WindEntry(
        way=wind.way.tolist(), strength=wind.strength, waves=waves(wind).tolist(), moment=wind.moment, most=MOST
    )


@router.get("/sites/{uuid:site_id}/scene", response=SceneManifest)
def get_scene(request: SignedInRequest, site_id: UUID, texel: float = 0) -> SceneManifest:
    """What there is to show. Signals that are missing are measured by a job; the scene is asked for again after it."""
    site, workshop = workshop_of(request, site_id)
    texel = min(max(texel, FINEST_TEXEL), 0.5) if texel > 0 else workshop.document.usual_texel
    ids = workshop.document.surface_ids()
    for id in ids:
        surface_of(workshop, id)
    job = measured(site, workshop, workshop.needs(ids))
    lacking = {id for id, _ in workshop.unmeasured(workshop.needs(ids))} if job else set()
    surfaces = []
    for id in ids:
        surface = workshop.surface(id)
        level = surface.level_for(texel)
        surfaces.append(
            SurfaceEntry(
                id=id,
                name=workshop.name_of(id),
                shown=True,
                mesh=_mesh_name(workshop, surface),
                maps="" if id in lacking else workshop.maps_name(surface, level),
                bare=workshop.bare.maps_name(surface, level),
                coarse="" if id in lacking else workshop.maps_name(surface, surface.coarsest_level),
                matrix=surface.matrix.ravel().tolist(),
                triangles=len(surface.mesh.faces),
                area=surface.area,
                texel=surface.atlas.cell / 2**level,
                texels=surface.atlas.width * surface.atlas.height * 4**level,
                cells=surface.atlas.width * surface.atlas.height,
                parts=list(surface.mesh.part_names),
                materials=list(surface.materials),
                grades=[workshop.usual_grade(id, part) for part in surface.mesh.part_names],
                low=surface.mesh.bounds[0].tolist(),
                high=surface.mesh.bounds[1].tolist(),
                glows=workshop.glow_of_faces(surface) is not None,
            )
        )
    scatters = []
    for layer in workshop.shown_scatters():
        asked = workshop.planting_needs(layer, ids)
        waits = any(id in lacking and any(card.signal.on_cells for card in chain.active) for id, chain in asked)
        placements = "" if waits else workshop.placements_name(layer)
        coats = workshop.coats.name(layer) if placements and workshop.coats.layers() else ""
        scatters.append(ScatterEntry(id=layer.id, placements=placements, coats=coats))
    items = [_item_entry(workshop, kind) for kind in placed_items(workshop)]
    bounds = [workshop.surface(id).corners.reshape(-1, 3) for id in ids]
    return SceneManifest(
        revision=site.revision,
        texel=texel,
        surfaces=surfaces,
        scatters=scatters,
        items=items,
        tiles=tiles_of_items(workshop),
        kit=kit_name(workshop) if items else "",
        water=_waters(workshop),
        wind=wind_entry(workshop),
        coats=coat_entries(workshop),
        blankets=blanket_entries(workshop, lacking),
        low=np.min([b.min(0) for b in bounds], axis=0).tolist(),
        high=np.max([b.max(0) for b in bounds], axis=0).tolist(),
        measuring=job.pk if job else None,
    )


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/mesh", include_in_schema=False)
def get_mesh(request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "") -> HttpResponse:
    """A surface's triangles in its own frame."""
    _, workshop = workshop_of(request, site_id)
    surface = surface_of(workshop, surface_id)
    return packed(mesh_arrays(workshop, surface), forever=same_key(key, _mesh_name(workshop, surface)))


def _mesh_name(workshop: Workshop, surface: Surface) -> str:
    """The key of a surface's triangles: they also tell what glows."""
    glow = workshop.glow_of_faces(surface)
    return surface.digest if glow is None else f"{surface.digest}-{sha256(glow.tobytes()).hexdigest()[:12]}"


def mesh_arrays(workshop: Workshop, surface: Surface) -> dict[str, np.ndarray]:
    """A surface's triangles as drawing wants them; with ``glow`` (V, 1) where some of it glows."""

    def make() -> dict[str, np.ndarray]:
        glow = workshop.glow_of_faces(surface)
        corners = {
            "position": surface.mesh.corners.reshape(-1, 3),
            "normal": surface.local_normals.reshape(-1, 3),
            "tangent": surface.tangents.reshape(-1, 4),
            "uv": surface.atlas.uv().reshape(-1, 2),
        }
        if glow is not None:
            corners["glow"] = np.repeat(glow, 3)[:, None]
        columns, index = indexed(corners)
        return columns | {"index": index}

    return shared_cache().get(f"mesh arrays {_mesh_name(workshop, surface)}", make)


@router.get("/sites/{uuid:site_id}/opening", include_in_schema=False)
def get_opening(request: SignedInRequest, site_id: UUID) -> HttpResponse:
    """Triangles and coarsest maps of all surfaces in one piece: what a page that opens would ask for one by one.

    The meta tells under which keys each would have been given; surfaces that are not measured yet come without maps.
    """
    _, workshop = workshop_of(request, site_id)
    arrays: dict[str, np.ndarray] = {}
    keys: dict[str, dict[str, str]] = {}
    for id in workshop.document.surface_ids():
        surface = surface_of(workshop, id)
        keys[id] = {"mesh": _mesh_name(workshop, surface)}
        arrays |= {f"{id}/mesh/{name}": array for name, array in mesh_arrays(workshop, surface).items()}
        if not workshop.unmeasured(workshop.needs([id])):
            level = surface.coarsest_level
            keys[id]["maps"] = workshop.maps_name(surface, level)
            found = _map_arrays(workshop.maps(surface, level))
            arrays |= {f"{id}/maps/{name}": array for name, array in found.items()}
    return packed(arrays, keys)


def _map_arrays(maps: Maps) -> dict[str, np.ndarray]:
    return {"base": maps.base, "orm": maps.orm, "normal": maps.normal}


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/maps", include_in_schema=False)
def get_maps(
    request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "", texel: str = "coarsest", bare: bool = False
) -> HttpResponse:
    """A surface's final maps, at a texel size in metres or at the coarsest there is; bare is without any weather."""
    _, workshop = workshop_of(request, site_id)
    workshop = workshop.bare if bare else workshop
    surface = surface_of(workshop, surface_id)
    try:
        level = (
            surface.coarsest_level
            if texel == "coarsest"
            else surface.level_for(min(max(float(texel), FINEST_TEXEL), 0.5))
        )
    except ValueError:
        raise Problem("texel: a number of metres is wanted.", status=422) from None
    content = pack(_map_arrays(workshop.maps(surface, level)), {"texel": surface.atlas.cell / 2**level})
    return pack_response(content, forever=same_key(key, workshop.maps_name(surface, level)))
