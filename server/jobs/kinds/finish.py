"""Writing a finished still to a file."""

from __future__ import annotations

from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from cenote.derive.graph import Graph, Progress
from cenote.finish.stack import Stack
from cenote.formats.pictures_out import write_picture
from cenote.refused import Refused
from cenote.still.layers import read_layers
from cenote.still.studio import Studio
from cenote.still.tracing import Picture
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import parsed
from stills.models import Still
from store.blobs import shared_cache

_ENDINGS = {"png": ".png", "png16": ".png", "jpeg": ".jpg", "tiff": ".tiff", "exr": ".exr"}


@WORK.register
class FinishStill(Work):
    """Finishes a still as it is kept, and writes it."""

    kind = "finish"
    title = "Finishing"
    files = {".png": "image/png", ".jpg": "image/jpeg", ".tiff": "image/tiff", ".exr": "image/x-exr"}
    lasting = True

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        still = Still.objects.filter(pk=job.arguments["still"]).first()
        if still is None or not still.film or not default_storage.exists(still.film):
            raise Refused("The still is gone, or nothing of it is kept. Nothing was written.")
        stack, format = Stack.model_validate(job.arguments["stack"]), job.arguments["format"]
        progress(0, 3, "Reading its layers")
        with default_storage.open(still.film) as file:
            film = read_layers(file.read())
        graph = Graph(parsed(still.document), shared_cache())
        shot = next(one for one in graph.document.shots if one.id == still.shot)
        region = None if still.region is None else tuple(still.region)
        progress(1, 3, "Taking the noise out, and finishing it")
        tones = Studio(graph, shot, Picture(still.width, still.height, region)).finished(film, stack)
        progress(2, 3, "Writing it")
        content = write_picture(tones, format)
        name = default_storage.save(f"exports/{job.pk}{_ENDINGS[format]}", ContentFile(content))
        about = f"{tones.shape[1]} × {tones.shape[0]}, {len(stack.steps)} steps, {format}"
        return {"file": name, "bytes": len(content), "title": f"{job.site.name} {still.name}", "about": about}
