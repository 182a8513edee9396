"""What scatter layers place: spots, tiles and whole layers, each kept under what decides it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np
from scipy.ndimage import map_coordinates

from ..geometry.mesh import face_normals
from ..kit.seasons import litter_lying
from ..scatter.clear import ClearOfPlanting
from ..scatter.climbing import REACH
from ..scatter.fill import Filling, bodies_of, fill_spots, layer_on_tile
from ..scatter.hand import with_hand
from ..scatter.layer import Match, Scatter
from ..scatter.placements import Placements
from ..scatter.spots import FillSurface, Spots, spots_of
from ..scatter.tints import match_factor, suggested_match
from ..signals.base import Bodies, Box, Signal
from ..weather.compose import from_srgb
from .cache import key

if TYPE_CHECKING:
    from .surface import Surface
    from .workshop import Workshop

# What of a layer neither moves nor removes anything that rules place.
_BESIDES = {"name", "shown"}
_BY_HAND = {"rows", "planted", "removed"}


class Planting:
    """The placements of one document."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop, self._cache = workshop, workshop.cache
        self._names: dict[int, tuple[Scatter, str]] = {}

    # For signals and for what is kept clear

    def bodies(self, layer: str) -> Bodies:
        """The items of a layer; none where there is no such layer, or it is hidden."""
        for one in self._workshop.document.planting:
            if one.id == layer and one.shown:
                return self._bodies(one)
        return Bodies(np.zeros((0, 3)), np.zeros(0), np.zeros(0))

    def _bodies(self, layer: Scatter) -> Bodies:
        placed = self.placements(layer)
        return self._cache.get(key("bodies", self.name(layer)), lambda: bodies_of(placed, self._workshop.shelf))

    def digest(self, layer: str) -> str:
        """A hash of a layer's items, without placing them."""
        for one in self._workshop.document.planting:
            if one.id == layer and one.shown:
                return self.name(one)
        return ""

    # Layers

    def name(self, layer: Scatter) -> str:
        """The key of a layer's placements: whatever changes them changes it."""
        found = self._names.get(id(layer))
        if found is None or found[0] is not layer:
            found = self._names[id(layer)] = layer, self._name(layer)
        return found[1]

    def _name(self, layer: Scatter) -> str:
        workshop = self._workshop
        layer = self._resolved(layer)
        inputs: list[Any] = [layer.model_dump(mode="json", exclude=_BESIDES), workshop.scene.digest()]
        for surface in self._surfaces(layer):
            inputs += [surface.digest]
            inputs += [workshop.signal_name(surface, signal) for signal in _signals(layer)]
        everywhere = np.full(3, -np.inf), np.full(3, np.inf)
        inputs += [clear.depends_on(everywhere, workshop.scene) for clear in layer.keep_clear if clear.enabled]
        return key("placements", inputs, self._looks(layer))

    def placements(self, layer: Scatter) -> Placements:
        """What a layer places."""

        def make() -> Placements:
            resolved, filling = self._resolved(layer), self.filling(layer)
            spots = self.spots(resolved)
            base, widest = self._tile_base(resolved), self.widest(resolved)
            known, found = spots.tiles, list[Placements]()
            for row, at in enumerate(known.index.tolist()):
                box = known.low[row], known.high[row]
                here = layer_on_tile(resolved, box)
                name = key("tile", base, at, self._decides(here, box, widest))
                make = partial(self._fill_tile, here, spots, row, filling)
                found.append(self._cache.get(name, make))
            return with_hand(resolved, found, filling)

        return self._cache.get(self.name(layer), make)

    def filling(self, layer: Scatter) -> Filling:
        """What a layer is filled into."""
        workshop, surfaces = self._workshop, self._surfaces(layer)

        def carried(row: int, signal: Signal, faces: np.ndarray, weights: np.ndarray) -> np.ndarray:
            surface = surfaces[row]
            field = workshop.signal_on_cells(surface, signal)
            at = np.einsum("nk,nki->in", weights, surface.atlas.corners[faces].astype(float)) - 0.5
            return map_coordinates(field, at[::-1], order=1, mode="nearest").astype(np.float32)

        tint, lying = np.ones((len(layer.mix), 3)), self._lying(layer)
        for row, entry in enumerate(layer.mix):
            match = entry.match
            if match.tinted or match.brightness != 1 or match.saturation != 1:
                tint[row] *= match_factor(match, self.average_colour(entry.item))
        given = [self.fill_surface(one) for one in surfaces]
        return Filling(given, workshop.scene, carried, workshop.shelf, tint, np.array(lying))

    def _lying(self, layer: Scatter) -> list[float]:
        """For each row of the mix the share that there is of it in the site's season: litter comes and goes."""
        season = self._workshop.document.climate.season
        return [litter_lying(self._workshop.shelf.item(entry.item), season) for entry in layer.mix]

    def suggested_match(self, layer: Scatter, row: int) -> Match:
        """A match for a row of the mix that lets it sit with the surfaces that the layer stands on."""
        workshop = self._workshop
        colours, areas = [], []
        for surface in self._surfaces(layer):
            maps = workshop.maps(surface, surface.coarsest_level)
            shown = workshop.grid(surface, surface.coarsest_level).inside > 0
            # The mean of light, not of the numbers it is written in.
            colours.append(from_srgb(maps.base[shown][:, :3]).mean(0))
            areas.append(surface.area)
        if not colours:
            return Match()
        item = layer.mix[row].item
        own = self.average_colour(item)
        return suggested_match(own, np.average(colours, axis=0, weights=areas))

    def average_colour(self, item: str) -> np.ndarray:
        """An item's mean colour in the site's season, over its faces by their areas, linear float64 (3,)."""
        items = self._workshop.items

        def make() -> np.ndarray:
            mesh = items.mesh(item, 0)
            areas = face_normals(mesh.corners)[1].astype(float)
            return np.asarray(areas @ items.looks(item, mesh) / max(areas.sum(), 1e-12))

        return self._cache.get(key("average colour", items.name(item), self._workshop.document.climate.season), make)

    def fill_surface(self, surface: Surface) -> FillSurface:
        """A surface as something to place items on."""
        mesh = surface.mesh
        return self._cache.get(
            key("fill surface", surface.id, surface.digest),
            lambda: FillSurface(surface.corners, surface.normals, surface.id, mesh.parts, mesh.part_names),
        )

    def spots(self, layer: Scatter) -> Spots:
        """Where a layer's items might stand."""
        surfaces = self._surfaces(layer)
        return self._cache.get(
            self._spots_name(layer), lambda: spots_of(layer, [self.fill_surface(one) for one in surfaces])
        )

    def _spots_name(self, layer: Scatter) -> str:
        mix = [[entry.share, entry.room] for entry in layer.mix]
        decides = layer.id, layer.seed, layer.density, layer.spacing, layer.sides, mix
        return key("spots", *decides, [[one.id, one.digest] for one in self._surfaces(layer)])

    def _tile_base(self, layer: Scatter) -> str:
        """A hash of what decides every tile."""
        workshop = self._workshop
        dump = layer.model_dump(mode="json", exclude=_BESIDES | _BY_HAND | {"strokes"})
        carried = [
            workshop.signal_name(surface, signal)
            for surface in self._surfaces(layer)
            for signal in _signals(layer)
            if signal.on_cells
        ]
        return key("tiles", self._spots_name(layer), dump, carried, self._looks(layer))

    @staticmethod
    def _fill_tile(layer: Scatter, spots: Spots, row: int, filling: Filling) -> Placements:
        return fill_spots(layer, spots.of_tile(row), filling)

    def _decides(self, layer: Scatter, box: Box, widest: np.ndarray) -> list[Any]:
        """What besides decides a tile whose spots lie in a box."""
        scene = self._workshop.scene
        decides: list[Any] = [stroke.model_dump(mode="json") for stroke in layer.strokes]
        decides += [signal.depends_on(scene, box) for signal in _signals(layer) if not signal.on_cells]
        wide: Box = (box[0] - widest, box[1] + widest)
        decides += [clear.depends_on(wide, scene) for clear in layer.keep_clear if clear.enabled]
        # What may be solid around an item stands over it, or near enough for it to be climbed.
        over = box[0] - REACH, np.maximum(box[1] + REACH, [-np.inf, scene.bounds[1][1], -np.inf])
        near = scene.near(over, 0) if layer.sides == "from above" else None
        return [*decides, scene.digest(near)]

    def widest(self, layer: Scatter) -> np.ndarray:
        """The most that an item of the layer reaches beyond its foot, float64 (3,)."""
        names = tuple(entry.item for entry in layer.mix)
        bodies = [self._workshop.shelf.mesh(name, variant).bounds
                  for name in names for variant in range(self._workshop.shelf.item(name).variants)]  # fmt: skip
        reach = np.abs(np.array(bodies)).max((0, 1)) * max(entry.size[1] for entry in layer.mix)
        return np.array([max(reach[0], reach[2]), reach[1], max(reach[0], reach[2])])

    def _resolved(self, layer: Scatter) -> Scatter:
        """The layer with the layers below it named where it keeps clear of all of them."""
        if not any(isinstance(clear, ClearOfPlanting) and not clear.layers for clear in layer.keep_clear):
            return layer
        ids = [one.id for one in self._workshop.document.planting]
        below = tuple(ids[: ids.index(layer.id)]) if layer.id in ids else ()
        clears = tuple(
            clear.model_copy(update={"layers": below})
            if isinstance(clear, ClearOfPlanting) and not clear.layers
            else clear
            for clear in layer.keep_clear
        )
        return layer.model_copy(update={"keep_clear": clears})

    def _surfaces(self, layer: Scatter) -> list[Surface]:
        shown = self._workshop.document.surface_ids()
        return [self._workshop.surface(id) for id in layer.surfaces if id in shown]

    def _looks(self, layer: Scatter) -> list[Any]:
        """What decides the items' shapes and colours."""
        names = [self._workshop.items.name(name) for name in layer.kinds()]
        # A match is reckoned from what an item looks like in its season.
        matched = any(entry.match != Match() for entry in layer.mix)
        return [names, self._lying(layer), self._workshop.document.climate.season if matched else None]


def _signals(layer: Scatter) -> list[Signal]:
    """The signals that a layer's masks ask for, each once."""
    return list(dict.fromkeys(card.signal for chain in layer.chains() for card in chain.active))
