"""Copies of a mesh: along a direction, along a path, mirrored; merged into one."""

from __future__ import annotations

import numpy as np

from .mesh import Mesh, join, placement_matrix


def along_step(number: int, step: np.ndarray, turn: float) -> list[np.ndarray]:
    """Matrices (4, 4) of copies set down one after another, each shifted by ``step`` metres and turned by ``turn`` degrees."""
    return [placement_matrix([float(v) * k for v in step], turn * k) for k in range(number)]


def along_path(path: np.ndarray, number: int) -> list[np.ndarray]:
    """Matrices of copies spread evenly along a path of (x, z) points, x of each along the way; ends included.

    :raises ValueError: if the path has no length.
    """
    path = np.asarray(path, float)
    lengths = np.hypot(*np.diff(path, axis=0).T)
    far = np.concatenate([[0], np.cumsum(lengths)])
    if len(path) < 2 or far[-1] < 1e-6:
        raise ValueError("path: it has no length")
    spots = np.linspace(0, far[-1], number) if number > 1 else np.array([far[-1] / 2])
    out = []
    for spot in spots:
        k = min(int(np.searchsorted(far, spot, side="right")) - 1, len(lengths) - 1)
        x, z = (np.interp(spot, far, path[:, axis]) for axis in (0, 1))
        dx, dz = path[k + 1] - path[k]
        out.append(placement_matrix((x, 0, z), float(np.degrees(np.arctan2(-dz, dx)))))
    return out


def copied(mesh: Mesh, matrices: list[np.ndarray], mirror: str = "none") -> Mesh:
    """All copies as one mesh.

    :param matrices: of the copies, each float (4, 4).
    :param mirror: "x" or "z" adds the mirror image of all copies across that axis; "none" adds nothing.
    """
    out = [mesh.moved(matrix) for matrix in matrices]
    if mirror in ("x", "z"):
        flip = np.diag([-1.0 if mirror == "x" else 1.0, 1.0, -1.0 if mirror == "z" else 1.0, 1.0])
        out += [copy.moved(flip) for copy in out]
    return join(out)
