"""Families of plug-ins: each signal, cover, kit item, material or structure is one file that registers itself.

A family is a package. Importing any of its members is enough to register them; :meth:`Family.load` imports every
module of the package, so that a new file needs no other change.
"""

from __future__ import annotations

import importlib
import pkgutil
import threading
from collections.abc import Iterator
from functools import reduce
from operator import or_
from typing import Annotated, Any, Generic, TypeVar

from pydantic import Field

Member = TypeVar("Member")


def kind_of(member: Any) -> str:
    """The name under which a member of any family is filed."""
    declared = isinstance(member, type) and hasattr(member, "model_fields")
    return str(member.model_fields["kind"].default if declared else member.kind)


class Family(Generic[Member]):
    """Named classes or values of one package, in order of their ``kind``."""

    def __init__(self, package: str, what: str) -> None:
        self.package = package
        self.what = what
        self._members: dict[str, Member] = {}
        self._loaded = self._loading = False
        self._lock = threading.RLock()

    def register(self, member: Member) -> Member:
        """File ``member`` under its ``kind``; a decorator for classes, a call for values.

        :raises ValueError: if another member already has that kind.
        """
        kind = kind_of(member)
        known = self._members.get(kind, member)
        if getattr(known, "__qualname__", known) != getattr(member, "__qualname__", member):
            raise ValueError(f"two {self.what}s are called {kind!r}")
        self._members[kind] = member
        return member

    def load(self) -> Family[Member]:
        """Import every module of the family's package once; other threads wait until all of it is there."""
        if not self._loaded:
            with self._lock:
                # A member may ask for its own family while it is imported.
                if not (self._loaded or self._loading):
                    self._loading = True
                    try:
                        for module in pkgutil.iter_modules(importlib.import_module(self.package).__path__):
                            importlib.import_module(f"{self.package}.{module.name}")
                        self._loaded = True
                    finally:
                        self._loading = False
        return self

    def __getitem__(self, kind: str) -> Member:
        self.load()
        if kind not in self._members:
            raise KeyError(f"there is no {self.what} called {kind!r}; known: {', '.join(sorted(self._members))}")
        return self._members[kind]

    def __contains__(self, kind: object) -> bool:
        self.load()
        return kind in self._members

    def __iter__(self) -> Iterator[Member]:
        self.load()
        return iter(self._members[kind] for kind in sorted(self._members))

    def __len__(self) -> int:
        self.load()
        return len(self._members)

    def union(self) -> Any:
        """The type of a declared field that holds any member, told apart by ``kind``."""
        return Annotated[reduce(or_, list(self)), Field(discriminator="kind")]
