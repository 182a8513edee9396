"""Materials of a site's own: recipes that somebody has changed, and texture sets from files."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..parameters import Declared, choice, quantity
from .base import Nature
from .recipe import Recipe


class OwnRecipe(Recipe):
    """A recipe of the site's own."""

    kind: Literal["recipe"] = "recipe"


class ImportedSet(Declared):
    """A texture set from files."""

    kind: Literal["texture_set"] = "texture_set"
    maps: str = Field(
        pattern=r"^[0-9a-f]{64}$", description="Content hash of the stored maps.", json_schema_extra={"brought": "maps"}
    )
    file_names: tuple[str, ...] = Field(default=(), max_length=20)
    size: float = quantity(2, low=0.05, high=20, unit="m", step=0.05, help="Side of the tile that repeats.")
    depth: float = quantity(0.01, low=0, high=0.5, unit="m", step=0.001, help="From its lowest to its highest point.")
    uneven: float = quantity(
        0.1, low=0, high=1, unit="", step=0.02, help="How much brightness drifts over metres; it hides the repeat."
    )
    laying: Literal["repeated", "mixed", "turned"] = choice(
        "repeated",
        label="Laid",
        help="Side by side with itself; in parts that are set off, or also turned, so that no repeat is seen.",
    )


class OwnMaterial(Declared):
    """A material of a site's own."""

    id: str = Field(pattern=r"^own-[a-z0-9-]{1,36}$")
    name: str = Field("Material", min_length=1, max_length=80)
    nature: Nature = choice("stone", help="What it is to the weather: covers sit on some and not on others.")
    source: Annotated[OwnRecipe | ImportedSet, Field(discriminator="kind")]
