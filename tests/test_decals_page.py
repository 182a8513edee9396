"""Decals on the page: laid by a press, sized by a drag, moved by grips and keys, shown by the view."""

from __future__ import annotations

import io
import math

import numpy as np
from browsing import BrowserCase, changed
from PIL import Image
from playwright.sync_api import expect

from cenote.decals.road_marking import RoadMarking
from cenote.geometry.pose import Pose
from cenote.site.decals import PlacedDecal
from cenote.site.document import Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall

SHOT = Shot(id="front", position=(0, 2.2, 6), target=(0, 0.6, 0), lens=29)


def yard(*decals: PlacedDecal) -> SiteDocument:
    """Level ground with a wall, seen from the front."""
    wall = Structure(id="wall", name="Wall", source=Made(maker=Wall()), placement=Placement(position=(0, 0, -0.6)))
    return SiteDocument(
        ground=Ground(size=(8, 8), spacing=0.5, relief=0), structures=(wall,), decals=decals, shots=(SHOT,)
    )


class DecalTests(BrowserCase):
    def lay(self, kind: str) -> None:
        """Take a new decal in the hand."""
        self.page.get_by_role("button", name="Add a decal").click()
        self.choose(f"{kind}: press where it goes")

    def test_a_decal_is_laid_by_a_press_on_a_wall_and_undone(self) -> None:
        site = self.make_site(yard())
        page = self.page = self.open_site(site)
        page.wait_for_timeout(500)
        before = self.canvas()
        self.lay("Stencilled letters")
        page.mouse.move(*self.seen_at(SHOT, (0.4, 0.7, -0.5), page))
        page.mouse.down()
        page.mouse.up()
        self.saved()
        (decal,) = self.document_of(site)["decals"]
        self.assertEqual((decal["object"], decal["decal"]["kind"], decal["placement"]["tip"]), ("wall", "stencil", 90))
        self.assertLess(abs(decal["placement"]["position"][1] - 0.7), 0.15)
        expect(
            page.get_by_label("Column").get_by_role("button", name="Stencilled letters", exact=True)
        ).to_have_attribute("aria-pressed", "true")
        # Its letters are seen once its box is not in the way.
        page.get_by_label("Column").get_by_role("button", name="Wall", exact=True).click()
        self.eventually(lambda: changed(before, self.canvas()) > 0.002, "letters are on the wall")
        self.sound(page, "a decal on the bench")
        page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.document_of(site)["decals"] == [], "it is undone")

    def test_a_second_press_picks_what_lies_on_an_object(self) -> None:
        pose = Pose(position=(0, 0.3, -0.45), tip=90)
        sign = PlacedDecal(id="sign", name="Sign", decal=RoadMarking(), placement=pose, width=1, height=1, reach=1.2)
        page = self.page = self.open_site(self.make_site(yard(sign)))
        column = page.get_by_label("Column")
        at = self.seen_at(SHOT, (0.1, 0.3, -0.45), page)
        for name in ("Wall", "Sign", "Wall"):
            page.mouse.click(*at)
            row = column.get_by_role("button", name=name, exact=True)
            expect(row).to_have_attribute("aria-pressed", "true")
            # Not a double click, which centres the view.
            page.wait_for_timeout(700)

    def test_a_drag_sizes_a_new_one_and_grips_and_keys_change_it(self) -> None:
        site = self.make_site(yard())
        page = self.page = self.open_site(site)
        page.wait_for_timeout(500)
        self.lay("Pothole")
        page.mouse.move(*self.seen_at(SHOT, (-1, 0, 1.5), page))
        page.mouse.down()
        page.mouse.move(*self.seen_at(SHOT, (0, 0, 1.5), page), steps=6)
        page.mouse.up()
        self.saved()

        def decal() -> dict:
            return self.document_of(site)["decals"][0]

        laid = decal()
        self.assertEqual(laid["object"], "")
        self.assertLess(
            abs(math.hypot(laid["width"], laid["height"]) - 2), 0.25, "its corner came as far as the pointer"
        )
        # The middle slides it over what it lies on.
        page.wait_for_timeout(800)
        page.mouse.move(*self.seen_at(SHOT, tuple(laid["placement"]["position"]), page))
        page.mouse.down()
        page.mouse.move(*self.seen_at(SHOT, (1, 0, 2), page), steps=6)
        page.mouse.up()
        self.saved()
        x, _, z = decal()["placement"]["position"]
        self.assertLess(math.hypot(x - 1, z - 2), 0.2)
        page.get_by_label("View", exact=True).focus()
        page.keyboard.press(",")
        self.saved()
        self.assertAlmostEqual(decal()["spin"], laid["spin"] + 5, delta=0.1)
        page.keyboard.press("Delete")
        self.saved()
        self.assertEqual(self.document_of(site)["decals"], [])

    def test_a_picture_of_ones_own_is_shown(self) -> None:
        red = PlacedDecal(
            id="own",
            name="Notice",
            decal=RoadMarking(),
            object="wall",
            placement=Pose(position=(0, 0.7, 0.2), tip=90),
            width=1,
            height=1,
            reach=0.6,
        )
        site = self.make_site(yard(red))
        page = self.page = self.open_site(site)
        self.pick("Notice")
        bench = page.get_by_label("Bench")
        bench.get_by_role("combobox", name="Shows").click()
        page.get_by_role("option", name="Own picture").click()
        stream = io.BytesIO()
        Image.fromarray(np.full((20, 40, 3), (250, 10, 10), np.uint8)).save(stream, "PNG")
        bench.get_by_label("Picture file").set_input_files(
            {"name": "notice.png", "mimeType": "image/png", "buffer": stream.getvalue()}
        )
        expect(bench.get_by_text("notice.png")).to_be_visible()
        self.saved()
        decal = self.document_of(site)["decals"][0]
        self.assertAlmostEqual(decal["width"] / decal["height"], 2, delta=0.01)
        page.get_by_label("Column").get_by_role("button", name="Wall", exact=True).click()

        def is_red() -> bool:
            seen = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
            return bool(((seen[..., 0] > 90) & (seen[..., 0] > 2 * seen[..., 1])).mean() > 0.004)

        self.eventually(is_red, "the picture is on the wall")
        bench = page.get_by_label("Bench")
        self.pick("Notice")
        bench.get_by_label("Picture file").set_input_files(
            {"name": "broken.png", "mimeType": "image/png", "buffer": b"no picture"}
        )
        expect(bench.get_by_role("alert")).to_contain_text("not a picture")
        self.assertEqual(self.document_of(site)["decals"][0]["decal"]["file_name"], "notice.png")
