"""What a scatter keeps clear of: objects, zones, other layers, the view of a shot."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.spatial import cKDTree

from ..geometry.sculpt import distance_to_outline
from ..parameters import Declared, Identities, quantity, switch
from ..signals.around import Around
from ..signals.scene import Bodies, MeasuredScene


class _Clear(Declared):
    """Shared by all of them: how far, and how softly."""

    id: str = Field(min_length=1, max_length=40)
    enabled: bool = switch(True, help="Whether it takes part.")
    distance: float = quantity(0.1, low=0, high=100, unit="m", step=0.01, help="Nearer than this nothing stands.")
    fade: float = quantity(
        0.3, low=0, high=100, unit="m", step=0.05, help="Band beyond it in which number and size grow back."
    )
    body: float = quantity(
        100, low=0, high=100, unit="%", step=5, label="Own width counts",
        help="How much of an item's own width counts: at 100 % its outline keeps the distance, at 0 % its middle.",
    )  # fmt: skip

    @property
    def reach(self) -> float:
        """How far away anything may be and still matter, metres, besides an item's own width."""
        return self.distance + self.fade

    def room_left(self, bodies: Bodies, scene: MeasuredScene) -> np.ndarray:
        """Metres from the bodies to what is kept clear, float64 (N,); larger ones may be cut to the reach."""
        raise NotImplementedError

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        """What decides it for bodies within boxes, bool (N, T); see :meth:`cenote.signals.base.Signal.reaches`.

        :param low, high: float64 (N, 3), about whole bodies, metres.
        """
        raise NotImplementedError

    def looks_at(self) -> tuple[str, ...]:
        """The planting layers that it looks at."""
        return ()

    def weight(self, bodies: Bodies, scene: MeasuredScene) -> np.ndarray:
        """How much may stand there, float64 (N,) in [0, 1]."""
        free = self.room_left(bodies, scene) - self.distance
        # A hair's breadth for float32.
        return np.clip((free + 1e-5) / self.fade, 0, 1) if self.fade > 0 else (free >= -1e-5).astype(float)


class ClearOfObjects(_Clear):
    """Keep clear of objects, by the true distance to their triangles at all heights of an item."""

    of: Literal["objects"] = "objects"
    objects: Identities = Field(
        (), description="The objects; none chosen means all but the ground.", json_schema_extra={"picks": "objects"}
    )

    def room_left(self, bodies: Bodies, scene: MeasuredScene) -> np.ndarray:
        widest = float(bodies.radii.max(initial=0)) * self.body / 100
        far = self.reach + widest + 0.01
        box = bodies.box(far)
        names = tuple(set(scene.chosen(self.objects)) & set(scene.near(box, 0)))
        if not names:
            return np.full(len(bodies), far)
        return scene.distance(names, bodies.positions, far, bodies.heights) - bodies.radii * self.body / 100

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.structures(self.objects) & around.near(low, high, self.reach)


class ClearOfZones(_Clear):
    """Keep clear of zones, seen from above."""

    of: Literal["zones"] = "zones"
    zones: Identities = Field((), description="The zones; none chosen means all.", json_schema_extra={"picks": "zones"})

    def _outlines(self, scene: MeasuredScene) -> list[np.ndarray]:
        return [outline for name, outline in sorted(scene.zones.items()) if not self.zones or name in self.zones]

    def room_left(self, bodies: Bodies, scene: MeasuredScene) -> np.ndarray:
        least = np.full(len(bodies), np.inf)
        for outline in self._outlines(scene):
            away, inside = distance_to_outline(bodies.positions[:, 0], bodies.positions[:, 2], outline)
            least = np.minimum(least, np.where(inside, -away, away))
        return least - bodies.radii * self.body / 100

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.all_of("zone", self.zones) & around.near(low, high, self.reach)


def to_outlines(places: np.ndarray, middles: np.ndarray, radii: np.ndarray) -> np.ndarray:
    """Distances of places to the nearest of some circles, less than 0 inside: float64 (N,), metres.

    :param places: float (N, 2), metres. :param middles: float (M, 2), M at least 1. :param radii: float (M,).
    """
    tree, widest = cKDTree(middles), float(radii.max())
    least, open_ = np.full(len(places), np.inf), np.arange(len(places))
    count = min(4, len(middles))
    while len(open_):
        away, found = tree.query(places[open_], k=count)
        away, found = away.reshape(len(open_), -1), found.reshape(len(open_), -1)
        least[open_] = (away - radii[found]).min(1)
        if count == len(middles):
            break
        # One that was not looked at is at least as far as the last that was, less the widest there is.
        open_ = open_[least[open_] > away[:, -1] - widest]
        count = min(4 * count, len(middles))
    return least


class ClearOfPlanting(_Clear):
    """Keep clear of what layers below this one have placed, outline to outline, seen from above."""

    of: Literal["planting"] = "planting"
    layers: Identities = Field(
        (), description="The layers; none chosen means all below this one.", json_schema_extra={"picks": "planting"}
    )
    trunks: float = quantity(
        25, low=0, high=100, unit="%", step=5,
        help="How much of the others' width counts: trees are narrow at their foot.",
    )  # fmt: skip

    def room_left(self, bodies: Bodies, scene: MeasuredScene) -> np.ndarray:
        least = np.full(len(bodies), np.inf)
        places = bodies.positions[:, [0, 2]]
        for name in self.layers:
            others = scene.bodies(name)
            if not len(others):
                continue
            widths = others.radii * self.trunks / 100
            # Others of about one width at a time, so that the nearest outline is that of one of the nearest middles.
            order = np.ceil(np.log2(np.maximum(widths, 1e-3)) * 2)
            for step in np.unique(order):
                mine = order == step
                least = np.minimum(least, to_outlines(places, others.positions[mine][:, [0, 2]], widths[mine]))
        return least - bodies.radii * self.body / 100

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.zeros((len(low), len(around)), bool)

    def looks_at(self) -> tuple[str, ...]:
        return self.layers


class ClearOfShot(_Clear):
    """Keep a shot's view clear: nothing that it sees stands nearer to the lens than this."""

    of: Literal["shot"] = "shot"
    shots: Identities = Field((), description="The shots; none chosen means all.", json_schema_extra={"picks": "shots"})
    distance: float = quantity(
        2, low=0, high=100, unit="m", step=0.1, help="Nearer to the lens than this nothing stands in the picture."
    )

    def room_left(self, bodies: Bodies, scene: MeasuredScene) -> np.ndarray:
        least = np.full(len(bodies), np.inf)
        for name, camera in scene.cameras.items():
            if self.shots and name not in self.shots:
                continue
            right = np.cross(camera.ahead, camera.up)
            for share in (0.0, 0.5, 1.0):
                at = bodies.positions - camera.eye
                at[:, 1] += bodies.heights * share
                depth = at @ camera.ahead
                radii = bodies.radii * self.body / 100
                # Outside one of the sides of the view's pyramid, by more than its own width, nothing is seen.
                seen = depth > -radii
                for side, tangent, middle in ((right, camera.width, 0.0), (camera.up, camera.height, camera.shift)):
                    away = np.abs(at @ side - depth * middle) - np.maximum(depth, 0) * tangent
                    seen &= away / np.hypot(1, tangent) < radii
                least = np.minimum(least, np.where(seen, np.linalg.norm(at, axis=1) - radii, np.inf))
        return least

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.all_of("shot", self.shots) & around.near(low, high, self.reach)


KeepClear = Annotated[ClearOfObjects | ClearOfZones | ClearOfPlanting | ClearOfShot, Field(discriminator="of")]
