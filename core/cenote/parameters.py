"""Declaring a parameter once: default, range, unit and one sentence of help.

The declaration is a pydantic field, so that the server's validation, its OpenAPI schema, the TypeScript types and
the form controls of the web application all come from it.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field


class Declared(BaseModel):
    """A group of declared parameters. Unknown names and values that are not finite numbers are refused."""

    model_config = ConfigDict(
        extra="forbid",
        allow_inf_nan=False,
        frozen=True,
        # A field with a default is still always present in what the server sends.
        json_schema_serialization_defaults_required=True,
    )


def quantity(default: float, *, low: float, high: float, unit: str, help: str, step: float | None = None) -> Any:
    """Declare a number with a closed range.

    :param default: the value used until somebody changes it, inside [low, high].
    :param unit: the unit as shown beside the number, for instance ``m``; an empty string for plain numbers.
    :param help: one sentence that says what the parameter does.
    :param step: the step of the arrow keys; a hundredth of the range where it is left out.
    :raises ValueError: if the default lies outside the range.
    """
    if not low <= default <= high:
        raise ValueError(f"default {default} lies outside [{low}, {high}]")
    extra: dict[str, Any] = {"unit": unit, "step": step if step is not None else (high - low) / 100}
    return Field(default, ge=low, le=high, description=help, json_schema_extra=extra)


def count(default: int, *, low: int, high: int, help: str) -> Any:
    """Declare a whole number with a closed range; ``help`` says what it counts."""
    return Field(default, ge=low, le=high, description=help, json_schema_extra={"unit": "", "step": 1})


def switch(default: bool, *, help: str) -> Any:
    """Declare an on/off parameter."""
    return Field(default, description=help)


def span(default: tuple[float, float], *, low: float, high: float, unit: str, help: str) -> Any:
    """Declare a pair of numbers (least, most); both inside [low, high]. Order is checked by the owner."""
    return Field(
        default,
        description=help,
        json_schema_extra={"unit": unit, "least": low, "most": high, "step": (high - low) / 100},
    )
