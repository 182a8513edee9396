"""Drawing the materials of a site as finely as they are seen from near, before somebody waits for them."""

from __future__ import annotations

from typing import Any

from cenote.derive.graph import Graph, Progress
from cenote.derive.wanted import near_tiles
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import parsed
from store.blobs import shared_cache


@WORK.register
class Near(Work):
    """Bakes tiles with more pixels than usual. Each takes seconds, once; whoever looks meanwhile waits for those in sight."""

    kind = "near"
    title = "Drawing materials for near views"
    patient = True

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        graph = Graph(parsed(job.site.document), shared_cache())
        tiles = [one for one in near_tiles(graph) if not graph.has(one)]
        for row, tile in enumerate(tiles):
            progress(row, len(tiles), "Materials at a millimetre a pixel")
            graph.get(tile)
        return {}
