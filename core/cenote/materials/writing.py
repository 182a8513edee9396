"""Short forms for writing recipes down."""

from __future__ import annotations

from typing import Any

from .base import MATERIALS, Nature, ShippedMaterial
from .patterns.base import Pattern
from .patterns.clouds import Clouds
from .patterns.flakes import Flakes
from .recipe import ColourUse, Drawn, GradeLayer, Layer, PatternLayer, Recipe, ValueUse

Colour = tuple[float, float, float]


def drawn(pattern: Pattern, **how: Any) -> Drawn:
    """A pattern with its seed, levels, inversion and warp; levels that fall invert it."""
    low, high = how.get("levels", (0, 1))
    if low > high:
        how = how | {"levels": (high, low), "inverted": not how.get("inverted", False)}
    return Drawn(pattern=pattern, **how)


def colour(low: Colour, high: Colour | None = None, blend: Any = "normal", opacity: float = 1) -> ColourUse:
    """From one colour to another, or one colour alone."""
    return ColourUse(low=low, high=high or low, blend=blend, opacity=opacity)


def value(low: float, high: float | None = None, blend: Any = "normal", opacity: float = 1) -> ValueUse:
    """From one value to another, or one value alone."""
    return ValueUse(low=low, high=low if high is None else high, blend=blend, opacity=opacity)


def layer(
    name: str,
    pattern: Pattern,
    colour: ColourUse | None = None,
    *,
    relief: ValueUse | None = None,
    rough: ValueUse | None = None,
    metal: ValueUse | None = None,
    mask: Drawn | None = None,
    opacity: float = 1,
    shows: Any = None,
    **how: Any,
) -> PatternLayer:
    """A pattern layer; ``how`` is as for :func:`drawn`.

    One colour alone goes where the pattern is bright; strewn things in two colours show in their own
    shape, and what has levels shows by its brightness; ``shows`` says otherwise.
    """
    if shows is not None:
        pass
    elif colour and colour.low == colour.high:
        shows = "by brightness"
    elif colour and colour.blend == "normal" and isinstance(pattern, Flakes) and not mask:
        shows = "by shape"
    elif colour and colour.blend == "normal" and "levels" in how:
        shows = "by brightness"
    return PatternLayer(name=name, drawn=drawn(pattern, **how), colour=colour, relief=relief, roughness=rough,
                        metalness=metal, mask=mask, opacity=opacity, shows=shows or "everywhere")  # fmt: skip


def fine(
    name: str, size: float, strong: float, seed: int, *, relief: float = 0.06, mask: Drawn | None = None
) -> PatternLayer:
    """Grains and clumps of them, the least about ``size`` metres, that leave the mean of colour and relief as it is.

    :param strong: how far they darken and brighten. :param relief: how far they stand up or lie deep, as a share of it.
    """
    # Soft light works on square roots of linear colour; its neutral is a half there.
    dark, bright = ((0.5 + way * 0.7 * strong) ** 2 for way in (-1, 1))
    return layer(name, Clouds(size=(3 * size, 3 * size), octaves=3, fade=0.9), mask=mask, seed=seed,
                 colour=colour((dark,) * 3, (bright,) * 3, "soft light"), relief=value(0.5 - relief, 0.5 + relief, "soft light"))  # fmt: skip


def grade(name: str, **how: Any) -> GradeLayer:
    """A grade layer."""
    return GradeLayer(name=name, **how)


def ship(kind: str, title: str, group: str, nature: Nature, help: str, *layers: Layer, **tile: Any) -> ShippedMaterial:
    """Register a recipe."""
    return MATERIALS.register(ShippedMaterial(kind, title, group, nature, help, Recipe(layers=layers, **tile)))
