"""Panoramas of the light all around, in: Radiance pictures and EXR files that are twice as wide as high."""

from __future__ import annotations

import re

import numpy as np
from numba import njit

from ..refused import ImportRefused
from .pictures_in import check_side, is_exr, read_exr_colours

LEAST_SIDE, KEPT_ROWS = 16, 1024
_USE = "a panorama"
_RADIANCE = (b"#?RADIANCE", b"#?RGBE")
# Rows and columns of a picture that is written from the top down and from left to right, as nearly all are.
_SIZE = re.compile(rb"-Y (\d{1,6}) \+X (\d{1,6})\n")
# The greatest half float.
_MOST = 65_504.0


def read_panorama(name: str, content: bytes) -> tuple[np.ndarray, list[str]]:
    """Read a panorama.

    :returns: float16 (rows, 2 × rows, 3), linear sRGB, at most 1024 rows: from the zenith down, and once around, in the file's own unit, or
        in a part of it where it held too much; and remarks for its owner.
    :raises cenote.formats.meshes_in.ImportRefused: with words for its owner.
    """
    if is_exr(content):
        pixels = read_exr_colours(name, content, LEAST_SIDE, _USE)
    elif content.startswith(_RADIANCE):
        pixels = read_radiance(name, content)
    else:
        raise ImportRefused(
            f"{name}: it is neither a Radiance picture (.hdr) nor an EXR file. Other pictures hold no light, only colours."
        )
    rows, columns = pixels.shape[:2]
    if abs(columns - 2 * rows) > max(2, 0.01 * columns):
        raise ImportRefused(
            f"{name}: {columns} × {rows} pixels; a panorama of all that is around is twice as wide as high. Export it in that form "
            "(equirectangular)."
        )
    remarks: list[str] = []
    if (pixels < 0).any():
        remarks.append("Some of its values are below 0; they are taken as 0.")
        pixels = np.maximum(pixels, 0)
    kept = min(KEPT_ROWS, rows - rows % 2)
    if (rows, columns) != (kept, 2 * kept):
        pixels = _averaged(_averaged(pixels, kept).transpose(1, 0, 2), 2 * kept).transpose(1, 0, 2)
        remarks.append(f"Kept at {2 * kept} × {kept} points.")
    brightest = float(pixels.max())
    if brightest <= 0:
        raise ImportRefused(f"{name}: it is black all over, and would light nothing.")
    if brightest > _MOST:
        remarks.append(f"Its light is up to {brightest:.3g}; all of it is taken {brightest / _MOST:.3g} times weaker.")
        pixels = pixels * (_MOST / brightest)
    return pixels.astype(np.float16), remarks


def _averaged(pixels: np.ndarray, rows: int) -> np.ndarray:
    """So many rows, each the mean of those it stands for: float32 (rows, columns, 3)."""
    edges = np.linspace(0, len(pixels), rows + 1)
    sums = np.concatenate([np.zeros((1, *pixels.shape[1:])), np.cumsum(pixels, axis=0, dtype=np.float64)])
    whole = np.minimum(edges.astype(int), len(pixels) - 1)
    at = sums[whole] + (edges - whole)[:, None, None] * pixels[whole]
    return (np.diff(at, axis=0) / np.diff(edges)[:, None, None]).astype(np.float32)


def read_radiance(name: str, content: bytes) -> np.ndarray:
    """Read a Radiance picture: float32 (rows, columns, 3) (Ward, "The RADIANCE Picture File Format", 1991).

    :raises cenote.formats.meshes_in.ImportRefused: with words for its owner.
    """
    head, found, _ = content[: 64 * 1024].partition(b"\n\n")
    size = _SIZE.match(content, len(head) + 2) if found else None
    if size is None:
        raise ImportRefused(f"{name}: its head is damaged, or its rows do not run from the top down; export it again.")
    if b"FORMAT=" in head and b"FORMAT=32-bit_rle_rgbe" not in head:
        raise ImportRefused(f"{name}: its colours are not red, green and blue; export it as RGBE.")
    rows, columns = int(size[1]), int(size[2])
    check_side(name, columns, rows, LEAST_SIDE, _USE)
    out = np.empty((rows, columns, 4), np.uint8)
    if not _unpacked(np.frombuffer(content, np.uint8, offset=size.end()), out):
        raise ImportRefused(f"{name}: it ends early, or is damaged; export it again.")
    scale = np.where(out[..., 3] > 0, np.ldexp(np.float32(1), out[..., 3].astype(np.int32) - 136), np.float32(0))
    return (out[..., :3].astype(np.float32) + np.float32(0.5)) * scale[..., None].astype(np.float32)


@njit(cache=True)
def _unpacked(data, out):  # type: ignore
    """Pixels as they were before runs of equal bytes were written as one. :returns: whether all were there."""
    rows, columns, _ = out.shape
    at, end = 0, len(data)
    for row in range(rows):
        if at + 4 > end:
            return False
        packed = (
            columns >= 8
            and columns < 32768
            and data[at] == 2
            and data[at + 1] == 2
            and data[at + 2] * 256 + data[at + 3] == columns
        )
        if not packed:
            # Row after row of four bytes a pixel; runs of the oldest kind are not written any more.
            if at + 4 * columns > end:
                return False
            for column in range(columns):
                for c in range(4):
                    out[row, column, c] = data[at + 4 * column + c]
            at += 4 * columns
            continue
        at += 4
        for c in range(4):
            column = 0
            while column < columns:
                if at >= end:
                    return False
                count = int(data[at])
                run = count > 128
                count = count - 128 if run else count
                at += 1
                if count == 0 or column + count > columns or at + (1 if run else count) > end:
                    return False
                for k in range(count):
                    out[row, column + k, c] = data[at] if run else data[at + k]
                at += 1 if run else count
                column += count
    return True
