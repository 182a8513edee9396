"""Buildings blocked out from a footprint, storeys, a roof and openings by facade."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ..geometry.build import box, turned
from ..geometry.mesh import Mesh, join, placement_matrix
from ..geometry.outlines import simple_outline
from ..kit.base import Dice
from ..parameters import Declared, choice, count, drawn, extent, quantity, switch
from .base import MAKERS, Maker, framed, wall_panel
from .polygons import counter_clockwise, is_convex, offset, ring, signed_area, slab, triangles

_Opening = tuple[float, float, float, float, str]
# Width, height, height of the sill over the floor, what fills it.
_SIZES = {
    "door": (0.95, 2.1, 0.0, "painted_timber"),
    "wide door": (2.4, 2.5, 0.0, "timber"),
    "window": (1.0, 1.35, 0.85, "pane"),
    "balcony": (1.1, 2.15, 0.02, "pane"),
    "stair": (1.1, 2.1, 0.0, "painted_timber"),
}


class Facade(Declared):
    """Openings of one kind on one side and storey of a building."""

    side: int = count(1, low=0, high=40, help="Which side of the outline, counted from 1; 0 stands for all.")
    storey: int = count(0, low=0, high=20, help="Which storey, counted from 1; 0 stands for all.")
    opening: Literal["door", "wide door", "window", "balcony", "stair"] = choice(
        "window", help="A door, a wide door, windows, a balcony with railing, or a door with a stair up to it."
    )
    number: int = count(2, low=1, high=40, help="How many stand in the row, evenly spaced.")
    size: float = quantity(1, low=0.4, high=2.5, unit="×", step=0.05, help="Factor on the opening's usual size.")
    setback: float = quantity(0.11, low=0, high=0.4, unit="m", step=0.01, help="How far frames are set into the wall.")


_USUAL = (
    Facade(side=1, storey=1, opening="door", number=1),
    Facade(side=1, storey=0, opening="window", number=3),
    Facade(side=3, storey=0, opening="window", number=3),
    Facade(side=2, storey=2, opening="balcony", number=1),
)


@MAKERS.register
class Building(Maker):
    """A building of any outline: storeys, floors, a flat or pitched roof, openings by side; seeded, sound or ruined."""

    kind: Literal["building"] = "building"
    title: ClassVar[str] = "Building"
    footprint: Literal["rectangle", "L", "drawn"] = choice("rectangle", help="The shape of its outline.")
    size: tuple[float, float] = extent((9, 6.5), low=2, high=80, unit="m", help="Extent along x and z.")
    wing: float = quantity(0.45, low=0.2, high=0.8, unit="", step=0.05, help="How wide the wings of an L are.")
    outline: tuple[tuple[float, float], ...] = drawn(
        "outline", most=60, sets={"footprint": "drawn"}, help="Corners of a drawn footprint along x and z, metres."
    )
    storeys: int = count(2, low=1, high=12, help="How many storeys it has.")
    storey_height: float = quantity(2.9, low=2.2, high=6, unit="m", step=0.05, help="From floor to floor.")
    walls: float = quantity(0.34, low=0.1, high=1, unit="m", step=0.02, help="Thickness of the walls.")
    floor: float = quantity(0.22, low=0.05, high=0.6, unit="m", step=0.01, help="Thickness of the floors.")
    columns: float = quantity(0, low=0, high=8, unit="m", step=0.5, help="Distance of columns inside; 0 for none.")
    roof: Literal["pitched", "hipped", "flat"] = choice("pitched", help="Gabled, hipped, or flat with a parapet.")
    pitch: float = quantity(40, low=8, high=65, unit="°", step=1, help="How steep the roof is.")
    eaves: float = quantity(0.35, low=0, high=1.2, unit="m", step=0.05, help="How far the roof stands out.")
    facades: tuple[Facade, ...] = Field(default=_USUAL, max_length=60)
    variety: float = quantity(0.25, low=0, high=1, unit="", step=0.05, help="How far openings are moved or left out.")
    ruin: float = quantity(0, low=0, high=1, unit="", step=0.02, help="How far walls are broken and roofs fallen in.")
    wall_material: str = Field(
        "brick", description="What the walls are made of.", json_schema_extra={"picks": "material"}
    )
    roof_material: str = Field(
        "roof_tile", description="What the roof is made of.", json_schema_extra={"picks": "material"}
    )
    chimney: bool = switch(True, help="Whether there is a chimney.")
    seed: int = count(1, low=0, high=9999, help="Another number gives another variant.")

    @model_validator(mode="after")
    def _buildable(self) -> Building:
        if self.footprint == "drawn":
            if len(self.outline) < 3:
                raise ValueError("outline: at least three corners are needed")
            simple_outline(self.outline)
            points = counter_clockwise(np.array(self.outline))
            if abs(points).max() > 200:
                raise ValueError("outline: a building must stay within 200 m of its middle")
            if np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1).min() < 0.3:
                raise ValueError("outline: a side is shorter than 0.3 m")
            if self.roof != "flat" and not is_convex(points):
                raise ValueError(
                    "roof: over an outline that bends inwards only a flat roof can be built; an L can have both"
                )
        offset(self._corners(), -self.walls)
        return self

    def _corners(self) -> np.ndarray:
        """The outline, counter-clockwise in x–z; its first side is the front, towards +z."""
        w, d = self.size[0] / 2, self.size[1] / 2
        if self.footprint == "drawn":
            return counter_clockwise(np.array(self.outline, float))
        if self.footprint == "L":
            x, z = w - 2 * w * self.wing, d - 2 * d * self.wing
            # The inner corner lies at the back right.
            return counter_clockwise(np.array([[w, d], [-w, d], [-w, -d], [-x, -d], [-x, z], [w, z]]))
        return counter_clockwise(np.array([[w, d], [-w, d], [-w, -d], [w, -d]]))

    def build(self) -> Mesh:
        dice = Dice("building", self.seed)
        outline = self._corners()
        inner = offset(outline, -self.walls)
        height = self.storeys * self.storey_height
        parts: list[Mesh] = [slab(offset(outline, 0.06), -0.5, 0.3, "ashlar")]
        base = 0.3
        for k in range(len(outline)):
            for storey in range(self.storeys):
                parts += self._wall(outline, k, storey, base + storey * self.storey_height, dice)
        for storey in range(1, self.storeys + (self.roof == "flat")):
            if self.ruin > 0.35 and dice.one() < (self.ruin - 0.35) * 1.4:
                continue
            level = base + storey * self.storey_height
            parts.append(
                slab(offset(inner, -0.005), level - self.floor, level, "timber" if self.roof != "flat" else "concrete")
            )
        parts += self._columns(inner, base)
        if self.roof == "flat":
            top = base + height
            rim = ring(outline, inner, top, top + 0.55, self.wall_material)
            parts += [rim, ring(offset(outline, 0.04), offset(inner, -0.04), top + 0.55, top + 0.63, "ashlar")]
        elif self.ruin < 0.85:
            parts += self._roof(outline, base + height, dice)
        if self.ruin > 0.1:
            parts += self._rubble(outline, dice)
        return join(parts)

    def _openings(self, side: int, storey: int, length: float, dice: Dice) -> list[tuple[_Opening, Facade]]:
        """Openings of a wall, in metres from its lower left corner, none nearer than 25 cm to another."""
        out: list[tuple[_Opening, Facade]] = []
        for facade in self.facades:
            if facade.side not in (0, side + 1) or facade.storey not in (0, storey + 1):
                continue
            if facade.opening == "stair" and storey > 0:
                continue
            width, tall, sill, filling = _SIZES[facade.opening]
            width, tall = width * facade.size, min(tall * facade.size, self.storey_height - self.floor - 0.25)
            sill = sill if sill + tall < self.storey_height - 0.3 else max(0.0, self.storey_height - 0.3 - tall)
            single = facade.opening in ("door", "wide door", "stair")
            for k in range(facade.number):
                share = (k + 0.5) / facade.number
                if single and facade.number == 1:
                    share = 0.5
                middle = length * share + dice.one(-0.5, 0.5) * self.variety * 0.5 * (not single)
                skipped = dice.one() < self.variety * 0.25 and not single
                left, right = middle - width / 2, middle + width / 2
                clear = all(right + 0.25 < o[0] or left - 0.25 > o[2] for o, _ in out)
                if left < 0.3 or right > length - 0.3 or not clear or skipped:
                    continue
                out.append(((left, sill, right, sill + tall, filling), facade))
        return out

    def _wall(self, outline: np.ndarray, side: int, storey: int, level: float, dice: Dice) -> list[Mesh]:
        a, b = outline[(side + 1) % len(outline)], outline[side]
        length = float(np.linalg.norm(b - a))
        along = (b - a) / length
        # The panel is built along x with its face to +z; turn it so that its face looks out of the outline.
        turn = np.degrees(np.arctan2(-along[1], along[0]))
        matrix = placement_matrix((a[0], level, a[1]), turn)
        openings = self._openings(side, storey, length, dice)
        holes = [o[:4] for o, _ in openings]
        h = self.storey_height
        broken = self._broken(length, storey, dice)
        panel = wall_panel(length, h, self.walls, holes + broken, self.wall_material)
        pieces = [panel]
        if self.ruin > 0.15:
            pieces += self._ragged(broken, h, dice)
        for (left, bottom, right, top, filling), facade in openings:
            if any(left < o[2] and right > o[0] and top > o[1] for o in broken):
                continue
            lost = dice.one() < self.ruin * 1.2
            if not lost:
                pieces += framed(left, bottom, right, top, min(facade.setback, self.walls - 0.08), filling)
            lintel = box((left - 0.14, top, -0.2), (right + 0.14, top + 0.18, 0.02), "ashlar")
            pieces.append(lintel)
            if bottom > 0.3:
                pieces.append(box((left - 0.09, bottom - 0.1, -0.2), (right + 0.09, bottom, 0.07), "ashlar"))
            if facade.opening == "balcony" and storey > 0:
                pieces += _balcony(left - 0.5, right + 0.5)
            if facade.opening == "stair":
                pieces += [box((left - 0.15, -0.3 - 0.4, 0.0), (right + 0.15, -0.3 + 0.3 - k * 0.1, 0.3 * (k + 1)), "ashlar")
                           for k in range(3)]  # fmt: skip
        return [piece.moved(matrix) for piece in pieces]

    def _broken(self, length: float, storey: int, dice: Dice) -> list[tuple[float, float, float, float]]:
        """Stretches of a wall that have fallen, deepest in the uppermost storey, in steps as courses break."""
        out: list[tuple[float, float, float, float]] = []
        share = np.clip(self.ruin * 1.5 - 0.5 * (self.storeys - 1 - storey), 0, 1)
        x = dice.one(0, 1.2)
        while share > 0.02 and x < length - 0.4:
            wide = dice.one(0.4, 1.6)
            if dice.one() < 0.25 + 0.7 * share:
                fall = self.storey_height * share * dice.one(0.25, 1.0)
                out.append((max(0.0, x), self.storey_height - fall, min(length, x + wide), self.storey_height))
            x += wide + dice.one(0, 0.5) * (1 - share)
        return out

    def _ragged(self, broken: list[tuple[float, float, float, float]], h: float, dice: Dice) -> list[Mesh]:
        """Loose bricks and stumps along broken edges, so that no break is straight."""
        out = []
        for left, bottom, right, _ in broken:
            x = left
            while x < right - 0.1:
                wide, tall = dice.one(0.1, 0.35), dice.one(0.03, 0.3) * min(1.0, self.ruin * 2)
                depth = self.walls * dice.one(0.6, 1.0)
                if bottom + tall < h:
                    out.append(
                        box((x, bottom, -depth), (min(x + wide, right), bottom + tall, -0.002), self.wall_material)
                    )
                x += wide
        return out

    def _columns(self, inner: np.ndarray, base: float) -> list[Mesh]:
        if not self.columns:
            return []
        low, high = inner.min(0), inner.max(0)
        out = []
        inside = offset(inner, -0.4) if min(high - low) > 1.6 else inner
        for x in np.arange(low[0] + self.columns, high[0] - 0.5, self.columns):
            for z in np.arange(low[1] + self.columns, high[1] - 0.5, self.columns):
                if _contains(inside, x, z):
                    out.append(
                        box(
                            (x - 0.15, base, z - 0.15),
                            (x + 0.15, base + self.storeys * self.storey_height, z + 0.15),
                            "concrete",
                        )
                    )
        return out

    def _wings(self, outline: np.ndarray) -> list[tuple[np.ndarray, np.ndarray]]:
        """Rectangles that the roof is put together from: least and greatest corners."""
        if self.footprint == "L":
            w, d = self.size[0] / 2, self.size[1] / 2
            x, z = w - 2 * w * self.wing, d - 2 * d * self.wing
            return [(np.array([-w, z]), np.array([w, d])), (np.array([-w, -d]), np.array([-x, d]))]
        return [(outline.min(0), outline.max(0))]

    def _roof(self, outline: np.ndarray, top: float, dice: Dice) -> list[Mesh]:
        slope, thick = float(np.tan(np.radians(self.pitch))), 0.14
        if self.roof == "hipped" or (self.footprint == "drawn"):
            if self.footprint == "L":
                return [_hipped(counter_clockwise(_corners_of(low, high)), top, slope, self.eaves, thick, self.roof_material)
                        for low, high in self._wings(outline)]  # fmt: skip
            return [_hipped(outline, top, slope, self.eaves, thick, self.roof_material)]
        out: list[Mesh] = []
        for row, (low, high) in enumerate(self._wings(outline)):
            out += self._gabled(low, high, top, slope, thick, dice, chimney=self.chimney and row == 0)
        return out

    def _gabled(
        self, low: np.ndarray, high: np.ndarray, top: float, slope: float, thick: float, dice: Dice, chimney: bool
    ) -> list[Mesh]:
        along_x = (high - low)[0] >= (high - low)[1]
        long, wide = ((high - low)[0], (high - low)[1]) if along_x else ((high - low)[1], (high - low)[0])
        middle, turn = (low + high) / 2, 0.0 if along_x else 90.0
        matrix = placement_matrix((middle[0], top, middle[1]), turn)
        rise, run, drop, over = wide / 2 * slope, wide / 2 + self.eaves, self.eaves * slope, 0.22
        out = []
        for end in (-1, 1):
            x0, x1 = sorted((end * (long / 2 - self.walls), end * long / 2))
            gable = np.array([[-wide / 2, 0], [wide / 2, 0], [0, rise]])
            out.append(_drawn_out(gable, x0, x1, self.wall_material))
        for side in (-1, 1):
            # Courses of the roof in strips: those that have fallen in leave their rafters.
            strips = max(1, round(long / 1.1))
            for k in range(strips):
                x0, x1 = (
                    -long / 2 - over + k * (long + 2 * over) / strips,
                    -long / 2 - over + (k + 1) * (long + 2 * over) / strips,
                )
                profile = np.array([[0, rise], [side * run, -drop], [side * run, -drop + thick], [0, rise + thick]])
                if self.ruin > 0.05 and dice.one() < self.ruin * 1.15:
                    out.append(_drawn_out(profile - [0, 0.05], x0 + 0.05, x0 + 0.15, "planed_timber"))
                    continue
                out.append(_drawn_out(profile, x0, x1, self.roof_material))
        if chimney and self.ruin < 0.5:
            x = -long / 2 + 0.8
            out.append(box((x - 0.36, rise * 0.3, -0.3), (x + 0.36, rise + 0.95, 0.3), self.wall_material))
            out.append(box((x - 0.43, rise + 0.95, -0.37), (x + 0.43, rise + 1.05, 0.37), "ashlar"))
            out += [
                turned([(0.1, 0), (0.085, 0.3), (0.11, 0.35)], 10, "roof_tile").at(x + dx, rise + 1.05, 0)
                for dx in (-0.17, 0.17)
            ]
        return [piece.moved(matrix) for piece in out]

    def _rubble(self, outline: np.ndarray, dice: Dice) -> list[Mesh]:
        """What has fallen lies at the foot of the walls, inside and out."""
        out = []
        perimeter = np.linalg.norm(np.roll(outline, -1, axis=0) - outline, axis=1).sum()
        for _ in range(int(perimeter * self.ruin * 9)):
            k = int(dice.one(0, len(outline)))
            t, away = dice.one(), dice.one() ** 1.6
            a, b = outline[k], outline[(k + 1) % len(outline)]
            along = (b - a) / np.linalg.norm(b - a)
            normal = np.array([along[1], -along[0]]) * (1 if dice.one() < 0.6 else -1)
            at = a + (b - a) * t + normal * (0.15 + 1.3 * away)
            size = dice.one(0.06, 0.26)
            turn = placement_matrix((at[0], size * 0.1 + 0.25 * (1 - away) * self.ruin, at[1]), dice.one(0, 360))
            out.append(
                box((-size, -size * 0.4, -size * 0.6), (size, size * 0.4, size * 0.6), self.wall_material).moved(turn)
            )
        return out


def _contains(outline: np.ndarray, x: float, z: float) -> bool:
    nxt = np.roll(outline, -1, axis=0)
    crosses = (outline[:, 1] > z) != (nxt[:, 1] > z)
    at = outline[:, 0] + (z - outline[:, 1]) * (nxt[:, 0] - outline[:, 0]) / np.where(
        nxt[:, 1] == outline[:, 1], 1e-12, nxt[:, 1] - outline[:, 1]
    )
    return bool((crosses & (x < at)).sum() % 2)


def _corners_of(low: np.ndarray, high: np.ndarray) -> np.ndarray:
    return np.array([[low[0], low[1]], [high[0], low[1]], [high[0], high[1]], [low[0], high[1]]])


def _drawn_out(outline: np.ndarray, x0: float, x1: float, part: str) -> Mesh:
    """An outline in z–y drawn out along x, closed; outlines may be wound either way."""
    points = outline if signed_area(outline) > 0 else outline[::-1]
    n = len(points)
    positions = np.concatenate([np.column_stack([np.full(n, x), points[:, 1], points[:, 0]]) for x in (x0, x1)])
    cap = triangles(points)
    a, b, c = (points[cap[:, k]] for k in range(3))
    ccw = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1]) > 0
    cap = np.where(ccw[:, None], cap, cap[:, ::-1])
    # z × y is −x: a counter-clockwise outline in z–y looks towards −x.
    faces = [cap, cap[:, ::-1] + n]
    for k in range(n):
        m = (k + 1) % n
        faces.append(np.array([[k, k + n, m], [m, k + n, m + n]]))
    return Mesh.of(positions, np.concatenate(faces), part)


def _hipped(outline: np.ndarray, top: float, slope: float, eaves: float, thick: float, part: str) -> Mesh:
    """A roof that rises evenly from all sides of a convex outline: each side's slope is cut where another lies lower."""
    edge = offset(outline, eaves)
    n = len(edge)
    inward = []
    for k in range(n):
        along = (edge[(k + 1) % n] - edge[k]) / np.linalg.norm(edge[(k + 1) % n] - edge[k])
        inward.append((edge[k], np.array([-along[1], along[0]])))
    pieces = []
    for k in range(n):
        # The part of the outline that is nearer to this side than to any other.
        region = edge.copy()
        for j in range(n):
            if j != k:
                normal = inward[j][1] - inward[k][1]
                shift = inward[j][1] @ inward[j][0] - inward[k][1] @ inward[k][0]
                region = _clipped(region, normal, shift)
        if len(region) < 3:
            continue
        rise = np.maximum((region - inward[k][0]) @ inward[k][1], 0) * slope
        upper = np.column_stack([region[:, 0], top - eaves * slope + rise + thick, region[:, 1]])
        lower = upper - [0, thick, 0]
        m = len(region)
        cap = np.array([[0, i + 1, i] for i in range(1, m - 1)])
        faces = [cap, cap[:, ::-1] + m]
        faces += [np.array([[i, (i + 1) % m, i + m], [(i + 1) % m, (i + 1) % m + m, i + m]]) for i in range(m)]
        pieces.append(Mesh.of(np.concatenate([upper, lower]), np.concatenate(faces), part))
    return join(pieces)


def _clipped(region: np.ndarray, normal: np.ndarray, shift: float) -> np.ndarray:
    """The part of a convex outline where ``normal · p ≥ shift``."""
    far = region @ normal - shift if len(region) else np.zeros(0)
    out = []
    for k in range(len(region)):
        m = (k + 1) % len(region)
        if far[k] >= -1e-12:
            out.append(region[k])
        if (far[k] > 1e-12) != (far[m] > 1e-12) and abs(far[k] - far[m]) > 1e-15:
            out.append(region[k] + (region[m] - region[k]) * far[k] / (far[k] - far[m]))
    return np.array(out).reshape(-1, 2)


def _balcony(left: float, right: float) -> list[Mesh]:
    out = [box((left, -0.16, 0.0), (right, 0.0, 1.05), "concrete")]
    out.append(box((left, 0.95, 1.0), (right, 0.99, 1.04), "iron"))
    for x in np.arange(left + 0.02, right, 0.13):
        out.append(box((x, 0.0, 1.01), (x + 0.018, 0.95, 1.03), "iron"))
    for x in (left, right - 0.04):
        out.append(box((x, 0.95, 0.0), (x + 0.04, 0.99, 1.04), "iron"))
        out += [box((x + 0.01, 0.0, z), (x + 0.028, 0.95, z + 0.018), "iron") for z in np.arange(0.1, 1.0, 0.13)]
    return out
