"""Lamps, for the page: how each shines, and the photometric files that some take their shape from."""

from __future__ import annotations

from functools import lru_cache
from uuid import UUID

import numpy as np
from ninja import Field, File, Query, Router, Schema
from ninja.files import UploadedFile
from pydantic import TypeAdapter, ValidationError

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.sources import PHOTOMETRY, source_name
from cenote.derive.store import unpack_arrays
from cenote.formats.apart import read_photometry_apart
from cenote.light.daylight import Light
from cenote.light.lamps.base import Beam, Lamp, adapts_to
from cenote.light.lamps.measured import MeasuredLamp
from cenote.refused import ImportRefused
from cenote.site.lamps import AnyLamp, is_dark
from sites.history import owned_site
from sites.models import Brought
from store.blobs import shared_cache

from .bringing import contents, keep

router = Router(tags=["lamps"])
_LAMPS: TypeAdapter[list[Lamp]] = TypeAdapter(list[AnyLamp])
_MOST = 500


class StoredPhotometry(Schema):
    """A photometric file that was read and kept; no lamp takes its shape from it yet."""

    source: str
    file_name: str
    lumens: float
    remarks: list[str]


class FlameEntry(Schema):
    """A flame, upright."""

    wide: float
    tall: float
    radiance: list[list[float]] = Field(description="Against the sun's light: of its foot, its middle and its tips.")


class BeamEntry(Schema):
    """How a lamp shines, drawn with few means."""

    intensity: list[float] = Field(description="Along its axis, linear sRGB: in sun's light at one metre.")
    outer: float = Field(description="Half angle of its cone, degrees; 180 where it shines all around.")
    inner: float = Field(description="Half angle within which it shines as along its axis, degrees.")
    wide: float
    long: float
    profile: list[float] | None = Field(
        description="Its strength against that along the axis, by equal steps up to the outer angle."
    )
    flame: FlameEntry | None
    heart: float = Field(description="Metres above its place that its light comes from.")


class BeamsState(Schema):
    """What is known of some lamps under a sky."""

    beams: list[BeamEntry]
    dark: bool = Field(description="Whether lamps are lit that burn when it is dark.")
    levels: list[float] = Field(description="Light that an eye is used to where each is lit, against the sun's.")


@lru_cache(maxsize=64)
def _profile(source: str) -> np.ndarray | None:
    content = shared_cache().sources.read(source_name(PHOTOMETRY, source))
    return unpack_arrays(content)["profile"] if content else None


@lru_cache(maxsize=512)
def _beam(lamp: Lamp) -> Beam:
    return lamp.beam(_profile(lamp.source) if isinstance(lamp, MeasuredLamp) else None)


def _entry(beam: Beam) -> BeamEntry:
    profile = None if beam.profile is None else np.round(beam.profile, 4).tolist()
    flame = beam.flame
    return BeamEntry(
        intensity=beam.intensity.tolist(),
        outer=beam.outer,
        inner=beam.inner,
        wide=beam.wide,
        long=beam.long,
        profile=profile,
        flame=FlameEntry(wide=flame.wide, tall=flame.tall, radiance=flame.radiance.tolist()) if flame else None,
        heart=beam.heart,
    )


@router.get("/beams", response=BeamsState)
def get_beams(request: SignedInRequest, lamps: Query[str], light: Query[str]) -> BeamsState:
    """How lamps shine. :param lamps: as documents have them, a JSON list. :param light: as a document has it, as JSON."""
    try:
        asked = _LAMPS.validate_json(lamps)
        sky = Light.model_validate_json(light)
    except ValidationError as error:
        first = error.errors()[0]
        field = "lamps" if error.title != "Light" else "light"
        raise Problem.of_field("/".join([field, *map(str, first["loc"])]), first["msg"]) from None
    if len(asked) > _MOST:
        raise Problem.of_field("lamps", f"{len(asked)} lamps; at most {_MOST} are told at once.")
    wanted = {one.source for one in asked if isinstance(one, MeasuredLamp)}
    mine = set(
        Brought.objects.filter(owner=request.user, family=PHOTOMETRY, digest__in=wanted).values_list(
            "digest", flat=True
        )
    )
    if wanted - mine:
        raise Problem.of_field("lamps", "A photometric file that they name is not among what you brought in.")
    beams = [_beam(one) for one in asked]
    return BeamsState(
        beams=[_entry(one) for one in beams], dark=is_dark(sky), levels=[adapts_to([one]) for one in beams]
    )


@router.post("/sites/{uuid:site_id}/lamps/photometry", response=StoredPhotometry)
def upload_photometry(request: SignedInRequest, site_id: UUID, file: File[UploadedFile]) -> StoredPhotometry:
    """Read a photometric file, and keep it for lamps."""
    owned_site(request.user, site_id)
    ((name, content),) = contents([file], "file").items()
    try:
        profile, lumens, remarks = read_photometry_apart(name, content)
    except ImportRefused as refusal:
        raise Problem.of_field("file", str(refusal)) from None
    source = keep(request.user, PHOTOMETRY, {"profile": profile}, "file")
    return StoredPhotometry(source=source, file_name=name, lumens=round(lumens, 1), remarks=remarks)
