"""Pictures that users bring in: formats that are named, sizes looked at before a pixel is unpacked, numbers that are finite."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path

import numpy as np
import OpenEXR
from PIL import Image, UnidentifiedImageError

from ..refused import ImportRefused

MOST_SIDE = 8192
_EXR = b"\x76\x2f\x31\x01"
# What is never opened as anything else, whatever its name says: a library may know formats that run programs.
_FORMATS = ("PNG", "JPEG", "TIFF", "WEBP")
_CALLED = "PNG, JPEG, TIFF, WebP"


def is_exr(content: bytes) -> bool:
    """Whether a file says that it is an EXR."""
    return content[:4] == _EXR


def check_side(name: str, columns: int, rows: int, least: int, use: str) -> None:
    """Look at a picture's size.

    :param least: pixels that a side must have. :param use: what it is wanted for, in words.
    :raises ImportRefused: if it is too large or too small.
    """
    if max(columns, rows) > MOST_SIDE:
        raise ImportRefused(f"{name}: {columns} × {rows} pixels; at most {MOST_SIDE} a side are read. Make it smaller.")
    if min(columns, rows) < least:
        raise ImportRefused(f"{name}: {columns} × {rows} pixels are too few for {use}.")


def open_picture(name: str, content: bytes, least: int, use: str) -> Image.Image:
    """Open a picture and unpack its pixels, once its header says that it has a size that can be used.

    :param least: pixels that a side must have. :param use: what it is wanted for, in words.
    :raises ImportRefused: for what is of no format that is read, damaged, or of another size.
    """
    try:
        image = Image.open(io.BytesIO(content), formats=_FORMATS)
        check_side(name, *image.size, least, use)
        image.load()
    except ImportRefused:
        raise
    except Image.DecompressionBombError:
        raise ImportRefused(
            f"{name}: it claims more pixels than {MOST_SIDE} × {MOST_SIDE}; at most {MOST_SIDE} a side are read. Make it smaller."
        ) from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, TypeError) as error:
        why = "it is of no format that is read, or damaged" if isinstance(error, UnidentifiedImageError) else str(error)
        raise ImportRefused(f"{name}: it is not a picture that can be read ({_CALLED}); {why[:200]}.") from None
    if image.mode == "F" and not np.isfinite(np.asarray(image)).all():
        raise ImportRefused(f"{name}: some of its values are not finite numbers.")
    return image


def read_exr(name: str, content: bytes, least: int, use: str) -> np.ndarray:
    """The brightness, or else the first channel, of an EXR: float32 (rows, columns).

    :param least: pixels that a side must have. :param use: what it is wanted for, in words.
    :raises ImportRefused: for what is damaged, of another size, or holds what is no finite number.
    """
    channels = _exr_channels(name, content, least, use)
    wanted = next((one for one in ("Y", "R", "RGB", "RGBA", "Z") if one in channels), next(iter(channels)))
    values = channels[wanted]
    return _finite(name, values[..., 0] if values.ndim == 3 else values)


def read_exr_colours(name: str, content: bytes, least: int, use: str) -> np.ndarray:
    """Red, green and blue of an EXR, all alike where it is grey: float32 (rows, columns, 3); as :func:`read_exr`."""
    channels = _exr_channels(name, content, least, use)
    whole = next((channels[one] for one in ("RGB", "RGBA") if one in channels), None)
    if whole is None:
        names = ("R", "G", "B") if {"R", "G", "B"} <= set(channels) else ("Y",) * 3
        if names[0] not in channels:
            raise ImportRefused(
                f"{name}: it has neither red, green and blue nor brightness, but {', '.join(sorted(channels))[:80]}."
            )
        whole = np.stack([channels[one] for one in names], axis=2)
    return _finite(name, np.ascontiguousarray(whole[..., :3]))


def _exr_channels(name: str, content: bytes, least: int, use: str) -> dict[str, np.ndarray]:
    """All channels of an EXR, float32 (rows, columns) or (rows, columns, c)."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "picture.exr"
        path.write_bytes(content)
        try:
            with OpenEXR.File(str(path), header_only=True) as file:
                low, high = file.header()["dataWindow"]
            check_side(name, int(high[0]) - int(low[0]) + 1, int(high[1]) - int(low[1]) + 1, least, use)
            with OpenEXR.File(str(path)) as file:
                return {one: np.asarray(channel.pixels, np.float32) for one, channel in file.channels().items()}
        except ImportRefused:
            raise
        except Exception as error:
            raise ImportRefused(f"{name}: it is not an EXR file that can be read. {str(error)[:200]}") from None


def _finite(name: str, values: np.ndarray) -> np.ndarray:
    if not np.isfinite(values).all():
        raise ImportRefused(f"{name}: some of its values are not finite numbers.")
    return values
