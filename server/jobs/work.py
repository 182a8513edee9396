"""What each kind of job does."""

from __future__ import annotations

import hashlib
import io
import re
import time
from collections.abc import Callable, Sequence
from typing import Any
from uuid import UUID

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import Image

from cenote.derive.cache import pack_arrays
from cenote.derive.dropping import drop_here, falling
from cenote.derive.workshop import Cancelled, Progress, Workshop, imported_name, mesh_arrays
from cenote.drop.heap import Drop, Heap
from cenote.drop.settle import DropRefused
from cenote.formats.glb import export_glb
from cenote.formats.meshes_in import ImportRefused, read_mesh
from cenote.formats.pack import pack
from cenote.formats.texture_sets import write_set
from cenote.materials.base import MATERIALS
from cenote.materials.recipe import Recipe
from cenote.materials.tile import Tile
from cenote.render.preview import picture
from cenote.site.document import Placement, Shot, SiteDocument, Structure
from derived.store import shared_cache
from sites import history
from sites.errors import Problem
from sites.models import MeshImport, Site

from .events import announce
from .models import Job
from .queue import ask_for_picture

THUMBNAIL_SIZE = (480, 300)


def _workshop(site: Site) -> Workshop:
    return Workshop(SiteDocument.model_validate(site.document), shared_cache())


def measure(job: Job, progress: Progress) -> dict[str, Any]:
    """Measure what the site's masks need by rays."""
    workshop = _workshop(job.site)
    requests = workshop.needs(workshop.document.surface_ids())
    workshop.measure(workshop.unmeasured(requests), progress)
    return {}


def inspect(job: Job, progress: Progress) -> dict[str, Any]:
    """Read an uploaded file, and keep its mesh if it can be used."""
    entry = MeshImport.objects.get(pk=job.arguments["import"])
    progress(0, 2, f"Reading {entry.file_name}")
    with default_storage.open(entry.upload) as file:
        content = file.read()
    try:
        found = read_mesh(entry.file_name, content, entry.unit, entry.up)
    except ImportRefused as refusal:
        entry.state, entry.message = MeshImport.State.REFUSED, f"{refusal} Nothing was changed."
        entry.save()
        return {"import": str(entry.pk)}
    progress(1, 2, "Keeping its mesh")
    packed = pack_arrays(mesh_arrays(found.mesh))
    entry.mesh = hashlib.sha256(packed).hexdigest()
    shared_cache().store.write(imported_name(entry.mesh), packed)
    low, high = found.mesh.bounds
    entry.size, entry.triangles = (high - low).tolist(), len(found.mesh.faces)
    entry.remarks, entry.state = found.remarks, MeshImport.State.READY
    entry.save()
    return {"import": str(entry.pk)}


def export(job: Job, progress: Progress) -> dict[str, Any]:
    """Write the dressed site as GLB."""
    workshop = _workshop(job.site)
    missing = workshop.unmeasured(workshop.needs(workshop.document.surface_ids()))
    total = len(missing) + len(workshop.document.surface_ids()) + len(list(workshop.shown_scatters()))
    workshop.measure(missing, lambda done, _, what: progress(done, total, what))
    content = export_glb(
        workshop,
        job.arguments["manner"],
        job.arguments["texel"],
        lambda done, _, what: progress(len(missing) + done, total, what),
    )
    name = default_storage.save(f"exports/{job.pk}.glb", ContentFile(content))
    return {"file": name, "bytes": len(content)}


def textures(job: Job, progress: Progress) -> dict[str, Any]:
    """Write all channels of a material as a zip of picture files."""
    document = SiteDocument.model_validate(job.site.document)
    kind, pixels = job.arguments["material"], job.arguments["pixels"]
    source = document.material(kind)
    title = next((own.name for own in document.materials if own.id == kind), None) or MATERIALS[kind].name
    progress(0, 2, f"{title}, {pixels} × {pixels} pixels")
    if isinstance(source, Recipe):
        tile = source.bake(pixels)
    else:
        packed = _workshop(job.site).tile(kind).pixels
        tile = Tile(
            packed[..., :3], packed[..., 3], packed[..., 4], packed[..., 5], np.ones(packed.shape[:2], np.float32)
        )
    progress(1, 2, "Writing files")
    stem = re.sub(r"[^\w]+", "_", title.lower()).strip("_") or "material"
    content = write_set(tile, source.size, source.depth, stem, job.arguments["format"])
    name = default_storage.save(f"exports/{job.pk}.zip", ContentFile(content))
    return {"file": name, "bytes": len(content), "title": title}


_FRAME_EVERY = 0.25


def drop(job: Job, progress: Progress) -> dict[str, Any]:
    """Let things fall until they rest, and put them on the site as a heap."""
    workshop = _workshop(job.site)
    wanted, id = Drop.model_validate(job.arguments["drop"]), job.arguments["heap"]
    place = Placement.model_validate(job.arguments["placement"])
    rows = falling(workshop, wanted)
    last = [0.0]

    def watch(released: Sequence[int], positions: np.ndarray, turns: np.ndarray) -> None:
        now = time.monotonic()
        if now - last[0] < _FRAME_EVERY:
            return
        last[0] = now
        poses = {"row": np.array(released, np.int32), "position": positions.astype(np.float32),
                 "rotation": turns[:, [1, 2, 3, 0]].astype(np.float32)}  # fmt: skip
        job.frame = pack(poses, {})
        fell = len(released)
        what = f"{fell} of {len(rows)} have fallen" if fell < len(rows) else "All have fallen; waiting until they rest"
        progress(min(fell, len(rows) - 1), len(rows), what)

    # Pages leave out what is to be replaced while its successor falls.
    job.result = {"heap": id}
    progress(0, len(rows), "Looking at what they fall on")
    there = next((one for one in workshop.document.structures if one.id == id), None)
    made = drop_here(workshop, wanted, place, id if there else None, watch)
    job.frame = None
    heap = Heap(drop=wanted, pieces=tuple(made.pieces))
    keep_heap(job.site_id, id, job.arguments["name"], heap, place)
    lost = f" {made.lost} of them fell off the site and are left out." if made.lost else ""
    job.message = f"{len(made.pieces)} things lie in a heap.{lost}"
    return {"heap": id, "lost": made.lost, "overlap": made.overlap}


def keep_heap(site_id: UUID, id: str, name: str, heap: Heap, place: Placement) -> None:
    """Put a heap on the newest state of a site: in place of what it was, or as a new object."""
    for _ in range(8):
        site = Site.objects.get(pk=site_id)
        ids = [one["id"] for one in site.document["structures"]]
        source = heap.model_dump(mode="json")
        if id in ids:
            operation = {"op": "replace", "path": f"/structures/{ids.index(id)}/source", "value": source}
        else:
            made = Structure(id=id, name=name, source=heap, placement=place).model_dump(mode="json")
            operation = {"op": "add", "path": "/structures/-", "value": made}
        try:
            history.edit(site.owner, site.pk, site.revision, f"Drop {name}", "", [operation])
        except Problem as problem:
            if problem.status != 409:
                raise DropRefused(str(problem)) from None
            continue
        ask_for_picture(site)
        return
    raise DropRefused("The site was changed again and again meanwhile. Drop them again.")


def thumbnail(site_id: str) -> None:
    """Draw a site's picture from its first shot, unless it was deleted meanwhile."""
    site = Site.objects.filter(pk=UUID(site_id), deleted=None).first()
    if site is None:
        return
    workshop = _workshop(site)
    shot = workshop.document.shots[0] if workshop.document.shots else Shot(id="default")
    stream = io.BytesIO()
    Image.fromarray(picture(workshop, shot, *THUMBNAIL_SIZE)).save(stream, "PNG")
    digest = hashlib.sha256(stream.getvalue()).hexdigest()[:24]
    name = f"thumbnails/{site.pk}-{digest}.png"
    if not default_storage.exists(name):
        default_storage.save(name, ContentFile(stream.getvalue()))
    # Only the picture is written: the site may have been edited while it was drawn.
    Site.objects.filter(pk=site.pk).update(thumbnail=name)
    announce(site.pk, {"type": "thumbnail"})


WORK: dict[Job.Kind, Callable[[Job, Progress], dict[str, Any]]] = {
    Job.Kind.MEASURE: measure,
    Job.Kind.INSPECT: inspect,
    Job.Kind.EXPORT: export,
    Job.Kind.TEXTURES: textures,
    Job.Kind.DROP: drop,
}
__all__ = ["WORK", "Cancelled", "thumbnail"]
