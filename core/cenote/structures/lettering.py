"""Text as outlines, from the open fonts that ship with the product."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from threading import Lock

import mapbox_earcut
import numpy as np
from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont

from ..geometry.mesh import Mesh, join
from .polygons import signed_area

_FOLDER = Path(__file__).parent / "fonts"
# By what they look like; each file has its licence beside it.
FONTS = {
    "narrow": "oswald",
    "serif": "playfair-display",
    "stencil": "stardos-stencil",
    "script": "pacifico",
    "typed": "courier-prime",
}
_CURVE = 6


class _Contours(BasePen):
    """Collects a glyph's contours as points; curves become a few straight steps."""

    def __init__(self, glyphs) -> None:  # type: ignore[no-untyped-def]
        super().__init__(glyphs)
        self.found: list[list[tuple[float, float]]] = []

    def _moveTo(self, pt):  # type: ignore[no-untyped-def]
        self.found.append([pt])

    def _lineTo(self, pt):  # type: ignore[no-untyped-def]
        self.found[-1].append(pt)

    def _curveToOne(self, pt1, pt2, pt3):  # type: ignore[no-untyped-def]
        start, a, b, end = (np.array(p, float) for p in (self.found[-1][-1], pt1, pt2, pt3))
        for t in np.linspace(0, 1, _CURVE + 1)[1:]:
            s = 1 - t
            self.found[-1].append(tuple(s**3 * start + 3 * s * s * t * a + 3 * s * t * t * b + t**3 * end))


# A font decodes its tables when they are first asked for, and a second thread that asks meanwhile finds them half made.
_READING = Lock()


@lru_cache(maxsize=len(FONTS))
def _font(name: str) -> TTFont:
    """A font's tables; to be read under ``_READING`` only."""
    return TTFont(_FOLDER / f"{FONTS[name]}.woff")


@lru_cache(maxsize=len(FONTS))
def _known(name: str) -> dict[int, str]:
    """The name of the glyph of each code point that a font has."""
    with _READING:
        return dict(_font(name).getBestCmap())


@lru_cache(maxsize=1024)
def _outline(font: str, letter: str) -> tuple[tuple[np.ndarray, ...], float]:
    """A letter's contours, float64 (N, 2) each, and its advance, where capitals are 1 high."""
    glyph_name = _known(font)[ord(letter)]
    with _READING:
        face = _font(font)
        glyphs = face.getGlyphSet()
        scale = 1 / (face["OS/2"].sCapHeight or 0.7 * face["head"].unitsPerEm)
        pen = _Contours(glyphs)
        glyph = glyphs[glyph_name]
        glyph.draw(pen)
        return tuple(np.array(points, float) * scale for points in pen.found), glyph.width * scale


def missing_letters(text: str, font: str) -> str:
    """The letters of a text that a font does not have, each once."""
    known = _known(font)
    return "".join(dict.fromkeys(letter for letter in text if letter != "\n" and ord(letter) not in known))


def letter_contours(text: str, font: str, height: float, spacing: float) -> list[list[np.ndarray]]:
    """The contours of each letter of one line, float64 (N, 2) each, metres; the line stands on y = 0 and begins at x = 0.

    :param height: of capital letters, metres. :param spacing: metres added between letters.
    """
    x, out = 0.0, []
    for letter in text:
        outline, advance = _outline(font, letter)
        contours = []
        for points in outline:
            flat = points * height + [x, 0]
            keep = np.linalg.norm(flat - np.roll(flat, 1, axis=0), axis=1) > 1e-6
            if keep.sum() > 2 and abs(signed_area(flat[keep])) > 1e-9:
                contours.append(flat[keep])
        out.append(contours)
        x += advance * height + spacing
    return out


def _inside(point: np.ndarray, contour: np.ndarray) -> bool:
    """Whether a point lies inside a contour (crossing number)."""
    a, b = contour, np.roll(contour, -1, axis=0)
    spans = (a[:, 1] > point[1]) != (b[:, 1] > point[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = a[:, 0] + (point[1] - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool((spans & (x > point[0])).sum() % 2)


def solid_letter(contours: list[np.ndarray], depth: float, part: str) -> Mesh | None:
    """A letter in relief: its face at z = ``depth``, its sides down to z = 0; None where it is blank.

    :param contours: simple closed lines, float64 (N, 2); those inside an odd number of others are holes.
    """
    depths = [sum(_inside(one[0], other) for other in contours if other is not one) for one in contours]
    pieces: list[Mesh] = []
    for outer, level in zip(contours, depths, strict=True):
        if level % 2:
            continue
        holes = [
            inner
            for inner, below in zip(contours, depths, strict=True)
            if below == level + 1 and _inside(inner[0], outer)
        ]
        rings = [outer if signed_area(outer) > 0 else outer[::-1]]
        rings += [hole if signed_area(hole) < 0 else hole[::-1] for hole in holes]
        flat = np.ascontiguousarray(np.concatenate(rings), np.float64)
        ends = np.cumsum([len(ring) for ring in rings])
        cap = np.asarray(mapbox_earcut.triangulate_float64(flat, ends.astype(np.uint32)), np.int64).reshape(-1, 3)
        a, b, c = (flat[cap[:, k]] for k in range(3))
        winds = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
        cap = np.where(winds[:, None] > 0, cap, cap[:, ::-1])
        count = len(flat)
        front = np.column_stack([flat, np.full(count, depth)])
        back = np.column_stack([flat, np.zeros(count)])
        faces = [cap]
        start = 0
        for end in ends:
            k = np.arange(start, end)
            m = np.roll(k, -1)
            faces += [np.column_stack([k, k + count, m]), np.column_stack([m, k + count, m + count])]
            start = end
        pieces.append(Mesh.of(np.concatenate([front, back]), np.concatenate(faces), part))
    return join(pieces) if pieces else None
