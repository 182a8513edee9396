"""What is derived from a site, as binary packs: meshes, maps, masks, placements; and live previews of changes."""

from __future__ import annotations

import io
from functools import lru_cache
from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from PIL import Image
from pydantic import Field

from cenote.derive.cache import key as key_of
from cenote.derive.workshop import BINS, Surface, Workshop
from cenote.formats.pack import pack
from cenote.geometry.mesh import indexed
from cenote.kit.base import DETAILS, KIT, KitItem
from cenote.kit.shelf import SHIPPED, Shelf
from cenote.masks.where import Where
from cenote.materials.recipe import Recipe
from cenote.registry import kind_of
from cenote.render.portraits import item_portrait, tile_portrait
from cenote.render.preview import look, mask_pictures
from cenote.scatter.fill import Placements, Scatter
from cenote.scatter.instances import triangle_count
from cenote.site.document import CoverLayer, Shot
from cenote.weather.compose import LaidTile, Maps, encoded, shrunk, tile_pictures
from config.security import SignedInRequest
from jobs.models import Job
from jobs.queue import start
from sites.api import Operation
from sites.errors import Problem
from sites.history import owned_site, parsed, patched
from sites.models import Site

from .store import shared_cache

router = Router(tags=["derived"])
FINEST_TEXEL = 0.002
PACK = "application/x-cenote-pack"
_FOREVER = "private, max-age=31536000, immutable"
# Up to this many rays a missing signal is measured while the page waits; above it, by a job with progress.
_RAYS_AT_ONCE = 1_500_000


class SurfaceEntry(Schema):
    """A surface of the scene."""

    id: str
    name: str
    shown: bool
    mesh: str = Field(description="Key of its mesh.")
    maps: str = Field(description="Key of its final maps at this texel size; empty until its signals are measured.")
    coarse: str = Field(description="Key of its maps at the coarsest texels, for a first picture.")
    matrix: list[float] = Field(description="4×4, row by row.")
    triangles: int
    area: float = Field(description="m².")
    texel: float = Field(description="Side of a texel of its maps, metres.")
    texels: int
    cells: int = Field(description="Texels at the coarsest level.")
    parts: list[str]
    materials: list[str]


class ScatterEntry(Schema):
    """A scatter layer of the scene."""

    id: str
    placements: str = Field(description="Key of its placements; empty until the signals it asks for are measured.")


class ItemEntry(Schema):
    """A kit item that the scene places."""

    kind: str
    grows: bool
    roughness: float
    variants: int
    parts: list[str] = Field(description="Names of its parts: materials, the item's own card, or plain.")


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
    low: list[float]
    high: list[float]
    measuring: UUID | None = Field(description="The job that measures what is missing.")


class KitEntry(Schema):
    """A kit item."""

    kind: str
    name: str
    tags: list[str]
    variants: int
    grows: bool
    triangles: list[int] = Field(description="At each level of detail.")
    size: list[float]
    help: str
    group: str
    adjustable: bool = Field(description="Whether it has parameters, so that own items can be made from it.")


class SignalEntry(Schema):
    """How a signal reads."""

    kind: str
    name: str
    unit: str
    low: float
    high: float
    starts_at: float
    full_at: float
    by_rays: bool
    help: str


class NamedEntry(Schema):
    """Something with a name."""

    kind: str
    name: str
    help: str


class CoverEntry(NamedEntry):
    """A cover, with the mask that a new layer of it begins with."""

    where: Where


class MaterialEntry(NamedEntry):
    """A shipped material, with its recipe."""

    group: str
    recipe: Recipe


class Vocabulary(Schema):
    """What layers can be made of."""

    signals: list[SignalEntry]
    covers: list[CoverEntry]
    makers: list[NamedEntry]
    materials: list[MaterialEntry]
    patterns: list[NamedEntry]
    kit: list[KitEntry]


class PreviewRequest(Schema):
    """A change that is not made yet, and what of its outcome is wanted."""

    operations: list[Operation] = Field([], max_length=200)
    surfaces: list[str] = Field([], max_length=500, description="Base colours of these, coarse.")
    scatters: list[str] = Field([], max_length=200, description="Placements of these layers.")
    mask_of: str | None = Field(None, description="The mask of this layer in place of base colours.")
    coarser: int = Field(0, ge=0, le=3, description="How many times the side of a cell is doubled.")


class WhereRequest(Schema):
    """A layer whose mask is wanted, seen from a camera."""

    layer: str
    operations: list[Operation] = Field([], max_length=200)
    shot: Shot
    width: int = Field(120, ge=16, le=400)
    height: int = Field(75, ge=16, le=300)


@lru_cache(maxsize=8)
def _saved_workshop(site_id: UUID, revision: int) -> list[Workshop]:
    """A place for the workshop of a revision: a page that opens asks for dozens of packs of one."""
    return []


def _workshop(
    request: SignedInRequest, site_id: UUID, operations: list[Operation] | None = None
) -> tuple[Site, Workshop]:
    site = owned_site(request.user, site_id)
    if operations:
        _, document = patched(site.document, [operation.as_patch() for operation in operations])
        return site, Workshop(document, shared_cache())
    place = _saved_workshop(site.pk, site.revision)
    if not place:
        place.append(Workshop(parsed(site.document), shared_cache()))
    return site, place[0]


def _surface(workshop: Workshop, id: str) -> Surface:
    try:
        return workshop.surface(id)
    except KeyError as error:
        raise Problem(f"There is no surface “{id}” to show ({error.args[0]}).", status=404) from None


def _pack_response(content: bytes, forever: bool = False) -> HttpResponse:
    response = HttpResponse(content, content_type=PACK)
    response["Cache-Control"] = _FOREVER if forever else "no-store"
    return response


def _check_key(wanted: str, there: str) -> bool:
    """Whether the content may be kept for ever: only under the key that it was asked for by."""
    return bool(wanted) and wanted == there


def _waters(workshop: Workshop) -> list[WaterEntry]:
    document = workshop.document
    clarity, colour = document.water.clarity, list(document.water.colour)
    out: list[WaterEntry] = []
    if document.water.shown:
        out.append(WaterEntry(level=document.water.level, outline=[], clarity=clarity, colour=colour))
    for level, corners in workshop.pools():
        outline = [[float(x), float(z)] for x, z in corners]
        out.append(WaterEntry(level=level, outline=outline, clarity=clarity, colour=colour))
    return out


def _item_entry(workshop: Workshop, kind: str) -> ItemEntry:
    item = workshop.shelf.item(kind)
    return ItemEntry(kind=kind, grows=item.grows, roughness=item.roughness,
                     variants=item.variants, parts=workshop.item_parts(kind))  # fmt: skip


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
    site, workshop = _workshop(request, site_id)
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
                mesh=surface.digest,
                maps="" if id in lacking else workshop.maps_name(surface, level),
                coarse="" if id in lacking else workshop.maps_name(surface, surface.coarsest_level),
                matrix=surface.matrix.ravel().tolist(),
                triangles=len(surface.mesh.faces),
                area=surface.area,
                texel=surface.atlas.cell / 2**level,
                texels=surface.atlas.width * surface.atlas.height * 4**level,
                cells=surface.atlas.width * surface.atlas.height,
                parts=list(surface.mesh.part_names),
                materials=list(surface.materials),
            )
        )
    scatters = []
    for layer in workshop.shown_scatters():
        waits = layer.surface in lacking and any(card.signal.by_rays for card in layer.where.active)
        scatters.append(ScatterEntry(id=layer.id, placements="" if waits else workshop.placements_name(layer)))
    items = [_item_entry(workshop, kind) for kind in _placed_items(workshop)]
    bounds = [workshop.surface(id).corners.reshape(-1, 3) for id in ids]
    return SceneManifest(
        revision=site.revision,
        texel=texel,
        surfaces=surfaces,
        scatters=scatters,
        items=items,
        tiles=_tiles_of_items(workshop),
        kit=_kit_name(workshop) if items else "",
        water=_waters(workshop),
        low=np.min([b.min(0) for b in bounds], axis=0).tolist(),
        high=np.max([b.max(0) for b in bounds], axis=0).tolist(),
        measuring=job.pk if job else None,
    )


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/mesh", include_in_schema=False)
def get_mesh(request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "") -> HttpResponse:
    """A surface's triangles in its own frame."""
    _, workshop = _workshop(request, site_id)
    surface = _surface(workshop, surface_id)
    arrays = {
        "position": surface.mesh.corners.reshape(-1, 3),
        "normal": surface.local_normals.reshape(-1, 3),
        "tangent": surface.tangents.reshape(-1, 4),
        "uv": surface.atlas.uv().reshape(-1, 2),
    }
    content = shared_cache().get(f"mesh pack {surface.digest}", lambda: pack(_indexed_columns(arrays)))
    return _pack_response(content, forever=_check_key(key, surface.digest))


def _indexed_columns(corners: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    columns, index = indexed(corners)
    return columns | {"index": index}


def _map_arrays(maps: Maps) -> dict[str, np.ndarray]:
    return {"base": maps.base, "orm": maps.orm, "normal": maps.normal}


@router.get("/sites/{uuid:site_id}/surfaces/{surface_id}/maps", include_in_schema=False)
def get_maps(
    request: SignedInRequest, site_id: UUID, surface_id: str, key: str = "", texel: str = "coarsest"
) -> HttpResponse:
    """A surface's final maps, at a texel size in metres or at the coarsest there is."""
    _, workshop = _workshop(request, site_id)
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
    return _pack_response(content, forever=_check_key(key, workshop.maps_name(surface, level)))


def _placement_arrays(
    prefix: str, layer: Scatter, placements: Placements, shelf: Shelf
) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    arrays = {
        f"{prefix}item": placements.items,
        f"{prefix}variant": placements.variants,
        f"{prefix}position": placements.positions,
        f"{prefix}rotation": placements.rotations,
        f"{prefix}size": placements.sizes,
        f"{prefix}tint": placements.tints,
        # Enough of the id to thin by, evenly and always the same ones.
        f"{prefix}rank": (placements.ids >> np.uint64(48)).astype(np.uint16),
    }
    meta = {
        "items": [entry.item for entry in layer.mix],
        "count": len(placements),
        "triangles": triangle_count(layer, placements, shelf),
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
    _, workshop = _workshop(request, site_id)
    layer = _scatter(workshop, layer_id)
    arrays, meta = _placement_arrays("", layer, workshop.placements(layer), workshop.shelf)
    return _pack_response(pack(arrays, meta), forever=_check_key(key, workshop.placements_name(layer)))


@router.post("/sites/{uuid:site_id}/preview", include_in_schema=False)
def preview(request: SignedInRequest, site_id: UUID, wanted: PreviewRequest) -> HttpResponse:
    """How a change would look, coarse and at once. Nothing is saved."""
    site, workshop = _workshop(request, site_id, wanted.operations)
    requests = workshop.needs(wanted.surfaces) if wanted.surfaces else []
    layers = [_scatter(workshop, id) for id in wanted.scatters]
    requests += [(layer.surface, layer.where) for layer in layers]
    job = None if not workshop.unmeasured(requests) else _measured(site, workshop, requests)
    arrays: dict[str, np.ndarray] = {}
    meta: dict[str, Any] = {"measuring": str(job.pk) if job else None, "scatters": {}}
    if job is None:
        where = _mask_of(workshop, wanted.mask_of)[0] if wanted.mask_of else None
        for id in wanted.surfaces:
            surface = _surface(workshop, id)
            if where is not None:
                arrays[f"{id}/mask"] = np.round(workshop.mask(surface, where, -wanted.coarser) * 255).astype(np.uint8)
            else:
                arrays[f"{id}/base"] = workshop.preview_maps(surface, -wanted.coarser).base
        for layer in layers:
            found, entry = _placement_arrays(f"{layer.id}/", layer, workshop.placements(layer), workshop.shelf)
            arrays |= found
            meta["scatters"][layer.id] = entry
    return _pack_response(pack(arrays, meta))


def _mask_of(workshop: Workshop, layer_id: str) -> tuple[Where, list[str]]:
    """The mask of a layer, and the surfaces it is asked on."""
    shown = workshop.document.surface_ids()
    layers: list[CoverLayer | Scatter] = [*workshop.document.weather, *workshop.document.planting]
    for layer in layers:
        if layer.id == layer_id:
            ids = layer.surfaces if isinstance(layer, CoverLayer) else (layer.surface,)
            return layer.where, [id for id in ids if id in shown]
    raise Problem(f"There is no layer “{layer_id}”.", status=404)


@router.post("/sites/{uuid:site_id}/where", include_in_schema=False)
def report_where(request: SignedInRequest, site_id: UUID, wanted: WhereRequest) -> HttpResponse:
    """A layer's mask: histograms, coverage, and each card as seen from a camera."""
    site, workshop = _workshop(request, site_id, wanted.operations)
    where, ids = _mask_of(workshop, wanted.layer)
    job = _measured(site, workshop, [(id, where) for id in ids])
    if job is not None:
        return _pack_response(pack({}, {"measuring": str(job.pk)}))
    report = workshop.report(where, ids)
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
    return _pack_response(pack({"histograms": histograms, "cards": cards, "whole": whole}, meta))


@router.get("/vocabulary", response=Vocabulary)
def get_vocabulary(request: SignedInRequest) -> Vocabulary:
    """What layers can be made of: signals, covers, structures, materials and the kit."""
    return vocabulary()


@lru_cache(maxsize=1)
def vocabulary() -> Vocabulary:
    """The families of the core, as the page reads them."""
    from cenote.materials.base import MATERIALS
    from cenote.materials.patterns.base import PATTERNS
    from cenote.signals.base import SIGNALS
    from cenote.structures.base import MAKERS
    from cenote.weather.base import COVERS

    def named(member: Any) -> dict[str, str]:
        return {"kind": kind_of(member), "name": member.name, "help": (member.__doc__ or "").strip().split("\n")[0]}

    signals = [
        SignalEntry(
            kind=kind_of(signal), name=signal.reading.name, unit=signal.reading.unit,
            low=signal.reading.low, high=signal.reading.high, starts_at=signal.suggested[0], full_at=signal.suggested[1],
            by_rays=signal.by_rays, help=(signal.__doc__ or "").strip(),
        )
        for signal in SIGNALS
    ]  # fmt: skip
    kit = []
    for item in KIT:
        kind = kind_of(item)
        mesh = SHIPPED.mesh(kind, 0)
        low, high = mesh.bounds
        kit.append(
            KitEntry(kind=kind, name=item.name, help=(item.__doc__ or "").strip(), group=item.group,
                     tags=list(item.tags), variants=item.variants, grows=item.grows,
                     triangles=[len(SHIPPED.mesh(kind, 0, detail).faces) for detail in DETAILS],
                     size=(high - low).tolist(), adjustable=len(item.model_fields) > 1)
        )  # fmt: skip
    return Vocabulary(
        signals=signals,
        covers=[CoverEntry(**named(cover), where=cover.usual_where()) for cover in COVERS],
        makers=[NamedEntry(**named(maker)) for maker in MAKERS],
        materials=[
            MaterialEntry(kind=m.kind, name=m.name, help=m.help, group=m.group, recipe=m.recipe) for m in MATERIALS
        ],
        patterns=[NamedEntry(**named(pattern)) for pattern in PATTERNS],
        kit=kit,
    )


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
    _, workshop = _workshop(request, site_id)
    there = _kit_name(workshop)
    content = shared_cache().get(f"kit pack {there} {plain}", lambda: pack(_kit_arrays(workshop, plain)))
    return _pack_response(content, forever=_check_key(key, there))


def _placed_items(workshop: Workshop) -> list[str]:
    return list(dict.fromkeys(entry.item for layer in workshop.shown_scatters() for entry in layer.mix))


def _tiles_of_items(workshop: Workshop) -> list[str]:
    parts = dict.fromkeys(part for kind in _placed_items(workshop) for part in workshop.item_parts(kind))
    return [part for part in parts if workshop.document.has_material(part)]


def _kit_name(workshop: Workshop) -> str:
    """The key of all that placed items look like."""
    items = [workshop.item_name(kind) for kind in _placed_items(workshop)]
    return key_of("kit", items, [workshop.tile_name(kind) for kind in _tiles_of_items(workshop)])


def _kit_arrays(workshop: Workshop, plain: bool) -> dict[str, np.ndarray]:
    arrays: dict[str, np.ndarray] = {}
    for kind in _placed_items(workshop):
        for detail in DETAILS:
            meshes = workshop.item_pack(kind, detail)
            arrays |= {f"item/{kind}/{detail}/{name}": array for name, array in meshes.items()}
        card = workshop.shelf.card(kind)
        if card is not None:
            arrays[f"item/{kind}/card"] = encoded(card)
    for kind in _tiles_of_items(workshop):
        if plain:
            tile = workshop.tile(kind)
            small = shrunk(tile, tile.size / len(tile.pixels) * 1.5)
            arrays[f"tile/{kind}/base"] = _opaque(tile_pictures(small)[0])
            continue
        for name, picture in zip(("base", "orm", "normal"), tile_pictures(workshop.tile(kind)), strict=True):
            arrays[f"tile/{kind}/{name}"] = _opaque(picture)
    return arrays


@router.get("/sites/{uuid:site_id}/kit/{item}/picture", include_in_schema=False)
def get_item_picture(request: SignedInRequest, site_id: UUID, item: str, key: str = "") -> HttpResponse:
    """A kit item as a small picture."""
    _, workshop = _workshop(request, site_id)
    _item(workshop, item)
    return _png_response(item_portrait(workshop, item), forever=_check_key(key, workshop.item_name(item)))


@router.get("/sites/{uuid:site_id}/materials/{kind}/tile", include_in_schema=False)
def get_tile(request: SignedInRequest, site_id: UUID, kind: str, key: str = "") -> HttpResponse:
    """A baked material: colour, roughness and metalness, and normals of one tile."""
    _, workshop = _workshop(request, site_id)
    tile = _tile(workshop, kind)
    base, orm, normal = (_opaque(picture) for picture in tile_pictures(tile))
    content = pack({"base": base, "orm": orm, "normal": normal}, {"size": tile.size})
    return _pack_response(content, forever=_check_key(key, workshop.tile_name(kind)))


@router.get("/sites/{uuid:site_id}/materials/{kind}/picture", include_in_schema=False)
def get_material_picture(request: SignedInRequest, site_id: UUID, kind: str, key: str = "") -> HttpResponse:
    """A material as a small picture of a lit tile."""
    _, workshop = _workshop(request, site_id)
    return _png_response(tile_portrait(_tile(workshop, kind)), forever=_check_key(key, workshop.tile_name(kind)))


def _tile(workshop: Workshop, kind: str) -> LaidTile:
    if not workshop.document.has_material(kind):
        raise Problem(f"There is no material “{kind}” on this site.", status=404)
    return workshop.tile(kind)


def _opaque(picture: np.ndarray) -> np.ndarray:
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])


def _png_response(pixels: np.ndarray, forever: bool) -> HttpResponse:
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    response = HttpResponse(stream.getvalue(), content_type="image/png")
    response["Cache-Control"] = _FOREVER if forever else "no-store"
    return response
