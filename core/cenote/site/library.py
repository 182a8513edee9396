"""Recipes kept apart from any site, and how they fit another one."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from pydantic import Field

from ..masks.where import SignalCard, Where
from ..parameters import Declared
from ..signals.base import Signal
from ..weather.base import COVERS, Cover
from .document import CoverLayer, SiteDocument
from .references import known_ids

if TYPE_CHECKING:
    AnyCover = Cover
else:
    AnyCover = COVERS.union()


class CoverRecipe(Declared):
    """A cover with its mask, without the surfaces that share it."""

    cover: AnyCover
    where: Where = Field(default=Where())
    on_items: bool = True


def recipe_of(layer: CoverLayer) -> CoverRecipe:
    """What of a cover layer can be taken to another site: its mask has cards of its own from now on."""
    where = layer.where.model_copy(update={"shared": ""})
    return CoverRecipe(cover=layer.cover, where=where, on_items=layer.on_items)


def fitted(recipe: CoverRecipe, document: SiteDocument) -> tuple[CoverRecipe, list[str]]:
    """A recipe as it can be used on a site: what its cards look at and the site does not have is left out.

    Strokes that were painted are left out too unless ``document`` is where they were painted: they lie elsewhere.

    :returns: the recipe, and in words what was left out, one sentence a card.
    """
    known = known_ids(document)
    painted = {
        card.id: card.signal for layer in document.weather for card in layer.where.cards if _strokes(card.signal)
    }
    cards: list[SignalCard] = []
    words: list[str] = []
    for card in recipe.where.cards:
        changes: dict[str, Any] = {}
        for name, field in type(card.signal).model_fields.items():
            extra = field.json_schema_extra if isinstance(field.json_schema_extra, dict) else {}
            value = getattr(card.signal, name)
            picks = extra.get("picks")
            if isinstance(picks, str) and picks in known and isinstance(value, tuple):
                left = tuple(one for one in value if one in known[picks])
                if left != value:
                    changes[name] = left
            if extra.get("draws") == "strokes" and value and painted.get(card.id) != card.signal:
                changes[name] = ()
        if changes:
            what = " and ".join(name.replace("_", " ") for name in changes)
            words.append(f"{card.signal.reading.title}: its {what} are not on this site and were left out.")
        cards.append(card.model_copy(update={"signal": card.signal.model_copy(update=changes)}))
    return recipe.model_copy(update={"where": recipe.where.model_copy(update={"cards": tuple(cards)})}), words


def _strokes(signal: Signal) -> bool:
    return bool(getattr(signal, "strokes", ()))
