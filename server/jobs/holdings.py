"""What each user holds on the server, how much that may be, and clearing away what nobody waits for any more."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.apps import apps
from django.conf import settings
from django.contrib.auth.models import User
from django.core.files.storage import default_storage
from django.db.models import JSONField, QuerySet, Sum, TextField
from django.db.models.functions import Cast
from django.utils import timezone
from procrastinate.contrib.django import app

from api.errors import Problem
from cenote.derive.sources import source_name
from sites.models import Brought, MeshImport
from stills.models import FOLDER, Share, Still
from store.blobs import SourceStore

from .models import Job

log = logging.getLogger("cenote.jobs")
# Files that no row knows may be on their way to one for so long.
_ON_ITS_WAY = timedelta(days=1)


@dataclass(frozen=True)
class Holdings:
    """What a user holds, bytes.

    :ivar brought: meshes, height maps and texture sets. :ivar uploads: files as they were uploaded.
    :ivar made: files that jobs have written.
    """

    brought: int
    uploads: int
    made: int

    @property
    def total(self) -> int:
        """All together."""
        return self.brought + self.uploads + self.made


def holdings_of(user: User) -> Holdings:
    """What a user holds."""
    brought = Brought.objects.filter(owner=user).aggregate(total=Sum("size"))["total"] or 0
    uploads = MeshImport.objects.filter(site__owner=user).exclude(upload="").aggregate(total=Sum("bytes"))["total"] or 0
    made: int = sum(int(job.result.get("bytes", 0)) for job in _with_files().filter(site__owner=user))
    made += Still.objects.filter(site__owner=user).aggregate(total=Sum("bytes"))["total"] or 0
    return Holdings(brought, uploads, made)


def refuse_over(user: User, more: int, field: str) -> None:
    """Refuse what would not fit into what a user may hold.

    :param more: bytes that come on top. :raises Problem: 422, by field.
    """
    held, most = holdings_of(user), settings.USER_BYTES
    if held.total + more <= most:
        return
    raise Problem(
        f"You hold {held.total / 1e9:.2f} of {most / 1e9:.2f} GB, and this would be {more / 1e6:.0f} MB more. Nothing was "
        f"changed. Files that were made wait {settings.KEPT_DAYS} days: {held.made / 1e9:.2f} GB of them; delete what you "
        "have fetched, or sites that you no longer need.",
        status=422,
        fields=[{"field": field, "message": "There is no room for it."}],
    )


def clear_away(now: datetime | None = None) -> list[str]:
    """Delete made files and uploads whose time is over, files that no row knows, and what was brought in and is used
    nowhere: in no site, no step of any history, no library. :returns: what was deleted, by name."""
    now = now or timezone.now()
    old = now - timedelta(days=settings.KEPT_DAYS)
    gone = []
    for job in _with_files().filter(changed__lt=old):
        gone.append(job.result["file"])
        Job.objects.filter(pk=job.pk).update(result=job.result | {"file": "", "bytes": 0})
    for entry in MeshImport.objects.filter(created__lt=old).exclude(upload=""):
        gone.append(entry.upload)
        MeshImport.objects.filter(pk=entry.pk).update(upload="")
    gone += _unknown(now)
    for name in gone:
        default_storage.delete(name)
    gone += _unused(old)
    if gone:
        log.warning("%d files were cleared away", len(gone))
    return gone


def _with_files() -> QuerySet[Job]:
    return Job.objects.filter(state=Job.State.DONE, result__has_key="file").exclude(result__file="")


def _unknown(now: datetime) -> Iterator[str]:
    """Files of uploads and jobs whose row is gone, or never came."""
    known = set(MeshImport.objects.exclude(upload="").values_list("upload", flat=True))
    known |= {job.result["file"] for job in _with_files()}
    known.update(Share.objects.values_list("film", flat=True))
    for row in Still.objects.values_list("picture", "film"):
        known.update(row)
    for folder in ("uploads", "exports", FOLDER):
        try:
            _, files = default_storage.listdir(folder)
        except FileNotFoundError:
            continue
        for name in (f"{folder}/{file}" for file in files):
            if name not in known and default_storage.get_modified_time(name) < now - _ON_ITS_WAY:
                yield name


def _unused(old: datetime) -> Iterator[str]:
    sources = SourceStore(default_storage)
    unused = Brought.objects.filter(used__lt=old)
    for one in unused:
        # Conditional: an edit may be putting it to use at this moment.
        if _mentioned(one.digest) or not unused.filter(pk=one.pk).delete()[0]:
            continue
        name = source_name(one.family, one.digest)
        if not Brought.objects.filter(family=one.family, digest=one.digest).exists():
            sources.delete(name)
        yield name


def _mentioned(digest: str) -> bool:
    """Whether anything that is kept as JSON, in any of our tables, holds a hash."""
    ours = [model for model in apps.get_models() if model.__module__.partition(".")[0] in settings.INSTALLED_APPS]
    for model in ours:
        for field in model._meta.get_fields():
            if isinstance(field, JSONField):
                rows = model._default_manager.annotate(text=Cast(field.name, TextField()))
                if rows.filter(text__contains=digest).exists():
                    return True
    return False


@app.periodic(cron="17 * * * *")
@app.task(name="clear_away", queue="care", queueing_lock="clear away")
def clear_every_hour(timestamp: int) -> None:
    """Queue entry of the clearing."""
    clear_away()
