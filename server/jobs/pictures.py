"""Pictures of sites, drawn in the background."""

from __future__ import annotations

import hashlib
import io
from uuid import UUID

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import Image
from procrastinate.contrib.django import app

from cenote.derive.graph import Graph
from cenote.render.preview import picture
from cenote.site.document import Shot
from sites.announce import announce
from sites.history import parsed
from sites.models import Site
from store.blobs import shared_cache

THUMBNAIL_SIZE = (480, 300)


def thumbnail(site_id: str) -> None:
    """Draw a site's picture from its first shot, unless it was deleted meanwhile."""
    site = Site.objects.filter(pk=UUID(site_id), deleted=None).first()
    if site is None:
        return
    graph = Graph(parsed(site.document), shared_cache())
    shot = graph.document.shots[0] if graph.document.shots else Shot(id="default")
    stream = io.BytesIO()
    Image.fromarray(picture(graph, shot, *THUMBNAIL_SIZE)).save(stream, "PNG")
    digest = hashlib.sha256(stream.getvalue()).hexdigest()[:24]
    name = f"thumbnails/{site.pk}-{digest}.png"
    if not default_storage.exists(name):
        default_storage.save(name, ContentFile(stream.getvalue()))
    # Only the picture is written: the site may have been edited while it was drawn.
    Site.objects.filter(pk=site.pk).update(thumbnail=name)
    announce(site.pk, {"type": "thumbnail"})


@app.task(name="draw_picture", queue="pictures", priority=-10)
def draw_picture(site: str) -> None:
    """Queue entry of a site's picture."""
    thumbnail(site)
