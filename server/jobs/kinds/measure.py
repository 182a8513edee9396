"""Measuring what a site's masks need by rays."""

from __future__ import annotations

from typing import Any

from cenote.derive.graph import Graph, Progress
from cenote.derive.wanted import fields_of_site
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import changed, parsed
from store.blobs import shared_cache


@WORK.register
class Measure(Work):
    """Measures a site as it is saved, or with operations on top of the revision that they were asked for."""

    kind = "measure"
    title = "Measuring"

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        operations = job.arguments.get("operations")
        document = parsed(job.site.document)
        if operations:
            if job.site.revision != job.arguments.get("revision"):
                # What was tried is saved or given up by now, and will be asked for again if it is wanted.
                return {}
            document = changed(document.model_dump(mode="json"), operations, job.site.owner)
        graph = Graph(document, shared_cache())
        graph.complete(fields_of_site(graph), progress)
        return {}
