"""What is public says what it is; what takes or gives arrays says of what shape."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import re
import unittest
from collections.abc import Iterator
from typing import Any

import cenote

# "(N, 3)", "(h, w)", "(count,)", or a reference to what is described elsewhere.
SHAPE = re.compile(
    r"\([\w +*/·×.-]+,[\w ,+*/·×.…-]*\)|\(…, [\w ]+\)|of the same shape|of the shape of|of any shape|:(meth|func|class|attr):"
)


def modules() -> Iterator[Any]:
    """All modules of the core."""
    for found in pkgutil.walk_packages(cenote.__path__, "cenote."):
        yield importlib.import_module(found.name)


def public() -> Iterator[tuple[str, Any]]:
    """All public functions, classes and methods of the core, by name. Methods that stand in for one of a base class are
    described there."""
    for module in modules():
        for name, member in vars(module).items():
            if name.startswith("_") or getattr(member, "__module__", None) != module.__name__:
                continue
            if inspect.isfunction(member):
                yield f"{module.__name__}.{name}", member
            elif inspect.isclass(member):
                yield f"{module.__name__}.{name}", member
                for one, method in vars(member).items():
                    plain = method.__func__ if isinstance(method, (staticmethod, classmethod)) else method
                    plain = plain.fget if isinstance(plain, property) else getattr(plain, "func", plain)
                    inherited = any(one in vars(base) for base in member.__mro__[1:])
                    if not one.startswith("_") and inspect.isfunction(plain) and not inherited:
                        yield f"{module.__name__}.{name}.{one}", plain


class DocstringTests(unittest.TestCase):
    def test_everything_public_says_what_it_is(self) -> None:
        silent = [name for name, member in public() if not (member.__doc__ or "").strip()
                  or (inspect.isclass(member) and member.__doc__ == getattr(member.__mro__[1], "__doc__", None))]  # fmt: skip
        self.assertEqual(silent, [])

    def test_what_takes_or_gives_arrays_says_their_shapes(self) -> None:
        arrays = shapeless = 0
        missing = []
        for name, member in public():
            if inspect.isclass(member):
                continue
            annotations = getattr(member, "__annotations__", {})
            if not any("ndarray" in str(one) for one in annotations.values()):
                continue
            arrays += 1
            if not SHAPE.search(member.__doc__ or ""):
                shapeless += 1
                missing.append(name)
        self.assertGreater(arrays, 150)
        self.assertEqual(missing, [])


if __name__ == "__main__":
    unittest.main()
