"""Watermarks, groups of old kinds, frames, notes and marks of documents, by arithmetic."""

import unittest

from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.raster.effects import luminance_curve
from high_pair.scene.effects import Luminance
from high_pair.scene.text import TextBlock
from high_pair.wcag.verdicts import Verdict
from tests.decks import flat_picture, mixed, ratio_by_hand
from tests.documents import colour, paragraph, run, shade, text
from tests.formats.test_document_rules import DocumentTest

BLACK, WHITE = "000000", "FFFFFF"


def old(shapes: str, more: str = "") -> str:
    """Write a run that holds shapes of the old kind."""
    return f"<w:r>{more}<w:pict>{shapes}</w:pict></w:r>"


def watermark(fill: str, style: str = "", inside: str = "", attributes: str = "") -> str:
    return old(
        '<v:shape type="#_x0000_t136" stroked="f" '
        f'style="position:absolute;width:400pt;height:200pt;z-index:-3;{style}" '
        f'fillcolor="{fill}" {attributes}>{inside}<v:textpath string="DRAFT"/></v:shape>'
    )


class Watermarks(DocumentTest):
    def over(self, mark: str, foreground: str = BLACK) -> Pair:
        pairs = self.pairs(paragraph(mark + run("Word", colour(foreground))))
        return next(pair for pair in pairs if pair.text == "Word")

    def test_text_that_passes_on_the_letters_and_beside_them_passes(self):
        pair = self.over(watermark("silver"))
        self.assertIs(pair.verdict, Verdict.PASSES)
        # The worst is on a letter: black on C0C0C0.
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(BLACK, "C0C0C0"), delta=0.1)

    def test_see_through_letters_are_mixed_with_the_paper(self):
        pair = self.over(watermark("#404040", inside='<v:fill opacity=".5"/>'))
        behind = mixed("404040", 0.5, WHITE)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(BLACK, behind), delta=0.1)

    def test_where_the_letters_decide_it_needs_eyes(self):
        pair = self.over(watermark("silver"), "767676")
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("DRAFT", pair.reason)

    def test_text_that_falls_short_on_all_of_it_falls_short(self):
        self.assertIs(self.over(watermark("silver"), "BBBBBB").verdict, Verdict.FALLS_SHORT)

    def test_its_own_letters_are_a_text_of_any_size(self):
        pairs = self.pairs(paragraph(watermark("silver") + run("Word")))
        mark = next(pair for pair in pairs if pair.text == "DRAFT")
        self.assertIs(mark.verdict, Verdict.FALLS_SHORT)
        self.assertTrue(mark.fixed)
        # 3.5 is enough for large letters alone.
        mark = next(
            pair
            for pair in self.pairs(paragraph(watermark("#888888") + run("Word")))
            if pair.text == "DRAFT"
        )
        self.assertIs(mark.verdict, Verdict.NEEDS_EYES)

    def test_letters_of_a_gradient_may_have_any_of_its_colours(self):
        gradient = '<v:fill type="gradient" color2="#EEEEEE"/>'
        self.assertIs(self.over(watermark("#DDDDDD", inside=gradient)).verdict, Verdict.PASSES)
        self.assertIs(self.over(watermark("#222222", inside=gradient)).verdict, Verdict.NEEDS_EYES)

    def test_text_far_from_it_is_measured_as_without_it(self):
        small = (
            '<v:shape type="#_x0000_t136" fillcolor="silver" style="position:absolute;width:40pt;'
            'height:20pt;margin-left:300pt;z-index:-3"><v:textpath string="DRAFT"/></v:shape>'
        )
        pair = self.over(old(small), "767676")
        self.assertIs(pair.verdict, Verdict.PASSES)

    def test_a_picture_washed_out_is_painted_so(self):
        shape = (
            '<v:shape style="position:absolute;width:400pt;height:200pt;z-index:-3">'
            '<v:imagedata r:id="rId9" gain="19661f" blacklevel="22938f"/></v:shape>'
        )
        (pair,) = self.pairs(
            paragraph(old(shape) + run("Word", colour(BLACK))),
            relationships={"rId9": ("image", "media/p.png")},
            more={"word/media/p.png": flat_picture((0x20, 0x60, 0x80))},
        )
        import numpy as np

        values = np.array([[[0x20, 0x60, 0x80]]], np.float32) / 255
        curved = luminance_curve(values, Luminance(0.7, -0.7))[0, 0]
        washed = "".join(f"{round(float(level) * 255):02X}" for level in curved)
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertLessEqual(pair.ratio, ratio_by_hand(BLACK, washed) + 0.2)
        # Unchanged it would have been 3.1.
        self.assertGreater(pair.ratio, 6)


def boxed(words: str, more: str = "") -> str:
    return f"<v:textbox><w:txbxContent>{text(words, more)}</w:txbxContent></v:textbox>"


class Groups(DocumentTest):
    def group(self, inside: str, more: str = "") -> str:
        return paragraph(
            old(
                f'<v:group style="width:200pt;height:100pt" coordsize="2000,1000" {more}>{inside}'
                "</v:group>"
            )
        )

    def test_each_shape_has_its_own_fill_behind_its_text(self):
        inside = (
            '<v:rect style="position:absolute;left:0;top:0;width:1000;height:1000" '
            f'fillcolor="#203040">{boxed("Dark", colour(WHITE))}</v:rect>'
            '<v:rect style="position:absolute;left:1000;top:0;width:1000;height:1000" '
            f'fillcolor="#FFEEDD">{boxed("Light", colour("AA0000"))}</v:rect>'
        )
        found = {pair.text: pair for pair in self.pairs(self.group(inside))}
        self.assert_colours(found["Dark"], WHITE, "203040")
        self.assert_colours(found["Light"], "AA0000", "FFEEDD")

    def test_shapes_stand_where_the_group_s_own_coordinates_say(self):
        inside = (
            '<v:rect style="left:500;top:250;width:1000;height:500" fillcolor="#203040">'
            f"{boxed('Dark', colour(WHITE))}</v:rect>"
        )
        path = self.folder.document(self.group(inside))
        document = open_document(path)
        self.addCleanup(document.close)
        block = next(i for i in document.scene(0).items if isinstance(i, TextBlock))
        placed = block.transform.bounds(block.box)
        # A page with margins of an inch; a quarter of 200 points, and the usual inset.
        self.assertAlmostEqual(placed.x, 72 + 50 + 7.2, delta=0.5)

    def test_groups_in_groups(self):
        inside = (
            '<v:group style="left:1000;top:0;width:1000;height:1000" coordsize="10,10">'
            '<v:oval style="left:0;top:0;width:10;height:10" fillcolor="#203040" '
            f'stroked="f">{boxed("Deep", colour(WHITE))}</v:oval></v:group>'
        )
        (pair,) = self.pairs(self.group(inside))
        self.assertIn(pair.verdict, (Verdict.PASSES, Verdict.FALLS_SHORT))

    def test_a_shape_of_unknown_form_counts_with_and_without_its_fill(self):
        shape = (
            '<v:shape type="#_x0000_t109x" path="m,l10,10xe" stroked="f" '
            'style="width:200pt;height:100pt" fillcolor="{}">{}</v:shape>'
        )
        dark = old(shape.format("#FFEEDD", boxed("Word", colour(BLACK))))
        (pair,) = self.pairs(paragraph(dark))
        self.assertIs(pair.verdict, Verdict.PASSES)
        light = old(shape.format("#203040", boxed("Word", colour(WHITE))))
        (pair,) = self.pairs(paragraph(light))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)


class Frames(DocumentTest):
    def blocks(self, body: str) -> dict[str, TextBlock]:
        document = open_document(self.folder.document(body))
        self.addCleanup(document.close)
        return {
            "".join(run.text for run in item.paragraphs[0].runs): item
            for item in document.scene(0).items
            if isinstance(item, TextBlock)
        }

    def test_a_letter_that_hangs_stands_beside_its_paragraph(self):
        drop = paragraph(
            run("F", '<w:sz w:val="96"/>'),
            '<w:framePr w:dropCap="drop" w:lines="3" w:wrap="around"/>',
        )
        found = self.blocks(drop + text("erries leave at noon"))
        letter, rest = found["F"], found["erries leave at noon"]
        self.assertAlmostEqual(letter.transform.bounds(letter.box).y,
                               rest.transform.bounds(rest.box).y, delta=1.0)  # fmt: skip
        self.assertGreater(rest.transform.bounds(rest.box).x, 72 + 20)

    def test_a_frame_stands_where_it_says(self):
        frame = paragraph(
            run("Stamp"),
            '<w:framePr w:w="2000" w:hAnchor="page" w:x="6000" w:vAnchor="page" w:y="9000"/>',
        )
        block = self.blocks(frame + text("Body"))["Stamp"]
        placed = block.transform.bounds(block.box)
        self.assertAlmostEqual(placed.x, 300, delta=0.5)
        self.assertAlmostEqual(placed.y, 450, delta=0.5)

    def test_its_text_is_measured_on_its_own_shading(self):
        frame = paragraph(
            run("Stamp", colour(WHITE)),
            f'<w:framePr w:w="2000" w:hAnchor="page" w:x="6000"/>{shade("203040")}',
        )
        pairs = {pair.text: pair for pair in self.pairs(frame + text("Body"))}
        self.assert_colours(pairs["Stamp"], WHITE, "203040")
        self.assert_colours(pairs["Body"], BLACK, WHITE)

    def test_without_a_paragraph_beside_it_it_is_not_lost(self):
        frame = paragraph(run("Alone"), '<w:framePr w:w="2000"/>')
        self.assertEqual([pair.text for pair in self.pairs(frame)], ["Alone"])


NOTES = '<w:endnotes {spaces}><w:endnote w:id="2">{inside}</w:endnote></w:endnotes>'


class Notes(DocumentTest):
    def where(self, settings: str = "") -> str:
        from tests.documents import SPACES

        body = paragraph(run("Tides") + '<w:r><w:endnoteReference w:id="2"/></w:r>') + paragraph(
            '<w:r><w:br w:type="page"/></w:r>' + run("Last page")
        )
        path = self.folder.document(
            body,
            settings=settings,
            relationships={"rId8": ("endnotes", "endnotes.xml")},
            more={
                "word/endnotes.xml": NOTES.format(spaces=SPACES, inside=text("By the sea")).encode()
            },
        )
        document = open_document(path)
        self.addCleanup(document.close)
        for page in range(len(document.pages)):
            for item in document.scene(page).items:
                if isinstance(item, TextBlock) and "By the sea" in str(item.paragraphs):
                    return item.where
        return ""

    def test_endnotes_stand_at_the_end_of_the_document_with_numbers_of_their_own(self):
        self.assertEqual(self.where(), "Page 2 › Endnote i")

    def test_their_numbers_are_as_the_settings_say(self):
        settings = '<w:endnotePr><w:numFmt w:val="decimal"/></w:endnotePr>'
        self.assertEqual(self.where(settings), "Page 2 › Endnote 1")


class Marks(DocumentTest):
    def test_stripes_behind_words_count_with_both_their_colours(self):
        both = self.only(text("Word", colour(BLACK) + shade("FFEEDD", "thinHorzStripe", "CCDDEE")))
        self.assertIs(both.verdict, Verdict.PASSES)
        self.assertAlmostEqual(both.ratio, ratio_by_hand(BLACK, "CCDDEE"), delta=0.05)
        one = self.only(text("Word", colour(BLACK) + shade("FFEEDD", "thinHorzStripe", "203040")))
        self.assertIs(one.verdict, Verdict.NEEDS_EYES)
        self.assertIn("stripes", one.reason)
        neither = self.only(
            text("Word", colour(BLACK) + shade("102030", "thinHorzStripe", "203040"))
        )
        self.assertIs(neither.verdict, Verdict.FALLS_SHORT)

    def test_a_glow_may_be_as_strong_as_its_colour(self):
        glow = '<w14:glow w14:rad="63500"><w14:srgbClr w14:val="{}"/></w14:glow>'
        light = self.only(text("Word", colour(BLACK) + glow.format("FFEEDD")))
        self.assertIs(light.verdict, Verdict.PASSES)
        dark = self.only(text("Word", colour(BLACK) + glow.format("203040")))
        self.assertIs(dark.verdict, Verdict.NEEDS_EYES)
        self.assertIn("glow", dark.reason)

    def test_letters_of_a_gradient_count_with_all_their_colours(self):
        fill = (
            "<w14:textFill><w14:gradFill><w14:gsLst>"
            '<w14:gs w14:pos="0"><w14:srgbClr w14:val="{}"/></w14:gs>'
            '<w14:gs w14:pos="100000"><w14:schemeClr w14:val="tx1"/></w14:gs>'
            "</w14:gsLst></w14:gradFill></w14:textFill>"
        )
        self.assertIs(self.only(text("Word", fill.format("202020"))).verdict, Verdict.PASSES)
        pale = self.only(text("Word", fill.format("DDDDDD")))
        self.assertIs(pale.verdict, Verdict.NEEDS_EYES)
        changed = fill.format("202020").replace(
            'w14:val="tx1"/>', 'w14:val="tx1"><w14:lumMod w14:val="50000"/></w14:schemeClr>'
        )
        pair = self.only(text("Word", changed))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("gradient", pair.reason)

    def test_outlined_letters_count_with_both_their_colours(self):
        line = (
            '<w14:textOutline><w14:solidFill><w14:srgbClr w14:val="{}"/></w14:solidFill>'
            "</w14:textOutline>"
        )
        self.assertIs(
            self.only(text("Word", colour(BLACK) + line.format("222222"))).verdict, Verdict.PASSES
        )
        self.assertIs(
            self.only(text("Word", colour(BLACK) + line.format("DDDDDD"))).verdict,
            Verdict.NEEDS_EYES,
        )

    def test_letters_that_are_an_outline_alone_may_be_white_within(self):
        body = text("Word", colour(BLACK) + "<w:outline/>")
        self.assertIs(self.only(body).verdict, Verdict.NEEDS_EYES)
        on_grey = text("Word", colour("EEEEEE") + "<w:outline/>" + shade("202020"))
        self.assertIs(self.only(on_grey).verdict, Verdict.PASSES)


if __name__ == "__main__":
    unittest.main()
