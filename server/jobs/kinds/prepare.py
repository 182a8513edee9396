"""Getting a whole site ready, so that its first opening is as quick as any."""

from __future__ import annotations

from typing import Any

from cenote.derive.coats import CoatMasks
from cenote.derive.graph import Graph, Progress
from cenote.derive.items import ItemPack, StandIn
from cenote.derive.maps import SurfaceMaps
from cenote.derive.surfaces import ObjectShape
from cenote.derive.target import Target
from cenote.derive.wanted import fields_of_site
from cenote.kit.base import DETAILS
from jobs.models import Job
from jobs.pictures import thumbnail
from jobs.work import WORK, Work
from sites.history import parsed
from store.blobs import shared_cache


@WORK.register
class Prepare(Work):
    """Measures a site, makes what its page opens with, and draws its picture. What a page asks for meanwhile is made once."""

    kind = "prepare"
    title = "Getting ready"
    patient = True

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        graph = Graph(parsed(job.site.document), shared_cache())
        graph.complete(fields_of_site(graph), progress)
        ahead = list(opened_with(graph))
        for row, target in enumerate(ahead):
            progress(row, len(ahead) + 1, "Composing maps and building items")
            graph.get(target)
        progress(len(ahead), len(ahead) + 1, "Drawing its picture")
        thumbnail(str(job.site.pk))
        return {}


def opened_with(graph: Graph) -> list[Target]:
    """What the page of a measured site asks for when it is opened: coarse and usual maps, items, coats."""
    document = graph.document
    wanted: list[Target] = []
    for id in document.surface_ids():
        shape = graph.get(ObjectShape(id))
        wanted += [SurfaceMaps(id, level) for level in (shape.coarsest_level, shape.level_for(document.usual_texel))]
    for layer in document.planting:
        for item in layer.kinds():
            wanted += [ItemPack(item, detail) for detail in DETAILS]
            wanted.append(StandIn(item))
        wanted.append(CoatMasks(layer.id))
    return wanted
