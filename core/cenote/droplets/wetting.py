"""How water sits on what there is: the angles at which drops meet it."""

from __future__ import annotations

from dataclasses import dataclass

from ..materials.base import Nature


@dataclass(frozen=True)
class Wetting:
    """How water sits on something.

    :ivar advancing: degrees between drop and surface, in the drop, at an edge that is about to go on. :ivar receding: the same at one that is about to draw back.
    :ivar stands: how much of what falls stands on it in drops, in [0, 1]; what is porous drinks the rest.
    """

    advancing: float
    receding: float
    stands: float = 1.0


# As surfaces are outdoors, neither clean nor new. Magnitudes after de Gennes, Brochard-Wyart and Quéré, "Capillarity and Wetting Phenomena" (2004), chapters 1 and 3:
# glass and minerals are wetted, oxidised metals and oil paints bead, wax on leaves beads most.
WETTINGS: dict[Nature, Wetting] = {
    "stone": Wetting(42, 14, 0.8),
    "masonry": Wetting(38, 8, 0.3),
    "plaster": Wetting(40, 8, 0.3),
    "timber": Wetting(62, 15, 0.45),
    "painted timber": Wetting(82, 48),
    "metal": Wetting(88, 46),
    "painted metal": Wetting(86, 52),
    "glass": Wetting(52, 20),
    "earth": Wetting(30, 0, 0.0),
    "growth": Wetting(112, 78),
    "cloth": Wetting(70, 10, 0.25),
    "ice": Wetting(24, 8, 0.6),
}
