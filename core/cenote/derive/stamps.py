"""Stamps: what code a result was made by.

The stamp of a module is a hash of its source, of the source of all modules of ours that it imports, of the data files that
lie beside them, and of the versions of all packages that these import. So a change of one plug-in leaves the results of
all others as they are. Members of a family are found by name at run time, not by import statements: their stamps come in
with the values that name them (:func:`cenote.derive.digest.of_declared`).
"""

from __future__ import annotations

import ast
import sys
import sysconfig
from functools import cache, lru_cache, partial
from hashlib import sha256
from importlib import metadata
from importlib.util import find_spec
from pathlib import Path

from ..parsing import in_turn

_NOT_OURS = tuple(str(Path(sysconfig.get_paths()[name]).resolve()) for name in ("stdlib", "purelib", "platlib"))


@cache
def stamp_of(module: str) -> str:
    """The stamp of a module of ours, 16 hexadecimal digits."""
    ours, packages = closure(module)
    sha = sha256()
    for name in sorted(ours):
        sha.update(name.encode() + b"\0" + _content(name))
    for package in sorted(packages):
        sha.update(f"{package} {version_of(package)}\0".encode())
    return sha.hexdigest()[:16]


@cache
def closure(module: str) -> tuple[frozenset[str], frozenset[str]]:
    """The modules of ours that a module imports, itself included, and the names of the packages that they import."""
    ours, packages, waiting = set[str](), set[str](), [module]
    while waiting:
        name = waiting.pop()
        if name in ours:
            continue
        ours.add(name)
        mine, others = _imports(name)
        waiting += mine - ours
        packages |= others
    return frozenset(ours), frozenset(packages)


@lru_cache(maxsize=1)
def _distributions() -> dict[str, list[str]]:
    return dict(metadata.packages_distributions())


@cache
def version_of(package: str) -> str:
    """The version of an installed package by the name that it is imported by; empty where it has none."""
    return " ".join(metadata.version(name) for name in sorted(set(_distributions().get(package, []))))


@cache
def _file(module: str) -> Path | None:
    """The source of a module of ours, found without running anything; None for anything else."""
    top, *rest = module.split(".")
    if top in sys.stdlib_module_names:
        return None
    spec = find_spec(top)
    if spec is None or not spec.origin:
        return None
    path = Path(spec.origin).resolve()
    if str(path).startswith(_NOT_OURS) or path.suffix != ".py":
        return None
    for name in rest:
        if path.name != "__init__.py":
            return None
        package, alone = path.parent / name / "__init__.py", path.parent / f"{name}.py"
        path = package if package.exists() else alone
    return path if path.exists() else None


def _content(module: str) -> bytes:
    """A module's source, and the data files that lie beside it."""
    path = _file(module)
    assert path is not None, module
    return path.read_bytes() + _data(path.parent)


@cache
def _data(folder: Path) -> bytes:
    """Digests of the data files of a package: those in its folder, and in folders within it that are no packages."""
    out = []
    for path in sorted(folder.iterdir()):
        if path.is_dir() and path.name != "__pycache__" and not (path / "__init__.py").exists():
            out.append(_data(path))
        elif path.is_file() and path.suffix not in (".py", ".pyc"):
            out.append(path.name.encode() + sha256(path.read_bytes()).digest())
    return b"".join(out)


@cache
def _imports(module: str) -> tuple[frozenset[str], frozenset[str]]:
    """What a module's import statements name: modules of ours, and packages."""
    path = _file(module)
    assert path is not None, module
    package = module if path.name == "__init__.py" else module.rpartition(".")[0]
    ours, packages = set[str](), set[str]()

    def named(name: str) -> bool:
        if _file(name) is None:
            return False
        parts = name.split(".")
        # Importing a module runs the packages that it lies in, too.
        ours.update(".".join(parts[:k]) for k in range(1, len(parts) + 1) if _file(".".join(parts[:k])))
        return True

    for node in _statements(in_turn(partial(ast.parse, path.read_text()))):
        if isinstance(node, ast.Import):
            for alias in node.names:
                if not named(alias.name):
                    packages.add(alias.name.partition(".")[0])
        elif isinstance(node, ast.ImportFrom):
            base = node.module or ""
            if node.level:
                within = package.split(".")[: len(package.split(".")) - node.level + 1]
                base = ".".join([*within, *([base] if base else [])])
            if not named(base):
                packages.add(base.partition(".")[0])
                continue
            for alias in node.names:
                named(f"{base}.{alias.name}")
    return frozenset(ours), frozenset(package for package in packages if package not in sys.stdlib_module_names)


def _statements(tree: ast.AST) -> list[ast.AST]:
    """All nodes but those that only a checker of types reads."""
    out: list[ast.AST] = []
    waiting = [tree]
    while waiting:
        node = waiting.pop()
        out.append(node)
        for child in ast.iter_child_nodes(node):
            if isinstance(child, ast.If) and isinstance(child.test, ast.Name) and child.test.id == "TYPE_CHECKING":
                waiting += child.orelse
            else:
                waiting.append(child)
    return out
