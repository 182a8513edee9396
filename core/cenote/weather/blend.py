"""The compiled pass that lays covers over a surface's materials, texel by texel.

A texel is a colour (linear red, green and blue), roughness, metalness, and where it stands: ``low``, its place within the
relief in [0, 1], 1 for the highest; and ``lift``, metres above the mesh. Covers are laid on from the lowest to the
uppermost; each stage below says what it does to a texel and why. All of them are inlined into one loop.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from ..geometry.texels import stretch_row
from .base import CoverLook
from .laying import CHANNELS, lay
from .soaking import wet_share

ONE, HALF = np.float32(1), np.float32(0.5)
_WHOLE = np.float32(1 / 65535)
# Roughness of a water surface that a breath of air touches.
_WATER_ROUGH = np.float32(0.06)
# Masks fainter than this lay nothing.
_FAINTEST = np.float32(0.002)

# The grading of a face: a factor on brightness, and a tint, multiplied above 0, laid on as soft light below.
GRADE = np.dtype([(name, np.float32) for name in ("brightness", "red", "green", "blue", "tinted")])
# A cover's look, as :class:`cenote.weather.base.CoverLook` names its numbers.
LOOK = np.dtype([(name, np.float32) for name in (
    "strength", "joints", "softness", "thickness", "opacity", "soak", "gloss", "flattens", "brightness",
    "red", "green", "blue", "tinted", "rim", "silt_red", "silt_green", "silt_blue", "silts")])  # fmt: skip
# Steps of the tables that tell how much of its mask a cover asks for.
ASKS = 64
# A cover on one of the surface's materials: the tile it is made of there, how well it holds, how far it waits for what is
# bared, and for masks from 0 to 1 how much relief it reaches up to (:func:`asked`).
LAID = np.dtype([("tile", np.int64), ("holds", np.float32), ("waits", np.float32), ("asks", np.float32, (ASKS + 1,))],
                align=True)  # fmt: skip
# The least relief, metres, over whose height the edge of standing water is as soft as its look says.
SHALLOW = np.float32(0.005)
# How high in the relief something lies that bridges it; and the least relief, metres, against which what is sunk counts as low.
_BRIDGED, _SUNK = np.float32(0.7), np.float32(0.02)
# Lower than any level of water.
NO_WATER = -1e6


def look_row(look: CoverLook) -> tuple[float, ...]:
    """A look as a row of :data:`LOOK`."""
    return (look.strength, look.joints, look.softness, look.thickness, look.opacity, look.soak, look.gloss, look.flattens,
            look.brightness, *look.tint, look.tinted, look.rim, *(look.silt or (0, 0, 0)), float(look.silt is not None))  # fmt: skip


@njit(inline="always", cache=True, fastmath=True)
def _unit(value):  # type: ignore
    """A value kept within 0 and 1."""
    return min(max(value, np.float32(0)), ONE)


@njit(inline="always", cache=True, fastmath=True)
def _towards(value, goal, share):  # type: ignore
    """A share of the way from one value to another."""
    return value + share * (goal - value)


@njit(inline="always", cache=True, fastmath=True)
def _soft_light(below, value):  # type: ignore
    """Soft light, (1 − 2b)a² + 2ba, on square roots of linear colour, which are nearly as the eye sees it."""
    a, b = np.sqrt(max(below, np.float32(0))), np.sqrt(max(value, np.float32(0)))
    c = (ONE - np.float32(2) * b) * a * a + np.float32(2) * b * a
    return c * c


@njit(inline="always", cache=True, fastmath=True)
def _tint(value, tint, tinted):  # type: ignore
    """One channel under a tint: multiplied by it where ``tinted`` is above 0, under soft light of it where below."""
    if tinted > 0:
        return value * (ONE - tinted * (ONE - tint))
    if tinted < 0:
        return _towards(value, _soft_light(value, tint), -tinted)
    return value


@njit(inline="always", cache=True, fastmath=True)
def _hold(look, low, clump):  # type: ignore
    """How much mask a texel asks for before a cover takes it: where the mask is faint, a cover holds only to what the
    relief offers, low places or high ones, or to its own clumps. So masks of centimetres give edges of millimetres."""
    prefers = abs(look.joints)
    offered = low if look.joints >= 0 else ONE - low
    return prefers * offered + (ONE - prefers) * (ONE - clump)


def asked(joints: float, softness: float, below: np.ndarray, grain: np.ndarray) -> np.ndarray:
    """Up to where in what a texel asks for (:func:`_hold`) a cover reaches, so that a mask covers just its own share of a
    material: the inverse of the mean over the relief of both, which are taken as independent.

    :param joints, softness: of the cover's look. :param below: float32 (K,), quantiles of the heights of what it lies on. :param grain: float32 (K,), of its own.
    :returns: float32 (ASKS + 1,), for masks from 0 to 1.
    """
    prefers = abs(joints)
    offered = below if joints >= 0 else 1 - below
    holds = np.sort((prefers * offered[:, None] + (1 - prefers) * (1 - grain)).ravel().astype(np.float64))
    reach = np.linspace(holds[0], holds[-1] + softness, 4 * ASKS + 1)
    # The mean of a ramp over sorted numbers, by their running sums.
    sums, count = np.concatenate([[0], np.cumsum(holds)]), len(holds)
    full, begun = (np.searchsorted(holds, reach - wide, "right") for wide in (softness, 0.0))
    part = reach * (begun - full) - (sums[begun] - sums[full])
    covers = (full + part / softness) / count
    return np.interp(np.linspace(0, 1, ASKS + 1), covers, reach).astype(np.float32)


@njit(inline="always", cache=True, fastmath=True)
def _asks(table, mask):  # type: ignore
    """A place between the steps of :func:`asked`."""
    at = mask * np.float32(ASKS)
    step = min(int(at), ASKS - 1)
    return table[step] + (at - np.float32(step)) * (table[step + 1] - table[step])


@njit(inline="always", cache=True, fastmath=True)
def _stands(levels, plane, row, column, u, v):  # type: ignore
    """How deep the mesh lies below the water that stands there, metres: the highest level among the four cells about it."""
    below, beyond = min(row + 1, levels.shape[0] - 1), min(column + 1, levels.shape[1] - 1)
    level = max(max(levels[row, column], levels[row, beyond]), max(levels[below, column], levels[below, beyond]))
    return level - (plane[0] + plane[1] * u + plane[2] * v)


@njit(inline="always", cache=True, fastmath=True)
def _rim(look, over, red, green, blue, rough):  # type: ignore
    """The margin beyond a cover's edge: water creeps a little further, and leaves silt where it has stood higher."""
    margin = min(over / look.rim + ONE, ONE)
    keep = ONE - np.float32(0.45) * look.soak * margin
    silt = look.silts * np.float32(0.55) * margin * (ONE - margin * HALF)
    red = _towards(red * keep, look.silt_red, silt)
    green = _towards(green * keep, look.silt_green, silt)
    blue = _towards(blue * keep, look.silt_blue, silt)
    return red, green, blue, _towards(rough, _WATER_ROUGH, HALF * look.gloss * margin)


@njit(inline="always", cache=True, fastmath=True)
def _soaked(look, amount, rough, metal, colour):  # type: ignore
    """What lies below when it is wet, one channel of its colour: in pores light is lost between grains on its way out.
    Roughness stands for porosity; metal and glaze have none."""
    porous = _unit((rough - np.float32(0.25)) * np.float32(2))
    return _towards(colour, colour * wet_share(colour), look.soak * amount * porous * (ONE - metal))


@njit(inline="always", cache=True, fastmath=True)
def _bared(look, amount, grain, relief, low, lift):  # type: ignore
    """Where a coat has gone: what is bared stands a coat lower and has its own relief."""
    lift += amount * (look.thickness + (grain - HALF) * relief * HALF)
    return _towards(low, grain, amount * HALF), lift


@njit(inline="always", cache=True, fastmath=True)
def _raised(look, amount, fills, hides, grain, relief, reach, low, lift):  # type: ignore
    """Where a cover lies on top. What fills the relief, water or snow, stands ``fills`` metres over its lowest places.
    Its own relief takes the place of what it hides: the two are never added up."""
    flat = look.flattens
    if flat > 0:
        lift = _towards(lift, max(lift, fills), amount * flat)
        low = _towards(low, _unit(fills / max(reach, SHALLOW)), amount * flat)
    own = grain * relief * HALF * (ONE - np.float32(0.7) * flat)
    grown = look.thickness * (HALF + grain * (ONE - flat) + HALF * flat) + own
    if grown > 0:
        below = lift * (ONE - np.float32(0.4) * look.opacity)
        lift = _towards(lift, max(lift, below + grown), amount)
        low = _towards(low, HALF + HALF * grain, hides)
    return low, lift


@njit(inline="always", cache=True, fastmath=True)
def _decalled(row, reach, red, green, blue, rough, metal, low, lift):  # type: ignore
    """A texel under what decals come to there: a row as :class:`cenote.decals.laying.Decalled` has it. What is sunk or raised is
    lower or higher for whatever comes upon it, too."""
    hides = row[3]
    red, green, blue = _towards(red, row[0], hides), _towards(green, row[1], hides), _towards(blue, row[2], hides)
    rough, metal = _towards(rough, row[4], hides), _towards(metal, row[5], hides)
    lift = _towards(lift, _BRIDGED * reach, row[7]) + row[6]
    low = _unit(_towards(low, _BRIDGED, row[7]) + row[6] / max(reach, _SUNK))
    return red, green, blue, rough, metal, low, lift


@njit(inline="always", cache=True, fastmath=True)
def _byte(value):  # type: ignore
    """A value in [0, 1] as a byte."""
    return np.uint8(value * np.float32(255) + HALF)


@njit(cache=True, nogil=True, fastmath=True)
def blend(surface, size, tiles, textures, covers, water, light, stretched, decals, srgb, out, first, beyond):  # type: ignore
    """Compose rows of texels.

    :param surface: faces int32 (H, W), -1 for none; the tile of each face int32 (M,); its grading :data:`GRADE` (M,);
        where its plane begins in its material, float64 (M, 2), metres; and row and column of the first texel.
    :param size: side of a texel, metres. :param tiles: :data:`cenote.weather.laying.TILE` (T,), of memory that is held meanwhile.
    :param textures: what it brought itself, uint16 (H, W, 6) as tiles have it, told where its roughness is above 0; or (0, 0, 6).
    :param covers: :data:`LOOK` (C,), :data:`LAID` (C, own tiles), and masks float32 (C, H, W) in [0, 1].
    :param water: for each cover the row of its levels, int64 (C,), -1 for none; levels of standing water on cells, float32
        (L, h, w), metres in the world, :data:`NO_WATER` where there is none; and the height of each face's plane, float32
        (M, 3): a number, and what is added for each metre to the right and down.
    :param light: occlusion and slow noise on cells, float32 (h, w). :param stretched: how cells are stretched to texels, as
        :func:`cenote.geometry.texels.stretch_table` tells it for rows and for columns.
    :param decals: what lies under the covers, and what over them: the row of each texel int32 (H, W), or (0, 0), and float32 (K, 8) each.
    :param srgb: sRGB bytes of 4096 linear values.
    :param out: base and orm uint8 (H, W, 4), height float32 (H, W); how far water stands float32 (H, W), or (0, 0).
    :param first, beyond: the rows.
    """
    faces, face_tile, grades, shifts, row, column = surface
    looks, laid, masks = covers
    occlusion, drift = light
    rows, sinks, left, share = stretched
    standing, levels, planes = water
    base, orm, height, wet = out
    under, under_rows, over_all, over_rows = decals
    own_pixel, pixel, other = (
        np.empty(CHANNELS, np.float32),
        np.empty(CHANNELS, np.float32),
        np.empty(CHANNELS, np.float32),
    )
    columns = faces.shape[1]
    closed, drifts = np.empty(columns, np.float32), np.empty(columns, np.float32)
    between = np.empty(drift.shape[1] + 1, np.float32)
    for y in range(first, beyond):
        stretch_row(occlusion, rows[y], sinks[y], left, share, between, closed)
        stretch_row(drift, rows[y], sinks[y], left, share, between, drifts)
        for x in range(columns):
            face = faces[y, x]
            if face < 0:
                continue
            # Two kilometres of millimetres are more than float32 tells apart.
            u = (x + column + 0.5) * size + shifts[face, 0]
            v = (y + row + 0.5) * size + shifts[face, 1]
            own = face_tile[face]
            tile, grade = tiles[own], grades[face]
            if textures.shape[0] and textures[y, x, 4] > 0:
                for k in range(CHANNELS):
                    own_pixel[k] = textures[y, x, k] * _WHOLE
            else:
                lay(tile, u, v, own_pixel, other)
            wander = (drifts[x] - HALF) * np.float32(2)
            shade = (ONE + wander * tile.uneven) * grade.brightness
            red = _tint(own_pixel[0] * shade, grade.red, grade.tinted)
            green = _tint(own_pixel[1] * shade, grade.green, grade.tinted)
            blue = _tint(own_pixel[2] * shade, grade.blue, grade.tinted)
            low, rough, metal = own_pixel[3], own_pixel[4], own_pixel[5]
            reach = tile.relief
            lift, bared = low * reach, np.float32(0)
            if under.shape[0] and under[y, x] >= 0:
                red, green, blue, rough, metal, low, lift = _decalled(
                    under_rows[under[y, x]], reach, red, green, blue, rough, metal, low, lift
                )
            for c in range(looks.shape[0]):
                look, on = looks[c], laid[c, own]
                mask = masks[c, y, x] * look.strength * on.holds * (ONE - on.waits * (ONE - bared))
                if mask <= _FAINTEST:
                    continue
                mask = min(mask, ONE)
                made = tiles[on.tile]
                lay(made, u, v, pixel, other)
                grain = pixel[3]
                reaches = _asks(on.asks, mask)
                over, fills = reaches - _hold(look, low, grain), _unit(reaches) * reach
                if standing[c] >= 0:
                    # Water stands level in the world, whatever the mesh and its relief do below.
                    fills = _stands(levels[standing[c]], planes[face], rows[y], left[x], u, v)
                    over = min(over, (fills - lift) / max(reach, SHALLOW))
                if look.rim > 0 and over > -look.rim:
                    red, green, blue, rough = _rim(look, over, red, green, blue, rough)
                if over <= 0:
                    continue
                amount = min(over / look.softness, ONE)
                if look.soak > 0:
                    red = _soaked(look, amount, rough, metal, red)
                    green = _soaked(look, amount, rough, metal, green)
                    blue = _soaked(look, amount, rough, metal, blue)
                hides = amount * look.opacity
                shade = look.brightness * (ONE + wander * made.uneven)
                red = _towards(red, _tint(pixel[0] * shade, look.red, look.tinted), hides)
                green = _towards(green, _tint(pixel[1] * shade, look.green, look.tinted), hides)
                blue = _towards(blue, _tint(pixel[2] * shade, look.blue, look.tinted), hides)
                rough = _towards(_towards(rough, pixel[4], hides), _WATER_ROUGH, amount * look.gloss)
                metal = _towards(metal, pixel[5], hides)
                if look.thickness < 0:
                    low, lift = _bared(look, amount, grain, made.relief, low, lift)
                    bared = max(bared, amount)
                else:
                    low, lift = _raised(look, amount, fills, hides, grain, made.relief, reach, low, lift)
                    if standing[c] >= 0:
                        wet[y, x] = max(wet[y, x], amount)
            if over_all.shape[0] and over_all[y, x] >= 0:
                red, green, blue, rough, metal, low, lift = _decalled(
                    over_rows[over_all[y, x]], lift, red, green, blue, rough, metal, low, lift
                )
            base[y, x, 0] = srgb[int(_unit(red) * np.float32(4095))]
            base[y, x, 1] = srgb[int(_unit(green) * np.float32(4095))]
            base[y, x, 2] = srgb[int(_unit(blue) * np.float32(4095))]
            base[y, x, 3] = 255
            orm[y, x, 0] = _byte(_unit(ONE - closed[x]))
            orm[y, x, 1] = _byte(min(max(rough, np.float32(0.03)), ONE))
            orm[y, x, 2] = _byte(_unit(metal))
            orm[y, x, 3] = 255
            height[y, x] = lift
