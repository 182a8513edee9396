"""What is looked at from near: patches come once the view is at rest, and are sharper than what was there."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from browsing import BrowserCase
from PIL import Image

from cenote.materials.own import OwnMaterial, OwnRecipe
from cenote.materials.patterns.ridges import Ridges
from cenote.materials.recipe import ColourUse, Drawn, PatternLayer
from cenote.site.document import Light, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall

NEAR = Shot(id="near", position=(0.2, 0.5, 0.9), target=(0, 0.45, 0), lens=33)
# As far on the other side: it is another view, and back from there all is there still.
OTHER = Shot(id="other", position=(0.2, 0.5, -0.9), target=(0, 0.45, 0), lens=33)


def wall() -> SiteDocument:
    """A brick wall, and the camera in front of it."""
    source = Made(maker=Wall(length=3, height=1))
    structure = Structure(id="wall", name="Wall", source=source, placement=Placement(position=(0, 0, 0)))
    return SiteDocument(ground=Ground(size=(6, 6), spacing=0.5, relief=0), structures=(structure,), shots=(NEAR, OTHER))


# Over the floor from low above it: texels of a millimetre at the feet, of centimetres further off.
GRAZING = Shot(id="grazing", position=(0.3, 0.4, 3), target=(0.1, 0.1, 1.9), lens=33)


def waves() -> SiteDocument:
    """A level floor in even waves of light and dark: nothing in it changes suddenly."""
    bands = PatternLayer(
        drawn=Drawn(pattern=Ridges(spread=0.08)), colour=ColourUse(low=(0.2, 0.2, 0.2), high=(0.45, 0.45, 0.45))
    )
    recipe = OwnRecipe(size=0.64, depth=0, uneven=0, layers=(bands,))
    return SiteDocument(
        ground=Ground(size=(6, 6), spacing=1, relief=0, material="own-waves", goes_on=False),
        materials=(OwnMaterial(id="own-waves", source=recipe),), shots=(GRAZING,), light=Light(height=60),
    )  # fmt: skip


class NearTests(BrowserCase):
    def come(self) -> dict[str, Any]:
        """What the last rest asked for, once all of it is there."""
        self.page.wait_for_function("() => performance.getEntriesByName('cenote-patches-there').length > 0")
        told: dict[str, Any] = self.page.evaluate("performance.getEntriesByName('cenote-patches').at(-1).detail")
        self.page.evaluate("performance.clearMarks()")
        return told

    def steps(self) -> float:
        """How much neighbouring pixels of the picture's middle differ."""
        self.canvas()
        shot = self.page.locator("canvas").screenshot()
        picture = np.asarray(Image.open(io.BytesIO(shot)).convert("L"), float)
        middle = picture[picture.shape[0] // 3 : -picture.shape[0] // 3, picture.shape[1] // 3 : -picture.shape[1] // 3]
        return float(np.abs(np.diff(middle, axis=1)).mean())

    def test_no_seam_is_seen_between_patches_of_different_levels(self) -> None:
        self.open_site(self.make_site(waves()))
        self.page.get_by_role("combobox", name="Finest texel").click()
        self.page.get_by_role("option", name="Near: down to 1 mm").click()
        told = self.come()
        self.assertGreaterEqual(len(told["levels"]), 2, told)
        self.page.wait_for_timeout(1500)
        self.canvas()
        shot = self.page.locator("canvas").screenshot()
        picture = np.asarray(Image.open(io.BytesIO(shot)).convert("L"), float)
        # Waves are wide there in pixels.
        floor = picture[picture.shape[0] // 2 :, picture.shape[1] // 4 : -picture.shape[1] // 4]
        self.assertGreater(np.ptp(floor), 30, "the waves are seen")
        for axis in (0, 1):
            # Waves bend by a few greys from pixel to pixel; where patches do not fit, lines stand out.
            bent = np.abs(np.diff(floor, 2, axis=axis))
            self.assertLessEqual(bent.max(), 10)

    def test_a_wall_is_sharp_from_near_and_what_was_seen_is_kept(self) -> None:
        self.open_site(self.make_site(wall()))
        before = self.steps()
        self.page.get_by_role("combobox", name="Finest texel").click()
        self.page.get_by_role("option", name="Near: down to 1 mm").click()
        told = self.come()
        self.assertGreater(told["missing"], 4)
        self.page.wait_for_timeout(1500)
        self.assertGreater(self.steps(), 1.3 * before)
        for shot in ("other", "near"):
            self.page.get_by_role("combobox", name="Shot").click()
            self.page.get_by_role("option").nth(("near", "other").index(shot)).click()
            told = self.come()
        self.assertEqual(told["missing"], 0)
