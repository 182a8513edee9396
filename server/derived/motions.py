"""Moving pictures: asking for them. They come as files, as exports do."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID

from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from jobs.api import JobState
from jobs.holdings import refuse_over
from jobs.queue import job_view, start
from sites.history import owned_site, parsed

router = Router(tags=["stills"])
# Bytes of a pixel in a file, about, and pictures that a file may have.
_BYTES = {"mp4": 0.3, "webm": 0.2, "frames": 2.0}
MOST_PICTURES = 3000


class MotionRequest(Schema):
    """A moving picture that is wanted."""

    shot: str = Field(max_length=64, description="The shot whose motion it shows.")
    width: int = Field(640, ge=16, le=3840, description="Pixels.")
    samples: int = Field(4, ge=1, le=4096, description="Paths of light for each pixel of each picture.")
    format: Literal["mp4", "webm", "frames"] = Field(
        "mp4", description="MP4 (H.264), WebM (VP9), or a zip of PNG files, one for each picture."
    )


@router.post("/sites/{uuid:site_id}/motions", response=JobState)
def take_motion(request: SignedInRequest, site_id: UUID, wanted: MotionRequest) -> dict[str, Any]:
    """Start taking a shot that moves, of the site as it is now."""
    site = owned_site(request.user, site_id)
    shot = next((one for one in parsed(site.document).shots if one.id == wanted.shot), None)
    if shot is None:
        raise Problem.of_field("shot", "There is no such shot on this site. Choose another.")
    if not shot.motion.moves:
        raise Problem.of_field("shot", "Nothing moves in this shot. Give it a move first.")
    if shot.motion.pictures > MOST_PICTURES:
        raise Problem.of_field(
            "shot",
            f"It would have {shot.motion.pictures:,} pictures; {MOST_PICTURES:,} is the most. Make it shorter, or its rate lower.",
        )
    height = max(round(wanted.width / shot.ratio), 2)
    refuse_over(request.user, int(shot.motion.pictures * wanted.width * height * _BYTES[wanted.format]), "width")
    asked = {**wanted.model_dump(), "height": height, "document": site.document}
    return job_view(start("motion", site, asked))
