"""Tables in parts, so that a page that has an earlier one is sent only the parts that differ."""

from __future__ import annotations

from hashlib import blake2b

import numpy as np

Arrays = dict[str, np.ndarray]
FIRST, MARK, FROM = "first", "mark", "from"


def parts_of(columns: Arrays, first: np.ndarray | None) -> Arrays:
    """What tells the parts of a table: ``first`` int32 (P + 1,), the rows at which they begin, and ``mark`` uint32 (P, 2), for
    each a digest of its rows.

    :param columns: arrays (N, …). :param first: (P + 1,); the whole is one part where it is None.
    """
    rows = len(next(iter(columns.values())))
    first = np.array([0, rows] if first is None else first, np.int32)
    marks = np.zeros((len(first) - 1, 2), np.uint32)
    ordered = [np.ascontiguousarray(columns[name]) for name in sorted(columns)]
    for part, (start, end) in enumerate(zip(first[:-1].tolist(), first[1:].tolist(), strict=True)):
        content = blake2b(digest_size=8)
        for column in ordered:
            content.update(column[start:end].tobytes())
        marks[part] = np.frombuffer(content.digest(), np.uint32)
    return {FIRST: first, MARK: marks}


def only_changed(arrays: Arrays, known: Arrays) -> Arrays:
    """The parts of a table that another one does not have.

    :param known: what :func:`parts_of` told of the other.
    :returns: its columns with the rows of these parts alone, ``first`` and ``mark`` of the whole, and ``from`` int32 (P,): for
        each part its place among the other's, -1 for those that are sent.
    """
    places = {mark.tobytes(): part for part, mark in enumerate(known[MARK])}
    first, marks = arrays[FIRST], arrays[MARK]
    sizes = np.diff(first)
    had = np.diff(known[FIRST])
    came = np.array([places.get(mark.tobytes(), -1) for mark in marks], np.int32)
    # A digest that stood for a part of another length would be no digest of it.
    came[(came >= 0) & (had[np.maximum(came, 0)] != sizes)] = -1
    sent = np.repeat(came < 0, sizes)
    columns = {name: array[sent] for name, array in arrays.items() if name not in (FIRST, MARK)}
    return columns | {FIRST: first, MARK: marks, FROM: came}
