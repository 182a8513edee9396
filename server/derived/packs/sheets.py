"""Sheets of deep covers as the page draws them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.sheets import LaidSheet
from cenote.derive.site import Site
from cenote.derive.target import Read, Target
from cenote.weather.blanket import Sheet


@dataclass(frozen=True)
class SheetPack(Target):
    """The sheet of a cover layer."""

    layer: str
    coarse: bool = False
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"sheet": LaidSheet(self.layer, self.coarse)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        sheet: Sheet = read.sheet
        return {"position": sheet.positions, "normal": sheet.normals, "index": sheet.faces.astype(np.uint32).ravel()}
