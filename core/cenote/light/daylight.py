"""The light of a site as it is set, and as it is shown."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

import numpy as np
from pydantic import model_validator
from scipy import ndimage

from ..colour import LUMINANCE
from ..geometry.compass import towards
from ..parameters import Declared, choice, count, quantity
from .sky import Lit, Sky, panorama
from .sun import Moon, Placed, moment_of, moon_at, sun_at

# What the sun was once set to where it was as in nature.
_ONCE = 3.2
# How brightly level ground of a usual day is shown, light on it against the sun's outside the air, and how much of what is darker
# is left dark: an eye, and whoever exposes a picture, makes up for most of it.
_SHOWN, _USUAL, _KEPT_DARK = 4.2, 0.6, 0.15
# How high a moon stands that nobody has asked the time for, degrees.
_MOON_BY_HAND = 30.0
# Light below this is not made up for any more; the sine of the height below which nothing shines.
_LEAST, _SET = 1e-10, -0.02


def _only(by: str, declared: Any) -> Any:
    """A parameter that counts, and is asked for, only where the sun stands by that."""
    declared.json_schema_extra["counts_with"] = {"by": by}
    return declared


class Light(Declared):
    """Sun, moon and sky."""

    by: Literal["hand", "time"] = choice(
        "hand", label="sun stands by", help="Where it is put by hand, or where a place and a time have it."
    )
    bearing: float = _only(
        "hand", quantity(215, low=0, high=360, unit="°", step=5, help="Compass bearing of the sun; 180° is south.")
    )
    height: float = _only(
        "hand",
        quantity(
            38, low=-18, high=90, unit="°", step=1, help="Height of the sun above the horizon; below 0° it has set."
        ),
    )
    latitude: float = _only(
        "time", quantity(52, low=-90, high=90, unit="°", step=1, help="How far north of the equator the site lies.")
    )
    longitude: float = _only(
        "time", quantity(0, low=-180, high=180, unit="°", step=1, help="How far east of Greenwich the site lies.")
    )
    day: int = _only(
        "time", count(172, low=1, high=365, help="The day of the year; 80 is the start of spring, 172 midsummer.")
    )
    hour: float = _only("time", quantity(15, low=0, high=24, unit="h", step=0.25, help="What the clock says."))
    zone: float = _only(
        "time", quantity(0, low=-12, high=14, unit="h", step=0.5, help="How far the clock is ahead of Greenwich.")
    )
    clouds: float = quantity(
        0.25, low=0, high=1, unit="", step=0.05, help="Share of the sky that clouds cover; 1 is overcast."
    )
    haze: float = quantity(1.5, low=0, high=10, unit="×", step=0.5, help="How hazy the air is, against a clear day.")
    sun_strength: float = quantity(
        1, low=0, high=4, unit="×", step=0.05, help="Strength of sun and moon, against nature."
    )
    sky_strength: float = quantity(
        1, low=0, high=4, unit="×", step=0.05, help="Strength of the sky's light, against nature."
    )
    exposure: float = quantity(
        0, low=-6, high=6, unit="EV", step=0.1, help="How brightly all is shown; one more is twice as bright."
    )

    @model_validator(mode="before")
    @classmethod
    def _of_old(cls, given: Any) -> Any:
        """What was set before there were skies: strengths under other names, and the sun's against another measure."""
        if not isinstance(given, dict) or not {"sun", "sky"}.intersection(given):
            return given
        new = {name: value for name, value in given.items() if name not in ("sun", "sky")}
        for old, name, nature in (("sun", "sun_strength", _ONCE), ("sky", "sky_strength", 1.0)):
            value = given.get(old)
            if value is not None:
                new.setdefault(name, min(value / nature, 4.0) if isinstance(value, (int, float)) else value)
        return new

    def moment(self) -> datetime:
        """The time that is set."""
        return moment_of(self.day, self.hour - self.zone)

    def sun(self) -> Placed:
        """Where the sun stands."""
        if self.by == "hand":
            return Placed(self.bearing, self.height)
        return sun_at(self.moment(), self.latitude, self.longitude)

    def moon(self) -> Moon:
        """Where the moon stands: by hand a full one, opposite the sun, up once that has set."""
        if self.by == "hand":
            return Moon((self.bearing + 180) % 360, _MOON_BY_HAND if self.height < 0 else -self.height, 1.0)
        return moon_at(self.moment(), self.latitude, self.longitude)

    def sky(self) -> Sky:
        """The sky that follows."""
        return Sky(self.sun(), self.moon(), self.haze, self.clouds)


@dataclass(frozen=True)
class Daylight:
    """Light as it is shown: exposed, in linear sRGB.

    :ivar direction: unit float64 (3,), towards what shines brightest, the sun or the moon. :ivar direct: float64 (3,), its light on what
        faces it. :ivar above, below: float64 (3,), what comes to level ground from the sky, and to what faces straight down.
    :ivar horizon, zenith: float64 (3,), the sky's radiance all around just above the horizon, and overhead.
    :ivar around: float32 (H, 2H, 3), the sky's radiance, see :func:`cenote.light.sky.panorama`.
    """

    direction: np.ndarray
    direct: np.ndarray
    above: np.ndarray
    below: np.ndarray
    horizon: np.ndarray
    zenith: np.ndarray
    around: np.ndarray

    def at(self, ways: np.ndarray) -> np.ndarray:
        """The sky's radiance along ways, the horizon's for those that lead below it: float64 (N, 3). :param ways: unit float (N, 3)."""
        rows, columns = self.around.shape[:2]
        up = np.arcsin(np.clip(ways[:, 1], 0, 1))
        y = np.clip((0.5 - up / np.pi) * rows - 0.5, 0, rows // 2 - 1)
        x = (np.arctan2(ways[:, 0], -ways[:, 2]) / (2 * np.pi) % 1) * columns - 0.5
        return np.stack(
            [ndimage.map_coordinates(self.around[..., c], [y, x], order=1, mode="grid-wrap") for c in range(3)], axis=1
        )


def daylight(light: Light, rows: int = 64) -> Daylight:
    """A site's light, exposed: level ground of a usual day is shown as brightly as a picture has it, and what is darker less so.

    :param rows: of the panorama.
    """
    sky = light.sky()
    shines = [one for one in sky.direct if one.direction[1] > _SET]
    sun = max(
        shines, key=lambda one: float(one.light @ LUMINANCE), default=Lit(towards(light.bearing, 45.0), np.zeros(3))
    )
    # What is dimmed by hand is not made up for.
    whole = max(float(sky.on_ground @ LUMINANCE), _LEAST)
    scale = _SHOWN / _USUAL * (whole / _USUAL) ** (_KEPT_DARK - 1) * 2.0**light.exposure
    around = panorama(sky, rows) * (light.sky_strength * scale)
    up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
    fallen = around * (np.abs(np.sin(up)) * np.cos(up) * (np.pi / rows) ** 2)[:, None, None]
    half = rows // 2
    return Daylight(sun.direction, sun.light * (light.sun_strength * scale), fallen[:half].sum((0, 1)), fallen[half:].sum((0, 1)),
                    around[half - 2 : half].mean((0, 1)), around[0].mean(0), around.astype(np.float32))  # fmt: skip
