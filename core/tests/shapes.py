"""Shapes and small sites that several tests use."""

from __future__ import annotations

import numpy as np

from cenote.derive.cache import Cache, memory_cache
from cenote.derive.graph import Graph
from cenote.derive.planting import LayerPlacements
from cenote.derive.surfaces import ObjectShape, Shape
from cenote.geometry.mesh import Mesh
from cenote.masks.where import SignalCard, Where
from cenote.scatter.layer import Scatter
from cenote.scatter.placements import Placements
from cenote.signals.base import Signal
from cenote.signals.scene import MeasuredScene, Samples, SceneObject
from cenote.site.document import CoverLayer, Made, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.fittings import Crates
from cenote.weather.moss import Moss

UP = np.array([0.0, 1.0, 0.0], np.float32)


def square(side: float, height: float = 0.0) -> np.ndarray:
    """A level square about the origin that faces up: two triangles, float32 (2, 3, 3)."""
    h = side / 2
    a, b, c, d = [-h, height, -h], [h, height, -h], [h, height, h], [-h, height, h]
    return np.array([[a, d, b], [b, d, c]], np.float32)


def scene(**objects: np.ndarray) -> MeasuredScene:
    """A scene of triangles by name."""
    return MeasuredScene({name: SceneObject(corners, name) for name, corners in objects.items()})


def samples(positions, normals=UP) -> Samples:
    """Samples at positions, all with one normal or each with its own."""
    positions = np.asarray(positions, np.float32).reshape(-1, 3)
    return Samples(positions, np.broadcast_to(np.asarray(normals, np.float32), positions.shape).copy())


def card(id: str, signal: Signal, starts: float, full: float, **more) -> SignalCard:
    """A signal card."""
    return SignalCard(id=id, signal=signal, starts_at=starts, full_at=full, **more)


def where(*cards: SignalCard) -> Where:
    """A chain of cards."""
    return Where(cards=cards)


def small_site(**changes) -> SiteDocument:
    """A piece of ground with a few crates on it, and moss on the crates."""
    crates = Structure(
        id="crates", name="Crates", source=Made(maker=Crates(number=2)), placement=Placement(position=(1, 0, 0))
    )
    moss = CoverLayer(id="moss", name="Moss", cover=Moss(), where=Moss.usual_where(), surfaces=("crates", "ground"))
    values = {"ground": Ground(size=(8, 8), spacing=0.5), "structures": (crates,), "weather": (moss,)}
    return SiteDocument(**(values | changes))


def graph_of(document: SiteDocument | None = None, cache: Cache | None = None) -> Graph:
    """A graph with a memory of its own."""
    return Graph(document or small_site(), cache or memory_cache())


def shape_in(document: SiteDocument, id: str) -> Shape:
    """An object of a site."""
    return graph_of(document).get(ObjectShape(id))


def placed_by(graph: Graph, layer: Scatter | str) -> Placements:
    """What a layer places."""
    return graph.get(LayerPlacements(layer if isinstance(layer, str) else layer.id))


def changed(graph: Graph, **sections) -> Graph:
    """The graph of the same site with other sections, with the same cache."""
    return Graph(graph.document.model_copy(update=sections), graph.cache)


def looked_at(what, scene: MeasuredScene, on: str = "") -> set[str]:
    """The names of what a signal looks at of a scene, on an object or anywhere."""
    around = scene.around
    low, high = scene.objects[on].box if on else (np.full(3, -np.inf), np.full(3, np.inf))
    reached = what.reaches(around, low[None], high[None])[0]
    return {name or kind for (kind, name), yes in zip(around.things, reached, strict=True) if yes}


def welded_edges(mesh: Mesh) -> dict[tuple[int, int], int]:
    """How many triangles use each edge of a mesh whose vertices are shared."""
    counts: dict[tuple[int, int], int] = {}
    for face in mesh.faces:
        for i in range(3):
            edge = tuple(sorted((int(face[i]), int(face[(i + 1) % 3]))))
            counts[edge] = counts.get(edge, 0) + 1
    return counts


def volume(corners: np.ndarray) -> float:
    """Signed volume of a closed surface, m³: positive where its triangles face outwards."""
    c = corners.astype(float)
    return float(np.einsum("mi,mi->m", c[:, 0], np.cross(c[:, 1], c[:, 2])).sum() / 6)
