"""Packs: named arrays and a little JSON in one binary message.

Layout, little-endian: the four bytes ``CNT1``; a uint32 with the length of the head; the head, JSON in UTF-8, padded with
spaces to a multiple of 8 bytes; then the arrays one after another, each padded to a multiple of 8 bytes. The head is
``{"meta": …, "arrays": [{"name", "dtype", "shape", "offset"}]}`` with offsets counted from the end of the head.

Pictures, that is arrays of uint8 (H, W, C), say ``"differences": true``: they are written channel by channel, each byte but the first of a
row as its difference from the one to its left (horizontal differencing with planes, TIFF 6.0, sections 14 and 8). What
compresses the message afterwards makes a third less of them so.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import numpy as np

MAGIC = b"CNT1"
_NAMES = {"float32", "uint8", "uint16", "uint32", "int16", "int32"}


def pack(arrays: Mapping[str, np.ndarray], meta: Any = None) -> bytes:
    """Write a pack.

    :param arrays: by name, of any shape. :param meta: whatever JSON can say, sent along.
    :raises ValueError: for an array of another type than float32, uint8, uint16, uint32, int16 or int32.
    """
    entries, parts, offset = [], [], 0
    for name, array in arrays.items():
        if array.dtype.name not in _NAMES:
            raise ValueError(f"{name}: arrays of {array.dtype.name} do not travel in packs")
        entry = {"name": name, "dtype": array.dtype.name, "shape": list(array.shape), "offset": offset}
        if array.dtype == np.uint8 and array.ndim == 3:
            array, entry["differences"] = _differences(array), True
        content = np.ascontiguousarray(array).tobytes()
        entries.append(entry)
        padding = -len(content) % 8
        parts += [content, b"\0" * padding]
        offset += len(content) + padding
    head = json.dumps({"meta": meta, "arrays": entries}, separators=(",", ":")).encode()
    head += b" " * (-len(head) % 8)
    return b"".join([MAGIC, np.uint32(len(head)).tobytes(), head, *parts])


def _differences(picture: np.ndarray) -> np.ndarray:
    """A picture's channels one after another, uint8 (C, H, W), as differences along their rows."""
    planes = np.ascontiguousarray(picture.transpose(2, 0, 1))
    planes[:, :, 1:] -= planes[:, :, :-1].copy()
    return planes


def unpack(content: bytes) -> tuple[dict[str, np.ndarray], Any]:
    """Read a pack: its arrays by name, of any shape, and its meta.

    :raises ValueError: if it is not one.
    """
    if content[:4] != MAGIC or len(content) < 8:
        raise ValueError("not a pack")
    start = 8 + int(np.frombuffer(content, np.uint32, 1, 4)[0])
    head = json.loads(content[8:start])
    arrays = {}
    for entry in head["arrays"]:
        count = int(np.prod(entry["shape"]))
        array = np.frombuffer(content, np.dtype(entry["dtype"]), count, start + entry["offset"])
        if entry.get("differences"):
            height, width, channels = entry["shape"]
            array = np.cumsum(array.reshape(channels, height, width), axis=2, dtype=np.uint8).transpose(1, 2, 0)
        arrays[entry["name"]] = array.reshape(entry["shape"])
    return arrays, head["meta"]
