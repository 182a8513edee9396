"""Films as pictures of many layers, in the open format of the film trade: OpenEXR, one part, layers by the names of their channels."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Mapping
from pathlib import Path

import numpy as np
import OpenEXR

from ..finish.masks import MEASURED_KINDS
from ..refused import Refused
from .scene import KINDS, LIGHT_GROUPS, Thing
from .tracing import COVER, PASSES, Film

# Nothing is farther away than this, metres: infinite depths are not read everywhere.
_NOTHING = 1e10
# Layers with the names of their parts. Colours are linear sRGB, depth is in metres along the ray, normals are the world's.
_LAYERS = {**dict.fromkeys((*LIGHT_GROUPS, "albedo"), "RGB"), "normal": "XYZ"}
# Single channels: masks of kinds of things, and numbers of things, whose ids and kinds stand in the header in the order of the numbers.
_SAMPLES, _THINGS, _THING = "cenoteSamples", "cenoteThings", "thing.number"


def write_layers(
    film: Film,
    seen: np.ndarray,
    covers: Mapping[str, np.ndarray] | None = None,
    beside: Mapping[str, np.ndarray] | None = None,
) -> bytes:
    """A film as an OpenEXR file.

    ``R``, ``G``, ``B`` and ``A`` are the finished picture, through the air and without noise; ``Z`` is depth. Besides there are a layer of light for each
    of :data:`cenote.still.scene.LIGHT_GROUPS`, with its noise and before the air: together they are all that was traced; ``direct``, ``indirect`` and ``emission``, the same light by how it came; ``albedo`` and ``normal``; ``mask.`` of each
    of :data:`cenote.still.scene.KINDS`; and ``thing.number``, which thing is nearest: the header's ``cenoteThings`` lists ids and kinds, in JSON.

    :param seen: float32 (h, w, 3), the finished picture, linear. :param covers: how much of each pixel covers take, float32 (h, w) each, by their ids:
        ``cover.`` and the id. :param beside: more layers by their names, float32 (h, w) each, or (h, w, 3) for places.
    """
    channels = dict(zip("RGB", np.moveaxis(seen.astype(np.float32), 2, 0), strict=True))
    channels["A"] = film.channels["alpha"][..., 0]
    channels["Z"] = np.minimum(np.nan_to_num(film.channels["depth"][..., 0], posinf=_NOTHING), _NOTHING)
    for layer, parts in _LAYERS.items():
        for number, part in enumerate(parts):
            channels[f"{layer}.{part}"] = film.channels[layer][..., number]
    for layer, light in film.passes().items():
        channels |= {f"{layer}.{part}": light[..., number] for number, part in enumerate("RGB")}
    for layer, values in (beside or {}).items():
        names = [f"{layer}.{part}" for part in "XYZ"] if values.ndim > 2 else [f"{layer}.V"]
        channels |= dict(zip(names, np.moveaxis(np.atleast_3d(values), 2, 0), strict=True))
    masks = film.masks()
    channels |= {f"mask.{kind}": masks.of_kind(kind) for kind in KINDS}
    channels |= {COVER + id: mask for id, mask in (covers or {}).items()}
    channels[_THING] = film.channels["thing"][..., 0]
    header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage, _SAMPLES: str(film.samples),
              _THINGS: json.dumps([[thing.id, thing.kind] for thing in film.things])}  # fmt: skip
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
                header = file.header()
                samples, things = float(header[_SAMPLES]), json.loads(header.get(_THINGS, "[]"))
                found = {name: np.array(one.pixels) for name, one in file.channels().items()}
        except (RuntimeError, KeyError) as error:
            raise Refused(
                "The layers of this still cannot be read any more. Its picture is kept; take it anew."
            ) from error
    channels = {
        layer: np.stack([found[f"{layer}.{part}"] for part in parts], axis=2) for layer, parts in _LAYERS.items()
    }
    for layer in PASSES:
        if f"{layer}.R" in found:
            channels[layer] = np.stack([found[f"{layer}.{part}"] for part in "RGB"], axis=2)
    # Films that were taken before there were masks have none.
    none = np.zeros_like(found["A"])
    channels["kinds"] = np.stack([found.get(f"mask.{kind}", none) for kind in MEASURED_KINDS], axis=2)
    channels["thing"] = found.get(_THING, none)[..., None]
    channels |= {name: values[..., None] for name, values in found.items() if name.startswith(COVER)}
    channels["alpha"] = found["A"][..., None]
    channels["depth"] = np.where(found["Z"] >= _NOTHING, np.inf, found["Z"])[..., None].astype(np.float32)
    return Film(samples, channels, tuple(Thing(*one) for one in things))
