"""A material by recipe: layers of patterns, from the lowest to the uppermost, that give all channels of a tile."""

from __future__ import annotations

from collections import Counter
from functools import partial
from typing import TYPE_CHECKING, Literal

import numpy as np
from numba import njit
from pydantic import Field

from ..parallel import over_rows, rows_of
from ..parameters import Declared, choice, colour, count, quantity, span, switch
from ..randomness import key_of
from .canvas import Canvas, blurred, plain_coordinates, warped
from .laid import Laying, Pieces
from .patterns.base import PATTERNS, Pattern
from .patterns.cells import Cells
from .patterns.courses import Courses
from .tile import PIXELS, Tile

if TYPE_CHECKING:
    AnyPattern = Pattern
else:
    AnyPattern = PATTERNS.union()
Blend = Literal["normal", "add", "multiply", "screen", "soft light", "overlay", "max", "min"]
_BLENDS = {name: row for row, name in enumerate(Blend.__args__)}  # type: ignore[attr-defined]


# What a tile is before its first layer: grey, level, rather rough, no metal.
_BARE = np.array([0.18, 0.18, 0.18, 0.5, 0.8, 0], np.float32)

# Things smaller than so many pixels are only flicker: their mean takes their place. It is taken over so many pixels a side.
_SEEN, _FEW = 1.5, 128
# Cells from this size on, metres, are pieces of their own.
_STONES = 0.06


class Drawn(Declared):
    """A pattern, and how its grey values are used."""

    pattern: AnyPattern = Field(default_factory=lambda: PATTERNS["clouds"](kind="clouds"))
    seed: int = count(0, low=0, high=9999, help="Layers with the same number and pattern share one layout.")
    levels: tuple[float, float] = span(
        (0, 1), low=-0.5, high=1.5, unit="", help="The grey that becomes black, and the grey that becomes white."
    )
    inverted: bool = switch(False, help="Whether black and white change places.")
    warp: float = quantity(0, low=0, high=1, unit="m", step=0.002, help="How far the pattern is pushed about.")
    warp_size: float = quantity(0.2, low=0.01, high=10, unit="m", step=0.01, help="How large the pushes are.")

    @property
    def layout(self) -> tuple[object, ...]:
        """What decides the pattern before its levels: layers that have it in common need it drawn only once."""
        return self.pattern, self.seed, self.warp, self.warp_size

    def draw(self, canvas: Canvas) -> np.ndarray:
        """The grey picture, float32 (n, n) in [0, 1]."""
        key = canvas.key("layout", self.seed)

        if self.unseen(canvas):
            return np.full((canvas.pixels, canvas.pixels), self.few(canvas).mean(), np.float32)

        def make() -> np.ndarray:
            x, y = warped(canvas, self.warp, self.warp_size, key_of("warp", int(key)))
            return self.pattern.draw(canvas, x, y, key)

        name = self.layout
        grey = canvas.kept(name, make) if name in canvas.shared else make()
        return self._levelled(grey)

    def _levelled(self, grey: np.ndarray) -> np.ndarray:
        low, high = self.levels
        if (low, high) != (0, 1):
            grey = np.clip((grey - np.float32(low)) * np.float32(1 / max(high - low, 1e-3)), 0, 1)
        return (1 - grey if self.inverted else grey).astype(np.float32, copy=False)

    def unseen(self, canvas: Canvas) -> bool:
        """Whether its things are smaller than a canvas can show."""
        return bool(self.pattern.finest < _SEEN * canvas.size / canvas.pixels)

    def few(self, canvas: Canvas) -> np.ndarray:
        """Some of what is too small for a canvas, from near: float32 (n, n) in [0, 1]."""
        near = Canvas(_FEW, self.pattern.finest * _FEW / 4, 0, np.full((_FEW, _FEW), 0.5, np.float32))
        return self._levelled(self.pattern.draw(near, *plain_coordinates(_FEW), canvas.key("layout", self.seed)))


class ColourUse(Declared):
    """What a layer does to the base colour."""

    low: tuple[float, float, float] = colour((0.05, 0.05, 0.05), help="The colour where the pattern is black.")
    high: tuple[float, float, float] = colour((0.4, 0.4, 0.4), help="The colour where the pattern is white.")
    blend: Blend = choice("normal", help="How it mixes with what lies below.")
    opacity: float = quantity(1, low=0, high=1, unit="", step=0.02, help="How much of it is seen.")


class ValueUse(Declared):
    """What a layer does to relief, roughness or metalness."""

    low: float = quantity(0, low=0, high=1, unit="", step=0.02, help="The value where the pattern is black.")
    high: float = quantity(1, low=0, high=1, unit="", step=0.02, help="The value where the pattern is white.")
    blend: Blend = choice("normal", help="How it mixes with what lies below.")
    opacity: float = quantity(1, low=0, high=1, unit="", step=0.02, help="How much of it counts.")


class PatternLayer(Declared):
    """A pattern that paints any of colour, relief, roughness and metalness."""

    kind: Literal["pattern"] = "pattern"
    name: str = Field("Layer", min_length=1, max_length=60)
    shown: bool = switch(True, help="Whether the layer takes part.")
    drawn: Drawn = Field(default_factory=Drawn)
    opacity: float = quantity(1, low=0, high=1, unit="", step=0.02, help="How much of the whole layer counts.")
    shows: Literal["everywhere", "by brightness", "by shape"] = choice(
        "everywhere", help="Everywhere, the more the brighter the pattern is, or wherever the pattern is not black."
    )
    mask: Drawn | None = None
    colour: ColourUse | None = None
    relief: ValueUse | None = None
    roughness: ValueUse | None = None
    metalness: ValueUse | None = None


class GradeLayer(Declared):
    """Grading of the colour that the layers below have made."""

    kind: Literal["grade"] = "grade"
    name: str = Field("Grade", min_length=1, max_length=60)
    shown: bool = switch(True, help="Whether the layer takes part.")
    opacity: float = quantity(1, low=0, high=1, unit="", step=0.02, help="How much of the grading counts.")
    mask: Drawn | None = None
    levels: tuple[float, float] = span((0, 1), low=0, high=1, unit="", help="What becomes black and what white.")
    brightness: float = quantity(1, low=0, high=3, unit="×", step=0.02, help="A factor on all colour.")
    contrast: float = quantity(1, low=0, high=3, unit="×", step=0.02, help="How far from the mean colours lie.")
    saturation: float = quantity(1, low=0, high=3, unit="×", step=0.02, help="0 is grey, 1 as it was.")
    tint: tuple[float, float, float] = colour((1, 1, 1), help="The colour of the tint.")
    tinted: float = quantity(0, low=0, high=1, unit="", step=0.02, help="How strong the tint is.")
    edge_brightening: float = quantity(0, low=0, high=2, unit="", step=0.05, help="How bright proud edges become.")
    edge_width: float = quantity(0.006, low=0.0005, high=0.2, unit="m", step=0.001, help="How wide those edges are.")


Layer = PatternLayer | GradeLayer


class Recipe(Declared):
    """A material: the size of its tile, and its layers from the lowest to the uppermost."""

    size: float = quantity(2, low=0.05, high=20, unit="m", step=0.05, help="Side of the tile that repeats.")
    depth: float = quantity(0.01, low=0, high=0.5, unit="m", step=0.001, help="From its lowest to its highest point.")
    uneven: float = quantity(
        0.18, low=0, high=1, unit="", step=0.02, help="How much brightness drifts over metres; it hides the repeat."
    )
    laying: Laying = choice(
        "repeated",
        label="Laid",
        help="Side by side with itself; in parts that are set off, or also turned, so that no repeat is seen; or, where a "
        "layer has courses, each piece by lot.",
    )
    seed: int = count(0, low=0, high=9999, help="Another number gives another variant.")
    layers: tuple[Layer, ...] = Field(min_length=1, max_length=24)

    def bake(self, pixels: int = PIXELS, seed: int | None = None) -> Tile:
        """Draw the tile.

        :param pixels: its side, a power of two in [16, 4096].
        :param seed: in place of the recipe's own, for another variant.
        :raises ValueError: if ``pixels`` is no power of two in that range.
        """
        if pixels & (pixels - 1) or not 16 <= pixels <= 4096:
            raise ValueError(f"pixels: {pixels} is not a power of two from 16 to 4096")
        shape = (pixels, pixels)
        canvas = Canvas(pixels, self.size, self.seed if seed is None else seed, np.full(shape, 0.5, np.float32))
        canvas.shared = self._shared()
        planes = np.empty((*shape, 6), np.float32)
        over_rows(lambda a, b: _primed(planes, _BARE, a, b), pixels, rows_of(pixels))
        for layer in self.layers:
            if not layer.shown or layer.opacity == 0:
                continue
            mask = layer.mask.draw(canvas) if layer.mask else np.ones((1, 1), np.float32)
            if isinstance(layer, PatternLayer):
                _lay(planes, canvas, layer, mask)
            else:
                _grade(planes, canvas, layer, mask)
        return _finished(planes, canvas.height, self.depth, self.size)

    @property
    def pieces(self) -> Pieces | None:
        """The pieces of its lowest courses; None where it has none."""
        canvas = Canvas(16, self.size, self.seed, np.zeros((1, 1), np.float32))
        shown = [layer for layer in self.layers if layer.shown]
        for drawn in (one for layer in shown for one in (getattr(layer, "drawn", None), layer.mask) if one):
            if isinstance(drawn.pattern, Courses):
                return drawn.pattern.pieces(canvas, canvas.key("layout", drawn.seed))
        return None

    @property
    def seam(self) -> float:
        """How wide seams are where parts of its tile meet, metres. Stones that fill the tile are cut, so that seams are no wider
        than they are, and below 0: their gaps must show. All else lies over each other, as wide as there is room."""
        made = [
            layer.drawn.pattern
            for layer in self.layers
            if layer.shown and isinstance(layer, PatternLayer) and layer.relief
        ]
        return -max((one.size for one in made if isinstance(one, Cells) and one.size >= _STONES), default=-self.size)

    def _shared(self) -> set[object]:
        """Layouts that several layers draw; not those that read the relief, which changes from layer to layer."""
        drawn = [one for layer in self.layers for one in (getattr(layer, "drawn", None), layer.mask) if one]
        counts = Counter(one.layout for one in drawn if one.pattern.kind != "relief")
        return {layout for layout, times in counts.items() if times > 1}


def _lay(planes: np.ndarray, canvas: Canvas, layer: PatternLayer, mask: np.ndarray) -> None:
    shows, opacity = layer.shows, layer.opacity
    if shows != "everywhere" and layer.drawn.unseen(canvas):
        # What is too small to be seen one by one covers its share of everything, in what it looks like on average.
        few = layer.drawn.few(canvas)
        weight = few if shows == "by brightness" else np.minimum(few * 8, 1)
        grey = np.full(canvas.height.shape, np.average(few, weights=weight + np.float32(1e-9)), np.float32)
        shows, opacity = "everywhere", opacity * float(weight.mean())
    else:
        grey = layer.drawn.draw(canvas)
    table = np.zeros((6, 4), np.float32)
    table[:, 2] = -1
    if layer.colour:
        use = layer.colour
        for channel in range(3):
            table[channel] = use.low[channel], use.high[channel], _BLENDS[use.blend], use.opacity * opacity
    for row, value in ((3, layer.relief), (4, layer.roughness), (5, layer.metalness)):
        if value:
            table[row] = value.low, value.high, _BLENDS[value.blend], value.opacity * opacity
    rows, how = len(planes), {"everywhere": 0, "by brightness": 1, "by shape": 2}[shows]
    over_rows(lambda a, b: _laid(planes, grey, mask, how, table, canvas.height, a, b), rows, rows_of(rows))


def _grade(planes: np.ndarray, canvas: Canvas, layer: GradeLayer, mask: np.ndarray) -> None:
    edges = np.zeros((1, 1), np.float32)
    if layer.edge_brightening:
        radius = layer.edge_width * canvas.pixels / canvas.size
        edges = np.clip((canvas.height - blurred(canvas.height, radius)) * np.float32(6 * layer.edge_brightening), 0, 2)
    mean = planes[::7, ::7, :3].mean((0, 1))
    low, high = layer.levels
    tint = 1 - layer.tinted + layer.tinted * np.array(layer.tint)
    numbers = np.array([low, max(high - low, 1e-3), layer.brightness, layer.contrast, layer.saturation, layer.opacity])
    rows = len(planes)
    given = (edges, mask, mean.astype(np.float32), tint.astype(np.float32), numbers.astype(np.float32))
    over_rows(lambda a, b: _graded(planes, *given, a, b), rows, rows_of(rows))


@njit(inline="always", cache=True, fastmath=True)
def _blended(below, value, blend, perceived):  # type: ignore
    """Blend two values in [0, 1]. Modes made for the eye work on square roots of linear colour."""
    if blend == 0:
        return value
    if blend == 1:
        return below + value
    if blend == 2:
        return below * value
    if blend == 6:
        return max(below, value)
    if blend == 7:
        return min(below, value)
    a = np.sqrt(max(below, np.float32(0))) if perceived else below
    b = np.sqrt(max(value, np.float32(0))) if perceived else value
    one, two = np.float32(1), np.float32(2)
    if blend == 3:
        c = one - (one - a) * (one - b)
    elif blend == 4:
        # The form of W3C's "Compositing and Blending Level 1", simplified to Pegtop's smooth formula.
        c = (one - two * b) * a * a + two * b * a
    else:
        c = two * a * b if a < np.float32(0.5) else one - two * (one - a) * (one - b)
    return c * c if perceived else c


@njit(cache=True, nogil=True, fastmath=True)
def _laid(planes, grey, mask, shows, table, height, first, beyond):  # type: ignore
    """table: float32 (6, 4), for each channel: value at black, at white, blend mode or -1, opacity."""
    masked = mask.shape[0] > 1
    for y in range(first, beyond):
        for x in range(planes.shape[1]):
            g = grey[y, x]
            m = mask[y, x] if masked else np.float32(1)
            if shows == 1:
                m *= g
            elif shows == 2:
                m *= min(np.float32(1), g * np.float32(8))
            if m <= 0:
                continue
            for channel in range(6):
                blend = int(table[channel, 2])
                if blend < 0:
                    continue
                below = planes[y, x, channel]
                value = table[channel, 0] + g * (table[channel, 1] - table[channel, 0])
                over = _blended(below, value, blend, channel < 3)
                out = below + m * table[channel, 3] * (over - below)
                planes[y, x, channel] = min(max(out, np.float32(0)), np.float32(1))
            height[y, x] = planes[y, x, 3]


@njit(cache=True, nogil=True)
def _primed(planes, values, first, beyond):  # type: ignore
    for y in range(first, beyond):
        for x in range(planes.shape[1]):
            for channel in range(6):
                planes[y, x, channel] = values[channel]


@njit(cache=True, nogil=True)
def _parted(planes, albedo, roughness, metalness, first, beyond):  # type: ignore
    """Channels apart, held to what materials can have: none is blacker than soot or whiter than fresh snow."""
    for y in range(first, beyond):
        for x in range(planes.shape[1]):
            for channel in range(3):
                albedo[y, x, channel] = min(max(planes[y, x, channel], np.float32(0.004)), np.float32(0.92))
            roughness[y, x] = max(planes[y, x, 4], np.float32(0.03))
            metalness[y, x] = planes[y, x, 5]


@njit(cache=True, nogil=True, fastmath=True)
def _graded(planes, edges, mask, mean, tint, numbers, first, beyond):  # type: ignore
    masked, edged = mask.shape[0] > 1, edges.shape[0] > 1
    low, reach, brightness, contrast, saturation, opacity = (
        numbers[0], numbers[1], numbers[2], numbers[3], numbers[4], numbers[5])  # fmt: skip
    for y in range(first, beyond):
        for x in range(planes.shape[1]):
            m = opacity * (mask[y, x] if masked else np.float32(1))
            bright = brightness * (np.float32(1) + (edges[y, x] if edged else np.float32(0)))
            red, green, blue = planes[y, x, 0], planes[y, x, 1], planes[y, x, 2]
            # Relative luminance of ITU-R BT.709.
            grey = np.float32(0.2126) * red + np.float32(0.7152) * green + np.float32(0.0722) * blue
            for channel in range(3):
                below = planes[y, x, channel]
                value = grey + saturation * (below - grey)
                value = mean[channel] + contrast * (value - mean[channel])
                value = (value - low) / reach * bright * tint[channel]
                out = below + m * (value - below)
                planes[y, x, channel] = min(max(out, np.float32(0)), np.float32(1))


@njit(cache=True, nogil=True, fastmath=True)
def _closed(height, around, weight, closed, first, beyond):  # type: ignore
    for y in range(first, beyond):
        for x in range(height.shape[1]):
            closed[y, x] += min(max((around[y, x] - height[y, x]) * weight, np.float32(0)), np.float32(1))


def _finished(planes: np.ndarray, height: np.ndarray, depth: float, size: float) -> Tile:
    """The tile of the painted planes; its occlusion follows from its relief."""
    pixels = len(height)
    steep = depth / size * pixels
    closed = np.zeros_like(height)
    # Hollows of three sizes, each weighed by how steep its walls are.
    for radius in (2.0, 8.0, 32.0):
        if radius < pixels / 4:
            around, weight = blurred(height, radius), np.float32(steep * 1.6 / radius)
            over_rows(partial(_closed, height, around, weight, closed), pixels, rows_of(pixels))
    albedo = np.empty((*height.shape, 3), np.float32)
    roughness, metalness = np.empty_like(height), np.empty_like(height)
    over_rows(lambda a, b: _parted(planes, albedo, roughness, metalness, a, b), pixels, rows_of(pixels))
    return Tile(albedo, height, roughness, metalness, 1 / (1 + closed))
