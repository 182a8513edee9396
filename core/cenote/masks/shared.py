"""Masks shared by name: one chain of cards that any number of layers follow."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import Field

from .where import Chain, Where


class SharedWhere(Chain):
    """A chain of cards with a name of its own. Edited once, all masks that follow it change."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field("Mask", min_length=1, max_length=80)


def followed(chain: Where, shared: Mapping[str, SharedWhere], field: str) -> Where:
    """A mask with the cards of the shared one that it follows; itself where it follows none.

    :param shared: by id. :param field: where the mask stands in the document, for the words of an error.
    :raises ValueError: if there is no shared mask of that id.
    """
    if not chain.shared:
        return chain
    if chain.shared not in shared:
        raise ValueError(f"{field}/shared: there is no shared mask of the id {chain.shared!r}")
    return chain.model_copy(update={"cards": shared[chain.shared].cards})
