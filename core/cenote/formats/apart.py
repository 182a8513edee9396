"""Files that nobody has looked at yet are parsed in a process of their own, with limits of memory and time.

Whatever a parser does there, to crash or to take all memory, its process ends and the caller has words for it.

    python -m cenote.formats.apart KIND BYTES SECONDS < arguments and files > arrays
"""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from ..geometry.mesh import Mesh
from ..materials.own_textures import OwnTextures
from ..refused import ImportRefused
from .decal_pictures import read_decal_picture
from .height_maps import read_height_map
from .meshes_in import Found, check_file, read_mesh
from .pack import pack, unpack
from .panoramas import read_panorama
from .photometry import read_photometry
from .texture_sets import FoundSet, read_set

# Address space, bytes: the libraries themselves take some two thirds of a gigabyte. Seconds.
MEMORY, SECONDS = 6 * 1024**3, 90
_REFUSED = 3
_ALONE = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "NUMBA_NUM_THREADS": "1"}


Arrays = Mapping[str, np.ndarray]
Files = Mapping[str, bytes]


def read_mesh_apart(name: str, content: bytes, unit: str, up: str, **limits: Any) -> Found:
    """As :func:`cenote.formats.meshes_in.read_mesh`, in a process of its own.

    :param limits: those of :func:`read_apart`.
    :raises ImportRefused: with the reason, for anything that cannot be used, and for what takes too much memory or time.
    """
    # What can be told without parsing is told at once.
    check_file(name, content, unit, up)
    arrays, told = read_apart("mesh", {name: content}, {"unit": unit, "up": up}, **limits)
    of_mesh = {at.removeprefix("mesh/"): one for at, one in arrays.items() if at.startswith("mesh/")}
    textures = {at.removeprefix("textures/"): one for at, one in arrays.items() if at.startswith("textures/")}
    return Found(Mesh.from_arrays(of_mesh), told["remarks"], OwnTextures.from_arrays(textures) if textures else None)


def read_height_map_apart(name: str, content: bytes, **limits: Any) -> tuple[np.ndarray, list[str]]:
    """As :func:`cenote.formats.height_maps.read_height_map`, in a process of its own; see :func:`read_mesh_apart`."""
    arrays, told = read_apart("heights", {name: content}, {}, **limits)
    return arrays["heights"], told["remarks"]


def read_panorama_apart(name: str, content: bytes, **limits: Any) -> tuple[np.ndarray, list[str]]:
    """As :func:`cenote.formats.panoramas.read_panorama`, in a process of its own; see :func:`read_mesh_apart`."""
    arrays, told = read_apart("panorama", {name: content}, {}, **limits)
    return arrays["halves"].view(np.float16), told["remarks"]


def read_photometry_apart(name: str, content: bytes, **limits: Any) -> tuple[np.ndarray, float, list[str]]:
    """As :func:`cenote.formats.photometry.read_photometry`, in a process of its own; see :func:`read_mesh_apart`."""
    arrays, told = read_apart("photometry", {name: content}, {}, **limits)
    return arrays["profile"], told["lumens"], told["remarks"]


def read_decal_picture_apart(name: str, content: bytes, **limits: Any) -> tuple[np.ndarray, list[str]]:
    """As :func:`cenote.formats.decal_pictures.read_decal_picture`, in a process of its own; see :func:`read_mesh_apart`."""
    arrays, told = read_apart("decal_picture", {name: content}, {}, **limits)
    return arrays["pixels"], told["remarks"]


def read_set_apart(files: Files, **limits: Any) -> FoundSet:
    """As :func:`cenote.formats.texture_sets.read_set`, in a process of its own; see :func:`read_mesh_apart`."""
    arrays, told = read_apart("textures", files, {}, **limits)
    return FoundSet(arrays["packed"], told["channels"], told["remarks"])


def _mesh(files: Files, arguments: Mapping[str, Any]) -> tuple[Arrays, dict[str, Any]]:
    ((name, content),) = files.items()
    found = read_mesh(name, content, **arguments)
    arrays = {f"mesh/{at}": one for at, one in found.mesh.as_arrays().items()}
    if found.textures is not None:
        arrays |= {f"textures/{at}": one for at, one in found.textures.as_arrays().items()}
    return arrays, {"remarks": found.remarks}


def _heights(files: Files, arguments: Mapping[str, Any]) -> tuple[Arrays, dict[str, Any]]:
    ((name, content),) = files.items()
    heights, remarks = read_height_map(name, content)
    return {"heights": heights}, {"remarks": remarks}


def _panorama(files: Files, arguments: Mapping[str, Any]) -> tuple[Arrays, dict[str, Any]]:
    ((name, content),) = files.items()
    pixels, remarks = read_panorama(name, content)
    return {"halves": pixels.view(np.uint16)}, {"remarks": remarks}


def _photometry(files: Files, arguments: Mapping[str, Any]) -> tuple[Arrays, dict[str, Any]]:
    ((name, content),) = files.items()
    profile, lumens, remarks = read_photometry(name, content)
    return {"profile": profile}, {"lumens": lumens, "remarks": remarks}


def _decal_picture(files: Files, arguments: Mapping[str, Any]) -> tuple[Arrays, dict[str, Any]]:
    ((name, content),) = files.items()
    pixels, remarks = read_decal_picture(name, content)
    return {"pixels": np.ascontiguousarray(pixels)}, {"remarks": remarks}


def _textures(files: Files, arguments: Mapping[str, Any]) -> tuple[Arrays, dict[str, Any]]:
    found = read_set(files)
    return {"packed": found.packed}, {"channels": found.channels, "remarks": found.remarks}


_READERS: dict[str, Callable[[Files, Mapping[str, Any]], tuple[Arrays, dict[str, Any]]]] = {
    "mesh": _mesh,
    "heights": _heights,
    "panorama": _panorama,
    "photometry": _photometry,
    "decal_picture": _decal_picture,
    "textures": _textures,
}


def read_apart(
    kind: str, files: Files, arguments: Mapping[str, Any], *, memory: int = MEMORY, seconds: float = SECONDS
) -> tuple[Arrays, dict[str, Any]]:
    """Read files in a process of its own.

    :param kind: what is wanted of them, one of ``_READERS``. :param files: contents by name.
    :param memory: bytes that it may take. :param seconds: that it may last.
    :returns: the arrays, and what else is told of them.
    :raises ImportRefused: with the reason, for anything that cannot be used, and for what takes too much of either.
    """
    # It limits itself: between fork and exec, in a process with threads, nothing of ours may run.
    command = [sys.executable, "-m", "cenote.formats.apart", kind, str(memory), str(int(seconds) + 1)]
    head = json.dumps({"arguments": arguments, "files": [(name, len(content)) for name, content in files.items()]})
    try:
        done = subprocess.run(
            command,
            input=b"".join([head.encode(), b"\n", *files.values()]),
            capture_output=True,
            timeout=seconds,
            env={**os.environ, **_ALONE},
        )
    except subprocess.TimeoutExpired:
        raise ImportRefused(
            f"Reading it took longer than {seconds:g} seconds. It may be damaged; export it again, or reduce it."
        ) from None
    if done.returncode == _REFUSED:
        raise ImportRefused(done.stdout.decode(errors="replace"))
    if done.returncode:
        raise ImportRefused(
            f"Reading it took more than {memory / 1024**3:.0f} GB, or ended its reader. It may be damaged; export it again, "
            "or reduce it."
        )
    arrays, told = unpack(done.stdout)
    return arrays, told


def main() -> int:
    """Read files from standard input, write their arrays or what is wrong with them; returns the exit code."""
    kind, memory, seconds = sys.argv[1:4]
    resource.setrlimit(resource.RLIMIT_AS, (int(memory), int(memory)))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds) + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        head = json.loads(sys.stdin.buffer.readline())
        files = {name: sys.stdin.buffer.read(size) for name, size in head["files"]}
        arrays, told = _READERS[kind](files, head["arguments"])
        sys.stdout.buffer.write(pack(arrays, told))
    except ImportRefused as refusal:
        sys.stdout.write(str(refusal))
        return _REFUSED
    except (MemoryError, RecursionError):
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
