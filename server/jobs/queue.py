"""Starting, running and reporting on long work."""

from __future__ import annotations

import logging
import time
from collections import Counter
from contextlib import suppress
from typing import Any
from uuid import UUID

from django.conf import settings
from django.db import DatabaseError, transaction
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
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
# Seconds until patient work looks again whether its user waits for something else.
PATIENCE = 5
# A user's work comes after that of others who have less in the queue; pictures come last.
_MOST_BEHIND = 8


def job_view(job: Job) -> dict[str, Any]:
    """A job as pages see it."""
    return {
        "id": str(job.pk), "kind": job.kind, "title": WORK[job.kind].title, "patient": WORK[job.kind].patient, "state": job.state, "done": job.done, "total": job.total,
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
        lane, behind = _lane(site.owner_id, WORK[kind].patient)
        run_job.configure(lock=lane, priority=-behind).defer(job=str(job.pk))
    announce(site.pk, {"type": "job", "job": job_view(job)})
    return job


def _lane(owner: int, patient: bool) -> tuple[str, int]:
    """Where in the queue a user's next piece of work goes, so that nobody waits for another's heap of it.

    A user has as many lanes as pieces of work may be done for them at once; work in one lane is done one after another.
    What is patient has a lane of its own.

    :returns: the lane with least in it, and how much of other users' work goes before it.
    """
    if patient:
        return f"user {owner} patient", _MOST_BEHIND + 1
    lanes = [f"user {owner} lane {row}" for row in range(settings.JOBS_AT_ONCE)]
    going = ProcrastinateJob.objects.filter(lock__in=lanes, status__in=("todo", "doing"))
    held = Counter(going.values_list("lock", flat=True))
    return min(lanes, key=lambda lane: held[lane]), min(held.total(), _MOST_BEHIND)


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


class TookTooLong(Refused):
    """Work that was stopped since it lasted too long."""


class Reporter:
    """Reports progress of a job, not too often, and stops it when somebody has asked for that or its time is over."""

    def __init__(self, job: Job) -> None:
        self.job, self._last, self._began = job, 0.0, time.monotonic()

    def __call__(self, done: int, total: int, doing: str) -> None:
        """Report; see :data:`cenote.derive.graph.Progress`.

        :raises Cancelled: if the job is to stop. :raises TookTooLong: if its time is over.
        """
        now = time.monotonic()
        if now - self._began > 60 * settings.JOB_MINUTES and not WORK[self.job.kind].lasting:
            raise TookTooLong(
                f"It took more than {settings.JOB_MINUTES:g} minutes, the last of them at “{doing}”, and was stopped. What it "
                "had finished is kept, nothing else was changed. Ask for less at once, or start it again: it goes on from there."
            )
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


def put_off(job_id: UUID | str) -> bool:
    """Put patient work back into the queue for some seconds, if its user waits for other work.

    :returns: whether it was put off.
    """
    job = Job.objects.select_related("site").filter(pk=job_id).first()
    if job is None or job.ended or not WORK[job.kind].patient:
        return False
    pressing = [work.kind for work in WORK if not work.patient]
    going = Job.objects.filter(
        site__owner=job.site.owner_id, kind__in=pressing, state__in=(Job.State.WAITING, Job.State.RUNNING)
    )
    if not going.exists():
        return False
    lane, behind = _lane(job.site.owner_id, True)
    run_job.configure(lock=lane, priority=-behind, schedule_in={"seconds": PATIENCE}).defer(job=str(job.pk))
    return True


@app.task(name="run_job", queue="work")
def run_job(job: str) -> None:
    """Queue entry of a job."""
    if not put_off(job):
        perform(job)
