"""The decals of Tallow Lock."""

from __future__ import annotations

from ..decals.base import Decal
from ..decals.bird_droppings import BirdDroppings
from ..decals.chalk import Chalk
from ..decals.crack import Crack
from ..decals.footprints import Footprints
from ..decals.leak import Leak
from ..decals.moss_creep import MossCreep
from ..decals.mud_splash import MudSplash
from ..decals.poster import Poster
from ..decals.rust_run import RustRun
from ..decals.stencil import Stencil
from ..decals.tyre_tracks import TyreTracks
from ..geometry.pose import Pose
from .decals import PlacedDecal


def decals_of_tallow_lock() -> tuple[PlacedDecal, ...]:
    """Numerals, leaks and cracks on the lock's walls, a torn poster and chalk on the house, mud, tracks and droppings."""

    def laid(id: str, name: str, decal: Decal, object: str, at: tuple[float, float, float], turn: float, tip: float, size: tuple[float, float],
             reach: float = 0.4, **more: object) -> PlacedDecal:  # fmt: skip
        given = {"lies": "over the weather" if decal.over else "under the weather"} | more
        return PlacedDecal(id=id, name=name, decal=decal, object=object, placement=Pose(position=at, turn=turn, tip=tip),
                           width=size[0], height=size[1], reach=reach, **given)  # fmt: skip

    walls, house = "lock_walls", "house"
    return (
        laid("numeral", "Numeral of the lock", Stencil(text="7", thin=35), walls, (0.6, -0.85, -2.6), 0, 90, (0.55, 0.6)),
        laid("depths", "Marks of depth", Stencil(text="1·5\n1·0\n0·5", font="narrow", thin=30), walls, (5.9, -1.25, -2.6), 0, 90, (0.3, 1.1)),
        laid("chamber_crack", "Crack in the chamber", Crack(width=0.012, depth=0.02, strays=70), walls, (-2.6, -1.0, -2.6), 0, 90, (1.5, 0.8),
             spin=68, seed=4),
        laid("drain_leak", "Leak from a drain", Leak(strength=85, streaks=34), walls, (-4.0, -1.1, -2.6), 0, 90, (0.9, 1.5), seed=2),
        laid("coping_leak", "Leak under the coping", Leak(strength=60, lime=30), walls, (2.6, -1.1, -2.6), 0, 90, (0.7, 1.3), seed=9),
        laid("wall_moss", "Moss from a joint of the wall", MossCreep(dense=52), walls, (-0.9, -0.55, -2.6), 0, 90, (2.2, 0.22), seed=3),
        laid("regatta", "Poster of the regatta", Poster(torn=26), house, (0.98, 1.75, 2.65), 0, 90, (0.62, 0.88), 0.2, seed=11, spin=-1.5, worn=5),
        laid("old_bill", "What is left of an older bill", Poster(heading="COAL", lines="Best seasoned\nby the boatload", torn=68, font="narrow",
             band=(0.2, 0.05, 0.03), ink=(0.03, 0.03, 0.035)), house, (1.5, 1.5, 2.65), 0, 90, (0.5, 0.7), 0.2, seed=5, spin=2, worn=18),
        laid("tally", "Boats, counted in chalk", Chalk(marks="tally", number=13), house, (-1.3, 1.35, 2.65), 0, 90, (0.42, 0.14), 0.2, seed=6),
        laid("house_mud", "Mud at the foot of the house", MudSplash(drops=420), house, (0.9, 0.62, 2.65), 0, 90, (3.4, 0.55), 0.3, seed=8),
        laid("sill_rust", "Rust below the window", RustRun(strength=70), house, (2.35, 0.92, 2.65), 0, 90, (0.16, 0.7), 0.3, seed=7),
        laid("gable_crack", "Crack in the gable", Crack(width=0.007, depth=0.01, strays=55, branches=4), house, (3.7, 1.7, 0.9), 90, 90, (1.9, 0.8), 0.3,
             spin=-62, seed=12),
        laid("droppings", "Below where gulls sit", BirdDroppings(number=14), "bollards", (0, 0.3, 0), 0, 0, (1.2, 1.2), 1.2, seed=4),
        laid("cart_tracks", "Tracks of a cart", TyreTracks(tyre=0.09, apart=1.1, lugs=0.5, stain=45, depth=0.025), "", (-1.5, 0.0, -6.2), 88, 0, (1.5, 7.0), 0.8,
             seed=3),
        laid("boots", "Boots across the yard", Footprints(stain=60), "", (1.4, 0.0, -5.2), 24, 0, (0.5, 3.6), 0.6, seed=2),
    )  # fmt: skip
