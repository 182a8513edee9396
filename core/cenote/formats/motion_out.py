"""Moving pictures as files."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable
from fractions import Fraction
from typing import Literal, cast

import av
import numpy as np
from PIL import Image

Format = Literal["mp4", "webm", "frames"]
# By format: what it is encoded with, and how well. H.264 plays everywhere, VP9 in every browser.
_CODECS = {"mp4": ("libx264", {"crf": "16", "preset": "medium"}), "webm": ("libvpx-vp9", {"crf": "22", "b": "0"})}
# ITU-R BT.709, as the number by which files tell primaries, transfer and matrix (ITU-T H.273).
_BT709 = 1


def write_motion(pictures: Iterable[np.ndarray], rate: int, format: Format) -> bytes:
    """Pictures that follow one another, as a file.

    :param pictures: uint8 (h, w, 3), sRGB, all of one size. :param rate: pictures a second.
    :param format: ``frames`` are PNG files in a zip. The others have whole blocks of two by two pixels: an odd row or column is left out.
    """
    stream = io.BytesIO()
    if format == "frames":
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_STORED) as archive:
            for number, picture in enumerate(pictures, 1):
                content = io.BytesIO()
                Image.fromarray(picture).save(content, "PNG")
                archive.writestr(f"{number:04}.png", content.getvalue())
        return stream.getvalue()
    codec, options = _CODECS[format]
    with av.open(stream, "w", format=format) as container:
        track: av.VideoStream | None = None
        for picture in pictures:
            height, width = picture.shape[0] // 2 * 2, picture.shape[1] // 2 * 2
            if track is None:
                track = cast(av.VideoStream, container.add_stream(codec, rate=Fraction(rate), options=options))
                track.width, track.height, track.pix_fmt = width, height, "yuv420p"
                context = track.codec_context
                context.color_primaries = context.color_trc = context.colorspace = _BT709
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture[:height, :width]), format="rgb24")
            container.mux(track.encode(frame.reformat(format="yuv420p", dst_colorspace="ITU709")))
        if track is not None:
            container.mux(track.encode())
    return stream.getvalue()
