"""A site's document as targets look at it: section by section, so that what follows from which is known."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import TYPE_CHECKING, Any, TypeVar

from ..signals.around import GROUND

if TYPE_CHECKING:
    from ..materials.base import Nature
    from ..site.document import SiteDocument, Structure
    from ..weather.climate import Conditions
    from .graph import Graph
    from .target import Target

Value = TypeVar("Value")
# All kinds of targets by their names.
TARGETS: dict[str, type[Target]] = {}
# Stands among the sections for what is in the store of what users brought in.
SOURCES = "sources"
# Where kinds are declared that are asked for by name.
_LOADED_BY_NAME = {"PlantedBodies": "planting"}


class Site:
    """The document of a graph, for the inputs of one target.

    Sections are its attributes; :attr:`sections` tells which of them were looked at.
    """

    def __init__(self, graph: Graph) -> None:
        self._graph = graph
        self.sections: set[str] = set()

    def __getattr__(self, name: str) -> Any:
        if name not in type(self._graph.document).model_fields:
            raise AttributeError(name)
        self.sections.add(name)
        return getattr(self._graph.document, name)

    def get(self, target: Target) -> Any:
        """The value of a target that is cheap to make."""
        value = self._graph.get(target)
        self.sections |= self._graph.sections_of(target)
        return value

    def key(self, target: Target) -> str:
        """The key of a target."""
        self.sections |= self._graph.sections_of(target)
        return self._graph.key(target)

    def mark(self, target: Target) -> Any:
        """The mark of a slow target; see :meth:`Graph.mark`."""
        self.sections |= self._graph.sections_of(target)
        return self._graph.mark(target)

    def target(self, kind: str, *fields: Any) -> Target:
        """A target of a kind by its name, for what would otherwise import one another in a circle: signals may look at
        planting, and planting at signals."""
        if kind not in TARGETS:
            import_module(f"{__package__}.{_LOADED_BY_NAME[kind]}")
        return TARGETS[kind](*fields)

    def has_source(self, name: str) -> bool:
        """Whether something that was brought in is in the store."""
        self.sections.add(SOURCES)
        return self._graph.has_source(name)

    def once(self, name: Any, make: Callable[[Site], Value]) -> Value:
        """Something small about the document that many targets ask for."""
        value, sections = self._graph.worked_out(name, make)
        self.sections |= sections
        return value

    # What is asked for often

    def structure(self, id: str) -> Structure:
        """The structure of that id.

        :raises KeyError: if there is none.
        """
        by_id: dict[str, Structure] = self.once("structures by id", lambda site: {s.id: s for s in site.structures})
        return by_id[id]

    @property
    def conditions(self) -> Conditions:
        """What covers answer to."""
        self.sections |= {"climate", "air"}
        return self._graph.document.conditions

    def surface_ids(self) -> tuple[str, ...]:
        """The ground and all structures that are shown."""
        return self.once("surfaces", lambda site: (GROUND, *(one.id for one in site.structures if one.is_surface)))

    def title(self, id: str) -> str:
        """What an object is called."""
        return "the ground" if id == GROUND else self.structure(id).name

    def has_material(self, kind: str) -> bool:
        """Whether there is such a material, shipped or the site's own."""
        self.sections.add("materials")
        return self._graph.document.has_material(kind)

    def nature(self, kind: str) -> Nature:
        """What a material is to the weather.

        :raises KeyError: if there is no such material.
        """
        self.sections.add("materials")
        return self._graph.document.nature(kind)

    def material(self, kind: str) -> Any:
        """What a material is made by.

        :raises KeyError: if there is no such material.
        """
        self.sections.add("materials")
        return self._graph.document.material(kind)


def sharing(document: SiteDocument, before: SiteDocument) -> tuple[SiteDocument, frozenset[str]]:
    """A document with all that is as it was replaced by the very objects of an earlier one.

    :returns: the document, and the sections that differ.
    """
    given: dict[str, Any] = {}
    changed = set()
    for name in type(document).model_fields:
        new, old = getattr(document, name), getattr(before, name)
        if new is old or new == old:
            given[name] = old
            continue
        changed.add(name)
        if isinstance(new, tuple) and isinstance(old, tuple):
            known = {getattr(one, "id", None): one for one in old}
            new = tuple(_same(one, known.get(getattr(one, "id", None))) for one in new)
        given[name] = new
    return document.model_copy(update=given), frozenset(changed)


def _same(one: Any, old: Any) -> Any:
    return old if old is not None and one == old else one
