"""The grass of the demo site: rough, worn away where people walk."""

from __future__ import annotations

from ..geometry.strokes import BrushStroke
from ..grass.layer import Grass
from ..grass.presets import PRESETS
from ..masks.where import SignalCard, Where
from ..scatter.clear import ClearOfObjects
from ..signals.noise import Noise
from ..signals.painted import Painted
from ..signals.slope import Slope
from .ground import PaintedMaterial


def grass_of_tallow_lock(trodden: PaintedMaterial, dry: SignalCard) -> tuple[Grass, ...]:
    """Rough grass wherever it is dry and level, thin and short along the paths.

    :param trodden: what is painted where people walk. :param dry: where it is dry enough.
    """
    strokes = tuple(
        BrushStroke(
            path=tuple((x, 0.0, z) for x, z in one.path), radius=one.radius * 1.15, strength=one.strength, soft=one.soft
        )
        for one in trodden.strokes
    )
    path = Painted(strokes=strokes)
    rough = next(preset for preset in PRESETS if preset.kind == "rough").layer("rough_grass")
    where = (
        SignalCard(id="slope", signal=Slope(), starts_at=42, full_at=24),
        SignalCard(id="noise", signal=Noise(size=4, octaves=5, seed=2), starts_at=0.24, full_at=0.42),
        dry,
        SignalCard(id="paths", signal=path, starts_at=0.75, full_at=0.3),
    )
    grass = rough.model_copy(
        update={
            "surfaces": ("ground",),
            "density": 900.0,
            "height": (0.05, 0.24),
            "where": Where(cards=where),
            "tall_where": Where(cards=(SignalCard(id="off_paths", signal=path, starts_at=0.4, full_at=0.02),)),
            "keep_clear": (ClearOfObjects(id="structures", distance=0.0, fade=0.08),),
        }
    )
    return (grass,)
