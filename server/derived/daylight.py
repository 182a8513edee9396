"""The sky of a light, for the page: a pure function of how it is set, so that it can be asked for while that is dragged."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import ValidationError

from api.errors import Problem
from cenote.light.daylight import Daylight, Light, daylight

from .answers import packed

router = Router(tags=["daylight"])


@lru_cache(maxsize=64)
def _shown(light: Light) -> Daylight:
    return daylight(light)


@router.get("/daylight", include_in_schema=False)
def get_daylight(request: HttpRequest, light: str) -> HttpResponse:
    """What sun, moon and sky send, exposed. :param light: as a document has it, as JSON."""
    try:
        asked = Light.model_validate_json(light)
    except ValidationError as error:
        first = error.errors()[0]
        raise Problem.of_field("light/" + "/".join(map(str, first["loc"])), first["msg"]) from None
    found = _shown(asked)
    meta = {name: np.round(getattr(found, name), 6).tolist()
            for name in ("direction", "direct", "above", "below", "horizon", "zenith")}  # fmt: skip
    pixels = np.concatenate([found.around, np.ones((*found.around.shape[:2], 1), np.float32)], axis=2)
    return packed({"around": pixels}, meta)
