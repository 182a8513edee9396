"""What is derived from a site, as binary packs: meshes, maps, masks, placements; and live previews of changes."""

from __future__ import annotations

from dataclasses import asdict
from hashlib import sha256
from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from cenote.derive.workshop import BINS, Surface, Workshop
from cenote.formats.pack import pack
from cenote.geometry.mesh import indexed
from cenote.masks.where import Where
from cenote.render.preview import look, mask_pictures
from cenote.render.stand_in import PART as STAND_IN
from cenote.scatter.instances import triangle_count
from cenote.scatter.layer import Scatter
from cenote.scatter.placements import Placements
from cenote.scatter.wind import MOST, waves
from cenote.site.document import CoverLayer, Shot
from cenote.structures.grade import PartGrade
from cenote.weather.compose import Maps
from config.security import SignedInRequest
from jobs.models import Job
from jobs.queue import start
from sites.api import Operation
from sites.errors import Problem
from sites.models import Site

from .answers import pack_response, packed, same_key
from .blankets import BlanketEntry, blanket_entries, sheet_arrays
from .kit import kit_name, placed_items, tiles_of_items
from .store import shared_cache
from .workshops import workshop_of

router = Router(tags=["derived"])
FINEST_TEXEL = 0.002
# Up to this many rays a missing signal is measured while the page waits; above it, by a job with progress.
_RAYS_AT_ONCE = 1_500_000


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


class CoatEntry(Schema):
    """A cover as placed items have it."""

    cover: str
    strength: float = Field(description="Factor on each item's mask.")
    colour: list[float] = Field(description="Linear.")
    opacity: float
    soak: float = Field(description="How far it darkens what is below.")
    above: float = Field(description="1 where it lies on what faces up alone, 0 where it is all over.")


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


class PreviewRequest(Schema):
    """A change that is not made yet, and what of its outcome is wanted."""

    operations: list[Operation] = Field([], max_length=1000)
    surfaces: list[str] = Field([], max_length=500, description="Base colours of these, coarse.")
    scatters: list[str] = Field([], max_length=200, description="Placements of these layers.")
    blankets: bool = Field(False, description="Whether the sheets of deep covers are wanted, coarse.")
    mask_of: str | None = Field(None, description="The mask of this layer in place of base colours.")
    coarser: int = Field(0, ge=0, le=3, description="How many times the side of a cell is doubled.")


class WhereRequest(Schema):
    """A layer whose mask is wanted, seen from a camera."""

    layer: str
    chain: str = Field("where", pattern=r"^(where|size_where|mix/\d{1,2}/where)$", description="Which of its masks.")
    operations: list[Operation] = Field([], max_length=1000)
    shot: Shot
    width: int = Field(120, ge=16, le=400)
    height: int = Field(75, ge=16, le=300)


def _surface(workshop: Workshop, id: str) -> Surface:
    try:
        return workshop.surface(id)
    except KeyError as error:
        raise Problem(f"There is no surface “{id}” to show ({error.args[0]}).", status=404) from None


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


def _wind_entry(workshop: Workshop) -> WindEntry:
    wind = workshop.document.wind
    return WindEntry(
        way=wind.way.tolist(), strength=wind.strength, waves=waves(wind).tolist(), moment=wind.moment, most=MOST
    )


def _measured(site: Site, workshop: Workshop, requests: list[tuple[str, Where]]) -> Job | None:
    """Make sure of the signals that masks ask for: at once where that is little, else by a job, which is given back."""
    missing = workshop.unmeasured(requests)
    rays = sum(len(workshop.cells(workshop.surface(id)).ys) * 64 for id, _ in missing)
    if rays <= _RAYS_AT_ONCE:
        workshop.measure(missing, lambda done, total, what: None)
        return None
    return start(Job.Kind.MEASURE, site, target=f"revision {site.revision}")


@router.get("/sites/{uuid:site_id}/scene", response=SceneManifest)
def get_scene(request: SignedInRequest, site_id: UUID, texel: float = 0) -> SceneManifest:
    """What there is to show. Signals that are missing are measured by a job; the scene is asked for again after it."""
    site, workshop = workshop_of(request, site_id)
    texel = min(max(texel, FINEST_TEXEL), 0.5) if texel > 0 else workshop.document.usual_texel
    ids = workshop.document.surface_ids()
    for id in ids:
        _surface(workshop, id)
    job = _measured(site, workshop, workshop.needs(ids))
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
        wind=_wind_entry(workshop),
        coats=_coat_entries(workshop),
        blankets=blanket_entries(workshop, lacking),
        low=np.min([b.min(0) for b in bounds], axis=0).tolist(),
        high=np.max([b.max(0) for b in bounds], axis=0).tolist(),
        measuring=job.pk if job else None,
    )


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/mesh", include_in_schema=False)
def get_mesh(request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "") -> HttpResponse:
    """A surface's triangles in its own frame."""
    _, workshop = workshop_of(request, site_id)
    surface = _surface(workshop, surface_id)
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
        surface = _surface(workshop, id)
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
    surface = _surface(workshop, surface_id)
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


def _placement_arrays(
    prefix: str, placements: Placements, workshop: Workshop
) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
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


def _scatter(workshop: Workshop, layer_id: str) -> Scatter:
    for layer in workshop.document.planting:
        if layer.id == layer_id:
            return layer
    raise Problem(f"There is no scatter layer “{layer_id}”.", status=404)


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/placements", include_in_schema=False)
def get_placements(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """What a scatter layer places."""
    _, workshop = workshop_of(request, site_id)
    layer = _scatter(workshop, layer_id)
    arrays, meta = _placement_arrays("", workshop.placements(layer), workshop)
    return pack_response(pack(arrays, meta), forever=same_key(key, workshop.placements_name(layer)))


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/coats", include_in_schema=False)
def get_coats(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """The masks of covers at a scatter layer's items."""
    _, workshop = workshop_of(request, site_id)
    layer = _scatter(workshop, layer_id)
    return packed({"masks": workshop.coats.masks(layer)}, forever=same_key(key, workshop.coats.name(layer)))


def _coat_entries(workshop: Workshop) -> list[CoatEntry]:
    return [CoatEntry(**asdict(coat) | {"colour": list(coat.colour)}) for coat in workshop.coats.all()]


@router.post("/sites/{uuid:site_id}/preview", include_in_schema=False)
def preview(request: SignedInRequest, site_id: UUID, wanted: PreviewRequest) -> HttpResponse:
    """How a change would look, coarse and at once. Nothing is saved."""
    site, workshop = workshop_of(request, site_id, wanted.operations)
    requests = workshop.map_needs(wanted.surfaces)
    layers = [_scatter(workshop, id) for id in wanted.scatters]
    for layer in layers:
        requests += workshop.planting_needs(layer, workshop.document.surface_ids())
    job = None if not workshop.unmeasured(requests) else _measured(site, workshop, requests)
    arrays: dict[str, np.ndarray] = {}
    items = {kind: {"leaves": workshop.items.leaves(kind), "colour": workshop.items.season_colour(kind).tolist()}
             for kind in placed_items(workshop)}  # fmt: skip
    meta: dict[str, Any] = {"measuring": str(job.pk) if job else None, "scatters": {},
                            "items": items, "wind": _wind_entry(workshop).model_dump(),
                            "coats": [coat.model_dump() for coat in _coat_entries(workshop)]}  # fmt: skip
    if job is None and wanted.blankets:
        meta["blankets"] = [entry.model_dump() | {"sheet": ""} for entry in blanket_entries(workshop, ())]
        for deep, blanket in workshop.blankets.all():
            arrays |= sheet_arrays(workshop.blankets.sheet(deep, blanket, coarse=True), f"{deep.id}/sheet/")
    if job is None:
        asked = _mask_of(workshop, wanted.mask_of) if wanted.mask_of else None
        for id in wanted.surfaces:
            surface = _surface(workshop, id)
            if asked is not None:
                where, _, cover = asked
                mask = workshop.layer_mask(cover or where, surface, -wanted.coarser)
                arrays[f"{id}/mask"] = np.round(mask * 255).astype(np.uint8)
            else:
                arrays[f"{id}/base"] = workshop.preview_maps(surface, -wanted.coarser).base
        for layer in layers:
            found, entry = _placement_arrays(f"{layer.id}/", workshop.placements(layer), workshop)
            arrays |= found
            meta["scatters"][layer.id] = entry
    return pack_response(pack(arrays, meta))


def _mask_of(workshop: Workshop, layer_id: str, chain: str = "where") -> tuple[Where, list[str], CoverLayer | None]:
    """A mask of a layer, the surfaces it is asked on, and the layer itself where it is a cover."""
    shown = workshop.document.surface_ids()
    layers: list[CoverLayer | Scatter] = [*workshop.document.weather, *workshop.document.planting]
    for layer in layers:
        if layer.id == layer_id:
            where = layer.where
            if isinstance(layer, Scatter) and chain != "where":
                row = int(chain.split("/")[1]) if chain != "size_where" else 0
                if row >= len(layer.mix):
                    raise Problem("The layer's mix has fewer rows.", status=404)
                where = layer.size_where if chain == "size_where" else layer.mix[row].where
            cover = layer if isinstance(layer, CoverLayer) else None
            return where, [id for id in layer.surfaces if id in shown], cover
    raise Problem(f"There is no layer “{layer_id}”.", status=404)


class CoverageEntry(Schema):
    """What a cover takes in the site's climate."""

    layer: str
    covered: float = Field(description="m².")
    area: float = Field(description="m² of the surfaces that share it.")


class Coverage(Schema):
    """What all covers take; none while signals are being measured."""

    covers: list[CoverageEntry]
    measuring: UUID | None = Field(description="The job that measures what is missing.")


@router.get("/sites/{uuid:site_id}/coverage", response=Coverage)
def get_coverage(request: SignedInRequest, site_id: UUID) -> Coverage:
    """What each shown cover takes of the surfaces that share it, as the dials stand."""
    site, workshop = workshop_of(request, site_id)
    job = _measured(site, workshop, workshop.needs(workshop.document.surface_ids()))
    if job is not None:
        return Coverage(covers=[], measuring=job.pk)
    entries = []
    for layer in workshop.document.weather:
        if layer.shown:
            covered, area = workshop.covered(layer)
            entries.append(CoverageEntry(layer=layer.id, covered=covered, area=area))
    return Coverage(covers=entries, measuring=None)


@router.post("/sites/{uuid:site_id}/where", include_in_schema=False)
def report_where(request: SignedInRequest, site_id: UUID, wanted: WhereRequest) -> HttpResponse:
    """A layer's mask: histograms, coverage, and each card as seen from a camera."""
    site, workshop = workshop_of(request, site_id, wanted.operations)
    where, ids, cover = _mask_of(workshop, wanted.layer, wanted.chain)
    job = _measured(site, workshop, [(id, where) for id in ids])
    if job is not None:
        return packed({}, {"measuring": str(job.pk)})
    report = workshop.report(where, ids, cover)
    cards, whole = mask_pictures(
        workshop, where, report.masks, look(workshop, wanted.shot, wanted.width, wanted.height)
    )
    histograms = np.array([card.histogram for card in report.cards], np.float32).reshape(-1, BINS)
    meta = {
        "measuring": None,
        "covered": report.covered,
        "area": report.area,
        "surfaces": len(ids),
        "cards": [
            {"id": card.id, "low": found.low, "high": found.high, "coverage": found.coverage}
            for card, found in zip(where.cards, report.cards, strict=True)
        ],
    }
    return pack_response(pack({"histograms": histograms, "cards": cards, "whole": whole}, meta))
