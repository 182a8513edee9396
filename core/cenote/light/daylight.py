"""The light of a site as it is set, and as it is shown."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Literal

import numpy as np
from pydantic import Field, model_validator
from scipy import ndimage

from ..colour import LUMINANCE
from ..geometry.compass import towards
from ..parameters import Declared, choice, count, only, quantity
from .air import Air, Medium, below_fog, haze_colour, lobe
from .clouds import Form
from .fogged import Fogged
from .pictured import PicturedSky
from .sky import Disc, Lit, Sky, dome, panorama
from .sun import Moon, Placed, moment_of, moon_at, sun_at, turned_sky

# What the sun was once set to where it was as in nature.
_ONCE = 3.2
# How brightly level ground of a usual day is shown, light on it against the sun's outside the air, and how much of what is darker
# is left dark: an eye, and whoever exposes a picture, makes up for most of it.
_SHOWN, _USUAL, _KEPT_DARK = 4.2, 0.6, 0.15
# How high a moon stands that nobody has asked the time for, degrees.
_MOON_BY_HAND = 30.0
# Light below this is not made up for any more; the sine of the height below which nothing shines.
_LEAST, _SET = 1e-10, -0.02
# Luminance of what glows with a strength of 1, against the sun's light: 15 cd/m².
GLOW = 15 / 128_000
# Degrees over the horizon at which its colour is taken: the middle of the lowest row above it of the sky that lights.
_LEVEL = 0.7


# Skies of air and clouds.
_WORKED_OUT = ["hand", "time"]


class Panorama(Declared):
    """A panorama of light that a site's own sky is taken from."""

    source: str = Field(
        pattern=r"^[0-9a-f]{64}$",
        description="Content hash of the stored panorama.",
        json_schema_extra={"brought": "panorama"},
    )
    file_name: str = Field("", max_length=200)
    turn: float = quantity(
        0, low=0, high=360, unit="°", step=5, help="How far it is turned; its middle is south at 0°."
    )


class Light(Declared):
    """Sun, moon and sky."""

    by: Literal["hand", "time", "panorama"] = choice(
        "hand",
        label="sky by",
        help="A sun that is put by hand, one where a place and a time have it, or a panorama of your own.",
    )
    bearing: float = only(
        "by",
        "hand",
        quantity(215, low=0, high=360, unit="°", step=5, help="Compass bearing of the sun; 180° is south."),
    )
    height: float = only(
        "by",
        "hand",
        quantity(
            38, low=-18, high=90, unit="°", step=1, help="Height of the sun above the horizon; below 0° it has set."
        ),
    )
    latitude: float = only(
        "by",
        "time",
        quantity(52, low=-90, high=90, unit="°", step=1, help="How far north of the equator the site lies."),
    )
    longitude: float = only(
        "by", "time", quantity(0, low=-180, high=180, unit="°", step=1, help="How far east of Greenwich the site lies.")
    )
    day: int = only(
        "by", "time", count(172, low=1, high=365, help="The day of the year; 80 is the start of spring, 172 midsummer.")
    )
    hour: float = only("by", "time", quantity(15, low=0, high=24, unit="h", step=0.25, help="What the clock says."))
    zone: float = only(
        "by", "time", quantity(0, low=-12, high=14, unit="h", step=0.5, help="How far the clock is ahead of Greenwich.")
    )
    panorama: Panorama | None = None
    clouds: float = only(
        "by",
        _WORKED_OUT,
        quantity(0.25, low=0, high=1, unit="", step=0.05, help="Share of the sky that clouds cover; 1 is overcast."),
    )
    cloud_form: Form = only(
        "by",
        _WORKED_OUT,
        choice(
            "cumulus",
            help="Cumulus are heaps with blue between them, stratocumulus low rolls, cirrus high wisps of ice.",
        ),
    )
    cloud_seed: int = only(
        "by", _WORKED_OUT, count(0, low=0, high=9999, help="Another number gives other clouds of the same kind.")
    )
    haze: float = only(
        "by",
        _WORKED_OUT,
        quantity(1.5, low=0, high=10, unit="×", step=0.5, help="How hazy the air is, against a clear day."),
    )
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

    @model_validator(mode="after")
    def _has_what_it_is_taken_from(self) -> Light:
        if self.by == "panorama" and self.panorama is None:
            raise ValueError("by: import a panorama first; the sky is taken from it then")
        return self

    def moment(self) -> datetime:
        """The time that is set."""
        return moment_of(self.day, self.hour - self.zone)

    def sun(self) -> Placed:
        """Where the sun stands."""
        if self.by != "time":
            return Placed(self.bearing, self.height)
        return sun_at(self.moment(), self.latitude, self.longitude)

    def moon(self) -> Moon:
        """Where the moon stands: by hand a full one, opposite the sun, up once that has set."""
        if self.by != "time":
            return Moon((self.bearing + 180) % 360, _MOON_BY_HAND if self.height < 0 else -self.height, 1.0)
        return moon_at(self.moment(), self.latitude, self.longitude)

    def sky(self, pixels: np.ndarray | None = None) -> Sky | PicturedSky:
        """The sky that follows.

        :param pixels: of its panorama, float (rows, 2 × rows, 3); where it has none, or that is lost, a sky by hand stands in.
        """
        if self.panorama and self.by == "panorama" and pixels is not None:
            return PicturedSky(pixels, self.panorama.turn)
        turned = turned_sky(self.moment(), self.latitude, self.longitude)
        return Sky(self.sun(), self.moon(), self.haze, self.clouds, self.cloud_form, self.cloud_seed, turned)


@dataclass(frozen=True)
class Daylight:
    """Light as it is shown: exposed, in linear sRGB.

    :ivar direction: unit float64 (3,), towards what shines brightest, the sun or the moon. :ivar direct: float64 (3,), its light on what
        faces it. :ivar above, below: float64 (3,), what comes to level ground from the sky, and to what faces straight down.
    :ivar horizon, zenith: float64 (3,), radiance of the haze all around just above the horizon, and of the sky overhead, clouds being a veil.
    :ivar fog, fog_sun: float64 (3,), what fog sends, see :class:`cenote.light.air.Fallen`. :ivar dust: float64 (3,), what the haze makes of
        the colour of the sky above it. :ivar medium: the air.
    :ivar scale: by how much all is made brighter to be shown: what lamps send goes with it. :ivar brighter: how many times as much as
        without a fog, which is how :func:`above` has it.
    :ivar around: float32 (H, 2H, 3), the sky's radiance, see :func:`cenote.light.sky.panorama`.
    """

    direction: np.ndarray
    direct: np.ndarray
    above: np.ndarray
    below: np.ndarray
    horizon: np.ndarray
    zenith: np.ndarray
    fog: np.ndarray
    fog_sun: np.ndarray
    dust: np.ndarray
    medium: Medium
    scale: float
    brighter: float
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

    def through(
        self,
        radiance: np.ndarray,
        eyes: np.ndarray,
        ways: np.ndarray,
        distances: np.ndarray,
        in_fog: Fogged | None = None,
    ) -> np.ndarray:
        """What is seen of radiance at the ends of ways once the air has held up some of it: float64 (N, 3).

        :param radiance: float (N, 3). :param eyes, ways, distances: as for :meth:`cenote.light.air.Medium.held_up`. :param in_fog: what fog
            does along these ways; none where it has neither banks nor shade.
        """
        hazy, foggy = self.medium.held_up(eyes, ways, distances)
        if in_fog is not None:
            foggy = in_fog.depth
        haze, fog = np.exp(-hazy)[:, None], np.exp(-foggy)[:, None]
        sun = lobe(ways @ self.direction) * (1.0 if in_fog is None else in_fog.lit)
        level = ways * [1, 0, 1] + [0, np.sin(np.radians(_LEVEL)), 0]
        hazed = radiance * haze + self.at(level / np.linalg.norm(level, axis=1, keepdims=True)) * self.dust * (1 - haze)
        return np.asarray(hazed * fog + (self.fog + sun[:, None] * self.fog_sun) * (1 - fog))


@dataclass(frozen=True)
class Above:
    """What is seen above the horizon, exposed as in :class:`Daylight`.

    :ivar dome: float32 (rows, columns, 4), see :func:`cenote.light.sky.dome`. :ivar discs: sun and moon.
    :ivar stars: float32 (N, 6), towards each and its light on what faces it; none by day.
    """

    dome: np.ndarray
    discs: list[Disc]
    stars: np.ndarray


def _exposed(light: Light, sky: Sky | PicturedSky, lamplight: float, share: np.ndarray | float = 1.0) -> float:
    """By how much all is made brighter to be shown. What is dimmed by hand is not made up for.

    :param share: of the sky's light, what comes to the ground: one or (3,).
    """
    whole = max(float(sky.on_ground * share @ LUMINANCE) + lamplight, _LEAST)
    return float(_SHOWN / _USUAL * (whole / _USUAL) ** (_KEPT_DARK - 1) * 2.0**light.exposure)


def casting(light: Light, sky: Sky | PicturedSky) -> Lit:
    """The one light of a sky that casts shadows: the brighter of sun and moon; a dark one where neither shines."""
    shines = [one for one in sky.direct if one.direction[1] > _SET]
    return max(
        shines, key=lambda one: float(one.light @ LUMINANCE), default=Lit(towards(light.bearing, 45.0), np.zeros(3))
    )


def daylight(
    light: Light, rows: int = 64, pixels: np.ndarray | None = None, lamplight: float = 0.0, air: Air | None = None
) -> Daylight:
    """A site's light, exposed: level ground of a usual day is shown as brightly as a picture has it, and what is darker less so.

    :param rows: of the panorama. :param pixels: of the panorama that it is taken from, see :class:`cenote.light.pictured.PicturedSky`.
    :param lamplight: what an eye is used to besides, as :func:`cenote.light.lamps.base.adapts_to` tells. :param air: what light goes
        through near the ground; the usual one where none is given.
    """
    air = air or Air()
    medium = Medium.of(air)
    sky = light.sky(pixels)
    sun = casting(light, sky)
    clear = panorama(sky, rows) * light.sky_strength
    fallen = below_fog(medium, float(sun.direction[1]), sun.light * light.sun_strength, clear)
    scale = _exposed(light, sky, lamplight, fallen.share)
    up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
    around = fallen.around * scale
    level = around * (np.abs(np.sin(up)) * np.cos(up) * (np.pi / rows) ** 2)[:, None, None]
    half = rows // 2
    overhead, horizon = (found.mean(0) * light.sky_strength * scale
                         for found in (sky.radiance(_round(90.0)), sky.at_horizon(_round(_LEVEL))))  # fmt: skip
    return Daylight(sun.direction, fallen.direct * scale, level[:half].sum((0, 1)), level[half:].sum((0, 1)), horizon, overhead,
                    fallen.fog * scale, fallen.fog_sun * scale, haze_colour(air), medium, scale,
                    scale / _exposed(light, sky, lamplight), around.astype(np.float32))  # fmt: skip


def _round(height: float) -> np.ndarray:
    return np.array([towards(bearing, height) for bearing in range(0, 360, 10)])


def above(
    light: Light, rows: int = 320, columns: int = 2048, pixels: np.ndarray | None = None, lamplight: float = 0.0
) -> Above:
    """What is seen above the horizon of a site: clouds, sun, moon and stars.

    :param rows, columns: of the dome. :param pixels, lamplight: as for :func:`daylight`.
    """
    sky = light.sky(pixels)
    scale = _exposed(light, sky, lamplight)
    seen = dome(sky, rows, columns) * np.array([*[light.sky_strength * scale] * 3, 1], np.float32)
    discs = [replace(one, radiance=one.radiance * (light.sun_strength * scale)) for one in sky.discs]
    ways, sent = sky.stars()
    return Above(seen, discs, np.column_stack([ways, sent * scale]).astype(np.float32))
