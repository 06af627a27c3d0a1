"""Overlays in decks: real shapes in the right place, found again, read by another library."""

import io
import math
import unittest
import zipfile
from dataclasses import replace
from pathlib import Path

import numpy as np
from lxml import etree
from PIL import Image
from pptx import Presentation
from pptx.util import Pt

from high_pair.colour.srgb import hex_of
from high_pair.edits.kinds import LayOver, RecolourText, TakeOff
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.overlaying import overlay_edits, overlays_for, overlays_on_pages
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind, pixel_centres
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import NS, DeckFolder, body, pairs_of, png, ratio_by_hand, run, shape, solid, xfrm

WHITE_TEXT = solid("FFFFFF")
TEXT_PLACE = xfrm(100, 60, 300, 80)


def clouds(seed: int = 4, light: float = 1.0) -> bytes:
    """Make a bright picture, soft in light and dark."""
    random = np.random.default_rng(seed)
    small = np.uint8(random.integers(120, 235, (6, 8, 3)) * light)
    return png(np.asarray(Image.fromarray(small).resize((640, 480), Image.Resampling.BICUBIC)))


def group(inner: str, place: str) -> str:
    """Write a group; place: the inside of its xfrm, with its attributes before it."""
    attributes, _, sides = place.partition("|")
    return (
        '<p:grpSp><p:nvGrpSpPr><p:cNvPr id="50" name="Group"/><p:cNvGrpSpPr/><p:nvPr/>'
        f"</p:nvGrpSpPr><p:grpSpPr><a:xfrm {attributes}>{sides}</a:xfrm></p:grpSpPr>"
        f"{inner}</p:grpSp>"
    )


def title(text: str = "Foot passengers", place: str = TEXT_PLACE) -> str:
    return shape(body(run(text, 'sz="3200"', WHITE_TEXT)), place=place)


class OverlayTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def photo_deck(self, *slides: str) -> Path:
        """Write a deck by another library, each slide a picture with shapes over it."""
        deck = Presentation()
        for number, shapes in enumerate(slides):
            slide = deck.slides.add_slide(deck.slide_layouts[6])
            photograph = clouds(4 + number, 1 - 0.1 * number)
            slide.shapes.add_picture(io.BytesIO(photograph), 0, 0, Pt(720), Pt(540))
            tree = etree.fromstring(f"<tree {NS}>{shapes}</tree>")
            slide.shapes._spTree.extend(list(tree))
        path = self.folder.path / "deck.pptx"
        deck.save(str(path))
        return path

    def proposed(self, path, number: int = 0):
        document = open_document(path)
        self.addCleanup(document.close)
        bench = PageBench()
        pair = bench.get(document, 0, Asked()).pairs[number]
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        return document, overlays_for(pair, document, bench, Asked(), document.edited)

    def saved(self, document, edits, name: str = "copy.pptx"):
        target = self.folder.path / name
        document.edited(edits).save(target)
        return target


class Written(OverlayTest):
    def test_every_kind_passes_in_the_saved_file_as_was_shown(self):
        document, laid = self.proposed(self.photo_deck(title()))
        self.assertEqual(
            {each.kind for each in laid}, {"plate", "soft plate", "veil", "ramp", "dim"}
        )
        for each in laid:
            target = self.saved(document, overlay_edits(each), f"{each.kind}.pptx")
            (pair,) = pairs_of(target)
            self.assertIs(pair.verdict, Verdict.PASSES, each.kind)
            self.assertAlmostEqual(pair.ratio, each.ratio, delta=0.05)

    def test_one_percent_less_falls_short(self):
        document, laid = self.proposed(self.photo_deck(title()))
        plate = next(each for each in laid if each.kind == "plate")
        (edit,) = overlay_edits(plate)
        weaker = LayOver(
            edit.address,
            Overlay(
                edit.overlay.kind,
                edit.overlay.box,
                edit.overlay.levels,
                edit.overlay.percent - 1,
                edit.overlay.rounding,
            ),
        )
        (pair,) = measured(document.edited([weaker]), 0, Asked()).pairs
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)

    def test_another_library_sees_the_overlay_between_picture_and_text(self):
        document, laid = self.proposed(self.photo_deck(title(place=xfrm(100, 60, 400, 120))))
        for each in laid:
            if each.kind == "dim":
                continue
            target = self.saved(document, overlay_edits(each), f"{each.kind}.pptx")
            shapes = list(Presentation(str(target)).slides[0].shapes)
            self.assertEqual(len(shapes), 3)
            layer = shapes[1]
            self.assertTrue(layer.name.startswith(each.kind.capitalize()))
            self.assertTrue(shapes[2].has_text_frame)
            box = each.overlay.box
            self.assertAlmostEqual(layer.left / 12700, box.x, delta=0.01)
            self.assertAlmostEqual(layer.height / 12700, box.height, delta=0.01)
            self.assertEqual(layer.line.fill.type, 5)  # no fill
            if each.kind in ("plate", "veil"):
                self.assertEqual(str(layer.fill.fore_color.rgb), hex_of(each.overlay.levels)[1:])

    def test_a_dimmed_picture_lets_a_ground_through_and_is_dimmed_anew_not_twice(self):
        document, laid = self.proposed(self.photo_deck(title()))
        dim = next(each for each in laid if each.kind == "dim")
        first = self.saved(document, overlay_edits(dim), "first.pptx")
        shapes = list(Presentation(str(first)).slides[0].shapes)
        self.assertEqual(len(shapes), 3)
        ground, photograph = shapes[:2]
        self.assertEqual(
            (ground.left, ground.width, ground.height),
            (photograph.left, photograph.width, photograph.height),
        )
        (amount,) = photograph._element.xpath(".//a:alphaModFix/@amt")
        self.assertEqual(int(amount), (100 - dim.overlay.percent) * 1000)
        again = open_document(first)
        self.addCleanup(again.close)
        pair = measured(again, 0, Asked()).pairs[0]
        self.assertEqual(pair.address, dim.serves[0])
        stronger = replace(dim.overlay, levels=(0, 0, 0), percent=90)
        second = self.saved(again, [LayOver(dim.address, stronger)], "second.pptx")
        photograph = list(Presentation(str(second)).slides[0].shapes)[1]
        self.assertEqual(photograph._element.xpath(".//a:alphaModFix/@amt"), ["10000"])
        self.assertGreater(pairs_of(second)[0].ratio, pair.ratio)
        bare = self.saved(again, [TakeOff(dim.address)], "bare.pptx")
        self.assertEqual(len(Presentation(str(bare)).slides[0].shapes), 2)
        self.assertIs(pairs_of(bare)[0].verdict, Verdict.FALLS_SHORT)

    def test_a_plate_of_turned_text_is_turned_with_it_and_no_larger_than_it_needs(self):
        _, upright = self.proposed(self.photo_deck(title(place=xfrm(200, 200, 320, 60))))
        straight = {each.kind: each.overlay.box for each in upright}
        for degrees in (20, 330, 90):
            place = xfrm(200, 200, 320, 60).replace("<a:xfrm", f'<a:xfrm rot="{degrees * 60000}"')
            document, laid = self.proposed(self.photo_deck(title(place=place)))
            for each in laid:
                if each.kind not in ("plate", "soft plate"):
                    continue
                target = self.saved(document, overlay_edits(each), f"{each.kind}{degrees}.pptx")
                layer = list(Presentation(str(target)).slides[0].shapes)[1]
                self.assertAlmostEqual(layer.rotation, degrees)
                # The same text needs the same plate whichever way it runs.
                self.assertAlmostEqual(layer.width / 12700, straight[each.kind].width, delta=4)
                self.assertAlmostEqual(layer.height / 12700, straight[each.kind].height, delta=4)
                (pair,) = pairs_of(target)
                self.assertIs(pair.verdict, Verdict.PASSES)
                self.assertAlmostEqual(pair.ratio, each.ratio, delta=0.05)

    def test_a_plate_hardly_smaller_than_its_text_box_is_the_boxs_own_fill_and_goes_with_it(self):
        for attributes in ("", 'rot="1200000"'):
            path = self.photo_deck(title(place=xfrm(200, 100, 290, 52, attributes)))
            document, laid = self.proposed(path)
            plate = next(each for each in laid if each.kind == "plate")
            target = self.saved(document, overlay_edits(plate))
            copy = Presentation(str(target))
            _, text = copy.slides[0].shapes
            self.assertEqual(str(text.fill.fore_color.rgb), hex_of(plate.overlay.levels)[1:])
            alpha = text._element.xpath("p:spPr/a:solidFill//a:alpha/@val")
            self.assertEqual(alpha, [str(plate.overlay.percent * 1000)])
            (pair,) = pairs_of(target)
            self.assertIs(pair.verdict, Verdict.PASSES)
            self.assertAlmostEqual(pair.ratio, plate.ratio, delta=0.05)
            text.left, text.top = Pt(300), Pt(380)
            moved = self.folder.path / "moved.pptx"
            copy.save(str(moved))
            # What is behind it there is another part of the picture, and the plate is there too.
            self.assertGreater(pairs_of(moved)[0].ratio, 0.85 * pair.required)

    def test_a_plate_is_a_shape_of_its_own_where_the_text_box_is_large_or_filled_or_oval(self):
        words = body(run("Foot passengers", 'sz="3200"', WHITE_TEXT))
        tight = xfrm(200, 100, 290, 52)
        for place, more in (
            (xfrm(60, 60, 500, 300), {}),
            (tight, {"geometry": "ellipse"}),
            (xfrm(200, 100, 290, 20), {}),
        ):
            _, laid = self.proposed(self.photo_deck(shape(words, place=place, **more)))
            self.assertFalse(any(each.overlay.bound for each in laid))

    def test_it_is_marked_as_decorative(self):
        document, laid = self.proposed(self.photo_deck(title()))
        target = self.saved(document, overlay_edits(laid[0]))
        with zipfile.ZipFile(target) as package:
            slide = package.read("ppt/slides/slide1.xml").decode()
        self.assertRegex(slide, r'<adec:decorative [^>]*val="1"')

    def test_a_ramp_from_a_corner_fades_along_the_diagonal_as_it_was_worked_out(self):
        document, laid = self.proposed(self.photo_deck(title()))
        slant = math.degrees(math.atan2(540, 720))
        box = Box(0, 0, 720, 540)
        for towards in (slant, 180 - slant, 180 + slant, 360 - slant):
            ramp = Overlay(
                OverlayKind.RAMP, box, (255, 0, 0), 80, towards=towards, full=0.3, none=0.9
            )
            edited = document.edited([LayOver(laid[0].address, ramp)])
            raster = measured(edited, 0, Asked()).raster
            bare = measured(document, 0, Asked()).raster.backdrop.astype(float)
            height, width = bare.shape[:2]
            x, y = pixel_centres((slice(0, height), slice(0, width)), raster.scale)
            opacity = ramp.shares_at(x, y)[..., None] * 0.8
            expected = bare * (1 - opacity) + np.array([255, 0, 0]) * opacity
            off = np.abs(raster.backdrop.astype(float) - expected)
            self.assertLess(np.quantile(off, 0.99), 2.5, towards)

    def test_laid_again_it_is_changed_and_not_stacked(self):
        path = self.photo_deck(title())
        document, laid = self.proposed(path)
        first = self.saved(document, overlay_edits(laid[0]), "first.pptx")
        again = open_document(first)
        self.addCleanup(again.close)
        stronger = Overlay(OverlayKind.PLATE, Box(90, 50, 320, 100), (0, 0, 0), 90)
        address = again.overlay_address(measured(again, 0, Asked()).pairs[0].address)
        second = self.saved(again, [LayOver(address, stronger)], "second.pptx")
        self.assertEqual(len(Presentation(str(second)).slides[0].shapes), 3)
        (pair,) = pairs_of(second)
        self.assertGreater(pair.ratio, 12)

    def test_taken_off_the_slide_is_as_it_was(self):
        path = self.photo_deck(title())
        document, laid = self.proposed(path)
        copy = open_document(self.saved(document, overlay_edits(laid[0])))
        self.addCleanup(copy.close)
        bare = self.saved(copy, [TakeOff(laid[0].address)], "bare.pptx")
        self.assertEqual(pairs_of(bare)[0].ratio, pairs_of(path)[0].ratio)

    def test_addresses_of_texts_stay_the_same(self):
        two = title() + title("Cars and vans", xfrm(100, 300, 300, 80))
        document, laid = self.proposed(self.photo_deck(two))
        before = [pair.address for pair in measured(document, 0, Asked()).pairs]
        edited = document.edited(overlay_edits(laid[0]))
        self.assertEqual([pair.address for pair in measured(edited, 0, Asked()).pairs], before)
        # A recolouring decided before still reaches its text.
        both = document.edited([RecolourText(before[1], (0, 0, 0)), *overlay_edits(laid[0])])
        pairs = measured(both, 0, Asked()).pairs
        self.assertEqual(pairs[1].numbers.foreground, "#000000")

    def test_a_second_save_without_changes_is_byte_identical(self):
        document, laid = self.proposed(self.photo_deck(title()))
        first = self.saved(document, overlay_edits(laid[0]), "first.pptx")
        second = self.folder.path / "second.pptx"
        again = open_document(first)
        self.addCleanup(again.close)
        again.save(second)
        self.assertEqual(first.read_bytes(), second.read_bytes())

    def test_an_address_that_is_not_there_is_refused(self):
        document, _ = self.proposed(self.photo_deck(title()))
        plate = Overlay(OverlayKind.PLATE, Box(0, 0, 9, 9), (0, 0, 0), 50)
        for address in ("ppt/slides/slide1.xml#sp=99/overlay=1", "ppt/slides/none.xml#sp=1"):
            with self.assertRaises(EditError):
                document.edited([LayOver(address, plate)])


class Places(OverlayTest):
    def test_in_a_group_it_stands_in_the_groups_own_coordinates(self):
        inner = title(place=xfrm(10, 10, 300, 80))
        shapes = group(
            inner,
            '|<a:off x="1270000" y="635000"/><a:ext cx="5080000" cy="2540000"/>'
            '<a:chOff x="0" y="0"/><a:chExt cx="10160000" cy="5080000"/>',
        )
        document, laid = self.proposed(self.photo_deck(shapes))
        plate = next(each for each in laid if each.kind == "plate")
        target = self.saved(document, overlay_edits(plate))
        shapes = Presentation(str(target)).slides[0].shapes
        members = list(shapes[1].shapes)
        self.assertEqual(len(members), 2)
        # The group shows its children at half their size.
        self.assertAlmostEqual(members[0].width / 12700 / 2, plate.overlay.box.width, delta=0.01)
        self.assertIs(pairs_of(target)[0].verdict, Verdict.PASSES)

    def test_in_a_turned_group_it_goes_below_the_group(self):
        inner = title(place=xfrm(10, 10, 300, 80))
        shapes = group(
            inner,
            'rot="1200000"|<a:off x="1270000" y="2540000"/><a:ext cx="5080000" cy="1270000"/>'
            '<a:chOff x="0" y="0"/><a:chExt cx="5080000" cy="1270000"/>',
        )
        document, laid = self.proposed(self.photo_deck(shapes))
        target = self.saved(document, overlay_edits(laid[0]))
        names = [each.name for each in Presentation(str(target)).slides[0].shapes]
        self.assertEqual(names[2], "Group")
        self.assertIs(pairs_of(target)[0].verdict, Verdict.PASSES)

    def test_texts_of_one_turned_group_have_an_overlay_each(self):
        one = title("One", xfrm(10, 10, 300, 60))
        two = title("Two", xfrm(10, 80, 300, 60))
        shapes = group(
            one + two,
            'rot="600000"|<a:off x="1270000" y="2540000"/><a:ext cx="5080000" cy="1905000"/>'
            '<a:chOff x="0" y="0"/><a:chExt cx="5080000" cy="1905000"/>',
        )
        document, _ = self.proposed(self.photo_deck(shapes))
        pairs = measured(document, 0, Asked()).pairs
        edits = [
            LayOver(
                document.overlay_address(pair.address),
                Overlay(OverlayKind.PLATE, Box(*pair.bbox).grown(12), (0, 0, 0), 80),
            )
            for pair in pairs
        ]
        both = document.edited(edits)
        after = measured(both, 0, Asked()).pairs
        self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in after))
        copy = open_document(self.saved(document, edits))
        self.addCleanup(copy.close)
        one_left = measured(copy.edited([TakeOff(edits[0].address)]), 0, Asked()).pairs
        self.assertIs(one_left[0].verdict, Verdict.FALLS_SHORT)
        self.assertIs(one_left[1].verdict, Verdict.PASSES)

    def test_beside_alternate_content_it_stands_below_all_of_it(self):
        alternate = (
            '<mc:AlternateContent xmlns:mc="http://schemas.openxmlformats.org/markup-'
            'compatibility/2006"><mc:Choice Requires="a14">'
            + title("New", place=TEXT_PLACE)
            + "</mc:Choice><mc:Fallback>"
            + title("Old", place=TEXT_PLACE)
            + "</mc:Fallback></mc:AlternateContent>"
        )
        document, laid = self.proposed(self.photo_deck(alternate))
        plate = next(each for each in laid if each.kind == "plate")
        target = self.saved(document, overlay_edits(plate))
        tree = Presentation(str(target)).slides[0].shapes._spTree
        names = [each.tag.rpartition("}")[2] for each in tree]
        self.assertEqual(names[-3:], ["pic", "sp", "AlternateContent"])
        (pair,) = pairs_of(target)
        self.assertEqual((pair.text, pair.verdict), ("New", Verdict.PASSES))

    def test_in_a_group_without_extent_it_says_so(self):
        inner = title(place=xfrm(10, 10, 300, 80))
        shapes = group(
            inner,
            '|<a:off x="0" y="0"/><a:ext cx="0" cy="0"/>'
            '<a:chOff x="0" y="0"/><a:chExt cx="5080000" cy="1270000"/>',
        )
        document = open_document(self.photo_deck(shapes))
        self.addCleanup(document.close)
        plate = Overlay(OverlayKind.PLATE, Box(0, 0, 9, 9), (0, 0, 0), 50)
        with self.assertRaisesRegex(EditError, "no extent"):
            document.edited([LayOver("ppt/slides/slide1.xml#sp=2/overlay=1", plate)])

    def test_it_is_never_painted_over_a_text_that_stands_below_the_one_it_serves(self):
        heading = title("Sailing times", place=xfrm(100, 60, 400, 60))
        beside = title("Winter only", place=xfrm(100, 96, 400, 60))
        dark = shape(
            body(run("from 3 November", 'sz="2400"', solid("000000"))),
            place=xfrm(100, 130, 400, 60),
        )
        for shapes in (heading + beside, dark + beside + heading, dark + heading):
            path = self.photo_deck(shapes)
            document = open_document(path)
            self.addCleanup(document.close)
            bench = PageBench()
            before = bench.get(document, 0, Asked())
            falling = [p for p in before.pairs if p.verdict is Verdict.FALLS_SHORT]
            found = overlays_for(falling[-1], document, bench, Asked(), document.edited)
            self.assertIn("plate", {each.kind for each in found})
            for each in found:
                after = measured(document.edited(overlay_edits(each)), 0, Asked())
                for pair in after.pairs:
                    prints = after.footprints[pair.id]
                    self.assertTrue(all(p.above is None for p in prints), (each.kind, pair.text))

    def test_texts_so_close_that_one_plate_lies_behind_both_have_one(self):
        heading = title("Sailing times", place=xfrm(100, 60, 400, 60))
        beside = title("Winter only", place=xfrm(100, 96, 400, 60))
        far = title("Quay 2", place=xfrm(100, 400, 400, 60))
        document, laid = self.proposed(self.photo_deck(heading + beside + far), 1)
        plate = next(each for each in laid if each.kind == "soft plate")
        self.assertEqual(len(plate.serves), 2)
        after = {
            p.text: p for p in measured(document.edited(overlay_edits(plate)), 0, Asked()).pairs
        }
        self.assertIs(after["Sailing times"].verdict, Verdict.PASSES)
        self.assertIs(after["Winter only"].verdict, Verdict.PASSES)
        self.assertIs(after["Quay 2"].verdict, Verdict.FALLS_SHORT)

    def test_a_plate_has_room_for_another_fonts_letters_and_for_one_more_line(self):
        known = '<a:latin typeface="Carlito"/>'
        other = '<a:latin typeface="A face of their own"/>'

        def plate(inner: str, width: float) -> Box:
            words = body(run("Foot passengers board", 'sz="3200"', WHITE_TEXT + inner))
            path = self.photo_deck(shape(words, place=xfrm(60, 60, width, 120)))
            _, laid = self.proposed(path)
            return next(each.overlay.box for each in laid if each.kind == "plate")

        own, wider = plate(known, 600), plate(other, 600)
        narrow = plate(other, 360)
        ink = own.width - 2 * 0.4 * 32
        self.assertGreaterEqual(wider.right, own.x + 0.4 * 32 + 1.1 * ink)
        self.assertAlmostEqual(wider.height, own.height, delta=8)
        self.assertGreater(narrow.height, wider.height + 32)

    def test_one_veil_serves_all_that_falls_short_over_the_picture(self):
        two = title() + title("Cars and vans", xfrm(100, 300, 300, 80))
        document, laid = self.proposed(self.photo_deck(two))
        veil = next(each for each in laid if each.kind == "veil")
        self.assertEqual(len(veil.serves), 2)
        pairs = pairs_of(self.saved(document, overlay_edits(veil)))
        self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in pairs))

    def test_dark_text_on_the_same_picture_is_not_broken(self):
        dark = shape(
            body(run("Dark words", 'sz="3200"', solid("000000"))), place=xfrm(100, 400, 300, 80)
        )
        document, laid = self.proposed(self.photo_deck(title() + dark))
        for each in laid:
            pairs = measured(document.edited(overlay_edits(each)), 0, Asked()).pairs
            self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in pairs), each.kind)

    def test_a_text_with_a_fill_of_its_own_gets_no_overlay_that_its_fill_hides(self):
        path = self.photo_deck(
            shape(body(run("Words", "", WHITE_TEXT)), fill=solid("DDDDDD"), place=TEXT_PLACE)
        )
        _, laid = self.proposed(path)
        self.assertEqual(laid, ())

    def test_where_no_overlay_serves_the_colour_the_text_changes_too(self):
        # Mid grey reaches 7 on nothing but black or white, and not even there.
        path = self.photo_deck(
            shape(body(run("Words", 'sz="1200"', solid("808080"))), place=TEXT_PLACE)
        )
        document = open_document(path)
        self.addCleanup(document.close)
        asked = Asked(type(Asked().level)("AAA"))
        bench = PageBench()
        pair = bench.get(document, 0, asked).pairs[0]
        (laid,) = overlays_for(pair, document, bench, asked, document.edited)
        self.assertIn(laid.text, ((0, 0, 0), (255, 255, 255)))
        after = measured(document.edited(overlay_edits(laid)), 0, asked).pairs[0]
        self.assertIs(after.verdict, Verdict.PASSES)

    def test_on_a_plain_page_the_ratio_is_what_arithmetic_says(self):
        path = self.folder.deck(shape(body(run("Words", 'sz="3200"', solid("BBBBBB")))))
        _, laid = self.proposed(path)
        plate = next(each for each in laid if each.kind == "plate")
        share = plate.overlay.percent / 100
        mixed = (int(255 * (1 - share) + level * share + 0.5) for level in plate.overlay.levels)
        own = ratio_by_hand("BBBBBB", "".join(f"{level:02X}" for level in mixed))
        self.assertAlmostEqual(plate.ratio, own, places=4)
        self.assertNotIn("veil", [each.kind for each in laid])


class Carried(OverlayTest):
    def test_to_alike_texts_on_other_pages_each_solved_for_its_own_picture(self):
        path = self.photo_deck(title(), title())
        document = open_document(path)
        self.addCleanup(document.close)
        bench = PageBench()
        pairs: list[Pair] = []
        for page in range(len(document.pages)):
            pairs += bench.get(document, page, Asked()).pairs
        self.assertTrue(all(pair.verdict is Verdict.FALLS_SHORT for pair in pairs))
        laid = overlays_for(pairs[0], document, bench, Asked(), document.edited)
        plate = next(each for each in laid if each.kind == "plate")
        edits = overlays_on_pages(plate, pairs, document, bench, Asked(), document.edited)
        self.assertEqual(len(edits), 2)
        self.assertNotEqual(edits[0].overlay.percent, edits[1].overlay.percent)
        alike = overlays_on_pages(
            plate, pairs, document, bench, Asked(), document.edited, one_strength=True
        )
        strongest = max(edit.overlay.percent for edit in edits)
        self.assertEqual([edit.overlay.percent for edit in alike], [strongest] * 2)
        mended = document.edited(edits)
        for page in range(2):
            (pair,) = measured(mended, page, Asked()).pairs
            self.assertIs(pair.verdict, Verdict.PASSES)


if __name__ == "__main__":
    unittest.main()
