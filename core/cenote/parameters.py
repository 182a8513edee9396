"""Declaring a parameter once: default, range, unit and one sentence of help.

The declaration is a pydantic field, so that the server's validation, its OpenAPI schema, the TypeScript types and
the form controls of the web application all come from it.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

# Ids of things of a site, as many as there may be.
Identities = Annotated[tuple[str, ...], Field(max_length=2001)]


class Declared(BaseModel):
    """A group of declared parameters. Unknown names and values that are not finite numbers are refused."""

    model_config = ConfigDict(
        extra="forbid",
        allow_inf_nan=False,
        frozen=True,
        # A field with a default is still always present in what the server sends.
        json_schema_serialization_defaults_required=True,
    )

    @model_validator(mode="after")
    def _several_in_range(self) -> Self:
        """Check the fields that hold several numbers against their declared range and order."""
        for name, field in type(self).model_fields.items():
            extra = field.json_schema_extra
            if not isinstance(extra, dict) or "least" not in extra:
                continue
            values: tuple[float, ...] = getattr(self, name)
            low, high = extra["least"], extra["most"]
            if not all(low <= value <= high for value in values):  # type: ignore[operator]
                raise ValueError(f"{name}: must lie between {low:g} and {high:g} {extra['unit']}".rstrip())
            if extra["ordered"] and values[0] > values[1]:
                raise ValueError(f"{name}: the least ({values[0]:g}) is more than the greatest ({values[1]:g})")
        return self


def usual_step(low: float, high: float, unit: str, *default: float) -> float:
    """A step of the arrow keys that suits a number: a hundredth of its range, a tenth of its usual size or 10 cm, whichever is
    least, as 1, 2 or 5 times a power of ten."""
    size = max((abs(value) for value in default), default=0.0)
    most = min((high - low) / 100, *((size / 10,) if size else ()), *((0.1,) if unit == "m" else ()))
    power = 10.0 ** math.floor(math.log10(most) + 1e-9)
    return next(round(times * power, 9) for times in (5, 2, 1) if times * power <= most * (1 + 1e-9))


def quantity(
    default: float, *, low: float, high: float, unit: str, help: str, step: float | None = None, label: str = ""
) -> Any:
    """Declare a number with a closed range.

    :param default: the value used until somebody changes it, inside [low, high].
    :param unit: the unit as shown beside the number, for instance ``m``; an empty string for plain numbers.
    :param help: one sentence that says what the parameter does.
    :param step: the step of the arrow keys; :func:`usual_step` where it is left out.
    :param label: what people call it, where that is more than its name.
    :raises ValueError: if the default lies outside the range.
    """
    if not low <= default <= high:
        raise ValueError(f"default {default} lies outside [{low}, {high}]")
    extra: dict[str, Any] = {"unit": unit, "step": step if step is not None else usual_step(low, high, unit, default)}
    if label:
        extra["label"] = label
    # Keys are made from what is written: a whole number must not differ from itself once it was stored and read.
    return Field(float(default), ge=low, le=high, description=help, json_schema_extra=extra)


def only(field: str, value: Any, declared: Any) -> Any:
    """A parameter that counts, and is asked for, only where another has a value, or one of a list of them."""
    declared.json_schema_extra["counts_with"] = {field: value}
    return declared


def count(default: int, *, low: int, high: int, help: str) -> Any:
    """Declare a whole number with a closed range; ``help`` says what it counts."""
    return Field(default, ge=low, le=high, description=help, json_schema_extra={"unit": "", "step": 1})


def switch(default: bool, *, help: str) -> Any:
    """Declare an on/off parameter."""
    # Filled by :func:`only`, where it counts with another.
    return Field(default, description=help, json_schema_extra={})


def choice(default: str, *, help: str, label: str = "") -> Any:
    """Declare one of a few words; the field's type is a ``Literal`` of them. ``label`` as in :func:`quantity`."""
    return Field(default, description=help, json_schema_extra={"choice": True} | ({"label": label} if label else {}))


def text(default: str, *, most: int, help: str) -> Any:
    """Declare a text of at most ``most`` letters."""
    return Field(default, max_length=most, description=help, json_schema_extra={"text": True})


def colour(default: tuple[float, float, float], *, help: str) -> Any:
    """Declare a linear colour, red, green and blue in [0, 1]."""
    extra: dict[str, Any] = {"unit": "", "least": 0, "most": 1, "names": ["red", "green", "blue"], "ordered": False}
    return Field(tuple(map(float, default)), description=help, json_schema_extra=extra | {"step": 0.01, "colour": True})


def span(default: tuple[float, float], *, low: float, high: float, unit: str, help: str) -> Any:
    """Declare a pair of numbers (least, most) in order, both inside [low, high]."""
    return _several(default, low, high, unit, help, names=["least", "most"], ordered=True)


def extent(default: tuple[float, float], *, low: float, high: float, unit: str, help: str) -> Any:
    """Declare a pair of lengths along x and z, both inside [low, high]."""
    return _several(default, low, high, unit, help, names=["x", "z"])


def point(default: tuple[float, float, float], *, help: str, reach: float = 2000, picked: bool = False) -> Any:
    """Declare a place (x, y, z) in metres, no coordinate farther than ``reach`` from zero.

    :param picked: whether it can be picked on what stands in the view.
    """
    declared = _several(default, -reach, reach, "m", help, names=["x", "y", "z"], step=0.1)
    if picked:
        declared.json_schema_extra["draws"] = "place"
    return declared


def drawn(what: str, *, most: int, help: str, sets: dict[str, str] | None = None) -> Any:
    """Declare a line that is drawn in the view: points along x and z in metres, none at first.

    :param what: ``path`` for an open line, ``outline`` for a closed one.
    :param sets: other parameters of the group and the values that they take when a line is drawn.
    """
    extra: dict[str, Any] = {"draws": what, "unit": "m", "sets": sets or {}}
    return Field(default=(), max_length=most, description=help, json_schema_extra=extra)


def _several(
    default: tuple[float, ...],
    low: float,
    high: float,
    unit: str,
    help: str,
    *,
    names: list[str],
    ordered: bool = False,
    step: float | None = None,
) -> Any:
    extra: dict[str, Any] = {"unit": unit, "least": low, "most": high, "names": names, "ordered": ordered}
    extra["step"] = step if step is not None else usual_step(low, high, unit, *default)
    return Field(tuple(map(float, default)), description=help, json_schema_extra=extra)
