"""What tests of the server share."""

from __future__ import annotations

import io
import itertools
import json
import os
from typing import Any

import numpy as np
import trimesh
from django.contrib.auth import get_user_model
from django.http import HttpResponse
from django.test import Client

from cenote.derive.graph import Graph
from cenote.derive.wanted import fields_of_site
from cenote.formats.pack import unpack
from cenote.geometry.build import box
from cenote.site.document import SiteDocument
from cenote.structures.fittings import Crates
from sites.models import Site
from store.blobs import shared_cache

PASSWORD = "a long enough secret"


def small_document() -> dict[str, Any]:
    """Ground, two crates, moss on both, a scatter of three kinds; quick to measure."""
    from cenote.scatter.layer import MixItem, Scatter
    from cenote.site.document import CoverLayer, Made, Placement, Shot, Structure
    from cenote.site.ground import Ground
    from cenote.weather.moss import Moss

    document = SiteDocument(
        ground=Ground(size=(4, 4), spacing=0.25),
        structures=(Structure(id="crates", name="Crates", source=Made(maker=Crates(number=1)), placement=Placement(position=(1, 0, 0))),),
        planting=(Scatter(id="growth", name="Growth", density=2, mix=(MixItem(item="grass_tuft"), MixItem(item="fern"), MixItem(item="stone"))),),
        weather=(CoverLayer(id="moss", name="Moss", cover=Moss(), where=Moss.usual_where(), surfaces=("crates", "ground")),),
        shots=(Shot(id="first", name="First", position=(5, 3, 6), target=(0, 0.3, 0)),),
    )  # fmt: skip
    return document.model_dump(mode="json")


def user(name: str) -> Any:
    """An account."""
    return get_user_model().objects.create_user(username=name, password=PASSWORD)


def signed_in(account: Any) -> Client:
    """A client of an account; it answers as a browser page would, with the token that changes need."""
    client = Client(enforce_csrf_checks=True)
    client.force_login(account)
    client.defaults["HTTP_X_CSRFTOKEN"] = client.get("/api/session").json()["csrf"]
    return client


def site_of(account: Any, name: str = "Yard") -> Site:
    """A small site."""
    return Site.objects.create(owner=account, name=name, document=small_document())


def measured_site_of(account: Any) -> Site:
    """A small site whose signals are there; measured once for all tests, as they are kept by content."""
    site = site_of(account)
    graph = Graph(SiteDocument.model_validate(site.document), shared_cache())
    graph.complete(fields_of_site(graph), lambda *_: None)
    return site


_radii = itertools.count()


def radius_never_measured() -> float:
    """A radius of crevices that no other test has measured, in whatever process: what one test measures is kept for all."""
    return 0.71 + (os.getpid() % 4096 * 64 + next(_radii)) / 1e6


def send(client: Client, method: str, address: str, body: Any = None) -> HttpResponse:
    """A request with a JSON body."""
    return getattr(client, method)(
        address, json.dumps(body if body is not None else {}), content_type="application/json"
    )


def replace(path: str, value: Any) -> dict[str, Any]:
    """An operation that replaces a value."""
    return {"op": "replace", "path": path, "value": value}


def edit(
    client: Client, site: Site, revision: int, *operations: dict[str, Any], label: str = "Change", gesture: str = ""
) -> HttpResponse:
    """Make an edit."""
    body = {"revision": revision, "label": label, "gesture": gesture, "operations": list(operations)}
    return send(client, "post", f"/api/sites/{site.pk}/edits", body)


def arrays_of(response: HttpResponse) -> tuple[dict[str, np.ndarray], Any]:
    """The pack in an answer."""
    return unpack(response.content)


def upload(name: str, content: bytes) -> io.BytesIO:
    """A file to upload."""
    stream = io.BytesIO(content)
    stream.name = name
    return stream


def glb_box(width: float, height: float, depth: float) -> bytes:
    """A GLB of a box with no texture layout."""
    mesh = box((0, 0, 0), (width, height, depth))
    return trimesh.Scene(trimesh.Trimesh(mesh.positions, mesh.faces, process=False)).export(file_type="glb")
