"""The ground of a site: its extent, how it was shaped, and what was painted on it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, field_validator, model_validator

from ..geometry.ground import ground_mesh, height_field, levelled
from ..geometry.mesh import Mesh
from ..geometry.outlines import simple_outline
from ..geometry.sculpt import distance_to_outline, from_map, hollowed, level_along, sculpted, spills_at
from ..parameters import Declared, choice, count, drawn, extent, quantity, span, switch
from ..signals.noise import world_noise

Identity = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9][a-z0-9_-]*$")]
Path = Annotated[tuple[tuple[float, float], ...], Field(min_length=1, max_length=600)]
# Gives a stored height map, float32 (rows, columns) in [0, 1], by its content hash.
ReadMap = Callable[[str], np.ndarray]


class Levelled(Declared):
    """A rectangle of the ground brought to one level, for a building or a basin."""

    centre: tuple[float, float] = extent((0, 0), low=-1000, high=1000, unit="m", help="Middle along x and z.")
    size: tuple[float, float] = extent((4, 4), low=0, high=2000, unit="m", help="Extent along x and z.")
    turn: float = quantity(0, low=-360, high=360, unit="°", step=1, help="Turn about the upright axis.")
    level: float = quantity(0, low=-50, high=50, unit="m", step=0.1, help="The level it is brought to.")
    edge: float = quantity(
        1, low=0, high=50, unit="m", step=0.1, help="Width of the band in which it blends into the ground."
    )


class Hollow(Declared):
    """A basin in the ground, round or drawn, with a rim; it may hold water."""

    centre: tuple[float, float] = extent((0, 0), low=-1000, high=1000, unit="m", help="Middle along x and z.")
    size: tuple[float, float] = extent(
        (6, 5), low=0.2, high=2000, unit="m", help="Extent of a round one along x and z."
    )
    outline: tuple[tuple[float, float], ...] = drawn(
        "outline", most=300, help="Corners of a drawn one, in place of the round shape; metres."
    )
    depth: float = quantity(0.8, low=0.01, high=50, unit="m", step=0.05, help="From its outline down to its floor.")
    rim_height: float = quantity(0.1, low=0, high=10, unit="m", step=0.02, help="How far its rim stands up.")
    rim_width: float = quantity(0.6, low=0, high=20, unit="m", step=0.05, help="How wide its rim is, to either side.")
    softness: float = quantity(1.5, low=0.01, high=50, unit="m", step=0.05, help="How far inwards its sides slope.")
    filled: bool = switch(False, help="Whether it holds water.")
    water: float = quantity(
        0.2, low=0, high=50, unit="m", step=0.02, help="How far below its outline the water stands."
    )

    @model_validator(mode="after")
    def _drawn_well(self) -> Hollow:
        if self.outline:
            if len(self.outline) < 3:
                raise ValueError("outline: at least three corners are needed")
            simple_outline(self.outline)
        return self

    def corners(self) -> np.ndarray:
        """Its outline, float64 (N, 2)."""
        if self.outline:
            return np.array(self.outline, float)
        turn = np.linspace(0, 2 * np.pi, 49)[:-1]
        return np.array(self.centre) + np.column_stack([np.cos(turn), np.sin(turn)]) * np.array(self.size) / 2


class Stroke(Declared):
    """One stroke of a brush that shapes the ground."""

    tool: Literal["raise", "lower", "smooth", "flatten", "roughen"] = choice("raise", help="What the brush does.")
    radius: float = quantity(1.5, low=0.05, high=200, unit="m", step=0.05, help="Radius of the brush.")
    strength: float = quantity(0.2, low=0.01, high=20, unit="m", step=0.01, help="How far it moves the ground.")
    soft: float = quantity(0.7, low=0, high=1, unit="", step=0.05, help="How soft its edge is.")
    level: float = quantity(0, low=-200, high=200, unit="m", step=0.05, help="Where flatten leads.")
    path: Path

    @field_validator("path")
    @classmethod
    def _near(cls, path: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if not np.isfinite(path).all() or np.abs(path).max() > 5000:
            raise ValueError("a stroke must stay within 5 km")
        return path


class PaintStroke(Declared):
    """One stroke that paints a material, or takes it away."""

    adds: bool = switch(True, help="Whether it paints or takes away.")
    radius: float = quantity(0.8, low=0.05, high=200, unit="m", step=0.05, help="Radius of the brush.")
    strength: float = quantity(1, low=0.05, high=1, unit="", step=0.05, help="How much it covers.")
    soft: float = quantity(0.6, low=0, high=1, unit="", step=0.05, help="How soft its edge is.")
    path: Path


class PaintedMaterial(Declared):
    """A material painted on the ground; where it is faint it lies in the hollows of what is below."""

    id: Identity
    name: str = Field("Painted", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether it is seen.")
    material: str = Field("mud", description="What is painted.", json_schema_extra={"picks": "material"})
    softness: float = quantity(0.35, low=0.02, high=2, unit="", step=0.02, help="How softly it blends at its edge.")
    hollows: float = quantity(
        0.5, low=0, high=1, unit="", step=0.05, help="How much it fills hollows before it covers."
    )
    strokes: tuple[PaintStroke, ...] = Field(default=(), max_length=2000)


class HeightMap(Declared):
    """A height map laid over the whole ground, in place of its humps."""

    map: str = Field(
        pattern=r"^[0-9a-f]{64}$",
        description="Content hash of the stored map.",
        json_schema_extra={"brought": "heights"},
    )
    file_name: str = Field("", max_length=200)
    range: tuple[float, float] = span((0, 4), low=-1000, high=4000, unit="m", help="The heights of black and of white.")
    smoothing: float = quantity(0.5, low=0, high=50, unit="m", step=0.1, help="Radius over which it is averaged.")


def _dug(x: np.ndarray, z: np.ndarray, heights: np.ndarray, hollow: Hollow) -> np.ndarray:
    return hollowed(x, z, heights, hollow.corners(), depth=hollow.depth, rim_height=hollow.rim_height,
                    rim_width=hollow.rim_width, soft=hollow.softness)  # fmt: skip


class Ground(Declared):
    """The ground of a site."""

    size: tuple[float, float] = extent((40, 40), low=2, high=2000, unit="m", help="Extent along x and z.")
    spacing: float = quantity(
        0.25, low=0.1, high=20, unit="m", step=0.05,
        help="Distance between the points that shape it; wider by itself where there would be more than a million.",
    )  # fmt: skip
    relief: float = quantity(
        0.5, low=0, high=50, unit="m", step=0.05, help="Height between its lowest and highest places."
    )
    swell: float = quantity(
        14, low=1, high=500, unit="m", step=1, label="Size of humps", help="Size of its largest humps and hollows."
    )
    seed: int = count(1, low=0, high=9999, help="Another number gives another ground.")
    material: str = Field("meadow", description="What it is made of.", json_schema_extra={"picks": "material"})
    goes_on: bool = switch(
        True, help="Whether the land goes on beyond the edge, to the horizon; it is seen, and not exported."
    )
    height_map: HeightMap | None = None
    hollows: tuple[Hollow, ...] = Field(default=(), max_length=60)
    levelled: tuple[Levelled, ...] = Field(default=(), max_length=60)
    strokes: tuple[Stroke, ...] = Field(default=(), max_length=3000)
    paints: tuple[PaintedMaterial, ...] = Field(default=(), max_length=12)

    @property
    def apart(self) -> float:
        """How far the points that shape it really lie apart, metres: a million of them at most."""
        return max(self.spacing, float(np.sqrt(self.size[0] * self.size[1] / 1_000_000)))

    def grid(self) -> tuple[np.ndarray, np.ndarray]:
        """Coordinates x and z of the points that shape it, each float64 (rows, columns)."""
        return height_field(self.size, self.apart)

    def shaped(self, read: ReadMap | None = None) -> np.ndarray:
        """Heights before any stroke, float64 (rows, columns): humps or map, hollows, levelled places."""
        x, z = self.grid()
        if self.height_map and read:
            given = self.height_map
            heights = from_map(read(given.map), self.size, x, z, *given.range, given.smoothing)
        else:
            flat = np.column_stack([x.ravel(), np.zeros(x.size), z.ravel()]).astype(np.float32)
            heights = (world_noise(flat, self.swell, 5, self.seed).astype(float).reshape(x.shape) - 0.5) * self.relief
        for hollow in self.hollows:
            heights = _dug(x, z, heights, hollow)
        for place in self.levelled:
            heights = levelled(x, z, heights, place.centre, place.size, place.level, place.edge, place.turn)
        return heights

    def outline_levels(self, read: ReadMap | None = None) -> list[float]:
        """The mean height along the outline of each hollow before it was dug, metres."""
        if not self.hollows:
            return []
        x, z = self.grid()
        heights = self.model_copy(update={"hollows": (), "levelled": ()}).shaped(read)
        out = []
        for hollow in self.hollows:
            out.append(level_along(x, z, heights, hollow.corners()))
            heights = _dug(x, z, heights, hollow)
        return out

    def waters(self, heights: np.ndarray, levels: list[float]) -> list[tuple[float, np.ndarray]]:
        """What stands in its hollows: pairs of the level in metres and the outline float64 (N, 2).

        Water stands as far below the outline as the hollow says; where its rim is lower somewhere, by a slope or by strokes,
        it stands at that, and where that is below the floor there is none.

        :param heights: float64 (rows, columns), metres, as they are in the end. :param levels: of :meth:`outline_levels`.
        """
        x, z = self.grid()
        out = []
        for hollow, outline in zip(self.hollows, levels, strict=True):
            if not hollow.filled:
                continue
            corners = hollow.corners()
            level = min(outline - hollow.water, spills_at(x, z, heights, corners, hollow.rim_width))
            _, inside = distance_to_outline(x, z, corners)
            if inside.any() and level > heights[inside].min():
                out.append((level, corners))
        return out

    def stroked(self, heights: np.ndarray, stroke: Stroke, number: int) -> np.ndarray:
        """Heights (h, w), metres, after one more stroke. :param number: which stroke it is, for its roughness."""
        x, z = self.grid()
        spacing = float(x[0, 1] - x[0, 0]), float(z[1, 0] - z[0, 0])
        return sculpted(heights, (float(x[0, 0]), float(z[0, 0])), spacing, np.array(stroke.path), tool=stroke.tool,
                        radius=stroke.radius, strength=stroke.strength, soft=stroke.soft, level=stroke.level,
                        seed=self.seed * 7919 + number)  # fmt: skip

    def heights(self, read: ReadMap | None = None) -> np.ndarray:
        """Final heights, float64 (rows, columns), metres."""
        heights = self.shaped(read)
        for number, stroke in enumerate(self.strokes):
            heights = self.stroked(heights, stroke, number)
        return heights

    def mesh(self, heights: np.ndarray) -> Mesh:
        """The mesh of these heights, float (h, w), metres."""
        return ground_mesh(*self.grid(), heights, self.material)

    def build(self, read: ReadMap | None = None) -> Mesh:
        """The mesh of the ground."""
        return self.mesh(self.heights(read))
