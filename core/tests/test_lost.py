"""Sites whose files are lost: they stay whole but for what stands in, and are as they were once the files are back."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import graph_of, placed_by, small_site

from cenote.derive.cache import memory_cache
from cenote.derive.ground import GroundHeights
from cenote.derive.lost import lost_sources
from cenote.derive.maps import SurfaceMaps
from cenote.derive.meshes import ObjectMesh
from cenote.derive.sources import source_name
from cenote.derive.store import pack_arrays
from cenote.derive.wanted import fields_of_site
from cenote.geometry.build import block
from cenote.kit.shelf import ImportedItem, OwnItem
from cenote.materials.own import ImportedSet, OwnMaterial
from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import Imported, SiteDocument, Structure
from cenote.site.ground import Ground, HeightMap
from cenote.site.references import BROUGHT, brought

MESH, MAP, MAPS = ("a" * 64, "b" * 64, "c" * 64)


def site_with_files():
    """A site that uses a mesh as an object and as a kit item, a height map and a texture set."""
    return small_site(
        ground=Ground(size=(8, 8), spacing=0.5, height_map=HeightMap(map=MAP, range=(0, 2)), material="own-slabs"),
        materials=(OwnMaterial(id="own-slabs", name="Slabs", source=ImportedSet(maps=MAPS)),),
        kit=(OwnItem(id="own-thing", name="Thing", source=ImportedItem(mesh=MESH)),),
        structures=(Structure(id="barn", name="Barn", source=Imported(mesh=MESH)),),
        planting=(Scatter(id="things", name="Things", density=0.3, mix=(MixItem(item="own-thing"),)),),
        weather=(),
    )


class LostFileTests(unittest.TestCase):
    def test_a_document_tells_what_it_uses_of_what_was_brought_in(self) -> None:
        found = {(one.field, one.family, one.id) for one in brought(site_with_files())}
        self.assertEqual(
            found,
            {
                ("ground/height_map/map", "heights", MAP),
                ("materials/0/source/maps", "maps", MAPS),
                ("kit/0/source/mesh", "mesh", MESH),
                ("structures/0/source/mesh", "mesh", MESH),
            },
        )
        self.assertEqual(list(brought(small_site())), [])

    def test_every_hash_in_a_document_is_declared_as_brought_in(self) -> None:
        definitions = SiteDocument.model_json_schema()["$defs"].values()
        hashes = [
            one
            for kind in definitions
            for one in kind.get("properties", {}).values()
            if "{64}" in one.get("pattern", "")
        ]
        self.assertEqual(len(hashes), 9)
        self.assertEqual({one.get("brought") for one in hashes}, set(BROUGHT))

    def test_a_site_without_its_files_is_shown_with_stand_ins_and_mends_itself(self) -> None:
        cache = memory_cache()
        without = graph_of(site_with_files(), cache)
        self.assertEqual(len(lost_sources(without.document, cache)), 4)
        without.complete(fields_of_site(without), lambda *_: None)
        np.testing.assert_allclose(without.get(ObjectMesh("barn")).bounds, [[-0.5, 0, -0.5], [0.5, 1, 0.5]])
        self.assertGreater(np.ptp(without.get(GroundHeights()).heights), 0.05)
        self.assertGreater(len(placed_by(without, "things").positions), 3)
        base = without.get(SurfaceMaps("ground", 0)).base
        self.assertLess(np.ptp(base[base[..., 3] > 0][:, :3].astype(int), axis=0).max(), 90)

        mesh = block((0, 0, 0), (3, 2, 1))
        heights = np.linspace(0, 1, 64, dtype=np.float32).reshape(8, 8)
        for what, digest, arrays in (
            ("mesh", MESH, mesh.as_arrays()),
            ("heights", MAP, {"heights": heights}),
            ("maps", MAPS, {"tile": np.full((8, 8, 6), 0.5, np.float32)}),
        ):
            cache.sources.write(source_name(what, digest), pack_arrays(arrays))
        again = graph_of(site_with_files(), cache)
        self.assertEqual(lost_sources(again.document, cache), [])
        np.testing.assert_allclose(again.get(ObjectMesh("barn")).bounds, [[-1.5, 0, -0.5], [1.5, 2, 0.5]])
        self.assertNotEqual(again.key(GroundHeights()), without.key(GroundHeights()))
        self.assertGreater(np.ptp(again.get(GroundHeights()).heights), 1)


if __name__ == "__main__":
    unittest.main()
