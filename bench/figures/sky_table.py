"""``sky.table``: the tables that a sky is worked out with, and its radiance along one way."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from measuring import Figure, seconds

from cenote.geometry.rays import hemisphere
from cenote.light.atmosphere import air
from cenote.light.daylight import Light

WAYS = 20_000


def figures() -> Iterator[Figure]:
    """Microseconds for each way, beside eight exponentials for each step of one, the least that scattering takes."""
    ways = hemisphere(WAYS).astype(np.float64)[:, [0, 2, 1]]
    sky = Light(clouds=0).sky()
    taken = seconds(lambda: sky.radiance(ways))
    depths = np.random.default_rng(1).random((WAYS, 32, 8))
    least = seconds(lambda: np.exp(-depths))
    made = seconds(air.cache_clear) + seconds(lambda: (air.cache_clear(), air(1.0)))
    yield Figure(
        "sky.table",
        taken / WAYS * 1e6,
        "µs",
        f" a way, {taken / least:.1f} × its exponentials; tables {made:.2f} s, once",
    )
