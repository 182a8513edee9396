"""Finishes of a site, which shots share by name."""

from __future__ import annotations

from pydantic import Field

from ..finish.stack import Stack
from .ground import Identity


class Finish(Stack):
    """A finish under a name."""

    id: Identity
    name: str = Field("Finish", min_length=1, max_length=80)
