"""The graph of targets: each derived thing declared once, made from what it declares, and kept under a key of that.

A target says which other targets and which values it is made of (``inputs``) and how (``make``). ``make`` is handed these
and nothing else, so what it may read is what was declared. Everything else follows from the declaration: the key is a
digest of the inputs' keys, of the declared values and of the code; what is missing is found by walking the inputs; what
two states of a site have in common has equal keys, and so is made once.

*Slow* targets, which workers make, are known by what they came to (a *mark*, a digest of their content) rather than by what
they were made of: where a moved crate leaves the light on a wall as it was, all that is made of that light stays as well
(early cut-off: Mokhov, Mitchell and Peyton Jones, "Build systems à la carte", ICFP 2018). Until a slow target is made,
nothing that is made of it has a key.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Any, TypeVar

import numpy as np

from .cache import Cache
from .digest import encoded, hashed
from .site import SOURCES, Site, sharing
from .stamps import stamp_of
from .target import Read, Target, Unkeyed, targets_in

if TYPE_CHECKING:
    # What decides which inputs there are counts by these inputs; its code is no part of what is stamped.
    from ..site.document import SiteDocument


Value = TypeVar("Value")
# Called with how much is done, how much there is, and what is being done; it may raise Cancelled.
Progress = Callable[[int, int, str], None]


# For so many states of a site what was found out is carried along without being asked for.
_GENERATIONS = 24


class Cancelled(Exception):
    """Raised by a progress callback to stop long work."""


class Lacking(Exception):
    """Something has no key yet, since slow targets that it is made of have not been made.

    :ivar targets: these, each once.
    """

    def __init__(self, targets: Iterable[Target]) -> None:
        self.targets = list({target.identity: target for target in targets}.values())
        super().__init__(f"{len(self.targets)} slow targets are not made yet")


@dataclass
class _Node:
    """What is known of a target in one state of a site.

    :ivar given: its inputs. :ivar sections: the sections of the document that decide them. :ivar key: once it has one.
    :ivar stands: what stands for it in the keys of others, once there is that. :ivar lineage: its name, once it was asked for.
    :ivar used: the age of the graph that last asked for it.
    """

    target: Target
    given: Mapping[str, Any]
    sections: frozenset[str] = frozenset()
    key: str | None = None
    stands: bytes | None = None
    lineage: str | None = None
    used: int = 0


@dataclass
class _WorkedOut:
    """Something small about the document, the sections that it follows from, and when it was last asked for."""

    value: Any
    sections: frozenset[str]
    used: int


class Graph:
    """The targets of one state of a site.

    :param before: the graph of an earlier state. What follows from sections of the document that are as they were is
        taken over, so that a drag costs what it changes.
    """

    def __init__(self, document: SiteDocument, cache: Cache, before: Graph | None = None) -> None:
        self.cache = cache
        self._nodes: dict[tuple[Any, ...], _Node] = {}
        self._worked_out: dict[Any, _WorkedOut] = {}
        self._there: dict[str, bool] = {}
        self.document, self._age = document, 0
        if before is not None:
            self.document, changed = sharing(document, before.document)
            self._there = {name: cache.has_source(name) for name in list(before._there)}
            if self._there != before._there:
                changed = changed | {SOURCES}
            self._age = before._age + 1
            # What no graph has asked for in a while, such as masks that were dragged past, is left behind.
            oldest = self._age - _GENERATIONS
            self._nodes = {at: node for at, node in list(before._nodes.items())
                           if node.used >= oldest and changed.isdisjoint(node.sections)}  # fmt: skip
            self._worked_out = {at: one for at, one in list(before._worked_out.items())
                                if one.used >= oldest and changed.isdisjoint(one.sections)}  # fmt: skip

    def has_source(self, name: str) -> bool:
        """Whether something that was brought in is in the store."""
        if name not in self._there:
            self._there[name] = self.cache.has_source(name)
        return self._there[name]

    # Keys

    def _node(self, target: Target) -> _Node:
        found = self._nodes.get(target.__dict__.get("_identity") or target.identity)
        if found is None:
            site = Site(self)
            given = target.inputs(site)
            found = _Node(target, given)
            sections, lacking = set(site.sections), list[Target]()
            content = self._stated(given, lacking, sections)
            found.sections = frozenset(sections)
            if not lacking:
                found.key = _key(type(target), content)
            self._nodes[target.identity] = found
        found.used = self._age
        return found

    def key(self, target: Target) -> str:
        """The key that a target's value is kept under.

        :raises Lacking: while slow targets that it is made of are not made.
        """
        node = self._node(target)
        if node.key is None:
            lacking = list[Target]()
            content = self._stated(node.given, lacking)
            if lacking:
                raise Lacking(lacking)
            node.key = _key(type(target), content)
        return node.key

    def lineage(self, target: Target) -> str:
        """The name of all values that an earlier one may be taken over from."""
        node = self._node(target)
        if node.lineage is None:
            kind, lacking = type(target), list[Target]()
            content = self._stated({name: node.given[name] for name in kind.lineage}, lacking)
            if lacking:
                raise Lacking(lacking)
            node.lineage = _key(kind, content)
        return node.lineage

    def _stated(self, value: Any, lacking: list[Target], sections: set[str] | None = None) -> bytes:
        """Inputs as bytes: targets by their keys or marks, values by themselves.

        :param lacking: is given those that are slow and not made. :param sections: is given those that decide targets.
        """
        kind = type(value)
        if kind is bytes:
            return encoded(value)
        if isinstance(value, Target):
            node = self._node(value)
            if sections is not None:
                sections |= node.sections
            if node.stands is None:
                try:
                    node.stands = b"T" + self._stands_for(node)
                except Lacking as found:
                    lacking.extend(found.targets)
                    return b""
            return node.stands
        if kind is list or kind is tuple:
            return b"(%b)" % b"".join([self._stated(one, lacking, sections) for one in value])
        if kind is dict:
            parts = [_named(name) + self._stated(value[name], lacking, sections) for name in sorted(value)]
            return b"{%b}" % b"".join(parts)
        return b"" if kind is Unkeyed else encoded(value)

    def _stands_for(self, node: _Node) -> bytes:
        """What stands for a target in the keys of others."""
        key = self.key(node.target)
        if not node.target.slow:
            return key.encode()
        mark = self.cache.mark(key)
        if mark is None:
            raise Lacking([node.target])
        return hashed(mark.tobytes())

    def mark(self, target: Target) -> np.ndarray:
        """The mark of a slow target, uint8 (N,).

        :raises Lacking: while it is not made.
        """
        found = self.cache.mark(self.key(target))
        if found is None:
            raise Lacking([target])
        return found

    # Values

    def get(self, target: Target) -> Any:
        """The value of a target; what it is made of is made as well, however slow."""
        key = self._key_at_last(target) if target.keep != "nothing" or target.slow else ""
        kind = type(target)

        def make() -> Any:
            return kind.make(Read(self, target, self._node(target).given))

        if not key:
            return make()
        if target.keep == "store":
            value = self.cache.kept(key, make, kind.pack, kind.unpack)
        else:
            value = self.cache.get(key, make, target.keep == "briefly")
        if kind.lineage:
            self.cache.add_to_line(self.lineage(target), key, target.keep == "store")
        if target.slow and self.cache.mark(key) is None:
            self.cache.set_mark(key, kind.mark(value))
        return value

    def _key_at_last(self, target: Target) -> str:
        while True:
            try:
                return self.key(target)
            except Lacking as lacking:
                for one in lacking.targets:
                    self.get(one)

    def has(self, target: Target) -> bool:
        """Whether a target's value is kept already."""
        try:
            key = self.key(target)
        except Lacking:
            return False
        return self.cache.has(key) and (not target.slow or self.cache.mark(key) is not None)

    # What is missing

    def missing(self, *wanted: Target) -> list[Target]:
        """The slow targets that some targets need and that are not made, in order of dependence.

        More may come to light when these are made, where what is needed depends on what they come to.
        """
        found: dict[tuple[Any, ...], Target] = {}
        seen: set[tuple[Any, ...]] = set()

        def visit(target: Target) -> None:
            if target.identity in seen:
                return
            seen.add(target.identity)
            if target.keep == "store" and self.has(target):
                return
            try:
                given = self._node(target).given
            except Lacking as lacking:
                # What it is made of depends on what these come to.
                for one in lacking.targets:
                    visit(one)
                return
            for one in targets_in(given, unkeyed=True):
                visit(one)
            if target.slow and not self.has(target):
                found[target.identity] = target

        for target in wanted:
            visit(target)
        return list(found.values())

    def complete(self, wanted: Iterable[Target], progress: Progress) -> None:
        """Make all that some targets lack.

        :param progress: called before each slow target is made; it may raise :class:`Cancelled`.
        """
        wanted, done = list(wanted), 0
        while missing := self.missing(*wanted):
            for row, target in enumerate(missing):
                progress(done, done + len(missing) - row, target.doing(Site(self)))
                self.get(target)
                done += 1
        progress(done, done, "")

    def worked_out(self, name: Any, make: Callable[[Site], Value]) -> tuple[Value, frozenset[str]]:
        """Something small about the document, worked out once, and the sections that it follows from."""
        found = self._worked_out.get(name)
        if found is None:
            site = Site(self)
            value = make(site)
            found = self._worked_out[name] = _WorkedOut(value, frozenset(site.sections), self._age)
        found.used = self._age
        return found.value, found.sections

    def sections_of(self, target: Target) -> frozenset[str]:
        """The sections of the document that decide a target."""
        return self._node(target).sections


@lru_cache(maxsize=4096)
def _named(name: str) -> bytes:
    """The name of an input as bytes."""
    return encoded(name)


def _key(kind: type[Target], content: bytes) -> str:
    """A key by what a target is made of."""
    return f"{kind.__name__}-{hashed(_head(kind) + content).hex()}"


# What the keys of each kind of target begin with: its name, its version and its code.
_HEADS: dict[str, bytes] = {}


def _head(kind: type[Target]) -> bytes:
    name = f"{kind.__module__}.{kind.__qualname__}"
    if name not in _HEADS:
        _HEADS[name] = encoded((name, kind.version, stamp_of(kind.__module__)))
    return _HEADS[name]
