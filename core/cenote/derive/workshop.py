"""The workshop: what is derived from a document, each result from its own inputs alone.

Order of dependence: mesh → atlas → cells → signals on cells → masks → maps; and surface → placements.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, replace
from functools import cached_property, partial
from typing import Any

import numpy as np

from ..drop.heap import Heap
from ..geometry.charts import cell_for, charted, from_above
from ..geometry.mesh import Mesh, MeshError, checked, face_normals, join, pieces
from ..geometry.repeat import copied
from ..geometry.texels import TexelGrid, texel_grid, texel_points
from ..kit.shelf import Shelf
from ..masks.evaluate import card_table, evaluate
from ..masks.where import Where
from ..materials.base import GRAINED
from ..materials.own import maps_name as imported_maps
from ..materials.recipe import Recipe
from ..randomness import uniforms
from ..scatter.layer import Scatter
from ..scatter.placements import Placements
from ..signals.base import MeasuredScene, Samples, SceneObject, Signal
from ..signals.crevice import Crevice
from ..signals.noise import Noise
from ..site.document import GROUND, CoverLayer, KitPiece, Made, SiteDocument
from ..structures.grade import PartGrade
from ..weather.base import CoverLook, Film
from ..weather.compose import LaidCover, LaidTile, Maps, compose, film_tile, shrunk
from .blankets import Blankets
from .cache import Cache, key, unpack_arrays
from .coats import Coats
from .ground import GroundHeights
from .items import Items
from .planting import Planting
from .reports import Reports
from .surface import Cells, Surface

# Texels of one surface in files.
MOST_TEXELS = 16_000_000
# Triangles of one object.
MOST_FACES = 2_000_000
# Two signals that every surface needs: occlusion for its final maps, and a slow drift of brightness.
OCCLUSION = Crevice(radius=1.0)
DRIFT = Noise(size=2.2, octaves=3, seed=77)


class Cancelled(Exception):
    """Raised by a progress callback to stop long work."""


Progress = Callable[[int, int, str], None]


def imported_name(digest: str) -> str:
    """The name in the store of an imported mesh."""
    return f"mesh-{digest}"


class Workshop:
    """Derives results for one document at a time.

    :param document: the site.
    :param cache: shared by all workshops of a process.
    :param before: the workshop of an earlier state of the same site. What it has found out about things that are the same
        is taken over: while something is dragged, a workshop is made for each step.
    """

    def __init__(self, document: SiteDocument, cache: Cache, before: Workshop | None = None) -> None:
        self.document, self.cache = document, cache
        # Within one document these are asked for again and again; hashing their inputs each time would be felt.
        self._surfaces: dict[str, Surface] = {}
        self._signal_names: dict[tuple[str, Signal], str] = {}
        self._names_by_planting: dict[tuple[str, Signal], str] = {}
        self._tile_names: dict[str, str] = {}
        self._looks: dict[str, CoverLook] = {}
        # The masks that are as they were before, by identity; these are worth keeping, those that change are not.
        self._steady: dict[int, str] = {}
        if before is not None and _same_geometry(document, before.document):
            self._surfaces, self._signal_names = before._surfaces, before._signal_names
            self._tile_names = before._tile_names
            were = {layer.id: layer.where for layer in before.document.weather}
            self._steady = {id(layer.where): layer.where.model_dump_json()
                            for layer in document.weather if were.get(layer.id) == layer.where}  # fmt: skip

    @cached_property
    def bare(self) -> Workshop:
        """The same site without any weather: what it looks like before."""
        return Workshop(self.document.model_copy(update={"weather": ()}), self.cache)

    # Geometry

    def _mesh(self, id: str) -> tuple[Mesh, str]:
        """The mesh of an object in its own frame, with its size applied, and a hash of it."""
        if id == GROUND:
            ground = self.document.ground
            name = key("ground", ground.model_dump(mode="json", exclude={"paints"}))
            return self.cache.get(name, lambda: checked(ground.mesh(self.ground.after()))), name
        structure = self.document.structure(id)
        source, size = structure.source, structure.placement.size
        inputs: Any = source.model_dump(mode="json")
        if isinstance(source, KitPiece):
            inputs = [source.variant, self.items.name(source.item)]
        if isinstance(source, Heap):
            inputs = [[[piece.model_dump(mode="json"), self.items.name(piece.item)] for piece in source.pieces]]
        repeat = structure.repeat
        name = key("structure", inputs, size, repeat.model_dump(mode="json"))

        def make() -> Mesh:
            if isinstance(source, Made):
                mesh = source.maker.build()
            elif isinstance(source, KitPiece):
                mesh = self._bare(source.item, source.variant)
            elif isinstance(source, Heap):
                mesh = join([self._bare(piece.item, piece.variant).moved(piece.matrix()) for piece in source.pieces])
            else:
                mesh = self.imported_mesh(source.mesh)
            mesh = mesh.moved(np.diag([size, size, size, 1.0]))
            if repeat.number > 1 or repeat.mirror != "none" or repeat.path:
                mesh = copied(mesh, repeat.matrices(), repeat.mirror)
            if len(mesh.faces) > MOST_FACES:
                raise MeshError(f"{len(mesh.faces) / 1e6:.1f} million triangles; take fewer copies")
            return checked(mesh)

        return self.cache.get(name, make), name

    def _bare(self, item: str, variant: int) -> Mesh:
        """The mesh of a kit item as an object of its own, which has a layout and colours of its own."""
        mesh = self.shelf.mesh(item, variant % self.shelf.item(item).variants)
        return replace(mesh, colours=None, uv=None, normals=None)

    @cached_property
    def ground(self) -> GroundHeights:
        """The heights of the ground."""
        return GroundHeights(self.document.ground, self.cache)

    def surface(self, id: str) -> Surface:
        """An object as a surface.

        :raises KeyError: if the document has no such object.
        """
        if id not in self._surfaces:
            self._surfaces[id] = self._make_surface(id)
        return self._surfaces[id]

    def _make_surface(self, id: str) -> Surface:
        mesh, mesh_name = self._mesh(id)
        if id == GROUND:
            matrix, materials = np.eye(4), mesh.part_names
        else:
            structure = self.document.structure(id)
            matrix = structure.placement.matrix()
            materials = tuple(structure.part_material(part) for part in mesh.part_names)
        grained = [part for part, kind in zip(mesh.part_names, materials, strict=True) if kind in GRAINED]
        layout = key("atlas", mesh_name, grained)
        digest = key("surface", layout, matrix.tolist())

        def make() -> Surface:
            area = float(face_normals(mesh.corners)[1].sum())
            atlas = self.cache.get(layout, lambda: charted(mesh, cell_for(area), grained))
            return Surface(id, mesh, matrix, atlas, layout, digest, materials)

        def make_ground() -> Surface:
            size = np.array(self.document.ground.size)
            cell = cell_for(float(size.prod()))
            atlas = from_above(mesh, cell, -size / 2, size / 2)
            return Surface(id, mesh, matrix, atlas, layout, digest, materials)

        if id == GROUND:
            return self.cache.get(key("placed surface", id, digest, materials), make_ground)
        return self.cache.get(key("placed surface", id, digest, materials), make)

    @cached_property
    def scene(self) -> MeasuredScene:
        """Everything that stands on the site, for signals."""
        surfaces = [self.surface(id) for id in self.document.surface_ids()]
        water = self.document.water.level if self.document.water.shown else None
        name = key("scene", [[s.id, s.digest] for s in surfaces])
        scene = self.cache.get(name, lambda: MeasuredScene({s.id: self._scene_object(s) for s in surfaces}))
        zones = {zone.id: zone.corners() for zone in self.document.zones}
        views = {shot.id: shot.view() for shot in self.document.shots}
        return scene.with_changes(water_level=water, zones=zones, views=views, planted=self.planting)

    def _scene_object(self, surface: Surface) -> SceneObject:
        """An object as signals see it; what is worked out about it stays while others are moved."""
        make = partial(SceneObject, surface.corners, surface.digest)
        return self.cache.get(key("scene object", surface.digest), make)

    def grid(self, surface: Surface, level: int) -> TexelGrid:
        """The texels of a surface at a level."""
        return self.cache.get(f"grid {surface.layout} {level}", lambda: texel_grid(surface.atlas, level))

    def cells(self, surface: Surface) -> Cells:
        """The cells of a surface."""

        def make() -> Cells:
            grid = self.grid(surface, 0)
            ys, xs, positions, normals = texel_points(surface.atlas, grid, surface.corners, surface.normals)
            areas = np.zeros(grid.faces.shape, np.float32)
            faces = grid.faces[ys, xs]
            each = surface.stretch[faces] * grid.texel**2 * grid.inside[ys, xs]
            # A slat thinner than a cell is still drawn a cell wide: each chart's cells share its true area.
            charts = surface.atlas.charts
            true = np.bincount(charts, face_normals(surface.mesh.corners)[1])
            drawn = np.bincount(charts[faces], each, len(true))
            areas[ys, xs] = each * (true / np.maximum(drawn, 1e-12))[charts[faces]]
            samples = Samples(positions, normals, surface.mesh.parts[faces], surface.mesh.part_names)
            return Cells(grid, ys, xs, samples, areas)

        return self.cache.get(key("cells", surface.digest), make)

    # Signals

    def signal_name(self, surface: Surface, signal: Signal) -> str:
        """The key of a signal on a surface."""
        asked = surface.id, signal
        names = self._names_by_planting if signal.looks_at() else self._signal_names
        if asked not in names:
            inputs = surface.digest, signal.model_dump(mode="json"), signal.depends_on(self.scene, surface.id)
            names[asked] = key("signal", *inputs)
        return names[asked]

    def signal_on_cells(self, surface: Surface, signal: Signal) -> np.ndarray:
        """A signal on the cells of a surface, float32 (h, w); 0 where there is no surface."""

        def make() -> dict[str, np.ndarray]:
            cells = self.cells(surface)
            field = np.zeros(cells.grid.faces.shape, np.float32)
            field[cells.ys, cells.xs] = signal.measure(cells.samples, self.scene)
            return {"field": field}

        name = self.signal_name(surface, signal)
        if signal.on_cells:
            return self.cache.arrays(name, make)["field"]
        return self.cache.get(name, make)["field"]

    def signal_coarse(self, surface: Surface, signal: Signal, level: int) -> np.ndarray:
        """A signal for previews whose texels are as large as a cell or larger: read from every so manyth cell.

        :param level: at most 0. :returns: float32 (H, W).
        """
        if level == 0:
            return self.signal_on_cells(surface, signal)
        step = 2**-level

        def make() -> np.ndarray:
            return np.ascontiguousarray(self.signal_on_cells(surface, signal)[step // 2 :: step, step // 2 :: step])

        return self.cache.get(f"coarse {self.signal_name(surface, signal)} {level}", make)

    def signal_on_texels(self, surface: Surface, signal: Signal, level: int) -> np.ndarray:
        """A signal that is computed at each texel itself, float32 (H, W)."""
        if level == 0:
            return self.signal_on_cells(surface, signal)

        def make() -> np.ndarray:
            grid = self.grid(surface, level)
            ys, xs, positions, normals = texel_points(surface.atlas, grid, surface.corners, surface.normals)
            field = np.zeros(grid.faces.shape, np.float32)
            parts = surface.mesh.parts[grid.faces[ys, xs]]
            samples = Samples(positions, normals, parts, surface.mesh.part_names)
            field[ys, xs] = signal.measure(samples, self.scene)
            return field

        return self.cache.get(f"texels {self.signal_name(surface, signal)} {level}", make)

    def unmeasured(self, requests: Sequence[tuple[str, Where]]) -> list[tuple[str, Signal]]:
        """Which signals measured by rays are not there yet.

        :param requests: (surface id, mask) pairs; occlusion is added for each surface.
        """
        missing: dict[str, tuple[str, Signal]] = {}
        for id, where in requests:
            surface = self.surface(id)
            for signal in (OCCLUSION, *(card.signal for card in where.active)):
                name = self.signal_name(surface, signal)
                if signal.on_cells and name not in missing and not self.cache.has_arrays(name):
                    missing[name] = (id, signal)
        return list(missing.values())

    def map_needs(self, surface_ids: Sequence[str]) -> list[tuple[str, Where]]:
        """The masks that final maps of these surfaces ask for."""
        bare: list[tuple[str, Where]] = [(id, Where()) for id in surface_ids]
        return bare + [(id, layer.where) for id in surface_ids for layer in self.layers_on(id)]

    def needs(self, surface_ids: Sequence[str]) -> list[tuple[str, Where]]:
        """The masks that final maps of these surfaces, and scatters over them, ask for."""
        out = self.map_needs(surface_ids)
        for layer in self.document.planting:
            out += self.planting_needs(layer, surface_ids)
        return out

    def planting_needs(self, layer: Scatter, surface_ids: Sequence[str]) -> list[tuple[str, Where]]:
        """The masks that a scatter asks for on some of its surfaces."""
        return [(id, chain) for id in layer.surfaces if id in surface_ids for chain in layer.chains() if chain.active]

    def measure(self, missing: Sequence[tuple[str, Signal]], progress: Progress) -> None:
        """Measure signals and keep them.

        :param progress: called with (done, total, what) before each; it may raise :class:`Cancelled`.
        """
        for done, (id, signal) in enumerate(missing):
            progress(done, len(missing), f"{signal.reading.name} on {self.name_of(id)}")
            self.signal_on_cells(self.surface(id), signal)
        progress(len(missing), len(missing), "")

    def name_of(self, id: str) -> str:
        """The name of an object for people."""
        return "the ground" if id == GROUND else self.document.structure(id).name

    # Masks

    def mask(self, surface: Surface, where: Where, level: int) -> np.ndarray:
        """A mask on the texels of a surface, float32 (H, W) in [0, 1]."""
        steady = self._steady.get(id(where)) if level <= 0 else None
        if steady is None:
            return self._evaluated(surface, where, level)
        signals = " ".join(self.signal_name(surface, card.signal) for card in where.active)
        name = f"mask {surface.digest} {level} {steady} {signals}"
        return self.cache.get(name, lambda: self._evaluated(surface, where, level))

    def _evaluated(self, surface: Surface, where: Where, level: int) -> np.ndarray:
        cards = where.active
        grid = self.grid(surface, level)
        on_cells: list[np.ndarray] = []
        on_texels: list[np.ndarray] = []
        sources: list[tuple[bool, int]] = []
        for card in cards:
            if level < 0:
                sources.append((False, len(on_texels)))
                on_texels.append(self.signal_coarse(surface, card.signal, level))
            elif card.signal.on_cells or level == 0:
                sources.append((True, len(on_cells)))
                on_cells.append(self.signal_on_cells(surface, card.signal))
            else:
                sources.append((False, len(on_texels)))
                on_texels.append(self.signal_on_texels(surface, card.signal, level))
        shape = surface.atlas.height, surface.atlas.width
        cells = np.stack(on_cells) if on_cells else np.zeros((0, *shape), np.float32)
        texels = np.stack(on_texels) if on_texels else np.zeros((0, *grid.faces.shape), np.float32)
        return evaluate(cells, texels, card_table(cards, sources), grid.faces.shape, 2.0**level)

    def holds(self, layer: CoverLayer, surface: Surface) -> np.ndarray:
        """How well a cover holds to each part of a surface, by what it is made of: float32 (parts,) in [0, 1]."""
        natures = [self.document.nature(kind) for kind in surface.materials]
        return np.array([layer.cover.sits_on.get(nature, 0.0) for nature in natures], np.float32)

    def layer_mask(self, layer: CoverLayer | Where, surface: Surface, level: int) -> np.ndarray:
        """A layer's mask, float32 (H, W) in [0, 1]: a cover's with what it holds to, and how strongly it is wanted."""
        if isinstance(layer, Where):
            return self.mask(surface, layer, level)
        mask = self.mask(surface, layer.where, level)
        factor = self.holds(layer, surface) * np.float32(layer.strengths.get(surface.id, 1.0))
        if (factor == 1).all():
            return mask
        if (factor == factor[0]).all():
            return np.minimum(mask * factor[0], 1)

        def make() -> np.ndarray:
            faces = self.grid(surface, level).faces
            return np.where(faces >= 0, factor[surface.mesh.parts[faces]], np.float32(0))

        field = self.cache.get(key("holds", surface.digest, factor.tolist(), level), make)
        return np.minimum(mask * field, 1)

    # Maps

    def layers_on(self, id: str) -> list[CoverLayer]:
        """The cover layers that are shown on a surface, lowest first."""
        return [layer for layer in self.document.weather if layer.shown and id in layer.surfaces]

    def tile_name(self, kind: str) -> str:
        """The key of a baked material."""
        if kind not in self._tile_names:
            self._tile_names[kind] = key("tile", self.document.material(kind).model_dump(mode="json"))
        return self._tile_names[kind]

    def tile(self, kind: str) -> LaidTile:
        """A baked material, kept for all processes."""
        source = self.document.material(kind)

        def make() -> dict[str, np.ndarray]:
            if isinstance(source, Recipe):
                return {"tile": source.bake().packed()}
            content = self.cache.store.read(imported_maps(source.maps))
            if content is None:
                raise KeyError(f"the imported maps {source.maps[:8]} are missing from the store")
            return {"tile": unpack_arrays(content)["tile"]}

        packed = self.cache.arrays(self.tile_name(kind), make)["tile"]
        return LaidTile(packed, source.size, source.depth, source.uneven)

    def mean_of(self, kind: str, look: CoverLook) -> tuple[np.ndarray, float]:
        """The mean linear colour (3,) of a material as a cover grades its brightness, and its mean roughness."""
        mean = self.cache.get(key("tile mean", self.tile_name(kind)), lambda: self.tile(kind).pixels.mean((0, 1)))
        return np.minimum(mean[:3].astype(np.float64) * look.brightness, 1), float(mean[4])

    def _laid(self, kind: str, texel: float) -> LaidTile:
        step = int(np.floor(np.log2(max(texel, 1e-4)) * 2))
        return self.cache.get(f"laid {self.tile_name(kind)} {step}", lambda: shrunk(self.tile(kind), 2 ** (step / 2)))

    def _laid_of(self, of: str | Film, texel: float) -> LaidTile:
        """What a cover is made of, ready for texels of a size."""
        if isinstance(of, Film):
            return self.cache.get(f"film {of}", lambda: film_tile(of))
        return self._laid(of, texel)

    def look_on(self, layer: CoverLayer, surface: str) -> CoverLook:
        """A cover's look in the site's climate, as strong as it is wanted on a surface."""
        if layer.id not in self._looks:
            self._looks[layer.id] = layer.cover.look(self.document.climate)
        look, factor = self._looks[layer.id], layer.strengths.get(surface, 1.0)
        return look if factor == 1 else replace(look, strength=look.strength * factor)

    def _face_grades(self, surface: Surface) -> np.ndarray:
        """Grading of each face, float32 (M, 5), as the compositor reads it."""
        table = self.part_grades(surface)

        def make() -> np.ndarray:
            sign = [-1 if grade.blend == "soft light" else 1 for grade in table]
            rows = np.array([[g.brightness, *g.tint, g.tinted * s] for g, s in zip(table, sign, strict=True)])
            out = rows[surface.mesh.parts].astype(np.float32)
            spreads = np.array([grade.spread for grade in table])[surface.mesh.parts]
            if spreads.any():
                each = uniforms(pieces(surface.mesh).astype(np.uint64), 31)
                out[:, 0] *= np.exp((each - 0.5) * 2 * spreads).astype(np.float32)
            return out

        return self.cache.get(self._grades_name(surface), make)

    def part_grades(self, surface: Surface) -> list[PartGrade]:
        """The grading of each part of a surface."""
        if surface.id == GROUND:
            return [PartGrade(spread=0)] * len(surface.mesh.part_names)
        structure = self.document.structure(surface.id)
        return [structure.part_grade(part) for part in surface.mesh.part_names]

    def usual_grade(self, id: str, part: str) -> PartGrade:
        """The grading of a part of an object before anybody grades it."""
        return PartGrade(spread=0) if id == GROUND else self.document.structure(id).usual_grade(part)

    def glow_of_faces(self, surface: Surface) -> np.ndarray | None:
        """Light that each face gives of its own, as a factor on its colour, float32 (M,); None where nothing glows."""
        glows = np.array([grade.glow for grade in self.part_grades(surface)], np.float32)
        return glows[surface.mesh.parts] if glows.any() else None

    def _grades_name(self, surface: Surface) -> str:
        # What a part gives of its own light is not in its maps.
        grades = [grade.model_dump(mode="json", exclude={"glow"}) for grade in self.part_grades(surface)]
        return key("grades", surface.digest, grades)

    def maps_name(self, surface: Surface, level: int) -> str:
        """The key of a surface's final maps: whatever changes them changes it."""
        layers = [
            [asdict(look), dict(layer.cover.sits_on), layer.where.model_dump(mode="json"),
             [self.tile_name(of) for of in (look.of, *look.instead.values()) if isinstance(of, str)],
             [card.signal.depends_on(self.scene, surface.id) for card in layer.where.active]]
            for layer in self.layers_on(surface.id)
            for look in [self.look_on(layer, surface.id)] if look.strength > 0
        ]  # fmt: skip
        tiles: list[Any] = [[self.tile_name(kind), self.document.nature(kind)] for kind in surface.materials]
        if surface.id == GROUND:
            paints = [paint for paint in self.document.ground.paints if paint.shown]
            tiles += [key(paint.model_dump(mode="json"), self.tile_name(paint.material)) for paint in paints]
        grades = self._grades_name(surface)
        return key("maps", surface.digest, tiles, grades, level, layers, self.signal_name(surface, OCCLUSION))

    def maps(self, surface: Surface, level: int) -> Maps:
        """The final maps of a surface."""

        def make() -> dict[str, np.ndarray]:
            made = self._compose(surface, level)
            return {"base": made.base, "orm": made.orm, "normal": made.normal, "height": made.height}

        return Maps(**self.cache.arrays(self.maps_name(surface, level), make))

    def preview_maps(self, surface: Surface, level: int) -> Maps:
        """Maps that are looked at for a moment: not kept, and without relief."""
        return self._compose(surface, level, relief=False)

    def _paints(self, surface: Surface, grid: TexelGrid) -> list[LaidCover]:
        """What is painted on the ground, as covers below all others."""
        out = []
        origin = surface.atlas.flat[0, 0].astype(float) - surface.atlas.corners[0, 0].astype(float) * surface.atlas.cell
        for paint in self.document.ground.paints:
            if not paint.shown or not paint.strokes:
                continue
            name = key("paint", [stroke.model_dump(mode="json") for stroke in paint.strokes], origin.tolist(),
                       grid.texel, grid.faces.shape)  # fmt: skip
            make = partial(self.document.ground.painted_mask, paint, grid.texel, grid.faces.shape, tuple(origin))
            mask = self.cache.get(name, make)
            look = CoverLook(paint.material, 1.0, joints=paint.hollows, softness=paint.softness)
            out.append(LaidCover((self._laid(paint.material, grid.texel),), mask, look))
        return out

    def _compose(self, surface: Surface, level: int, relief: bool = True) -> Maps:
        grid = self.grid(surface, level)
        covers = self._paints(surface, grid) if surface.id == GROUND else []
        for layer in self.layers_on(surface.id):
            look = self.look_on(layer, surface.id)
            if look.strength <= 0:
                continue
            natures = [self.document.nature(kind) for kind in surface.materials]
            tiles = tuple(self._laid_of(look.material_on(nature), grid.texel) for nature in natures)
            holds = self.holds(layer, surface)
            waits = np.array([look.bared.get(nature, 0.0) for nature in natures])
            covers.append(LaidCover(tiles, self.mask(surface, layer.where, level), look, holds, waits))
        return compose(
            surface.atlas,
            grid,
            [self._laid(kind, grid.texel) for kind in surface.materials],
            surface.mesh.parts,
            self._face_grades(surface),
            covers,
            self.signal_coarse(surface, OCCLUSION, min(level, 0)),
            self.signal_coarse(surface, DRIFT, min(level, 0)),
            relief,
        )

    # Placing

    @cached_property
    def planting(self) -> Planting:
        """What scatter layers place."""
        return Planting(self)

    def placements(self, layer: Scatter) -> Placements:
        """What a scatter layer places."""
        return self.planting.placements(layer)

    def placements_name(self, layer: Scatter) -> str:
        """The key of a layer's placements."""
        return self.planting.name(layer)

    @cached_property
    def reports(self) -> Reports:
        """What masks come to."""
        return Reports(self)

    @cached_property
    def coats(self) -> Coats:
        """What covers lie on placed items."""
        return Coats(self)

    @cached_property
    def blankets(self) -> Blankets:
        """What covers lie as sheets of their own."""
        return Blankets(self)

    # Items

    @cached_property
    def shelf(self) -> Shelf:
        """The items that this site can place."""
        return Shelf(self.document.kit, self.imported_mesh)

    @cached_property
    def items(self) -> Items:
        """What these items look like."""
        return Items(self.document, self.cache, self.shelf, self.tile, self.tile_name)

    def imported_mesh(self, digest: str) -> Mesh:
        """The mesh of a file that was brought in.

        :raises KeyError: if it is not in the store.
        """
        content = self.cache.store.read(imported_name(digest))
        if content is None:
            raise KeyError(f"the imported mesh {digest[:8]} is missing from the store")
        return mesh_from_arrays(unpack_arrays(content))

    def shown_scatters(self) -> Iterator[Scatter]:
        """Scatter layers that are shown, with a surface that is."""
        surfaces = set(self.document.surface_ids())
        return (layer for layer in self.document.planting if layer.shown and surfaces.intersection(layer.surfaces))


# What of a document neither shapes, moves nor hides anything that signals meet.
_BESIDES_GEOMETRY = {"weather", "climate", "states", "wind", "light", "wheres", "budget"}


def _same_geometry(one: SiteDocument, other: SiteDocument) -> bool:
    """Whether all is shaped, made and placed alike on two states of a site."""
    fields = set(SiteDocument.model_fields) - _BESIDES_GEOMETRY
    return all(getattr(one, name) == getattr(other, name) for name in fields)


def mesh_arrays(mesh: Mesh) -> dict[str, np.ndarray]:
    """A mesh as arrays for the store."""
    names = np.frombuffer("\n".join(mesh.part_names).encode(), np.uint8)
    return {"positions": mesh.positions, "faces": mesh.faces, "parts": mesh.parts, "part_names": names}


def mesh_from_arrays(arrays: dict[str, np.ndarray]) -> Mesh:
    """The mesh of :func:`mesh_arrays`."""
    names = tuple(arrays["part_names"].tobytes().decode().split("\n"))
    return Mesh(arrays["positions"], arrays["faces"], arrays["parts"], names)
