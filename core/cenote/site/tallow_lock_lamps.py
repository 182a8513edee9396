"""The lamps of Tallow Lock."""

from __future__ import annotations

from ..geometry.pose import Pose
from ..light.lamps.area import AreaLamp
from ..light.lamps.fire import Fire
from ..light.lamps.point import PointLamp
from ..light.lamps.spot import SpotLamp
from .lamps import PlacedLamp

# Where a fire burns, metres.
HEARTH = (0.6, 0.0, -4.1)


def lamps_of_tallow_lock() -> tuple[PlacedLamp, ...]:
    """A lantern, the light from the windows, one over the sign, and a fire; they are lit once the sun is down."""

    def window(id: str, name: str, x: float, z: float, turn: float) -> PlacedLamp:
        lamp = AreaLamp(lumens=420, kelvin=2500, wide=0.85, long=1.2)
        return PlacedLamp(
            id=id, name=name, seen_itself=False, lamp=lamp, placement=Pose(position=(x, 1.55, z), tip=-90, turn=turn)
        )

    return (
        PlacedLamp(id="lantern", name="Lantern", lamp=PointLamp(lumens=1600, kelvin=2300), placement=Pose(position=(-8.9, 3.45, 4.35))),
        window("west_window", "Window left of the door", -5.98, -6.8, 4),
        window("east_window", "Window right of the door", -0.45, -7.2, 4),
        PlacedLamp(id="sign_lamp", name="Over the sign", seen_itself=False, lamp=SpotLamp(lumens=500, kelvin=2700, angle=75, soft=0.7),
                   placement=Pose(position=(7.25, 2.5, -3.9), tip=-48, turn=194)),
        PlacedLamp(id="fire", name="Fire in the yard", lamp=Fire(lumens=1100, wide=0.32, tall=0.55), placement=Pose(position=(HEARTH[0], 0.1, HEARTH[2]))),
    )  # fmt: skip
