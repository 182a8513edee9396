"""A derived thing as it is declared: what tells it from others, what it is made of, how, and where it is kept."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np

from ..parameters import Declared
from .digest import of_declared
from .site import TARGETS, Site
from .store import Arrays

if TYPE_CHECKING:
    from .graph import Graph

Keep = Literal["store", "memory", "briefly", "nothing"]


class Undeclared(AttributeError):
    """A target's make asked for something that its inputs do not name."""


@dataclass(frozen=True)
class Unkeyed:
    """An input that make may read and that does not count in the key: other inputs say what of it is read.

    :ivar given: a target, a value, or a function that gives these when they are first asked for.
    """

    given: Any

    def found(self) -> Any:
        """The target or value."""
        return self.given() if callable(self.given) else self.given


_PLAIN = frozenset((str, int, bool, float, bytes, type(None)))


def _identified(value: Any) -> Any:
    """What tells a field of a target from others: a declared value by its digest, which is quicker to compare."""
    return of_declared(value) if isinstance(value, Declared) else value


class Target:
    """A derived thing. Its fields tell it from others of its kind; a frozen dataclass declares them.

    :cvar version: raise it where what is made changes and no source that is stamped does.
    :cvar keep: in the store for all processes, in this process's memory, there only until some others have come, or not at all.
    :cvar slow: whether workers make it while a page waits; then it is known by its mark.
    :cvar lineage: inputs that tell which earlier values :meth:`Read.earlier` gives; none for no earlier ones.
    """

    version: ClassVar[int] = 1
    keep: ClassVar[Keep] = "memory"
    slow: ClassVar[bool] = False
    lineage: ClassVar[tuple[str, ...]] = ()

    def __init_subclass__(cls) -> None:
        TARGETS[cls.__name__] = cls

    @property
    def identity(self) -> tuple[Any, ...]:
        """What tells it from all other targets."""
        found = self.__dict__.get("_identity")
        if found is None:
            # Only the fields are there before this is asked for the first time.
            values = self.__dict__.values()
            found = (type(self), *[one if type(one) in _PLAIN else _identified(one) for one in values])
            self.__dict__["_identity"] = found
        return found

    def inputs(self, site: Site) -> Mapping[str, Any]:
        """What it is made of by name: targets, values, and lists and mappings of these.

        :param site: the document's sections, and values of targets that are cheap, such as boxes about objects.
        """
        raise NotImplementedError

    @staticmethod
    def make(read: Read) -> Any:
        """The value, from what ``inputs`` named and nothing else."""
        raise NotImplementedError

    @staticmethod
    def pack(value: Any) -> Arrays:
        """The value as arrays for the store."""
        return dict(value)

    @staticmethod
    def unpack(arrays: Arrays) -> Any:
        """The value of :meth:`pack`."""
        return arrays

    @staticmethod
    def mark(value: Any) -> np.ndarray:
        """What a slow target's value is known by, uint8 (N,): a digest of its content."""
        raise NotImplementedError

    def doing(self, site: Site) -> str:
        """What is being done while it is made, for people."""
        return type(self).__name__


class Read:
    """What a target's make may read: its inputs, by name, each made when it is first asked for."""

    def __init__(self, graph: Graph, target: Target, given: Mapping[str, Any]) -> None:
        self._graph, self._target, self._given = graph, target, given
        self._found: dict[str, Any] = {}

    def __getattr__(self, name: str) -> Any:
        if name in self._found:
            return self._found[name]
        if name not in self._given:
            raise Undeclared(f"{type(self._target).__name__} reads {name!r}, which is not among its inputs")
        found = self._found[name] = self._resolved(self._given[name])
        return found

    def _resolved(self, value: Any) -> Any:
        if isinstance(value, Target):
            return self._graph.get(value)
        if isinstance(value, Unkeyed):
            return self._resolved(value.found())
        if type(value) in (list, tuple):
            return type(value)(self._resolved(one) for one in value)
        if type(value) is dict:
            return {key: self._resolved(one) for key, one in value.items()}
        return value

    def source_content(self, name: str) -> bytes | None:
        """What a user brought in, by its name; a name is a digest of the content."""
        return self._graph.cache.sources.read(name)

    def own_key(self) -> str:
        """The key of the target that is being made."""
        return self._graph.key(self._target)

    def keeper(self) -> Callable[[str, Callable[[], Any]], Any]:
        """Keeps what is worked out about the value after it is made, each thing under a name, while there is room."""
        cache, key = self._graph.cache, self.own_key()
        return lambda name, make: cache.get(f"{key} {name}", make)

    def earlier(self) -> Iterator[Any]:
        """Earlier values of the same lineage, newest first, as far as they are still kept."""
        cache, target = self._graph.cache, self._target
        for key in cache.line(self._graph.lineage(target)):
            found, value = cache.memory.peek(key)
            if not found and target.keep == "store" and (arrays := cache.read(key)) is not None:
                found, value = True, target.unpack(arrays)
            if found:
                yield value


def targets_in(given: Any, unkeyed: bool = False) -> Iterator[Target]:
    """The targets among inputs, each as often as it is named."""
    if isinstance(given, Target):
        yield given
    elif isinstance(given, Unkeyed):
        if unkeyed:
            yield from targets_in(given.found())
    elif type(given) in (list, tuple):
        for one in given:
            yield from targets_in(one, unkeyed)
    elif type(given) is dict:
        for one in given.values():
            yield from targets_in(one, unkeyed)
