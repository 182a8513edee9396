"""The sky of a light, for the page: a pure function of how it is set, so that it can be asked for while that is dragged."""

from __future__ import annotations

from dataclasses import asdict
from functools import lru_cache
from hashlib import sha256
from typing import Annotated, TypeVar
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from django.utils.cache import get_conditional_response
from ninja import File, Query, Router, Schema
from ninja.files import UploadedFile
from pydantic import ValidationError

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.skies import pixels_in
from cenote.derive.sources import PANORAMA, source_name
from cenote.derive.stamps import stamp_of
from cenote.derive.store import unpack_arrays
from cenote.formats.apart import read_panorama_apart
from cenote.formats.pack import pack
from cenote.light.air import BANKS_A_SIDE, LOBE, Air, bank_map
from cenote.light.daylight import GLOW, Daylight, Light, above, daylight
from cenote.light.drifting import drifting
from cenote.parameters import Declared
from cenote.refused import ImportRefused
from sites.history import owned_site
from sites.models import Brought
from store.blobs import shared_cache

from .answers import pack_response, packed
from .bringing import contents, keep

router = Router(tags=["daylight"])
# The greatest half float.
_MOST = 65_504.0
Group = TypeVar("Group", bound=Declared)
Lamplight = Annotated[float, Query(ge=0, le=10)]


class StoredPanorama(Schema):
    """A panorama that was read and kept; no sky is taken from it yet."""

    source: str
    file_name: str
    columns: int
    rows: int
    remarks: list[str]


@lru_cache(maxsize=2)
def _pixels(source: str) -> np.ndarray | None:
    content = shared_cache().sources.read(source_name(PANORAMA, source))
    return pixels_in(unpack_arrays(content)) if content else None


def _pixels_of(light: Light) -> np.ndarray | None:
    return _pixels(light.panorama.source) if light.by == "panorama" and light.panorama else None


@lru_cache(maxsize=64)
def _shown(light: Light, air: Air, lamplight: float) -> Daylight:
    return daylight(light, pixels=_pixels_of(light), lamplight=lamplight, air=air)


@lru_cache(maxsize=4)
def _above(light: Light, lamplight: float) -> bytes:
    found = above(light, pixels=_pixels_of(light), lamplight=lamplight)
    # Half floats, as bytes: most of their upper halves are alike, and travel as nothing.
    halves = np.minimum(found.dome, _MOST).astype(np.float16).view(np.uint8)
    discs = [{"direction": one.direction.tolist(), "radius": one.radius, "radiance": one.radiance.tolist(),
              "lit_from": None if one.lit_from is None else one.lit_from.tolist()} for one in found.discs]  # fmt: skip
    return pack({"dome": halves, "stars": found.stars}, {"discs": discs})


def _read(kind: type[Group], value: str, field: str) -> Group:
    try:
        return kind.model_validate_json(value)
    except ValidationError as error:
        first = error.errors()[0]
        raise Problem.of_field(f"{field}/" + "/".join(map(str, first["loc"])), first["msg"]) from None


def _asked(request: SignedInRequest, light: str) -> Light:
    asked = _read(Light, light, "light")
    if asked.panorama and not Brought.objects.filter(owner=request.user, family=PANORAMA, digest=asked.panorama.source):
        raise Problem.of_field("light/panorama/source", "There is no such panorama among what you brought in.")
    return asked


@router.post("/sites/{uuid:site_id}/light/panoramas", response=StoredPanorama)
def upload_panorama(request: SignedInRequest, site_id: UUID, file: File[UploadedFile]) -> StoredPanorama:
    """Read a panorama, and keep it for a site's sky."""
    owned_site(request.user, site_id)
    ((name, content),) = contents([file], "file").items()
    try:
        pixels, remarks = read_panorama_apart(name, content)
    except ImportRefused as refusal:
        raise Problem.of_field("file", str(refusal)) from None
    source = keep(request.user, PANORAMA, {"halves": pixels.view(np.uint16)}, "file")
    rows, columns = pixels.shape[:2]
    return StoredPanorama(source=source, file_name=name, columns=columns, rows=rows, remarks=remarks)


@router.get("/daylight", include_in_schema=False)
def get_daylight(
    request: SignedInRequest, light: str, lamplight: Lamplight = 0.0, air: Annotated[str, Query()] = "{}"
) -> HttpResponse:
    """What sun, moon and sky send, exposed, and the air that it goes through.

    :param light, air: as a document has them, as JSON. :param lamplight: light that an eye is used to besides, against the sun's.
    """
    asked = _read(Air, air, "air")
    found = _shown(_asked(request, light), asked, lamplight)
    meta = {name: np.round(getattr(found, name), 6).tolist()
            for name in ("direction", "direct", "above", "below", "horizon", "zenith", "fog", "fog_sun", "dust")}  # fmt: skip
    meta |= {
        "scale": found.scale,
        "brighter": found.brighter,
        "glow": found.scale * GLOW,
        "drifts": [asdict(one) for one in drifting(asked, found)],
        "air": asdict(found.medium) | {"side": BANKS_A_SIDE, "lobe": LOBE},
    }
    pixels = np.concatenate([found.around, np.ones((*found.around.shape[:2], 1), np.float32)], axis=2)
    banks = {"banks": bank_map()} if found.medium.banks else {}
    return packed({"around": pixels} | banks, meta)


@router.get("/above", include_in_schema=False)
def get_above(request: SignedInRequest, light: str, lamplight: Lamplight = 0.0) -> HttpResponse:
    """What is seen above the horizon, exposed: clouds, sun, moon and stars; parameters as of the daylight."""
    asked = _asked(request, light)
    tag = f'W/"{sha256((stamp_of(above.__module__) + asked.model_dump_json() + f"{lamplight}").encode()).hexdigest()[:32]}"'
    if (same := get_conditional_response(request, etag=tag)) is not None and same.status_code == 304:
        return same
    response = pack_response(_above(asked, lamplight))
    response["ETag"], response["Cache-Control"] = tag, "private, no-cache"
    return response
