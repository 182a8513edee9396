"""Writing a dressed site to a file."""

from __future__ import annotations

from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from cenote.derive.graph import Graph, Progress
from cenote.derive.items import shown_scatters
from cenote.derive.wanted import fields_of_site
from cenote.export.site_glb import export_glb
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import parsed
from store.blobs import shared_cache


@WORK.register
class Export(Work):
    """Writes a dressed site as GLB."""

    kind = "export"
    title = "Exporting"
    files = {".glb": "model/gltf-binary"}

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        graph = Graph(parsed(job.site.document), shared_cache())
        steps = len(graph.document.surface_ids()) + len(shown_scatters(graph))
        measured = [0]

        def measuring(done: int, total: int, what: str) -> None:
            measured[0] = total
            progress(done, total + steps, what)

        graph.complete(fields_of_site(graph), measuring)
        content = export_glb(
            graph, job.arguments["manner"], job.arguments["texel"],
            lambda done, _, what: progress(measured[0] + done, measured[0] + steps, what),
        )  # fmt: skip
        name = default_storage.save(f"exports/{job.pk}.glb", ContentFile(content))
        about = f"{job.arguments['manner']}, {100 * job.arguments['texel']:g} cm texels"
        return {"file": name, "bytes": len(content), "title": job.site.name, "about": about}
