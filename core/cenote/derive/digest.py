"""Digests of values: equal values have equal digests, and what cannot be told apart reliably is refused."""

from __future__ import annotations

import struct
import weakref
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from hashlib import blake2b
from typing import Any

import numpy as np

from ..parameters import Declared
from .stamps import stamp_of

SIZE = 16

# Documents are read once and asked about often: the digest of a value that cannot change is kept as long as that value lives.
_kept: dict[int, tuple[weakref.ref[Any], bytes]] = {}
_Made = Callable[[Any], bytes]


def hashed(content: bytes) -> bytes:
    """The digest of bytes, 16 bytes (BLAKE2b, RFC 7693)."""
    return blake2b(content, digest_size=SIZE).digest()


def digest(*values: Any) -> str:
    """The digest of some values, as 32 hexadecimal digits. See :func:`encoded` for what they may be."""
    return hashed(encoded(values)).hex()


def encoded(value: Any) -> bytes:
    """A value as bytes that no other value has.

    Numbers keep their type, arrays count with every element, their shape and dtype, mappings without their order. A
    declared value counts with the code of its class, since how a plug-in answers is as good as a parameter.

    :param value: None, numbers, texts, bytes, arrays, declared values, dataclasses, and sequences, mappings and sets of
        these.
    :raises TypeError: for anything else: a guess at how to write it would give one digest to different values.
    """
    kind = type(value)
    if kind is str:
        text: bytes = value.encode()
        return b"s%d:%b" % (len(text), text)
    if kind is bytes:
        return b"b%d:%b" % (len(value), value)
    if kind is float:
        # 0.0 and -0.0 are equal, so they must not differ here.
        return b"d" + struct.pack("<d", value + 0.0)
    if kind is bool:
        return b"y" if value else b"n"
    if kind is int:
        return b"i%d;" % value
    if value is None:
        return b"0"
    if kind is tuple or kind is list:
        return b"(%b)" % b"".join(map(encoded, value))
    if isinstance(value, Declared):
        return b"m" + of_declared(value)
    if isinstance(value, np.ndarray):
        if value.dtype.hasobject:
            raise TypeError("an array of objects has no digest")
        head = f"{value.dtype.str}{value.shape}".encode()
        return b"a%d:%b%b" % (len(head), head, hashed(np.ascontiguousarray(value).tobytes()))
    if isinstance(value, Mapping):
        pairs = sorted((encoded(key), encoded(one)) for key, one in value.items())
        return b"{%b}" % b"".join(key + one for key, one in pairs)
    if isinstance(value, (set, frozenset)):
        return b"<%b>" % b"".join(sorted(map(encoded, value)))
    if isinstance(value, np.generic):
        return encoded(value.item())
    if is_dataclass(value) and not isinstance(value, type):
        frozen = kind.__dataclass_params__.frozen  # type: ignore[attr-defined]
        return b"c" + (_kept_for(value, _of_dataclass) if frozen else _of_dataclass(value))
    if isinstance(value, tuple):
        return encoded(tuple(value))
    raise TypeError(f"{kind.__name__} has no digest")


def of_declared(value: Declared) -> bytes:
    """The digest of a declared value and of its class's code, 16 bytes."""
    return _kept_for(value, _of_declared)


def _kept_for(value: Any, make: _Made) -> bytes:
    """The digest of a value that cannot change, made once while it lives."""
    found = _kept.get(id(value))
    if found is not None and found[0]() is value:
        return found[1]
    made, place = make(value), id(value)
    _kept[place] = weakref.ref(value, lambda _: _kept.pop(place, None)), made
    return made


def _of_declared(value: Declared) -> bytes:
    kind = type(value)
    parts = [encoded(f"{kind.__module__}.{kind.__qualname__}"), encoded(stamp_of(kind.__module__))]
    parts += [encoded(name) + encoded(getattr(value, name)) for name in kind.model_fields]
    return hashed(b"".join(parts))


def _of_dataclass(value: Any) -> bytes:
    kind = type(value)
    parts = [encoded(f"{kind.__module__}.{kind.__qualname__}")]
    return hashed(b"".join(parts + [encoded(getattr(value, field.name)) for field in fields(value)]))
