"""The compositor: final maps of a surface from its materials and the covers over them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit

from ..geometry.charts import Atlas
from ..geometry.texels import TexelGrid, stretch_row, stretch_table
from ..materials.tile import relief_normals
from ..parallel import over_rows, rows_of
from .base import CoverLook, Film

_CHANNELS = 6  # red, green, blue, height, roughness, metalness


def _encode(linear: np.ndarray) -> np.ndarray:
    """Linear to sRGB (IEC 61966-2-1), both in [0, 1]."""
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)


def from_srgb(shown: np.ndarray) -> np.ndarray:
    """Linear values of sRGB ones (IEC 61966-2-1): uint8 in [0, 255] to float64 in [0, 1]."""
    table = np.arange(256) / 255
    table = np.where(table <= 0.04045, table / 12.92, ((table + 0.055) / 1.055) ** 2.4)
    return np.asarray(table[shown])


_SRGB = np.round(_encode(np.linspace(0, 1, 4096)) * 255).astype(np.uint8)


@dataclass(frozen=True)
class LaidTile:
    """A material tile ready for the compositor.

    :ivar pixels: float32 (n, n, 6), as ``Tile.packed`` gives it; shrink it with :func:`shrunk` for coarse texels.
    :ivar size: its side in metres.
    :ivar relief: metres between its lowest and highest point.
    :ivar uneven: share by which its brightness drifts.
    """

    pixels: np.ndarray
    size: float
    relief: float
    uneven: float


def shrunk(tile: LaidTile, texel: float) -> LaidTile:
    """The tile averaged down until its pixels are about as large as a texel, so that coarse texels do not flicker."""
    pixels = tile.pixels
    while len(pixels) > 4 and tile.size / len(pixels) * 1.42 < texel:
        pixels = pixels.reshape(len(pixels) // 2, 2, len(pixels) // 2, 2, _CHANNELS).mean((1, 3))
    return LaidTile(np.ascontiguousarray(pixels, np.float32), tile.size, tile.relief, tile.uneven)


def encoded(linear: np.ndarray) -> np.ndarray:
    """Linear colour, and alpha if there is a fourth channel, as sRGB bytes: float (…, 3 or 4) in [0, 1] to uint8."""
    out = np.clip(linear, 0, 1)
    colour = _SRGB[np.round(out[..., :3] * 4095).astype(np.int32)]
    return np.concatenate([colour, np.round(out[..., 3:] * 255).astype(np.uint8)], axis=-1)


def tile_pictures(tile: LaidTile) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A tile as files and views want it, each uint8 (n, n, 3): sRGB colour; occlusion 255, roughness and metalness;
    tangent-space normals with +Y up in the picture.
    """
    normal = np.round(relief_normals(tile.pixels[..., 3], tile.size, tile.relief) * 127.5 + 127.5).astype(np.uint8)
    orm = np.dstack([np.ones_like(tile.pixels[..., 3]), tile.pixels[..., 4], tile.pixels[..., 5]])
    return encoded(tile.pixels[..., :3]), np.round(orm * 255).astype(np.uint8), normal


@dataclass(frozen=True)
class LaidCover:
    """A cover ready for the compositor.

    :ivar tiles: what it is made of on each of the surface's own tiles: one for all of them, or one for each.
    :ivar mask: float32 (H, W) in [0, 1].
    :ivar look: its numbers, as :class:`cenote.weather.base.CoverLook` gives them.
    :ivar holds: how well it holds to each of the surface's own tiles, float (T,) in [0, 1]; None for everywhere.
    :ivar waits: how far it keeps to where each of these has been bared, float (T,) in [0, 1]; None for not at all.
    """

    tiles: tuple[LaidTile, ...]
    mask: np.ndarray
    look: CoverLook
    holds: np.ndarray | None = None
    waits: np.ndarray | None = None


def film_tile(film: Film) -> LaidTile:
    """A tile of one colour and roughness."""
    pixel = np.array([*film.colour, 0.5, film.rough, 0.0], np.float32)
    return LaidTile(np.broadcast_to(pixel, (4, 4, _CHANNELS)).copy(), 1.0, 0.0, 0.0)


@dataclass(frozen=True)
class Maps:
    """Final maps of one surface.

    :ivar base: uint8 (H, W, 4), sRGB colour; alpha is 255 on the surface and its padding, else 0.
    :ivar orm: uint8 (H, W, 4): occlusion, roughness, metalness, 255. Linear.
    :ivar normal: uint8 (H, W, 4), tangent space, +Y up in the picture, 255.
    :ivar height: float32 (H, W), metres above the mesh.
    """

    base: np.ndarray
    orm: np.ndarray
    normal: np.ndarray
    height: np.ndarray


@njit(inline="always", cache=True, fastmath=True)
def _fetch(buffer, start, n, u, v, out):  # type: ignore
    """Interpolated pixel of a tile at (u, v) in tiles, wrapping round; n is a power of two."""
    x, y = u * n - np.float32(0.5), v * n - np.float32(0.5)
    fx, fy = np.floor(x), np.floor(y)
    tx, ty = x - fx, y - fy
    last = n - 1
    x0, y0 = int(fx) & last, int(fy) & last
    x1, y1 = (x0 + 1) & last, (y0 + 1) & last
    a, b = start + (y0 * n + x0) * 6, start + (y0 * n + x1) * 6
    c, d = start + (y1 * n + x0) * 6, start + (y1 * n + x1) * 6
    for k in range(6):
        top = buffer[a + k] + tx * (buffer[b + k] - buffer[a + k])
        low = buffer[c + k] + tx * (buffer[d + k] - buffer[c + k])
        out[k] = top + ty * (low - top)


@njit(inline="always", cache=True, fastmath=True)
def _soft_light(below, value):  # type: ignore
    """Pegtop's soft light on square roots of linear colour, which are nearly as the eye sees it."""
    a, b = np.sqrt(max(below, np.float32(0))), np.sqrt(max(value, np.float32(0)))
    c = (np.float32(1) - np.float32(2) * b) * a * a + np.float32(2) * b * a
    return c * c


# Roughness of a water surface that a breath of air touches.
_WATER_ROUGH = np.float32(0.06)


def _row(look: CoverLook) -> list[float]:
    """A look as the compiled pass reads it."""
    return [look.strength, look.joints, look.softness, look.thickness, look.opacity, look.soak, look.gloss, look.level,
            look.brightness, *look.tint, look.tinted, look.rim, *(look.silt or (0, 0, 0)), float(look.silt is not None)]  # fmt: skip


@njit(cache=True, nogil=True, fastmath=True)
def _blend(faces, face_tile, face_grade, face_shift, cell, scale, buffer, places, tiles, masks, made_of, holds, waits, looks, occlusion,
           drift, rows, sinks, left, share, srgb, base, orm, height, first, beyond):  # type: ignore # fmt: skip
    """places: int64 (T, 2): start, n. tiles: float32 (T, 3): 1/size, relief, uneven. made_of: int64 (C, own tiles).
    holds, waits: float32 (C, own tiles). looks: float32 (C, 18), as ``_row`` writes them."""
    px, cover = np.empty(6, np.float32), np.empty(6, np.float32)
    inverse = np.float32(1.0 / scale)
    columns = faces.shape[1]
    closed, drifts = np.empty(columns, np.float32), np.empty(columns, np.float32)
    between = np.empty(drift.shape[1] + 1, np.float32)
    for y in range(first, beyond):
        cy = (np.float32(y) + np.float32(0.5)) * inverse
        stretch_row(occlusion, rows[y], sinks[y], left, share, between, closed)
        stretch_row(drift, rows[y], sinks[y], left, share, between, drifts)
        for x in range(columns):
            face = faces[y, x]
            if face < 0:
                continue
            cx = (np.float32(x) + np.float32(0.5)) * inverse
            u, v = cx * cell + face_shift[face, 0], cy * cell + face_shift[face, 1]
            own = face_tile[face]
            t = own
            _fetch(buffer, places[t, 0], places[t, 1], u * tiles[t, 0], v * tiles[t, 0], px)
            reach = tiles[t, 1]
            lift = px[3] * tiles[t, 1]
            wander = drifts[x] - np.float32(0.5)
            shade = np.float32(1) + wander * np.float32(2) * tiles[t, 2]
            shade *= face_grade[face, 0]
            red, green, blue = px[0] * shade, px[1] * shade, px[2] * shade
            tinted = face_grade[face, 4]
            if tinted > 0:
                red *= np.float32(1) - tinted * (np.float32(1) - face_grade[face, 1])
                green *= np.float32(1) - tinted * (np.float32(1) - face_grade[face, 2])
                blue *= np.float32(1) - tinted * (np.float32(1) - face_grade[face, 3])
            elif tinted < 0:
                red += -tinted * (_soft_light(red, face_grade[face, 1]) - red)
                green += -tinted * (_soft_light(green, face_grade[face, 2]) - green)
                blue += -tinted * (_soft_light(blue, face_grade[face, 3]) - blue)
            low, rough, metal = px[3], px[4], px[5]
            bared = np.float32(0)
            for c in range(looks.shape[0]):
                mask = (
                    masks[c, y, x]
                    * looks[c, 0]
                    * holds[c, own]
                    * (np.float32(1) - waits[c, own] * (np.float32(1) - bared))
                )
                if mask <= np.float32(0.002):
                    continue
                t = made_of[c, own]
                _fetch(buffer, places[t, 0], places[t, 1], u * tiles[t, 0], v * tiles[t, 0], cover)
                # Where the mask is faint the cover holds only to what the relief offers: low places or high ones, its own clumps.
                prefers = looks[c, 1]
                offered = low if prefers >= 0 else np.float32(1) - low
                hold = abs(prefers) * offered + (np.float32(1) - abs(prefers)) * (np.float32(1) - cover[3])
                soft = looks[c, 2]
                mask = min(mask, np.float32(1))
                over = mask * (np.float32(1) + soft) - hold
                rim = looks[c, 13]
                if rim > 0 and over > -rim:
                    # Water creeps a little way beyond its edge, and leaves silt where it has stood higher.
                    margin = min(over / rim + np.float32(1), np.float32(1))
                    keep = np.float32(1) - np.float32(0.45) * looks[c, 5] * margin
                    silt = looks[c, 17] * np.float32(0.55) * margin * (np.float32(1) - margin * np.float32(0.5))
                    red = red * keep + silt * (looks[c, 14] - red * keep)
                    green = green * keep + silt * (looks[c, 15] - green * keep)
                    blue = blue * keep + silt * (looks[c, 16] - blue * keep)
                    rough += np.float32(0.5) * looks[c, 6] * margin * (_WATER_ROUGH - rough)
                amount = over / soft
                if amount <= 0:
                    continue
                amount = min(amount, np.float32(1))
                # Water in the pores: light is lost between grains on its way out. Metal and glaze have none.
                if looks[c, 5] > 0:
                    porous = min(max((rough - np.float32(0.25)) * np.float32(2), np.float32(0)), np.float32(1))
                    keep = np.float32(1) - np.float32(0.62) * looks[c, 5] * amount * porous * (np.float32(1) - metal)
                    red, green, blue = red * keep, green * keep, blue * keep
                shade = looks[c, 8] * (np.float32(1) + wander * np.float32(2) * tiles[t, 2])
                hue_r, hue_g, hue_b = cover[0] * shade, cover[1] * shade, cover[2] * shade
                tinted = looks[c, 12]
                if tinted > 0:
                    hue_r *= np.float32(1) - tinted * (np.float32(1) - looks[c, 9])
                    hue_g *= np.float32(1) - tinted * (np.float32(1) - looks[c, 10])
                    hue_b *= np.float32(1) - tinted * (np.float32(1) - looks[c, 11])
                elif tinted < 0:
                    hue_r += -tinted * (_soft_light(hue_r, looks[c, 9]) - hue_r)
                    hue_g += -tinted * (_soft_light(hue_g, looks[c, 10]) - hue_g)
                    hue_b += -tinted * (_soft_light(hue_b, looks[c, 11]) - hue_b)
                hides = amount * looks[c, 4]
                red += hides * (hue_r - red)
                green += hides * (hue_g - green)
                blue += hides * (hue_b - blue)
                rough += hides * (cover[4] - rough)
                metal += hides * (cover[5] - metal)
                rough += amount * looks[c, 6] * (_WATER_ROUGH - rough)
                thick = looks[c, 3]
                if thick < 0:
                    # What is bared has its own relief, a coat lower.
                    lift += amount * (thick + (cover[3] - np.float32(0.5)) * tiles[t, 1] * np.float32(0.5))
                    low += amount * (cover[3] - low) * np.float32(0.5)
                    bared = max(bared, amount)
                    continue
                level = looks[c, 7]
                if level > 0:
                    # The surface of what fills the relief stands where the mask says, over the lowest places.
                    surface = max(lift, mask * reach)
                    lift += amount * level * (surface - lift)
                    low += amount * level * (mask - low)
                # The cover's own relief takes the place of what it hides; the two are never added up.
                own_relief = cover[3] * tiles[t, 1] * np.float32(0.5) * (np.float32(1) - np.float32(0.7) * level)
                grown = (
                    thick * (np.float32(0.5) + cover[3] * (np.float32(1) - level) + np.float32(0.5) * level)
                    + own_relief
                )
                if grown > 0:
                    below = lift * (np.float32(1) - np.float32(0.4) * looks[c, 4])
                    lift += amount * (max(lift, below + grown) - lift)
                    low += hides * (np.float32(0.5) + np.float32(0.5) * cover[3] - low)
            base[y, x, 0] = srgb[int(min(max(red, np.float32(0)), np.float32(1)) * np.float32(4095))]
            base[y, x, 1] = srgb[int(min(max(green, np.float32(0)), np.float32(1)) * np.float32(4095))]
            base[y, x, 2] = srgb[int(min(max(blue, np.float32(0)), np.float32(1)) * np.float32(4095))]
            base[y, x, 3] = 255
            open_ = np.float32(1) - closed[x]
            orm[y, x, 0] = np.uint8(min(max(open_, np.float32(0)), np.float32(1)) * np.float32(255) + np.float32(0.5))
            orm[y, x, 1] = np.uint8(
                min(max(rough, np.float32(0.03)), np.float32(1)) * np.float32(255) + np.float32(0.5)
            )
            orm[y, x, 2] = np.uint8(min(max(metal, np.float32(0)), np.float32(1)) * np.float32(255) + np.float32(0.5))
            orm[y, x, 3] = 255
            height[y, x] = lift


@njit(inline="always", cache=True)
def _together(one, other, charts):  # type: ignore
    """Whether two faces lie in one chart, so that a slope between their texels is real."""
    return one == other or (one >= 0 and charts[one] == charts[other])


@njit(cache=True, nogil=True, fastmath=True)
def _normals(faces, charts, height, texel, normal, first, beyond):  # type: ignore
    rows, columns = faces.shape
    step = np.float32(0.5 / texel)
    for y in range(first, beyond):
        for x in range(columns):
            face = faces[y, x]
            if face < 0:
                continue
            here = height[y, x]
            left, right, up, down = here, here, here, here
            if x > 0 and _together(faces[y, x - 1], face, charts):
                left = height[y, x - 1]
            if x + 1 < columns and _together(faces[y, x + 1], face, charts):
                right = height[y, x + 1]
            if y > 0 and _together(faces[y - 1, x], face, charts):
                up = height[y - 1, x]
            if y + 1 < rows and _together(faces[y + 1, x], face, charts):
                down = height[y + 1, x]
            dx, dy = (right - left) * step, (down - up) * step
            length = np.float32(1) / np.sqrt(dx * dx + dy * dy + np.float32(1))
            normal[y, x, 0] = np.uint8(
                (np.float32(0.5) - np.float32(0.5) * dx * length) * np.float32(255) + np.float32(0.5)
            )
            normal[y, x, 1] = np.uint8(
                (np.float32(0.5) + np.float32(0.5) * dy * length) * np.float32(255) + np.float32(0.5)
            )
            normal[y, x, 2] = np.uint8((np.float32(0.5) + np.float32(0.5) * length) * np.float32(255) + np.float32(0.5))
            normal[y, x, 3] = 255


def compose(
    atlas: Atlas,
    grid: TexelGrid,
    tiles: Sequence[LaidTile],
    face_tile: np.ndarray,
    face_grade: np.ndarray,
    covers: Sequence[LaidCover],
    occlusion: np.ndarray,
    drift: np.ndarray,
    relief: bool = True,
) -> Maps:
    """Make the final maps of a surface at one level.

    :param tiles: the materials of the surface's parts, shrunk for the level.
    :param face_tile: int32 (M,), for each face a row of ``tiles``.
    :param face_grade: float32 (M, 5), for each face a factor on brightness, a tint (red, green, blue), and how strong
        the tint is: above 0 it multiplies, below 0 it is laid on as soft light.
    :param covers: from the lowest to the uppermost.
    :param occlusion: float32 (h, w) on cells, or on texels where these are larger; 0 open to 1 closed.
    :param drift: float32 (h, w) as the occlusion, slow noise in [0, 1].
    :param relief: false leaves the normal map flat, which is quicker.
    """
    rows, columns = grid.faces.shape
    everything, made_of = list(tiles), np.zeros((len(covers), len(tiles)), np.int64)
    rows_of_tiles = {id(tile): row for row, tile in enumerate(everything)}
    for c, cover in enumerate(covers):
        for t in range(len(tiles)):
            tile = cover.tiles[t] if len(cover.tiles) > 1 else cover.tiles[0]
            if id(tile) not in rows_of_tiles:
                rows_of_tiles[id(tile)] = len(everything)
                everything.append(tile)
            made_of[c, t] = rows_of_tiles[id(tile)]
    holds = np.array([np.ones(len(tiles)) if cover.holds is None else cover.holds for cover in covers], np.float32)
    holds = holds.reshape(len(covers), len(tiles))
    waits = np.array([np.zeros(len(tiles)) if cover.waits is None else cover.waits for cover in covers], np.float32)
    waits = waits.reshape(len(covers), len(tiles))
    starts = np.concatenate([[0], np.cumsum([tile.pixels.size for tile in everything])])
    buffer = np.concatenate([tile.pixels.ravel() for tile in everything])
    places = np.array([[start, len(t.pixels)] for start, t in zip(starts[:-1], everything, strict=True)], np.int64)
    table = np.array([[1 / t.size, t.relief, t.uneven] for t in everything], np.float32)
    looks = np.array([_row(cover.look) for cover in covers], np.float32).reshape(len(covers), 18)
    masks = np.stack([cover.mask for cover in covers]) if covers else np.zeros((0, 1, 1), np.float32)
    # On its chart's plane a texel lies at (cells × cell + shift) metres: materials keep true scale.
    shift = atlas.flat[:, 0].astype(np.float64) - atlas.corners[:, 0].astype(np.float64) * atlas.cell
    base, orm, normal = (np.zeros((rows, columns, 4), np.uint8) for _ in range(3))
    height = np.zeros((rows, columns), np.float32)
    scale = 2.0**grid.level
    fields = [
        stretch_table(had, wanted, wanted / had) for had, wanted in zip(drift.shape, (rows, columns), strict=True)
    ]
    given = (grid.faces, np.ascontiguousarray(face_tile, np.int32), face_grade, shift.astype(np.float32), np.float32(atlas.cell),
             np.float32(scale), buffer, places, table, masks, made_of, holds, waits, looks, occlusion, drift, *fields[0], *fields[1], _SRGB)  # fmt: skip
    over_rows(lambda a, b: _blend(*given, base, orm, height, a, b), rows, rows_of(columns))
    if not relief:
        normal[grid.faces >= 0] = 128, 128, 255, 255
        return Maps(base, orm, normal, height)
    over_rows(lambda a, b: _normals(grid.faces, atlas.charts, height, grid.texel, normal, a, b), rows, rows_of(columns))
    _fill_outside(grid.faces, base, orm, normal)
    return Maps(base, orm, normal, height)


def _fill_outside(faces: np.ndarray, base: np.ndarray, orm: np.ndarray, normal: np.ndarray) -> None:
    """Give texels outside the charts what the surface has on average, so that its smaller copies do not darken; their
    alpha stays 0."""
    outside = faces < 0
    # Some texels tell the average as well as all of them.
    step = 4 if (faces[::4, ::4] >= 0).any() else 1
    some = faces[::step, ::step] >= 0
    for pixels in (base, orm):
        if some.any():
            pixels[outside, :3] = np.round(pixels[::step, ::step][some][:, :3].mean(0)).astype(np.uint8)
    normal[outside, :3] = 128, 128, 255
