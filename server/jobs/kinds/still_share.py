"""Tracing a still along with whoever takes it."""

from __future__ import annotations

import time
from typing import Any

from cenote.derive.graph import Progress
from cenote.refused import Refused
from cenote.still.tracing import Tracer, TracingFailed
from jobs.models import Job
from jobs.work import WORK, Work
from stills.models import Share, Still

from .still import kept, studio_of

# Seconds between films that are kept, and between looks whether any more is wanted. However long keeping takes, for so many times as long it traces.
_KEEP, _TICK, _ALONE = 15.0, 0.25, 6.0


@WORK.register
class ShareStill(Work):
    """Traces a still by other paths than its own worker does, for as long as that one wants any."""

    kind = "still_share"
    title = "Helping with a still"
    lasting = True

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        share = Share.objects.select_related("still__site").filter(pk=job.arguments["share"]).first()
        if share is None or not _wanted(share):
            return {}
        still = share.still
        studio = studio_of(still, progress)
        try:
            with Tracer(studio.scene(progress), studio.picture) as tracer:
                next_at = time.monotonic() + _KEEP / 3
                while _wanted(share):
                    time.sleep(_TICK)
                    new = tracer.samples()
                    progress(min(int(new), still.wanted), still.wanted, "Tracing along")
                    if new < 1 or time.monotonic() < next_at:
                        continue
                    looked = time.monotonic()
                    film = tracer.look()
                    share.keep(kept(film, film.radiance)[0], film.samples)
                    next_at = time.monotonic() + max(_KEEP, _ALONE * (time.monotonic() - looked))
        except TracingFailed as error:
            raise Refused(str(error)) from None
        return {"samples": share.samples}


def _wanted(share: Share) -> bool:
    """Whether its still is worked on, and wants it."""
    job = Still.objects.filter(pk=share.still_id, shares=share.pk).values_list("job", flat=True).first()
    going = (Job.State.WAITING, Job.State.RUNNING)
    return job is not None and Job.objects.filter(pk=job, state__in=going).exists()
