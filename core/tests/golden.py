"""Keeping golden arrays: of each its shape, its mean, and so many of its values that a change anywhere shows."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

PLACE = Path(__file__).parent / "golden.npz"
_SAMPLES = 61
# float32 arithmetic differs between processors in its last places; colours may round the other way.
_CLOSE, _BYTES = 2e-4, 1


def told(array: np.ndarray) -> np.ndarray:
    """What is kept of an array: float64 (shape…, mean, standard deviation, samples…)."""
    flat = np.asarray(array).ravel()
    values = flat.astype(np.float64) if flat.dtype != np.uint64 else (flat >> np.uint64(11)).astype(np.float64)
    values = values[np.isfinite(values)]
    some = values[np.linspace(0, len(values) - 1, min(_SAMPLES, len(values))).astype(int)] if len(values) else values
    spread = [values.mean(), values.std()] if len(values) else [0.0, 0.0]
    return np.array([len(np.shape(array)), *np.shape(array), *spread, *some])


def kept() -> dict[str, np.ndarray]:
    """All golden arrays, as they are kept."""
    with np.load(PLACE) as file:
        ends = np.cumsum(file["lengths"])
        names = file["names"].tobytes().decode().split("\n")
        return dict(zip(names, np.split(file["values"], ends[:-1]), strict=True))


def different(found: dict[str, np.ndarray], before: dict[str, np.ndarray]) -> list[str]:
    """The arrays that are not what they were, with how far they are off."""
    out = []
    for name, array in found.items():
        now, was = told(array), before.get(name)
        if was is None or len(now) != len(was):
            out.append(f"{name}: {'new' if was is None else 'another shape'}")
            continue
        close = _BYTES if np.asarray(array).dtype == np.uint8 else _CLOSE * np.maximum(np.abs(was), 1)
        off = np.abs(now - was) > close
        # A handful of samples may fall on the other side of a step.
        if off[: 1 + int(now[0]) + 2].any() or off.sum() > 2:
            out.append(f"{name}: {off.sum()} of {len(now)} values, up to {np.abs(now - was).max():.3g}")
    return out


def keep(found: dict[str, np.ndarray]) -> None:
    """Write new golden arrays."""
    values = {name: told(array) for name, array in found.items()}
    np.savez_compressed(
        PLACE, values=np.concatenate(list(values.values())), lengths=np.array([len(v) for v in values.values()]),
        names=np.frombuffer("\n".join(values).encode(), np.uint8),
    )  # fmt: skip


if __name__ == "__main__":
    sys.path[:0] = [str(Path(__file__).parents[1]), str(Path(__file__).parent)]
    from golden_arrays import arrays

    made = arrays()
    print("\n".join(different(made, kept()) if PLACE.exists() else []) or "nothing has changed")
    keep(made)
