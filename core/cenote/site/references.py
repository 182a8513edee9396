"""What a document refers to, as its declarations say: a field that ``picks`` or ``refers`` names something by its id."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING, Any, NamedTuple, get_args

from ..kit.base import KIT
from ..materials.base import MATERIALS
from ..parameters import Declared
from ..signals.around import GROUND

if TYPE_CHECKING:
    from .document import SiteDocument

# What each family is called where something of it is missing.
CALLED = {
    "kit": "kit item", "material": "material", "objects": "object", "surface": "surface", "surfaces": "surface",
    "zones": "zone", "planting": "planting layer", "shots": "shot", "finishes": "finish",
    "covers": "cover", "states": "state of the dials",
}  # fmt: skip


class BroughtKind(NamedTuple):
    """A kind of file that users bring in: what it is called, and what is shown where one is lost."""

    called: str
    stands_in: str


# What users bring in, by the hash of its content: whether it is there, and whose it is, no document can tell.
BROUGHT = {
    "mesh": BroughtKind("mesh", "a box of 1 m stands in for its mesh"),
    "textures": BroughtKind("texture", "its parts' materials stand in for its textures"),
    "heights": BroughtKind("height map", "humps stand in for its height map"),
    "maps": BroughtKind("texture set", "plain grey stands in for its textures"),
    "photometry": BroughtKind("photometric", "a bare bulb stands in for its photometric file"),
    "picture": BroughtKind("picture", "plain grey stands in for its picture"),
    "panorama": BroughtKind("panorama", "a sky by hand stands in for its panorama"),
}
# Without these a site cannot be built at all.
NEEDED = frozenset({"kit", "material"})


@dataclass(frozen=True)
class Reference:
    """One reference in a document.

    :ivar field: where it stands, ``planting/0/mix/1/item``. :ivar family: what it refers to, a key of :data:`CALLED` or
        :data:`BROUGHT`. :ivar id: the id, the kind of a kit item or material, or the hash, that it names.
    """

    field: str
    family: str
    id: str

    def in_words(self) -> str:
        """That there is no such thing, for people."""
        if self.family in BROUGHT:
            return f"there is no {BROUGHT[self.family].called} file {self.id[:8]}… among what you brought in; bring it in first"
        return f"there is no {CALLED[self.family]} called {self.id!r}"


@dataclass(frozen=True)
class _Plan:
    """How a class of declared values is searched.

    :ivar own: its fields that refer to something, with the family, and whether it is a mapping's keys that do.
    :ivar nested: its fields that may hold values which refer to something.
    """

    own: tuple[tuple[str, str, bool], ...]
    nested: tuple[str, ...]


def references(value: Declared, at: str = "") -> Iterator[Reference]:
    """All references in a document or a part of one, in the order of its fields.

    :param at: where the part stands in the document.
    """
    plan = _plan_of(type(value))
    start = f"{at}/" if at else ""
    for name, family, by_key in plan.own:
        found = getattr(value, name)
        if isinstance(found, str):
            # An empty text refers to nothing.
            if found:
                yield Reference(start + name, family, found)
        elif isinstance(found, dict):
            for key, one in found.items():
                yield Reference(f"{start}{name}/{key}", family, key if by_key else one)
        else:
            for row, one in enumerate(found):
                yield Reference(f"{start}{name}/{row}", family, one)
    for name in plan.nested:
        yield from _within(getattr(value, name), start + name)


def brought(document: SiteDocument) -> Iterator[Reference]:
    """What a document refers to of what users have brought in: the family is a key of :data:`BROUGHT`, the id a hash."""
    return (one for one in references(document) if one.family in BROUGHT)


def _within(value: Any, at: str) -> Iterator[Reference]:
    if isinstance(value, Declared):
        yield from references(value, at)
    elif isinstance(value, tuple):
        for row, one in enumerate(value):
            yield from _within(one, f"{at}/{row}")
    elif isinstance(value, dict):
        for key, one in value.items():
            yield from _within(one, f"{at}/{key}")


def known_ids(document: SiteDocument) -> dict[str, set[str]]:
    """What can be referred to, by family."""
    objects = {one.id for one in document.structures}
    return {
        "kit": {str(item.model_fields["kind"].default) for item in KIT} | {item.id for item in document.kit},
        "material": {one.kind for one in MATERIALS} | {one.id for one in document.materials},
        "objects": objects | {GROUND},
        "surface": objects | {GROUND},
        "surfaces": objects | {GROUND},
        "zones": {one.id for one in document.zones},
        "planting": {one.id for one in document.planting},
        "covers": {one.id for one in document.weather},
        "shots": {one.id for one in document.shots},
        "finishes": {one.id for one in document.finishes},
        "states": {one.id for one in document.states},
    }


def dangling(document: SiteDocument) -> Iterator[Reference]:
    """The references of a document to what it does not have."""
    known = known_ids(document)
    return (one for one in references(document) if one.family in known and one.id not in known[one.family])


def newly_dangling(document: SiteDocument, before: SiteDocument) -> list[Reference]:
    """References to what neither a document nor its earlier state has, and that the earlier state did not make.

    What referred to something that was deleted since is none of these: it waits for that to come back, as by an undo.
    """
    found = list(dangling(document))
    if not found:
        return []
    had = known_ids(before)
    old = {(one.family, one.id) for one in dangling(before)}
    return [one for one in found if one.id not in had[one.family] and (one.family, one.id) not in old]


@cache
def _plan_of(kind: type[Declared]) -> _Plan:
    own: list[tuple[str, str, bool]] = []
    nested: list[str] = []
    for name, field in kind.model_fields.items():
        extra = field.json_schema_extra if isinstance(field.json_schema_extra, dict) else {}
        by_key = extra.get("refers_by_key")
        family = by_key or extra.get("refers") or extra.get("picks") or extra.get("brought")
        if isinstance(family, str) and (family in CALLED or family in BROUGHT):
            own.append((name, family, bool(by_key)))
        elif any(_plan_of(one) != _Plan((), ()) for one in _declared_in((field.annotation, *field.metadata))):
            nested.append(name)
    return _Plan(tuple(own), tuple(nested))


def _declared_in(annotation: Any) -> set[type[Declared]]:
    """The classes of declared values that an annotation allows."""
    if isinstance(annotation, type) and issubclass(annotation, Declared):
        return {annotation}
    parts = annotation if isinstance(annotation, tuple) else get_args(annotation)
    return set[type[Declared]]().union(*(_declared_in(one) for one in parts)) if parts else set()
