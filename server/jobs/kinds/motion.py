"""Taking a shot that moves, picture by picture, and writing it to one file."""

from __future__ import annotations

import io
import time
from collections.abc import Iterator
from typing import Any

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import Image

from cenote.derive.graph import Graph, Progress
from cenote.finish.tones import eight_bits
from cenote.formats.motion_out import write_motion
from cenote.refused import Refused
from cenote.still.reel import Reel
from cenote.still.tracing import Picture, TracingFailed
from jobs.models import Job
from jobs.work import WORK, Work
from sites.history import parsed
from stills.models import FOLDER
from store.blobs import shared_cache

_ENDINGS = {"mp4": ".mp4", "webm": ".webm", "frames": ".zip"}


@WORK.register
class TakeMotion(Work):
    """Takes all pictures of a shot that moves. Where it is cut off it goes on with those that are there."""

    kind = "motion"
    title = "Taking a moving picture"
    files = {".mp4": "video/mp4", ".webm": "video/webm", ".zip": "application/zip"}
    lasting = True

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        asked = job.arguments
        document = parsed(asked["document"])
        shot = next(one for one in document.shots if one.id == asked["shot"])
        picture = Picture(asked["width"], asked["height"])
        kept = [f"{FOLDER}/{job.pk}-{number:05}.png" for number in range(shot.motion.pictures)]
        cut_off = False
        try:
            with Reel(lambda one: Graph(one, shared_cache()), document, shot, picture, asked["samples"]) as reel:
                _take(reel, kept, progress)
            progress(len(kept), len(kept), "Writing it")
            content = write_motion(_read(kept), shot.motion.rate, asked["format"])
        except TracingFailed as error:
            raise Refused(str(error)) from None
        except (KeyboardInterrupt, SystemExit):
            # The worker ends: whoever takes the job up again finds them.
            cut_off = True
            raise
        finally:
            if not cut_off:
                for name in kept:
                    default_storage.delete(name)
        name = default_storage.save(f"exports/{job.pk}{_ENDINGS[asked['format']]}", ContentFile(content))
        about = f"{picture.width} × {picture.height}, {len(kept)} pictures at {shot.motion.rate} a second, {asked['samples']} samples"
        return {"file": name, "bytes": len(content), "title": f"{job.site.name} {shot.name}", "about": about}


def _take(reel: Reel, kept: list[str], progress: Progress) -> None:
    """Take the pictures that are not there yet, and keep each."""
    missing = [number for number, name in enumerate(kept) if not default_storage.exists(name)]
    # The first one takes longer: what is derived of the site may not be there yet.
    ended: list[float] = []
    for taken, number in enumerate(missing):
        told = f"picture {number + 1} of {len(kept)}"
        if taken > 1:
            left = (ended[-1] - ended[0]) / (taken - 1) * (len(missing) - taken)
            told += f", about {f'{left / 60:.0f} min' if left > 90 else f'{left:.0f} s'} left"

        def report(done: int, total: int, what: str, number: int = number, told: str = told) -> None:
            progress(number, len(kept), f"{what or 'Preparing'}, {told}")

        tones = reel.take(number, report)
        content = io.BytesIO()
        Image.fromarray(eight_bits(tones)).save(content, "PNG", compress_level=1)
        default_storage.save(kept[number], ContentFile(content.getvalue()))
        ended.append(time.monotonic())


def _read(kept: list[str]) -> Iterator[np.ndarray]:
    for name in kept:
        with default_storage.open(name) as file:
            yield np.asarray(Image.open(file).convert("RGB"))
