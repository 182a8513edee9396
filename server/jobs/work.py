"""What each kind of job does."""

from __future__ import annotations

import hashlib
import io
import re
from collections.abc import Callable
from typing import Any
from uuid import UUID

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import Image

from cenote.derive.cache import pack_arrays
from cenote.derive.workshop import Cancelled, Progress, Workshop, imported_name, mesh_arrays
from cenote.formats.glb import export_glb
from cenote.formats.meshes_in import ImportRefused, read_mesh
from cenote.formats.texture_sets import write_set
from cenote.materials.base import MATERIALS
from cenote.materials.recipe import Recipe
from cenote.materials.tile import Tile
from cenote.render.preview import picture
from cenote.site.document import Shot, SiteDocument
from derived.store import shared_cache
from sites.models import MeshImport, Site

from .events import announce
from .models import Job

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
}
__all__ = ["WORK", "Cancelled", "thumbnail"]
