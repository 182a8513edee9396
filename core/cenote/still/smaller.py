"""Films made smaller, to be looked at quickly."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .tracing import Film, Picture


def _middle(values: np.ndarray, axis: tuple[int, int]) -> np.ndarray:
    """The middle one of each block, for numbers that have no mean: blocks lie along two axes of (R, B, C, B, 1)."""
    return values[:, values.shape[1] // 2, :, values.shape[3] // 2]


# What becomes of a block, where it is not the mean.
_OF_BLOCK: dict[str, Callable[..., np.ndarray]] = {"depth": np.min, "thing": _middle}


def smaller(film: Film, picture: Picture, width: int) -> tuple[Film, Picture]:
    """A film with whole blocks of pixels made one, so that its picture is about so wide, and its picture.

    Light is the mean of a block, depth the least of it, and what it shows what its middle shows. A film of a part of a picture gets the same part of a smaller one.
    """
    by = max(1, round(picture.width / width))
    if by == 1:
        return film, picture
    channels = {name: _blocks(values, by, _OF_BLOCK.get(name, np.mean)) for name, values in film.channels.items()}
    rows, columns = channels["depth"].shape[:2]
    left, top, right, bottom = picture.region or (0.0, 0.0, 1.0, 1.0)
    across, down = columns / (right - left), rows / (bottom - top)
    small = Picture(max(1, round(across)), max(1, round(down)), picture.region, picture.seed)
    first, last, above, below = small.window
    # Rounding may have taken a row or a column from the part.
    fitted = {name: _fitted(values, below - above + 1, last - first + 1) for name, values in channels.items()}
    return Film(film.samples, fitted, film.things), small


def _blocks(values: np.ndarray, by: int, of: Callable[..., np.ndarray]) -> np.ndarray:
    rows, columns = max(1, values.shape[0] // by), max(1, values.shape[1] // by)
    whole = values[: rows * by, : columns * by]
    blocks = whole.reshape(rows, -1, columns, whole.shape[1] // columns, values.shape[2])
    return of(blocks, axis=(1, 3)).astype(np.float32)


def _fitted(values: np.ndarray, rows: int, columns: int) -> np.ndarray:
    more = ((0, max(0, rows - values.shape[0])), (0, max(0, columns - values.shape[1])), (0, 0))
    return np.ascontiguousarray(np.pad(values, more, "edge")[:rows, :columns])
