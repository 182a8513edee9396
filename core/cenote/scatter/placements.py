"""The table of what a layer has placed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

# How a row came about: by rule, in a row along a line, or planted by hand.
BY_RULE, IN_ROW, BY_HAND = 0, 1, 2
_COLUMNS = ("ids", "items", "variants", "positions", "rotations", "sizes", "tints", "origins")


@dataclass(frozen=True)
class Placements:
    """A table of placed items, one row each.

    :ivar names: the kinds of items that rows refer to: the layer's mix, then what else was planted.
    :ivar ids: uint64 (N,), each item's own number, which no change of density or rules alters.
    :ivar items: int16 (N,), row of ``names``.
    :ivar variants: int16 (N,).
    :ivar positions: float32 (N, 3), metres.
    :ivar rotations: float32 (N, 4), unit quaternions x, y, z, w.
    :ivar sizes: float32 (N,), against the built size.
    :ivar tints: float32 (N, 3), factors on the item's linear colour.
    :ivar origins: uint8 (N,), :data:`BY_RULE`, :data:`IN_ROW` or :data:`BY_HAND`.
    :ivar first: int64 (P + 1,), the rows at which parts of the table begin, and its length; None for a table without.
    :ivar densest: the most items per m² that the spacing allows; infinite without spacing.
    """

    names: tuple[str, ...]
    ids: np.ndarray
    items: np.ndarray
    variants: np.ndarray
    positions: np.ndarray
    rotations: np.ndarray
    sizes: np.ndarray
    tints: np.ndarray
    origins: np.ndarray
    densest: float = np.inf
    first: np.ndarray | None = None

    def as_arrays(self) -> dict[str, np.ndarray]:
        """The table as arrays alone, one a column, each (N,) or (N, k), for the store."""
        names = np.frombuffer("\n".join(self.names).encode(), np.uint8)
        return {name: getattr(self, name) for name in _COLUMNS} | {
            "names": names, "densest": np.array(self.densest),
            "first": np.zeros(0, np.int64) if self.first is None else self.first,
        }  # fmt: skip

    @staticmethod
    def from_arrays(arrays: dict[str, np.ndarray]) -> Placements:
        """The table of :meth:`as_arrays`; ``arrays`` has its columns, each (N,) or (N, k)."""
        names = tuple(arrays["names"].tobytes().decode().split("\n"))
        return Placements(names, **{name: arrays[name] for name in _COLUMNS}, densest=float(arrays["densest"]),
                          first=arrays["first"] if len(arrays["first"]) else None)  # fmt: skip

    def __len__(self) -> int:
        return len(self.ids)

    def only(self, keep: np.ndarray) -> Placements:
        """The rows where ``keep`` (bool (N,) or row numbers) says so."""
        return replace(self, **{name: getattr(self, name)[keep] for name in _COLUMNS}, first=None)

    def in_parts(self, tables: Sequence[Placements]) -> Placements:
        """The same table, parted by which of some tables its rows come from, in their order; what comes from none is the
        last part."""
        ids = np.concatenate([table.ids for table in tables]) if tables else np.zeros(0, np.uint64)
        owners = np.repeat(np.arange(len(tables)), [len(table) for table in tables])
        order = np.argsort(ids)
        at = np.minimum(np.searchsorted(ids[order], self.ids), max(len(ids) - 1, 0))
        known = ids[order][at] == self.ids if len(ids) else np.zeros(len(self), bool)
        part = np.where(known & (self.origins == BY_RULE), owners[order][at] if len(ids) else 0, len(tables))
        if (np.diff(part) < 0).any():
            raise ValueError("the rows do not follow the order of the tables")
        return replace(self, first=np.searchsorted(part, np.arange(len(tables) + 2)))

    @staticmethod
    def of(names: Sequence[str], origin: int, columns: dict[str, np.ndarray], densest: float = np.inf) -> Placements:
        """A table out of its columns, each (N,) or (N, k), brought to their types."""
        types = {"ids": np.uint64, "items": np.int16, "variants": np.int16}
        made = {name: np.ascontiguousarray(column, types.get(name, np.float32)) for name, column in columns.items()}
        return Placements(tuple(names), **made, origins=np.full(len(made["ids"]), origin, np.uint8), densest=densest)


def none_of(names: Sequence[str], densest: float = np.inf) -> Placements:
    """A table without rows."""
    empty = np.zeros(0)
    columns = {"ids": empty, "items": empty, "variants": empty, "sizes": empty,
               "positions": np.zeros((0, 3)), "rotations": np.zeros((0, 4)), "tints": np.zeros((0, 3))}  # fmt: skip
    return Placements.of(names, BY_RULE, columns, densest)


def stacked(tables: Sequence[Placements]) -> Placements:
    """Tables of the same kinds of items one after another.

    :raises ValueError: if there are none.
    """
    if not tables:
        raise ValueError("no tables to stack")
    columns: dict[str, Any] = {name: np.concatenate([getattr(table, name) for table in tables]) for name in _COLUMNS}
    return replace(tables[0], **columns, first=None)
