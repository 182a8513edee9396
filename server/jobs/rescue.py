"""Work that was cut off: found by the worker that no longer tells that it lives, and taken up again or ended in words."""

from __future__ import annotations

import logging
from datetime import timedelta
from typing import Any

from asgiref.sync import sync_to_async
from django.utils import timezone
from procrastinate import JobContext
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException
from procrastinate.jobs import Status

from .models import Job
from .queue import tell

log = logging.getLogger("cenote.jobs")
# Workers tell every ten seconds that they live. One that has not for so many is dead, or cut off from the database.
SILENT = 30
# What was begun so often and never ended is not begun again: it may be what ends its workers.
MOST_TRIES = 3


def at_work(job: Job) -> bool:
    """Whether a worker that lives runs a job."""
    lives = timezone.now() - timedelta(seconds=SILENT)
    entries = ProcrastinateJob.objects.filter(task_name="run_job", args__job=str(job.pk), status="doing")
    return entries.filter(worker__last_heartbeat__gte=lives).exists()


def rescued(job: Job) -> Job:
    """Take a job that runs nowhere back to waiting, or end it: where somebody has asked for that, or it was tried too often."""
    if job.state == Job.State.RUNNING:
        if job.cancel_asked:
            job.end(Job.State.CANCELLED, "Stopped. Nothing was changed.")
        elif job.tries >= MOST_TRIES:
            job.end(
                Job.State.FAILED,
                f"It was cut off {job.tries} times, the last time at “{job.doing or 'its start'}”. What it had finished is "
                "kept, nothing else was changed. Try again; if it is cut off again, there may be too little memory for it.",
            )
        else:
            job.wait_again()
        log.warning("job %s was cut off and is now %s", job.pk, job.state)
        tell(job)
    return job


def _rescue(entries: list[dict[str, Any]]) -> None:
    wanted = [args["job"] for args in entries if "job" in args]
    for job in Job.objects.select_related("site").filter(pk__in=wanted, state=Job.State.RUNNING):
        rescued(job)


@app.periodic(cron="* * * * * */20")
@app.task(name="rescue", queue="care", queueing_lock="rescue", pass_context=True)
async def rescue(context: JobContext, timestamp: int) -> None:
    """Every twenty seconds: what dead workers had begun goes back into the queue."""
    manager = context.app.job_manager
    stalled = list(await manager.get_stalled_jobs(seconds_since_heartbeat=SILENT))
    if not stalled:
        return
    await sync_to_async(_rescue)([dict(one.task_kwargs) for one in stalled])
    for one in stalled:
        try:
            await manager.retry_job(one)
        except (AlreadyEnqueued, ConnectorException):
            # The same is in the queue already, as pictures are: one of both is enough.
            await manager.finish_job(one, Status.FAILED, delete_job=False)


def end_if_dropped(job: Job) -> None:
    """End a job that somebody stops and that no worker runs."""
    if job.state == Job.State.RUNNING and job.cancel_asked and not at_work(job):
        rescued(job)
