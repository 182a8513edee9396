"""Films as pictures of many layers, in the open format of the film trade: OpenEXR, one part, layers by the names of their channels."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
import OpenEXR

from ..refused import Refused
from .scene import LIGHT_GROUPS
from .tracing import Film

# Nothing is farther away than this, metres: infinite depths are not read everywhere.
_NOTHING = 1e10
# Layers with the names of their parts. Colours are linear sRGB, depth is in metres along the ray, normals are the world's.
_LAYERS = {**dict.fromkeys((*LIGHT_GROUPS, "albedo"), "RGB"), "normal": "XYZ"}
_SAMPLES = "cenoteSamples"


def write_layers(film: Film, seen: np.ndarray) -> bytes:
    """A film as an OpenEXR file.

    ``R``, ``G``, ``B`` and ``A`` are the finished picture, through the air and without noise; ``Z`` is depth. Besides there are a layer of light for each
    of :data:`cenote.still.scene.LIGHT_GROUPS`, with its noise and before the air: together they are all that was traced; ``albedo`` and ``normal``.

    :param seen: float32 (h, w, 3), the finished picture, linear.
    """
    channels = dict(zip("RGB", np.moveaxis(seen.astype(np.float32), 2, 0), strict=True))
    channels["A"] = film.channels["alpha"][..., 0]
    channels["Z"] = np.minimum(np.nan_to_num(film.channels["depth"][..., 0], posinf=_NOTHING), _NOTHING)
    for layer, parts in _LAYERS.items():
        for number, part in enumerate(parts):
            channels[f"{layer}.{part}"] = film.channels[layer][..., number]
    header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage, _SAMPLES: str(film.samples)}
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "layers.exr"
        planes = {name: np.ascontiguousarray(plane, np.float32) for name, plane in channels.items()}
        OpenEXR.File(header, planes).write(str(path))
        return path.read_bytes()


def read_layers(content: bytes) -> Film:
    """The film that :func:`write_layers` has written: channels float32 (h, w, C).

    :raises Refused: if it is not such a file, or a damaged one.
    """
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "layers.exr"
        path.write_bytes(content)
        try:
            with OpenEXR.File(str(path), separate_channels=True) as file:
                # What a file says is gone once it is closed.
                samples = float(file.header()[_SAMPLES])
                found = {name: np.array(one.pixels) for name, one in file.channels().items()}
        except (RuntimeError, KeyError) as error:
            raise Refused(
                "The layers of this still cannot be read any more. Its picture is kept; take it anew."
            ) from error
    channels = {
        layer: np.stack([found[f"{layer}.{part}"] for part in parts], axis=2) for layer, parts in _LAYERS.items()
    }
    channels["alpha"] = found["A"][..., None]
    channels["depth"] = np.where(found["Z"] >= _NOTHING, np.inf, found["Z"])[..., None].astype(np.float32)
    return Film(samples, channels)
