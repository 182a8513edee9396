"""How the stills of a mood are finished: the grade that goes with it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..finish.stack import Stack


def _grade(*steps: dict[str, Any]) -> Stack:
    return Stack.model_validate({"steps": steps})


def _balance(bright: tuple[float, float, float], dark: tuple[float, float, float], strength: float) -> dict[str, Any]:
    return {"kind": "colour_balance", "slope": bright, "offset": dark, "strength": strength}


# By the mood's kind. Grades are slight: a mood is made by its light.
GRADES: dict[str, Stack] = {
    "first_light": _grade(
        {"kind": "bloom", "spread": 10, "width": 1.2},
        {"kind": "curves", "black": 0.03, "middle": 0.52, "white": 0.98},
        _balance((0.56, 0.5, 0.46), (0.48, 0.5, 0.54), 25),
    ),
    "clear_forenoon": _grade(
        {"kind": "contrast", "contrast": 6, "saturation": 6},
        {"kind": "vignette", "angle": 16},
    ),
    "even_grey": _grade({"kind": "contrast", "contrast": 4, "saturation": -6}),
    "drizzle": _grade(
        {"kind": "curves", "black": 0.02, "middle": 0.48, "white": 0.96},
        _balance((0.48, 0.5, 0.53), (0.48, 0.5, 0.53), 30),
        {"kind": "contrast", "saturation": -18},
    ),
    "thick_fog": _grade(
        {"kind": "bloom", "spread": 12, "width": 2},
        # Sun and sky together are a little pink, which fog has all over the picture: the eye takes it for grey.
        {"kind": "curves", "black": 0.01, "dark": 0.22, "white": 0.97},
        {"kind": "contrast", "contrast": 8, "saturation": -40},
    ),
    "late_gold": _grade(
        {"kind": "bloom", "spread": 9, "width": 1},
        _balance((0.57, 0.51, 0.42), (0.5, 0.49, 0.52), 30),
        {"kind": "contrast", "contrast": 5, "saturation": 5},
        {"kind": "vignette", "angle": 22},
    ),
    "after_sunset": _grade(
        {"kind": "bloom", "spread": 8, "width": 0.8},
        _balance((0.54, 0.5, 0.47), (0.46, 0.49, 0.56), 35),
        {"kind": "vignette", "angle": 20},
    ),
    "nightfall": _grade(
        {"kind": "bloom", "spread": 12, "width": 1.5},
        _balance((0.53, 0.5, 0.48), (0.46, 0.49, 0.57), 40),
        {"kind": "contrast", "saturation": -10},
        {"kind": "film_grain", "strength": 1.5, "size": 1.2},
    ),
}


def shared_grade(finishes: Mapping[str, Stack], of_shots: list[str]) -> Stack:
    """The finish that most shots of a site have, without what it does to single things of that site; none where they have none.

    :param finishes: by id. :param of_shots: the id of each shot's, empty for none.
    """
    chosen = [one for one in of_shots if one in finishes]
    if not chosen:
        return Stack()
    steps = finishes[max(chosen, key=chosen.count)].steps
    return Stack(steps=tuple(step for step in steps if step.within != "chosen"))
