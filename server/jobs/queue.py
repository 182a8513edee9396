"""Starting, running and reporting on long work."""

from __future__ import annotations

import logging
import time
from contextlib import suppress
from typing import Any
from uuid import UUID

from django.db import DatabaseError, transaction
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException

from cenote.derive.graph import Cancelled
from cenote.refused import Refused
from sites.announce import announce
from sites.models import Site

from .models import Job
from .work import WORK

log = logging.getLogger("cenote.jobs")
_REPORT_EVERY = 0.15
# Seconds. Whoever edits should not share the processor with pictures of half-made changes.
PICTURE_WAITS = 15


def job_view(job: Job) -> dict[str, Any]:
    """A job as pages see it."""
    return {
        "id": str(job.pk), "kind": job.kind, "title": WORK[job.kind].title, "state": job.state, "done": job.done, "total": job.total,
        "doing": job.doing, "message": job.message, "result": job.result,
    }  # fmt: skip


def tell(job: Job) -> None:
    """Tell the pages of a job."""
    announce(job.site_id, {"type": "job", "job": job_view(job)})


def start(kind: str, site: Site, arguments: dict[str, Any] | None = None, target: str = "") -> Job:
    """Queue work for a site once the transaction is through.

    :param kind: see :data:`jobs.work.WORK`.

    With a ``target``, work that waits or runs for the same target is given back in place of new work.
    """
    with transaction.atomic():
        if target:
            # Two requests at the same moment must not both start it.
            Site.objects.select_for_update().get(pk=site.pk)
            going = site.jobs.filter(kind=kind, target=target, state__in=(Job.State.WAITING, Job.State.RUNNING)).first()
            if going is not None:
                return going
            # What is measured for an older state is of no more use; what it has measured so far is kept.
            old = site.jobs.filter(kind=kind, state__in=(Job.State.WAITING, Job.State.RUNNING)).exclude(target="")
            old.update(cancel_asked=True)
        job = Job.objects.create(site=site, kind=kind, arguments=arguments or {}, target=target)
        run_job.configure(lock=str(job.pk)).defer(job=str(job.pk))
    announce(site.pk, {"type": "job", "job": job_view(job)})
    return job


def ask_for_picture(site: Site, seconds: int = PICTURE_WAITS) -> None:
    """Have a site's picture drawn after some seconds; one that waits already serves for all changes until then.

    It is asked for after a change is saved, and whatever comes in its way never makes that look as if it had failed.
    """
    waiting = app.configure_task(
        "draw_picture",
        queue="pictures",
        priority=-10,
        queueing_lock=f"picture {site.pk}",
        schedule_in={"seconds": seconds},
    )
    try:
        with suppress(AlreadyEnqueued), transaction.atomic():
            waiting.defer(site=str(site.pk))
    except (DatabaseError, ConnectorException):
        log.exception("the picture of site %s could not be asked for", site.pk)


class Reporter:
    """Reports progress of a job, not too often, and stops it when somebody has asked for that."""

    def __init__(self, job: Job) -> None:
        self.job, self._last = job, 0.0

    def __call__(self, done: int, total: int, doing: str) -> None:
        """Report; see :data:`cenote.derive.graph.Progress`.

        :raises Cancelled: if the job is to stop.
        """
        now = time.monotonic()
        if now - self._last < _REPORT_EVERY and done not in (0, total):
            return
        self._last = now
        if not self.job.report(done, total, doing):
            raise Cancelled
        tell(self.job)


def perform(job_id: UUID | str) -> None:
    """Do a job's work now, in this process."""
    job = Job.objects.select_related("site").filter(pk=job_id).first()
    if job is None or job.ended:
        return
    if job.cancel_asked:
        job.cancel()
        tell(job)
        return
    if not job.begin():
        return
    tell(job)
    try:
        result = WORK[job.kind]().do(job, Reporter(job)) or {}
        job.end(Job.State.DONE, job.message, result)
    except Cancelled:
        job.end(Job.State.CANCELLED, "Stopped. Nothing was changed.")
    except Refused as refusal:
        job.end(Job.State.FAILED, str(refusal))
    except Exception as error:
        log.exception("job %s failed", job.pk)
        job.end(
            Job.State.FAILED, f"It stopped on an error of ours ({type(error).__name__}: {error}). Nothing was changed."
        )
    tell(job)


@app.task(name="run_job", queue="work")
def run_job(job: str) -> None:
    """Queue entry of a job."""
    perform(job)
