"""Layers of drops on the surfaces of a site."""

from __future__ import annotations

from typing import TYPE_CHECKING

from pydantic import Field

from ..droplets.base import DROPLETS, Droplets
from ..droplets.beads import Beads
from ..masks.where import Where
from ..parameters import Declared, Identities, count, quantity, switch
from .ground import Identity

if TYPE_CHECKING:
    AnyDroplets = Droplets
else:
    AnyDroplets = DROPLETS.union()


class DropletLayer(Declared):
    """Drops on some surfaces, each of which has its own."""

    id: Identity
    name: str = Field("Drops", min_length=1, max_length=80)
    shown: bool = switch(True, help="Whether the layer is seen and exported.")
    droplets: AnyDroplets = Field(default=Beads())
    surfaces: Identities = Field(
        (), description="The surfaces that they lie on.", json_schema_extra={"picks": "surfaces"}
    )
    where: Where = Field(default=Where())
    seed: int = count(1, low=0, high=9999, help="Another one lets them fall elsewhere.")
    variety: float = quantity(1, low=0, high=2, unit="×", step=0.1, help="How far their outlines stray from circles.")
    follows_damp: bool = switch(True, help="Whether the dial Damp takes them away where it is dry.")
