"""Pictures of sites and of their shots, drawn in the background."""

from __future__ import annotations

import hashlib
import io
from uuid import UUID

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import Image
from procrastinate.contrib.django import app

from cenote.derive.graph import Graph
from cenote.render.preview import Glance
from cenote.site.document import Shot
from sites.announce import announce
from sites.history import parsed
from sites.models import Site
from store.blobs import shared_cache

THUMBNAIL_SIZE = (480, 300)
# Width and height that a shot's picture keeps within, pixels; and of how many shots there is one.
_SHOT_SIZE, _MOST_SHOTS = (192, 128), 60


def thumbnail(site_id: str) -> None:
    """Draw a site's picture from its first shot, and one of each shot, unless it was deleted meanwhile."""
    site = Site.objects.filter(pk=UUID(site_id), deleted=None).first()
    if site is None:
        return
    graph = Graph(parsed(site.document), shared_cache())
    glance, shots = Glance(graph), graph.document.shots
    name = _kept(site, glance.through(shots[0] if shots else Shot(id="default"), *THUMBNAIL_SIZE))
    names = {shot.id: _kept(site, glance.through(shot, *_size(shot))) for shot in shots[:_MOST_SHOTS]}
    # Only the pictures are written: the site may have been edited while they were drawn.
    Site.objects.filter(pk=site.pk).update(thumbnail=name, shot_pictures=names)
    _let_go(site, {site.thumbnail, *site.shot_pictures.values()} - {"", name, *names.values()})
    announce(site.pk, {"type": "thumbnail"})


def _size(shot: Shot) -> tuple[int, int]:
    """Width and height of a shot's picture, pixels."""
    wide, high = _SHOT_SIZE
    scale = min(wide / shot.ratio, high)
    return round(scale * shot.ratio), round(scale)


def _kept(site: Site, pixels: np.ndarray) -> str:
    """The name of a picture in the store: uint8 (height, width, 3)."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    digest = hashlib.sha256(stream.getvalue()).hexdigest()[:24]
    name = f"thumbnails/{site.pk}-{digest}.png"
    if not default_storage.exists(name):
        default_storage.save(name, ContentFile(stream.getvalue()))
    return name


def _let_go(site: Site, names: set[str]) -> None:
    """Delete pictures that are of no use any more. A copy of a site begins with the picture of what it was made of."""
    used = set(Site.objects.filter(thumbnail__in=names).exclude(pk=site.pk).values_list("thumbnail", flat=True))
    for name in names - used:
        default_storage.delete(name)


@app.task(name="draw_picture", queue="pictures", priority=-10)
def draw_picture(site: str) -> None:
    """Queue entry of a site's pictures."""
    thumbnail(site)
