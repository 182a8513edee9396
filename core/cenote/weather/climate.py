"""The climate of a site: the dials that every cover and plant answers to."""

from __future__ import annotations

from pydantic import Field

from ..parameters import Declared, quantity


class Climate(Declared):
    """What time and weather have done."""

    years: float = quantity(
        25, low=0, high=100, unit="years", step=1, help="How long nobody has looked after the place; 0 is new."
    )
    damp: float = quantity(
        0.6, low=0, high=1, unit="", step=0.02, help="How damp the place is, from parched to soaked."
    )
    snow: float = quantity(0, low=0, high=1, unit="m", step=0.02, help="How deep snow lies in the open; 0 is none.")
    season: float = quantity(
        0.4,
        low=0,
        high=1,
        unit="",
        step=0.02,
        help="From the first green of spring (0) through summer (0.4) and autumn (0.7) to bare winter (1).",
    )


class Conditions(Climate):
    """What covers answer to: the dials, and what comes down at the moment."""

    rain: float = Field(0.0, ge=0, description="How hard it rains, mm/h.")


class ClimateState(Declared):
    """Dials that were kept under a name, to go back to."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field("State", min_length=1, max_length=80)
    climate: Climate = Field(default=Climate())
