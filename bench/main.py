"""Prints figures, one a line: ``name value unit``. Every figure comes with one measured in the same run to compare it with.

    ./cenote bench            all figures
    ./cenote bench scatter    those whose names begin so

To add one, add a file to ``bench/figures`` with a function ``figures()`` that yields :class:`Figure`.
"""

from __future__ import annotations

import importlib
import pkgutil
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent))


def main(wanted: list[str]) -> int:
    """Run the files that hold a wanted figure, and print those figures."""
    found = 0
    for module in pkgutil.iter_modules([str(Path(__file__).resolve().parent / "figures")]):
        group = module.name.replace("_", ".", 1)
        if wanted and not any(group.startswith(name) or name.startswith(group) for name in wanted):
            continue
        for figure in importlib.import_module(f"figures.{module.name}").figures():
            if not wanted or any(figure.name.startswith(name) for name in wanted):
                print(f"{figure.name} {figure.value:.4g} {figure.unit}".rstrip() + f"{figure.remark}", flush=True)
                found += 1
    if not found:
        print(f"there is no figure whose name begins with {' or '.join(wanted)}", file=sys.stderr)
    return 0 if found else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
