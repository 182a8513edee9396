"""Files that nobody has looked at yet are parsed in a process of their own, with limits of memory and time.

Whatever a parser does there, to crash or to take all memory, its process ends and the caller has words for it.

    python -m cenote.formats.apart NAME UNIT UP BYTES SECONDS < file > mesh
"""

from __future__ import annotations

import io
import json
import os
import resource
import subprocess
import sys
from collections.abc import Mapping

import numpy as np

from ..geometry.mesh import Mesh
from .meshes_in import Found, ImportRefused, check_file, read_mesh

# Address space, bytes: the libraries themselves take some two thirds of a gigabyte. Seconds.
MEMORY, SECONDS = 6 * 1024**3, 90
_REFUSED = 3
_ALONE = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "NUMBA_NUM_THREADS": "1"}


def read_apart(
    name: str, content: bytes, unit: str, up: str, *, memory: int = MEMORY, seconds: float = SECONDS
) -> Found:
    """As :func:`cenote.formats.meshes_in.read_mesh`, in a process of its own.

    :param memory: bytes that it may take. :param seconds: that it may last.
    :raises ImportRefused: with the reason, for anything that cannot be used, and for what takes too much of either.
    """
    # What can be told without parsing is told at once.
    check_file(name, content, unit, up)

    # It limits itself: between fork and exec, in a process with threads, nothing of ours may run.
    command = [sys.executable, "-m", "cenote.formats.apart", name, unit, up, str(memory), str(int(seconds) + 1)]
    try:
        done = subprocess.run(
            command,
            input=content,
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
    with np.load(io.BytesIO(done.stdout), allow_pickle=False) as file:
        arrays: Mapping[str, np.ndarray] = {key: file[key] for key in file.files}
    remarks = json.loads(arrays["remarks"].tobytes())
    return Found(Mesh.from_arrays({key: one for key, one in arrays.items() if key != "remarks"}), remarks)


def main() -> int:
    """Read a file from standard input, write its mesh or what is wrong with it; returns the exit code."""
    name, unit, up, memory, seconds = sys.argv[1:6]
    resource.setrlimit(resource.RLIMIT_AS, (int(memory), int(memory)))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds) + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        found = read_mesh(name, sys.stdin.buffer.read(), unit, up)
    except ImportRefused as refusal:
        sys.stdout.write(str(refusal))
        return _REFUSED
    except (MemoryError, RecursionError):
        return 1
    stream = io.BytesIO()
    remarks = np.frombuffer(json.dumps(found.remarks).encode(), np.uint8)
    np.savez(stream, remarks=remarks, **found.mesh.as_arrays())  # type: ignore[arg-type]
    sys.stdout.buffer.write(stream.getvalue())
    return 0


if __name__ == "__main__":
    sys.exit(main())
