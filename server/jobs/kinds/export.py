"""Writing a dressed site to a file."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from cenote.derive.graph import Graph, Progress
from cenote.derive.items import shown_scatters
from cenote.derive.wanted import fields_of_site
from cenote.export.site_glb import export_glb
from cenote.render.needed import texels_needed
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import parsed
from store.blobs import shared_cache


def texels_wanted(graph: Graph, arguments: Mapping[str, Any]) -> float | dict[str, float]:
    """The side of texels that an export was asked for, metres: for all surfaces, or for each as a shot needs it."""
    shot = next((one for one in graph.document.shots if one.id == arguments.get("shot")), None)
    # A shot that was deleted while the job waited leaves the size that would do for anything.
    return texels_needed(graph, shot, arguments["rows"]) if shot else float(arguments["texel"])


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
        wanted = texels_wanted(graph, job.arguments)
        content = export_glb(
            graph, job.arguments["manner"], wanted,
            lambda done, _, what: progress(measured[0] + done, measured[0] + steps, what),
        )  # fmt: skip
        name = default_storage.save(f"exports/{job.pk}.glb", ContentFile(content))
        shot = next((one.name for one in graph.document.shots if one.id == job.arguments.get("shot")), "")
        texels = f"texels as “{shot}” needs" if shot else f"{100 * job.arguments['texel']:g} cm texels"
        about = f"{job.arguments['manner']}, {texels}"
        return {"file": name, "bytes": len(content), "title": job.site.name, "about": about}
