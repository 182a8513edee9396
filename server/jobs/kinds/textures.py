"""Writing a material to picture files."""

from __future__ import annotations

import re
from typing import Any

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from cenote.derive.graph import Graph, Progress
from cenote.derive.tiles import MaterialTile
from cenote.formats.texture_sets import write_set
from cenote.materials.base import MATERIALS
from cenote.materials.recipe import Recipe
from cenote.materials.tile import Tile
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import parsed
from store.blobs import shared_cache


@WORK.register
class Textures(Work):
    """Writes all channels of a material as a zip of picture files."""

    kind = "textures"
    title = "Writing textures"
    files = {".zip": "application/zip"}

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        document = parsed(job.site.document)
        kind, pixels = job.arguments["material"], job.arguments["pixels"]
        source = document.material(kind)
        title = next((own.name for own in document.materials if own.id == kind), None) or MATERIALS[kind].title
        progress(0, 2, f"{title}, {pixels} × {pixels} pixels")
        if isinstance(source, Recipe):
            tile = source.bake(pixels)
        else:
            packed = Graph(document, shared_cache()).get(MaterialTile(kind)).pixels
            full = np.ones(packed.shape[:2], np.float32)
            tile = Tile(packed[..., :3], packed[..., 3], packed[..., 4], packed[..., 5], full)
        progress(1, 2, "Writing files")
        stem = re.sub(r"[^\w]+", "_", title.lower()).strip("_") or "material"
        content = write_set(tile, source.size, source.depth, stem, job.arguments["format"])
        name = default_storage.save(f"exports/{job.pk}.zip", ContentFile(content))
        about = f"{pixels} × {pixels} pixels, {job.arguments['format'].upper()}"
        return {"file": name, "bytes": len(content), "title": title, "about": about}
