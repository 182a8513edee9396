"""``kit.build``: all kit items, all variants and levels of detail, with their pictures of leaves."""

from __future__ import annotations

from collections.abc import Iterator

from measuring import Figure, seconds

from cenote.derive.cache import Cache
from cenote.derive.graph import Graph
from cenote.derive.items import ItemPack
from cenote.derive.store import MemoryStore
from cenote.geometry.build import sphere
from cenote.kit.base import DETAILS, KIT
from cenote.registry import kind_of
from cenote.site.document import SiteDocument


def figures() -> Iterator[Figure]:
    """Seconds and MB, and the time for as many plain spheres beside it."""
    sizes: list[int] = []

    def build() -> None:
        store = MemoryStore()
        graph = Graph(SiteDocument(), Cache(store))
        for item in KIT:
            item(kind=kind_of(item)).card()
            for detail in DETAILS:
                graph.get(ItemPack(kind_of(item), detail))
        sizes.append(sum(len(content) for content in store.content.values()))

    taken = seconds(build, times=1)
    variants = sum(item.variants for item in KIT)
    yield Figure(
        "kit.build", taken, "s", f" for {len(KIT)} items, {variants} variants, {len(DETAILS)} levels of detail"
    )
    yield Figure("kit.build.size", sizes[-1] / 1e6, "MB")
    spheres = seconds(lambda: [sphere(24, 32) for _ in range(variants)], times=1)
    yield Figure("kit.build.ratio", taken / spheres, "×", " the time of one plain sphere for each variant")
