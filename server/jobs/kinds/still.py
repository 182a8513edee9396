"""Tracing a still."""

from __future__ import annotations

import io
import time
import uuid
from collections.abc import Mapping
from typing import Any

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db.models import Sum
from PIL import Image

from cenote.derive.graph import Cancelled, Graph, Progress
from cenote.derive.wanted import fields_of_site
from cenote.finish.base import finished
from cenote.finish.tones import eight_bits
from cenote.refused import Refused
from cenote.still.layers import read_layers, write_layers
from cenote.still.studio import Studio
from cenote.still.tracing import Film, Picture, Tracer, TracingFailed
from jobs.models import Job
from jobs.queue import start
from jobs.work import WORK, Work
from sites.history import parsed
from stills.models import FOLDER, Share, Still
from store.blobs import shared_cache

# Seconds: between looks at first, how much longer each next one waits, at most; and between films that are kept.
_FIRST, _LONGER, _MOST, _FILM = 1.0, 1.5, 20.0, 60.0
# However long looking and keeping take, for so many times as long the engine has the machine for itself.
_ALONE = 6.0
# Of the time between looks, seconds that pass before it is asked again whether it is to stop.
_TICK = 0.25


@WORK.register
class TraceStill(Work):
    """Traces a still until it has the samples that are wanted, and shows it from time to time."""

    kind = "still"
    title = "Taking a still"
    lasting = True

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        still = Still.objects.filter(pk=job.arguments["still"]).first()
        if still is None:
            return {}
        studio = studio_of(still, progress)
        scene = studio.scene(progress)
        earlier = fetched(still.film) if still.film else None
        try:
            with Tracer(scene, studio.picture) as tracer:
                _share(still)
                stopped = _traced(still, studio, tracer, progress, job, earlier)
        except TracingFailed as error:
            raise Refused(str(error)) from None
        finally:
            _unshare(still)
        job.message = (
            f"Stopped at {still.samples:.0f} of {still.wanted} samples. It can go on from there." if stopped else ""
        )
        return {"still": str(still.pk), "picture": still.picture}


def studio_of(still: Still, progress: Progress) -> Studio:
    """A still that is to be traced, by paths of chance that nobody else has."""
    graph = Graph(parsed(still.document), shared_cache())
    graph.complete(fields_of_site(graph), progress)
    shot = next(one for one in graph.document.shots if one.id == still.shot)
    region = None if still.region is None else tuple(still.region)
    picture = Picture(still.width, still.height, region, seed=int.from_bytes(uuid.uuid4().bytes[:3], "big") + 1)
    return Studio(graph, shot, picture)


def _share(still: Still) -> None:
    """Ask other workers to trace it, too."""
    _unshare(still)
    for _ in range(still.sharers):
        start("still_share", still.site, {"share": Share.objects.create(still=still).pk})


def _unshare(still: Still) -> None:
    """Nothing more of other workers is wanted: they see that their share is gone."""
    for share in list(still.shares.all()):
        share.delete()
        # What came of it at the last moment goes, too.
        for name in filter(None, {share.film}):
            default_storage.delete(name)


def _with_shares(still: Still, film: Film) -> Film:
    for share in still.shares.exclude(film=""):
        film = film.added(fetched(share.film))
    return film


def _traced(still: Still, studio: Studio, tracer: Tracer, progress: Progress, job: Job, earlier: Film | None) -> bool:
    """Trace until there are enough samples. :returns: whether it was stopped before."""
    began = last = time.monotonic()
    keep_at = began + _FILM
    before = earlier.samples if earlier else 0.0
    spent, wait, stopped = still.seconds, _FIRST, False
    while True:
        time.sleep(_TICK)
        now, new = time.monotonic(), tracer.samples()
        samples = before + new + (still.shares.aggregate(sum=Sum("samples"))["sum"] or 0 if still.sharers else 0)
        enough = samples >= still.wanted
        try:
            progress(
                min(int(samples), still.wanted),
                still.wanted,
                _told(samples, still.wanted, (samples - before) / (now - began)),
            )
        except Cancelled:
            stopped = True
        if stopped and new < 1:
            # Not all of it was looked at: there is nothing more to show.
            return True
        if not (enough or stopped) and (new < 1 or now - last < wait):
            continue
        looked = time.monotonic()
        film = tracer.look()
        film = _with_shares(still, film.added(earlier) if earlier else film)
        negative = studio.negative(film, apart=False)
        there = still.take(picture=_stored(finished(negative, ())), samples=film.samples, seconds=spent + now - began)
        job.tell_result({"still": str(still.pk), "picture": still.picture})
        last = time.monotonic()
        wait = max(min(wait * _LONGER, _MOST), _ALONE * (last - looked))
        if enough or stopped or last > keep_at:
            name, size = kept(film, negative.radiance, studio.covers(film), studio.beside(film))
            still.take(film=name, bytes=size)
            keep_at = time.monotonic() + max(_FILM, _ALONE * (time.monotonic() - last))
        if enough or stopped or not there:
            return stopped


def _told(samples: float, wanted: int, rate: float) -> str:
    if rate <= 0:
        return "Tracing"
    left = max(wanted - samples, 0) / rate
    return f"about {f'{left / 60:.0f} min' if left > 90 else f'{left:.0f} s'} left"


def _stored(tones: np.ndarray) -> str:
    content = io.BytesIO()
    Image.fromarray(eight_bits(tones)).save(content, "PNG", compress_level=3)
    return default_storage.save(f"{FOLDER}/{uuid.uuid4()}.png", ContentFile(content.getvalue()))


def fetched(name: str) -> Film:
    """A film that was kept."""
    with default_storage.open(name) as file:
        return read_layers(file.read())


def kept(
    film: Film,
    seen: np.ndarray,
    covers: Mapping[str, np.ndarray] | None = None,
    beside: Mapping[str, np.ndarray] | None = None,
) -> tuple[str, int]:
    """Keep a film. :param seen, covers, beside: as :func:`cenote.still.layers.write_layers` takes them. :returns: its name, and how many bytes it has."""
    content = write_layers(film, seen, covers, beside)
    return default_storage.save(f"{FOLDER}/{uuid.uuid4()}.exr", ContentFile(content)), len(content)
