"""What is placed by hand: rows along lines, single plants, and changes to what rules have placed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.spatial.transform import Rotation

from ..randomness import key_of, keys_from, uniforms
from .fill import Filling, tints_of
from .layer import Row, Scatter
from .placements import BY_HAND, IN_ROW, Placements, none_of, stacked
from .spacing import far_from


def id_text(id: np.uint64 | int) -> str:
    """The id of a placed item as documents write it: sixteen hexadecimal digits."""
    return f"{int(id):016x}"


def planted_id(layer: Scatter, planted: str) -> np.uint64:
    """The id of an item that was planted by hand."""
    return key_of("planted", layer.id, planted)


def along(path: np.ndarray, row: Row) -> tuple[np.ndarray, np.ndarray]:
    """Places of a row's items along its line, and the level direction of the line there.

    :param path: float64 (N, 3), metres. :returns: float64 (K, 3) and unit (K, 3).
    """
    level = path[:, [0, 2]]
    far = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(level, axis=0).T))]) if len(path) > 1 else np.zeros(1)
    if far[-1] <= 0:
        return path[:1], np.array([[1.0, 0, 0]])
    if row.by == "number":
        spots = np.linspace(0, far[-1], row.number) if row.number > 1 else np.array([far[-1] / 2])
    else:
        spots = np.arange(0, far[-1] + 1e-9, row.spacing)[:2000]
    places = np.column_stack([np.interp(spots, far, path[:, axis]) for axis in range(3)])
    step = min(0.05, far[-1] / 4)
    ahead = np.column_stack([np.interp(np.minimum(spots + step, far[-1]), far, path[:, axis]) for axis in (0, 2)])
    behind = np.column_stack([np.interp(np.maximum(spots - step, 0), far, path[:, axis]) for axis in (0, 2)])
    way = ahead - behind
    length = np.linalg.norm(way, axis=1, keepdims=True)
    way = np.where(length > 1e-9, way / np.maximum(length, 1e-9), [1.0, 0])
    return places, np.column_stack([way[:, 0], np.zeros(len(way)), way[:, 1]])


def row_of(layer: Scatter, row: Row, filling: Filling) -> Placements:
    """The items of a row, stood on the layer's surfaces; where there is no surface, at the line's own height."""
    places, ways = along(np.array(row.path, float), row)
    count = len(places)
    key = key_of("row", layer.id, row.id)
    ids = keys_from(key, count)
    names = tuple(entry.item for entry in layer.mix)
    shares = np.array([entry.share for entry in layer.mix])
    if row.order == "in turn":
        items = np.flatnonzero(shares > 0)[np.arange(count) % max(1, (shares > 0).sum())] if shares.any() else None
    else:
        edges = np.cumsum(shares) / max(shares.sum(), 1e-9)
        items = np.minimum(np.searchsorted(edges, uniforms(ids, 11), side="right"), len(shares) - 1)
    if items is None or not shares.any():
        return none_of(names)
    aside = np.column_stack([-ways[:, 2], np.zeros(count), ways[:, 0]])
    stray = np.sqrt(uniforms(ids, 20)) * row.jitter
    angle = uniforms(ids, 21) * 2 * np.pi
    places = places + aside * row.aside
    places += np.column_stack([stray * np.cos(angle), np.zeros(count), stray * np.sin(angle)])
    normals = np.tile([0.0, 1.0, 0.0], (count, 1))
    top = np.full(count, -np.inf)
    for surface in filling.surfaces:
        rows, _, _, found, facing = surface.drop(places[:, [0, 2]])
        # Of several surfaces they stand on the uppermost.
        higher = found[:, 1] > top[rows]
        rows, found, facing = rows[higher], found[higher], facing[higher]
        places[rows], normals[rows], top[rows] = found, facing, found[:, 1]
    mix = [layer.mix[item] for item in items]
    low, high = np.array([entry.size for entry in mix]).T
    sizes = low + (high - low) * uniforms(ids, 13)
    sink_low, sink_high = np.array([entry.sink for entry in mix]).T
    places = places - normals * (sink_low + (sink_high - sink_low) * uniforms(ids, 15))[:, None]
    turn = np.arctan2(-ways[:, 2], ways[:, 0]) if row.facing == "along" else 2 * np.pi * uniforms(ids, 14)
    turn = turn + np.radians(row.turn)
    lean = np.array([entry.lean / 100 for entry in mix])[:, None]
    up = (1 - lean) * np.array([0.0, 1.0, 0.0]) + lean * normals
    rotations = _upright_to(up) * Rotation.from_euler("y", turn[:, None])
    variants = (uniforms(ids, 12) * [filling.shelf.item(entry.item).variants for entry in mix]).astype(np.int16)
    columns = {"ids": ids, "items": items, "variants": variants, "positions": places, "sizes": sizes,
               "rotations": rotations.as_quat(), "tints": tints_of(ids, items, filling.tint)}  # fmt: skip
    return Placements.of(names, IN_ROW, columns)


def _upright_to(up: np.ndarray) -> Rotation:
    """The shortest rotations that take +Y to directions (N, 3)."""
    up = up / np.linalg.norm(up, axis=1, keepdims=True)
    axis = np.column_stack([up[:, 2], np.zeros(len(up)), -up[:, 0]])
    length = np.linalg.norm(axis, axis=1, keepdims=True)
    angle = np.arccos(np.clip(up[:, 1], -1, 1))[:, None]
    return Rotation.from_rotvec(np.where(length > 1e-9, axis / np.maximum(length, 1e-9), [1.0, 0, 0]) * angle)


def planted_of(layer: Scatter, filling: Filling) -> Placements:
    """What was planted one by one, and what was changed by hand, as it was left."""
    mix = [entry.item for entry in layer.mix]
    names = (*mix, *dict.fromkeys(one.item for one in layer.planted if one.item not in mix))
    if not layer.planted:
        return none_of(names)
    ids = np.array([planted_id(layer, one.id) for one in layer.planted], np.uint64)
    items = np.array([names.index(one.item) for one in layer.planted])
    angles = np.array([[one.turn, one.tip, one.roll] for one in layer.planted])
    tint = filling.tint
    if tint is not None and len(names) > len(tint):
        tint = np.concatenate([tint, np.ones((len(names) - len(tint), 3))])
    columns = {
        "ids": ids, "items": items,
        "variants": np.array([one.variant % filling.shelf.item(one.item).variants for one in layer.planted]),
        "positions": np.array([one.position for one in layer.planted]),
        "rotations": Rotation.from_euler("YXZ", angles, degrees=True).as_quat(),
        "sizes": np.array([one.size for one in layer.planted]), "tints": tints_of(ids, items, tint),
    }  # fmt: skip
    return Placements.of(names, BY_HAND, columns)


def with_hand(layer: Scatter, by_rule: Sequence[Placements], filling: Filling) -> Placements:
    """A layer's tables by rule, with what was done by hand: taken away, changed, planted, set in rows.

    What rules place gives way to what was placed by hand, by the room that both keep.
    """
    planted = planted_of(layer, filling)
    rows = [row_of(layer, row, filling) for row in layer.rows]
    placed = stacked([replace(table, names=planted.names) for table in by_rule]) if by_rule else none_of(planted.names)
    gone = [*layer.removed, *(one.instead for one in layer.planted if one.instead)]
    if gone:
        placed = placed.only(~np.isin(placed.ids, np.array([int(id, 16) for id in gone], np.uint64)))
    hand = [table for table in (*(replace(row, names=planted.names) for row in rows), planted) if len(table)]
    if not hand:
        return placed
    rooms = np.append(layer.rooms(), np.full(len(planted.names) - len(layer.mix), layer.spacing))
    for table in hand:
        for room in np.unique(rooms[table.items]):
            own = table.positions[rooms[table.items] == room]
            for other in np.unique(rooms[: len(layer.mix)]):
                mine = np.flatnonzero(rooms[placed.items] == other)
                far = far_from(placed.positions[mine], own, (room + other) / 2)
                keep = np.ones(len(placed), bool)
                keep[mine[~far]] = False
                placed = placed.only(keep)
    return stacked([placed, *hand])
