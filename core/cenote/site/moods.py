"""Moods: light, air and the grade of stills under a name, for any site.

Where the sun shines from is each site's own, as its shots are made for it; so is how damp it is, for moss grows by that.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import Field

from ..finish.stack import Stack
from ..light.air import Air
from ..light.daylight import Light
from ..parameters import Declared
from .document import SiteDocument
from .grades import GRADES, shared_grade

# What of a light belongs to a mood; place, time, bearing and the very clouds belong to the site.
_SET = ("by", "height", "clouds", "cloud_form", "haze", "sun_strength", "sky_strength", "exposure")


class Mood(Declared):
    """A light, an air, and how stills are finished."""

    light: Light = Field(default=Light())
    air: Air = Field(default=Air())
    grade: Stack = Field(default=Stack())

    def changes(self) -> dict[str, dict[str, Any]]:
        """What it sets of a document's light and air, by their fields."""
        light = self.light.model_dump(mode="json")
        taken = (*_SET, "panorama") if self.light.by == "panorama" else _SET
        return {"light": {name: light[name] for name in taken}, "air": self.air.model_dump(mode="json")}


def mood_of(document: SiteDocument) -> Mood:
    """The mood of a site, to be kept: a sun by time is put where it stands now."""
    light = document.light
    if light.by == "time":
        height = min(max(light.sun().height, -18.0), 90.0)
        light = light.model_copy(update={"by": "hand", "height": round(height, 1)})
    finishes = {one.id: one for one in document.finishes}
    return Mood(light=light, air=document.air, grade=shared_grade(finishes, [shot.finish for shot in document.shots]))


@dataclass(frozen=True)
class Shipped:
    """A mood of ours, under a name."""

    kind: str
    title: str
    help: str
    mood: Mood


def _shipped(title: str, help: str, light: dict[str, Any], air: dict[str, Any]) -> Shipped:
    kind = title.lower().replace(" ", "_")
    return Shipped(kind, title, help, Mood(light=Light(**light), air=Air(**air), grade=GRADES[kind]))


# From morning to night.
SHIPPED_MOODS: tuple[Shipped, ...] = (
    _shipped("First light", "The sun just up, mist in the hollows.",
             {"height": 3, "clouds": 0.2, "cloud_form": "cirrus", "haze": 2.5, "exposure": 0.2},
             {"visibility": 1500, "fog": "low", "fog_visibility": 90, "fog_top": 0.6, "fog_fade": 1.6, "banks": 60, "bank_size": 18}),
    _shipped("Clear forenoon", "High sun, some heaped clouds, air one sees far through.",
             {"height": 42, "clouds": 0.3, "cloud_form": "cumulus", "haze": 1}, {"visibility": 2500}),
    _shipped("Even grey", "Closed clouds and no shadows, as one measures colours in.",
             {"height": 45, "clouds": 1, "cloud_form": "stratocumulus", "haze": 3, "exposure": 0.2}, {"visibility": 1400}),
    _shipped("Drizzle", "Low clouds, fine rain, the distance gone.",
             {"height": 30, "clouds": 1, "cloud_form": "stratocumulus", "haze": 6, "exposure": -0.1}, {"visibility": 400, "rain": 2.5}),
    _shipped("Thick fog", "The sun somewhere in it; what is far is a shape.",
             {"height": 24, "clouds": 0.5, "cloud_form": "cirrus", "haze": 3, "exposure": 0.1},
             {"visibility": 1200, "fog": "deep", "fog_visibility": 45, "banks": 35, "bank_size": 30}),
    _shipped("Late gold", "A low sun through dust, long shadows.",
             {"height": 7, "clouds": 0.25, "cloud_form": "cirrus", "haze": 3.5, "exposure": 0.2}, {"visibility": 900, "dust": 25}),
    _shipped("After sunset", "The sky still light, lamps lit.",
             {"height": -5, "clouds": 0.35, "cloud_form": "cirrus", "haze": 2, "exposure": 0.4}, {"visibility": 2000}),
    _shipped("Nightfall", "The last blue of the sky, lamps lit, mist on the ground.",
             {"height": -8, "clouds": 0.3, "cloud_form": "cumulus", "haze": 1.5, "sun_strength": 4, "sky_strength": 2, "exposure": 0.7},
             {"visibility": 2500, "fog": "low", "fog_visibility": 140, "fog_top": 0.3, "fog_fade": 1.5, "banks": 50, "bank_size": 22}),
)  # fmt: skip
