"""A still of a shot, from a site to what is seen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property

import numpy as np

from ..derive.graph import Graph
from ..derive.lamps import lamplight, lit_lamps
from ..derive.shelter import Shelter
from ..derive.skies import kept_panorama, panorama_pixels
from ..derive.sunlit import sunlit_of
from ..finish.base import Backdrop, Negative, finished
from ..finish.stack import Stack
from ..light.daylight import Above, Daylight, above, daylight
from ..light.drifting import drifting
from ..light.flames import Sprites, sprites_of
from ..light.fogged import EVERYWHERE, Fogged, SunlitAir, fogged
from ..site.document import Shot
from .covered import cover_masks
from .develop import Surround, surround
from .drifted import burning, drifted
from .gather import Progress, gather
from .scene import LIGHT_GROUPS, LensBlur, TracedScene
from .tracing import Film, Picture

# Rows of the sky that lights.
_ROWS = 128


class Studio:
    """A shot of a site that is to be traced."""

    def __init__(self, graph: Graph, shot: Shot, picture: Picture, also: Sequence[Shot] = ()) -> None:
        """:param also: shots that the same scene will be seen through later."""
        self.graph, self.shot, self.picture, self.also = graph, shot, picture, also
        self._last: tuple[Film, Surround] | None = None

    @cached_property
    def _lit(self) -> tuple[Daylight, Above]:
        document, pixels = self.graph.document, panorama_pixels(self.graph)
        by_lamps = lamplight(lit_lamps(self.graph))
        light = document.light
        return (
            daylight(light, _ROWS, pixels, by_lamps, document.air), above(light, pixels=pixels, lamplight=by_lamps)
        )  # fmt: skip

    def seen_through(self, shot: Shot) -> Studio:
        """The same site by the same light, through another shot."""
        other = Studio(self.graph, shot, self.picture)
        other._lit = self._lit
        return other

    def scene(self, progress: Progress = lambda *_: None) -> TracedScene:
        """What is traced. :param progress: called with (done, total, what); may raise to stop."""
        return gather(self.graph, self.shot, self.picture.width, self.picture.height, self._lit[0], progress, self.also)

    def negative(self, film: Film, apart: bool = True) -> Negative:
        """What a finish is made of: light without its noise, through the air, before the sky.

        :param apart: whether the lights are told apart, each without its noise, which takes as long for each as for all together.
        """
        camera = self.shot.camera(self.picture.width / self.picture.height)
        around = self._around(film)
        if drifts := drifting(self.graph.document.air, self._lit[0]):
            wind, depth = self.graph.document.wind, film.channels["depth"][..., 0]
            shelter = self.graph.get(Shelter(wind.bearing, wind.strength))
            blur = LensBlur(*self.shot.blur())
            around = around.behind(*drifted(drifts, shelter, camera, self.picture, depth, blur, wind.moment))
        if burn := self._flames():
            around = around.behind(
                *burning(burn, camera, self.picture, film.channels["depth"][..., 0], LensBlur(*self.shot.blur()))
            )
        # The air and the sky behind shine by the sky's light.
        lights = {name: around.before(clean) if name == "sky" else clean * around.kept
                  for name in LIGHT_GROUPS if apart for clean in [film.cleaned(name)]}  # fmt: skip
        first, last, top, bottom = self.picture.window
        _, ways = camera.rays(self.picture.width, self.picture.height)
        whole = ways.reshape(self.picture.height, self.picture.width, 3)
        backdrop = Backdrop(
            around.sky, whole[top : bottom + 1, first : last + 1].astype(np.float32), kept_panorama(self.graph)
        )
        return Negative(around.before(film.cleaned()), lights, film.channels["depth"][..., 0], film.masks(), backdrop)

    def _around(self, film: Film) -> Surround:
        """The air before a film and the sky behind it; worked out once for one."""
        if self._last is None or self._last[0] is not film:
            camera = self.shot.camera(self.picture.width / self.picture.height)
            self._last = film, surround(film, self.picture, camera, *self._lit, self._fog)
        return self._last[1]

    def _flames(self) -> list[Sprites]:
        wind, scale = self.graph.document.wind, self._lit[0].scale
        way = wind.way * wind.strength
        found = [
            (placed, placed.lamp.beam(profile).flame) for placed, profile in lit_lamps(self.graph) if placed.seen_itself
        ]
        return [
            sprites_of(flame, placed.placement.matrix()[:3, 3], way, wind.moment, scale)
            for placed, flame in found
            if flame
        ]

    def _fog(self, eyes: np.ndarray, ways: np.ndarray, distances: np.ndarray) -> Fogged | None:
        sky, wind = self._lit[0], self.graph.document.wind
        if not sky.medium.fog:
            return None
        drift = wind.way * wind.strength * wind.moment
        return fogged(sky.medium, eyes, ways, distances, self._sunlit, (float(drift[0]), float(drift[1])))

    @cached_property
    def _sunlit(self) -> SunlitAir:
        target = sunlit_of(self.graph)
        found: SunlitAir = EVERYWHERE if target is None else self.graph.get(target)
        return found

    def covers(self, film: Film) -> dict[str, np.ndarray]:
        """Where covers lie in a film, see :func:`cenote.still.covered.cover_masks`."""
        return cover_masks(self.graph, self.shot, self.picture, film.channels["depth"][..., 0])

    def beside(self, film: Film) -> dict[str, np.ndarray]:
        """What else is told of each pixel of a film: ``position``, the place in the world that is nearest in it, float32 (h, w, 3), metres, 0 where nothing
        stands; and ``mist``, the share of light that the air takes on the way from there, float32 (h, w)."""
        camera = self.shot.camera(self.picture.width / self.picture.height)
        first, last, top, bottom = self.picture.window
        origins, ways = (part.reshape(self.picture.height, self.picture.width, 3)[top : bottom + 1, first : last + 1]
                         for part in camera.rays(self.picture.width, self.picture.height))  # fmt: skip
        far = film.channels["depth"]
        there = np.isfinite(far)
        position = np.where(there, origins + ways * np.where(there, far, 0), 0).astype(np.float32)
        around = self._around(film)
        return {"position": position, "mist": (1 - around.kept.mean(2)).astype(np.float32)}

    def finished(self, film: Film, stack: Stack) -> np.ndarray:
        """The finished picture of a film: tones as they are shown, float32 (h, w, 3) in [0, 1]."""
        negative = self.negative(film, stack.parts_lights)
        if stack.names_covers and not negative.masks.covers:
            negative = replace(negative, masks=replace(negative.masks, covers=self.covers(film)))
        return finished(negative, stack.steps)
