"""From what was traced to a picture: the sky behind, the air before, and tones as the view has them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from ..geometry.camera import Camera
from ..light.daylight import Above, Daylight
from ..light.fogged import Fogged
from .tracing import Film, Picture

# Columns by which a dome is carried on beyond its edge.
_AROUND = 3
# Within so many pixels distances are compared, and they jump where one is so many times another.
_EDGE, _JUMP = 3, 1.5


@dataclass(frozen=True)
class Surround:
    """What lies before and behind what was traced, each float32 (h, w, 3) of a picture's window.

    :ivar coarse: the engine's own sky where it is seen, which gives way. :ivar kept: share of light that comes through the air.
    :ivar veil: what the air itself sends, and the sky that is looked at. :ivar sky: the share of that sky in it.
    """

    coarse: np.ndarray
    kept: np.ndarray
    veil: np.ndarray
    sky: np.ndarray

    def behind(self, kept: np.ndarray, sent: np.ndarray) -> Surround:
        """The same behind what drifts before it. :param kept: float32 (h, w). :param sent: float32 (h, w, 3)."""
        through = kept[..., None]
        return Surround(self.coarse, self.kept * through, self.veil * through + sent, self.sky * through)

    def before(self, radiance: np.ndarray) -> np.ndarray:
        """Traced light, float32 (h, w, 3), as it is seen: all of it together, or the sky's share."""
        return (np.maximum(radiance - self.coarse, 0) * self.kept + self.veil).astype(np.float32)


def surround(
    film: Film,
    picture: Picture,
    camera: Camera,
    sky: Daylight,
    above: Above,
    fog: Callable[[np.ndarray, np.ndarray, np.ndarray], Fogged | None] = lambda *_: None,
) -> Surround:
    """The air before and the sky behind a film.

    :param fog: what fog does along ways, of eyes, ways and distances as for :func:`cenote.light.fogged.fogged`; nothing where there is none.
    """
    first, last, top, bottom = picture.window
    origins, ways = (part.reshape(picture.height, picture.width, 3)[top : bottom + 1, first : last + 1].reshape(-1, 3).astype(np.float64)
                     for part in camera.rays(picture.width, picture.height))  # fmt: skip
    cover = np.clip(film.channels["alpha"].reshape(-1, 1), 0, 1)
    far = film.channels["depth"].reshape(-1).astype(np.float64)
    nothing = np.zeros_like(ways)
    within = fog(origins, ways, far)
    added = sky.through(nothing, origins, ways, far, within)
    kept = sky.through(nothing + 1, origins, ways, far, within) - added
    ends = np.full(len(ways), np.inf)
    behind = sky.through(seen_above(above, ways) * sky.brighter, origins, ways, ends, fog(origins, ways, ends))
    shape = (bottom - top + 1, last - first + 1, 3)
    there = np.isfinite(far).reshape(shape[:2])
    jumps = _jumps(far.reshape(shape[:2]), there).reshape(-1, 1)
    kept, added = (np.where(jumps, _about(part.reshape(shape), there).reshape(-1, 3), part) for part in (kept, added))
    seen = (1 - cover) * behind
    parts = ((1 - cover) * sky.at(ways), kept, cover * added + seen, seen)
    return Surround(*(part.astype(np.float32).reshape(shape) for part in parts))


def _jumps(far: np.ndarray, there: np.ndarray) -> np.ndarray:
    """Where what is near borders on what is far, bool (h, w): of such pixels a film tells one distance of several.

    :param far: float64 (h, w), metres. :param there: bool (h, w), where anything stands.
    """
    least = ndimage.minimum_filter(np.where(there, far, np.inf), _EDGE, mode="nearest")
    most = ndimage.maximum_filter(np.where(there, far, 0), _EDGE, mode="nearest")
    return np.asarray(there & (most > _JUMP * least))


def _about(values: np.ndarray, there: np.ndarray) -> np.ndarray:
    """The means of float64 (h, w, 3) over what stands next to each pixel."""
    weights = there[..., None].astype(float)
    sums = ndimage.uniform_filter(values * weights, (_EDGE, _EDGE, 0), mode="nearest")
    return np.asarray(sums / np.maximum(ndimage.uniform_filter(weights, (_EDGE, _EDGE, 0), mode="nearest"), 1e-9))


def seen_above(above: Above, ways: np.ndarray) -> np.ndarray:
    """The sky along ways, with sun and moon: float64 (N, 3). :param ways: unit float64 (N, 3)."""
    rows, columns = above.dome.shape[:2]
    up = np.sqrt(np.arcsin(np.clip(ways[:, 1], 0, 1)) / (np.pi / 2))
    round_ = np.arctan2(ways[:, 0], -ways[:, 2]) / (2 * np.pi) % 1
    y, x = np.maximum(up * rows - 0.5, 0.0), round_ * columns - 0.5 + _AROUND
    wide = np.pad(above.dome, ((0, 0), (_AROUND, _AROUND), (0, 0)), "wrap")
    # By splines that smooth a little, as the view does.
    seen = np.stack([ndimage.map_coordinates(wide[..., c], [y, x], order=3, mode="nearest", prefilter=False)
                     for c in range(4)], axis=1)  # fmt: skip
    out = seen[:, :3].astype(np.float64)
    for disc in above.discs:
        ahead = ways @ disc.direction
        beside = ways - ahead[:, None] * disc.direction
        away = np.linalg.norm(beside, axis=1) / disc.radius
        inside = np.flatnonzero((away < 1) & (ahead > 0) & (ways[:, 1] > 0))
        facing = np.sqrt(1 - away[inside] ** 2)
        if disc.lit_from is None:
            # Darker towards the limb.
            bright = 0.4 + 0.6 * facing
        else:
            normal = beside[inside] / disc.radius - disc.direction * facing[:, None]
            bright = np.clip((normal @ disc.lit_from + 0.02) / 0.08, 0, 1)
        out[inside] += disc.radiance * (bright * seen[inside, 3])[:, None]
    return out
