"""A writer of Radiance pictures, for the tests of who reads them."""

from __future__ import annotations

import numpy as np


def written(pixels: np.ndarray, runs: bool) -> bytes:
    """A picture (rows, columns, 3) as RGBE. :param runs: whether equal bytes in a row are written as one."""
    top = pixels.max(2)
    exponent = np.where(top > 0, np.floor(np.log2(np.maximum(top, 1e-30))) + 1, -128)
    whole = np.minimum(np.floor(pixels / np.exp2(exponent - 8)[..., None]), 255)
    rgbe = np.concatenate([whole, (exponent + 128)[..., None]], axis=2).astype(np.uint8)
    rows, columns = top.shape
    head = f"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y {rows} +X {columns}\n".encode()
    if not runs:
        return head + rgbe.tobytes()
    out = [head]
    for row in rgbe:
        out.append(bytes([2, 2, columns // 256, columns % 256]))
        for plane in row.T:
            at = 0
            while at < columns:
                same = 1
                while at + same < columns and same < 127 and plane[at + same] == plane[at]:
                    same += 1
                if same > 2:
                    out.append(bytes([128 + same, int(plane[at])]))
                else:
                    same = min(2, columns - at)
                    out.append(bytes([same, *plane[at : at + same].tolist()]))
                at += same
    return b"".join(out)
