"""Letting things fall."""

from __future__ import annotations

import time
from collections.abc import Sequence
from typing import Any
from uuid import UUID

import numpy as np

from api.errors import Problem
from cenote.derive.dropping import drop_here, falling
from cenote.derive.graph import Graph, Progress
from cenote.drop.heap import Drop as DropDeclaration
from cenote.drop.heap import Heap
from cenote.drop.settle import DropRefused
from cenote.formats.pack import pack
from cenote.site.document import Placement, Structure
from jobs.models import Job
from jobs.queue import ask_for_picture
from jobs.work import WORK, Work
from sites import history
from sites.history import parsed
from sites.models import Site
from store.blobs import shared_cache

_FRAME_EVERY = 0.25


@WORK.register
class Drop(Work):
    """Lets things fall until they rest, and puts them on the site as a heap."""

    kind = "drop"
    title = "Dropping"

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        graph = Graph(parsed(job.site.document), shared_cache())
        wanted, id = DropDeclaration.model_validate(job.arguments["drop"]), job.arguments["heap"]
        place = Placement.model_validate(job.arguments["placement"])
        rows = falling(graph, wanted)
        last = [0.0]

        def watch(released: Sequence[int], positions: np.ndarray, turns: np.ndarray) -> None:
            now = time.monotonic()
            if now - last[0] < _FRAME_EVERY:
                return
            last[0] = now
            poses = {"row": np.array(released, np.int32), "position": positions.astype(np.float32),
                     "rotation": turns[:, [1, 2, 3, 0]].astype(np.float32)}  # fmt: skip
            job.show(pack(poses, {}))
            fell = len(released)
            what = (
                f"{fell} of {len(rows)} have fallen" if fell < len(rows) else "All have fallen; waiting until they rest"
            )
            progress(min(fell, len(rows) - 1), len(rows), what)

        # Pages leave out what is to be replaced while its successor falls.
        job.tell_result({"heap": id})
        progress(0, len(rows), "Looking at what they fall on")
        there = next((one for one in graph.document.structures if one.id == id), None)
        made = drop_here(graph, wanted, place, id if there else None, watch)
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
