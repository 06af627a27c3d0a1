"""Overlays in OpenDocument slides: real shapes below the text, read by another library."""

import math
import unittest
import zipfile
from dataclasses import replace

import numpy as np
from lxml import etree
from odfdo import Document as OdfdoDocument
from PIL import Image

from high_pair.edits.kinds import LayOver, RecolourOrigin, TakeOff
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for
from high_pair.review.origins import remedies_at
from high_pair.review.overlaying import overlay_edits, overlays_for
from high_pair.review.surroundings import backdrops_for, restyles_for
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind, pixel_centres
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import pairs_of, png
from tests.odf_decks import OdfTest, frame, graphic, style, text

PHOTOGRAPH = (
    '<draw:frame draw:name="Photograph" svg:x="0cm" svg:y="0cm" svg:width="24cm" '
    'svg:height="13.5cm"><draw:image xlink:href="Pictures/p.png"/></draw:frame>'
)
STYLES = style("Bare", "graphic", graphic('draw:fill="none" draw:stroke="none"')) + style(
    "White", "text", text('fo:color="#ffffff" fo:font-size="32pt"')
)


def words(text_of: str, place: str = "") -> str:
    span = f'<text:p><text:span text:style-name="White">{text_of}</text:span></text:p>'
    return frame(span, 'draw:style-name="Bare"', place)


class Overlays(OdfTest):
    def setUp(self) -> None:
        super().setUp()
        random = np.random.default_rng(4)
        small = Image.fromarray(random.integers(120, 235, (6, 8, 3), dtype=np.uint8))
        photograph = png(np.asarray(small.resize((640, 360), Image.Resampling.BICUBIC)))
        self.path = self.write(
            PHOTOGRAPH + words("Foot passengers"),
            {"Pictures/p.png": photograph},
            automatic=STYLES,
        )
        self.document = open_document(self.path)
        self.addCleanup(self.document.close)
        bench = PageBench()
        (pair,) = bench.get(self.document, 0, Asked()).pairs
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.pair = pair
        self.laid = overlays_for(pair, self.document, bench, Asked(), self.document.edited)

    def saved(self, edits, name: str = "copy.odp"):
        target = self.folder.path / name
        self.document.edited(edits).save(target)
        return target

    def test_plate_veil_and_ramp_pass_in_the_saved_file_as_was_shown(self):
        self.assertEqual(
            {each.kind for each in self.laid}, {"plate", "soft plate", "veil", "ramp", "dim"}
        )
        for each in self.laid:
            (pair,) = pairs_of(self.saved(overlay_edits(each), f"{each.kind}.odp"))
            self.assertIs(pair.verdict, Verdict.PASSES, each.kind)
            self.assertAlmostEqual(pair.ratio, each.ratio, delta=0.05)
            self.assertEqual(pair.address, self.pair.address)

    def test_another_library_sees_it_between_picture_and_text(self):
        for each in self.laid:
            if each.kind == "dim":
                continue
            document = OdfdoDocument(str(self.saved(overlay_edits(each), f"{each.kind}.odp")))
            page = document.body.get_draw_page(0)
            shapes = [child for child in page.children if child.tag.startswith("draw:")]
            form = "draw:custom-shape" if each.kind == "soft plate" else "draw:rect"
            self.assertEqual([shape.tag for shape in shapes], ["draw:frame", form, "draw:frame"])
            self.assertTrue(shapes[1].get_attribute("draw:name").startswith(each.kind.capitalize()))
            self.assertEqual(shapes[1].get_attribute("loext:decorative"), True)

    def test_a_dimmed_picture_lets_a_ground_through_and_keeps_its_style_for_others(self):
        dim = next(each for each in self.laid if each.kind == "dim")
        target = self.saved(overlay_edits(dim), "dim.odp")
        page = OdfdoDocument(str(target)).body.get_draw_page(0)
        shapes = [child for child in page.children if child.tag.startswith("draw:")]
        self.assertEqual([shape.tag for shape in shapes], ["draw:rect", "draw:frame", "draw:frame"])
        for name in ("svg:x", "svg:width", "svg:height"):
            self.assertEqual(shapes[0].get_attribute(name), shapes[1].get_attribute(name))
        copy = open_document(target)
        self.addCleanup(copy.close)
        self.assertEqual(measured(copy, 0, Asked()).pairs[0].address, self.pair.address)
        again = copy.edited([LayOver(dim.address, replace(dim.overlay, percent=95))])
        self.assertEqual(sum(type(i).__name__ == "Figure" for i in again.scene(0).items), 1)
        bare = copy.edited([TakeOff(dim.address)])
        self.assertEqual(measured(bare, 0, Asked()).pairs[0].ratio, self.pair.ratio)

    def test_laid_again_it_is_changed_and_taken_off_it_is_gone(self):
        first = open_document(self.saved(overlay_edits(self.laid[0]), "first.odp"))
        self.addCleanup(first.close)
        address = first.overlay_address(self.pair.address)
        strong = Overlay(OverlayKind.PLATE, Box(40, 40, 400, 140), (0, 0, 0), 90)
        after = first.edited([LayOver(address, strong)])
        self.assertGreater(measured(after, 0, Asked()).pairs[0].ratio, 12)
        rectangles = [item for item in after.scene(0).items if type(item).__name__ == "Figure"]
        self.assertEqual(len(rectangles), 1)
        bare = first.edited([TakeOff(address)])
        self.assertEqual(measured(bare, 0, Asked()).pairs[0].ratio, self.pair.ratio)

    def test_a_plate_hardly_smaller_than_its_text_box_is_the_boxs_own_fill(self):
        place = 'svg:x="4cm" svg:y="3cm" svg:width="10.5cm" svg:height="1.9cm"'
        with zipfile.ZipFile(self.path) as source:
            photograph = source.read("Pictures/p.png")
        more = {"Pictures/p.png": photograph}
        roomy = STYLES.replace('draw:fill="none"', 'draw:fill="none" fo:padding="0.25cm"')
        path = self.write(PHOTOGRAPH + words("Foot passengers", place), more, automatic=roomy)
        document = open_document(path)
        self.addCleanup(document.close)
        bench = PageBench()
        (pair,) = bench.get(document, 0, Asked()).pairs
        laid = overlays_for(pair, document, bench, Asked(), document.edited)
        plate = next(each for each in laid if each.kind == "plate")
        self.assertTrue(plate.overlay.bound)
        target = self.folder.path / "copy.odp"
        document.edited(overlay_edits(plate)).save(target)
        with zipfile.ZipFile(target) as copy:
            root = etree.fromstring(copy.read("content.xml"))
        names = {name for each in root.iter() for name in each.attrib.values()}
        self.assertFalse(any("overlay" in name for name in names))
        box = next(each for each in root.iter("{*}frame") if each.find("{*}text-box") is not None)
        style_name = next(v for k, v in box.attrib.items() if k.endswith("}style-name"))
        own = next(each for each in root.iter("{*}style") if style_name in each.attrib.values())
        properties = own.find("{*}graphic-properties")
        assert properties is not None
        stated = {etree.QName(key).localname: value for key, value in properties.attrib.items()}
        self.assertEqual(stated["fill"], "solid")
        self.assertEqual(stated["opacity"], f"{plate.overlay.percent}%")
        again = open_document(target)
        self.addCleanup(again.close)
        (after,) = measured(again, 0, Asked()).pairs
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertAlmostEqual(after.ratio, plate.ratio, delta=0.05)

    def test_a_turned_plate_covers_what_it_says(self):
        plate = Overlay(
            OverlayKind.PLATE, Box(150, 150, 300, 60), (255, 0, 0), 100, rounding=8, turn=25.0
        )
        address = self.document.overlay_address(self.pair.address)
        for each in (plate, replace(plate, turn=300.0)):
            raster = measured(self.document.edited([LayOver(address, each)]), 0, Asked()).raster
            height, width = raster.backdrop.shape[:2]
            x, y = pixel_centres((slice(0, height), slice(0, width)), raster.scale)
            # The corners and edges by arithmetic of its own.
            way = math.radians(each.turn)
            across = (x - 300) * math.cos(way) + (y - 180) * math.sin(way)
            down = (y - 180) * math.cos(way) - (x - 300) * math.sin(way)
            well_inside = (np.abs(across) < 140) & (np.abs(down) < 29)
            outside = (np.abs(across) > 151) | (np.abs(down) > 31)
            red = (raster.backdrop == (255, 0, 0)).all(axis=-1)
            self.assertTrue(red[well_inside].all())
            self.assertFalse(red[outside].any())

    def test_a_ramp_fades_where_it_says(self):
        for towards, near, far in (
            (0.0, (30, 180), (-30, 180)),
            (180.0, (-30, 180), (30, 180)),
            (90.0, (340, 20), (340, -20)),
            (270.0, (340, -20), (340, 20)),
        ):
            width, height = self.document.pages[0].width, self.document.pages[0].height
            box = Box(0, 0, width, height)
            ramp = Overlay(
                OverlayKind.RAMP, box, (255, 0, 0), 80, towards=towards, full=0.3, none=0.9
            )
            address = self.document.overlay_address(self.pair.address)
            raster = measured(self.document.edited([LayOver(address, ramp)]), 0, Asked()).raster
            bare = measured(self.document, 0, Asked()).raster

            def at(raster, place, width=width, height=height):
                x, y = place[0] % width, place[1] % height
                row, column = int(y * raster.scale), int(x * raster.scale)
                return raster.backdrop[row, column].astype(int)

            expected = 0.8 * np.array([255, 0, 0]) + 0.2 * at(bare, near)
            np.testing.assert_allclose(at(raster, near), expected, atol=2)
            np.testing.assert_allclose(at(raster, far), at(bare, far), atol=1)

    def test_a_ramp_from_a_corner_fades_along_the_diagonal(self):
        width, height = self.document.pages[0].width, self.document.pages[0].height
        slant = math.degrees(math.atan2(height, width))
        box = Box(0, 0, width, height)
        address = self.document.overlay_address(self.pair.address)
        for towards in (slant, 180 - slant, 180 + slant, 360 - slant):
            ramp = Overlay(
                OverlayKind.RAMP, box, (255, 0, 0), 80, towards=towards, full=0.3, none=0.9
            )
            target = self.saved([LayOver(address, ramp)])
            copy = open_document(target)
            self.addCleanup(copy.close)
            raster = measured(copy, 0, Asked()).raster
            bare = measured(self.document, 0, Asked()).raster.backdrop.astype(float)
            x, y = pixel_centres((slice(0, bare.shape[0]), slice(0, bare.shape[1])), raster.scale)
            opacity = ramp.shares_at(x, y)[..., None] * 0.8
            expected = bare * (1 - opacity) + np.array([255, 0, 0]) * opacity
            off = np.abs(raster.backdrop.astype(float) - expected)
            self.assertLess(np.quantile(off, 0.99), 2.5, towards)

    def test_what_the_format_cannot_hold_is_refused_in_words(self):
        address = self.document.overlay_address(self.pair.address)
        box = Box(0, 0, 100, 100)
        ramp = Overlay(OverlayKind.RAMP, box, (0, 0, 0), 50, towards=90.0, middle=0.8)
        with self.assertRaisesRegex(EditError, "OpenDocument"):
            self.document.edited([LayOver(address, ramp)])


class Surroundings(OdfTest):
    def opened(self, body: str, **options: str):
        document = open_document(self.write(body, **options))
        self.addCleanup(document.close)
        return document, measured(document, 0, Asked())

    def test_the_fill_behind_a_text_is_recoloured_in_a_style_of_its_own(self):
        panel = style("Panel", "graphic", graphic('draw:fill="solid" draw:fill-color="#e0952b"'))
        words_in = '<text:p><text:span text:style-name="White">Words</text:span></text:p>'
        two = frame(words_in, 'draw:style-name="Panel"') + frame(
            words_in.replace("Words", "Others"),
            'draw:style-name="Panel"',
            'svg:x="2cm" svg:y="8cm" svg:width="12cm" svg:height="4cm"',
        )
        document, page = self.opened(two, automatic=STYLES + panel)
        pair = page.pairs[0]
        (remedy, *_) = backdrops_for(pair, page, Asked(), document.edited)
        after = measured(document.edited(edits_for(remedy, [pair])), 0, Asked()).pairs
        self.assertIs(after[0].verdict, Verdict.PASSES)
        self.assertEqual(after[0].ratio, remedy.ratio)
        self.assertEqual(after[1].numbers, page.pairs[1].numbers)

    def test_weight_and_size_are_set_in_a_span_of_their_own(self):
        grey = style("Grey", "text", text('fo:color="#878787" fo:font-size="14pt"'))
        span = '<text:p><text:span text:style-name="Grey">Mind the ramp</text:span></text:p>'
        document, page = self.opened(frame(span), automatic=grey)
        pair = page.pairs[0]
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        found = restyles_for(pair, page, Asked(), document.edited)
        self.assertEqual([(r.size, r.bold) for r in found], [(None, True), (18.0, None)])
        for remedy in found:
            edited = document.edited(edits_for(remedy, [pair]))
            (after,) = measured(edited, 0, Asked()).pairs
            self.assertIs(after.verdict, Verdict.PASSES)
            self.assertEqual(after.numbers.foreground, "#878787")


class Origins(OdfTest):
    def test_a_common_style_is_recoloured_for_all_that_follow_it(self):
        common = style("Caption", "text", text('fo:color="#bbbbbb" fo:font-size="20pt"'))
        span = '<text:p><text:span text:style-name="Caption">{}</text:span></text:p>'
        own = style("Own", "text", text('fo:color="#bbbbbb" fo:font-size="20pt"'))
        body = (
            frame(span.format("One"))
            + frame(
                span.format("Two"), "", 'svg:x="2cm" svg:y="7cm" svg:width="9cm" svg:height="2cm"'
            )
            + frame(
                span.format("Three").replace("Caption", "Own"),
                "",
                'svg:x="2cm" svg:y="10cm" svg:width="9cm" svg:height="2cm"',
            )
        )
        document = open_document(self.write(body, common=common, automatic=own))
        self.addCleanup(document.close)
        one, _, three = measured(document, 0, Asked()).pairs
        self.assertEqual([each.words for each in one.deciders], ["in the style Caption"])
        self.assertEqual(three.deciders, ())
        (remedy, *_) = remedies_at(one.deciders[0], document, Asked(), document.edited).remedies
        self.assertEqual((remedy.changed, remedy.mended, remedy.broken), (2, 2, ()))
        target = self.folder.path / "copy.odp"
        document.edited(edits_for(remedy, [one])).save(target)
        after = pairs_of(target)
        verdicts = [pair.verdict for pair in after]
        self.assertEqual(verdicts, [Verdict.PASSES, Verdict.PASSES, Verdict.FALLS_SHORT])

    def test_a_style_that_is_not_there_is_refused(self):
        document = open_document(self.write(frame("<text:p>Words</text:p>")))
        self.addCleanup(document.close)
        with self.assertRaises(EditError):
            document.edited([RecolourOrigin("styles.xml#style=text:None", (0, 0, 0))])


if __name__ == "__main__":
    unittest.main()
