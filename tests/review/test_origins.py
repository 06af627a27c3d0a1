"""Recolouring in a style or in the theme: what it changes is measured before, and is so after."""

import io
import unittest
from dataclasses import replace

import numpy as np
from lxml import etree
from odfdo import Document
from PIL import Image
from pptx import Presentation

from high_pair.edits.kinds import LayOver, RecolourOrigin, RecolourText, TakeOff
from high_pair.errors import Cancelled, EditError
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for
from high_pair.review.origins import reaches_of, remedies_at
from high_pair.review.overlaying import overlays_for
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    NS,
    THEME_COLOURS,
    DeckFolder,
    body,
    picture,
    png,
    ratio_by_hand,
    run,
    shape,
    solid,
    xfrm,
)
from tests.odf_decks import OdfTest, frame, style
from tests.odf_decks import text as odf_text

TITLE = '<p:ph type="title"/>'
PALE = '<a:lvl1pPr><a:defRPr sz="3200"><a:solidFill><a:schemeClr val="accent3"/></a:solidFill>'
PALE += "</a:defRPr></a:lvl1pPr>"


def themed(name: str = "accent3") -> str:
    return f'<a:solidFill><a:schemeClr val="{name}"/></a:solidFill>'


class Origins(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def opened(self, shapes: str, **options: str):
        document = open_document(self.folder.deck(shapes, **options))
        self.addCleanup(document.close)
        return document

    def pairs(self, document) -> tuple[Pair, ...]:
        return measured(document, 0, Asked()).pairs

    def test_a_title_is_decided_by_the_masters_style_and_by_the_theme(self):
        document = self.opened(
            shape(body(run("Title")), placeholder=TITLE, place=xfrm(60, 40, 400, 60)),
            styles=f"<p:titleStyle>{PALE}</p:titleStyle>",
        )
        (pair,) = self.pairs(document)
        self.assertEqual(
            [decider.words for decider in pair.deciders],
            ["in the master title style", "in the theme, accent3"],
        )

    def test_a_runs_own_theme_colour_is_decided_by_the_theme_alone_and_a_plain_one_nowhere(self):
        document = self.opened(
            shape(body(run("One", inner=themed())))
            + shape(body(run("Two", inner=solid("AAAAAA"))), place=xfrm(60, 250, 400, 60))
        )
        one, two = self.pairs(document)
        self.assertEqual([each.words for each in one.deciders], ["in the theme, accent3"])
        self.assertEqual(two.deciders, ())

    def test_a_changed_theme_colour_is_not_the_slots_own(self):
        tinted = '<a:solidFill><a:schemeClr val="accent3"><a:lumMod val="50000"/></a:schemeClr>'
        document = self.opened(shape(body(run("One", inner=f"{tinted}</a:solidFill>"))))
        (pair,) = self.pairs(document)
        self.assertEqual(pair.deciders, ())

    def test_recoloured_in_the_style_the_title_takes_the_colour_and_the_theme_stays(self):
        document = self.opened(
            shape(body(run("Title")), placeholder=TITLE, place=xfrm(60, 40, 400, 60))
            + shape(body(run("Other", inner=themed())), place=xfrm(60, 250, 400, 60)),
            styles=f"<p:titleStyle>{PALE}</p:titleStyle>",
        )
        title, _ = self.pairs(document)
        edited = document.edited([RecolourOrigin(title.deciders[0].address, (1, 2, 3))])
        title, other = self.pairs(edited)
        self.assertEqual(title.numbers.foreground, "#010203")
        self.assertEqual(other.numbers.foreground, f"#{THEME_COLOURS['accent3']}")
        target = self.folder.path / "copy.pptx"
        edited.save(target)
        copy = open_document(target)
        self.addCleanup(copy.close)
        self.assertEqual(self.pairs(copy)[0].ratio, ratio_by_hand("010203", "FFFFFF"))

    def test_recoloured_in_the_theme_all_that_shows_the_slot_changes_as_was_listed(self):
        document = self.opened(
            shape(body(run("One", inner=themed())))
            + shape(body(run("Two", inner=themed())), place=xfrm(60, 250, 400, 60))
            # Dark words on a panel of the same slot pass, and would fall short on a dark one.
            + shape(
                body(run("Three", inner=solid("000000"))),
                fill=themed(),
                place=xfrm(60, 330, 400, 50),
            )
        )
        pairs = self.pairs(document)
        short = [pair.text for pair in pairs if pair.verdict is Verdict.FALLS_SHORT]
        self.assertEqual(short, ["One", "Two"])
        found = remedies_at(pairs[0].deciders[0], document, Asked(), document.edited).remedies
        self.assertTrue(found)
        for remedy in found:
            self.assertEqual(remedy.mended, 2)
            after = self.pairs(document.edited(edits_for(remedy, [pairs[0]])))
            verdicts = {pair.text: pair.verdict for pair in after}
            self.assertIs(verdicts["One"], Verdict.PASSES)
            self.assertIs(verdicts["Two"], Verdict.PASSES)
            broken = [pair.text for pair in after if pair.verdict is Verdict.FALLS_SHORT]
            self.assertEqual([text for text, _ in remedy.broken], broken)
            self.assertEqual(remedy.changed, 3)
        black = next(remedy for remedy in found if remedy.levels == (0, 0, 0))
        self.assertEqual(black.broken, (("Three", 1),))
        self.assertIn("breaks 1", black.detail)
        self.assertIn("Changes 3 texts on 1 page", black.consequences)

    def test_what_breaks_nothing_comes_first(self):
        document = self.opened(shape(body(run("One", inner=themed()))))
        (pair,) = self.pairs(document)
        found = remedies_at(pair.deciders[0], document, Asked(), document.edited).remedies
        self.assertEqual([remedy.broken for remedy in found], [()] * len(found))
        differences = [remedy.difference for remedy in found]
        self.assertEqual(differences, sorted(differences))

    def test_together_with_an_overlay_and_a_recolouring_each_finds_its_place(self):
        document = self.opened(
            shape(body(run("Title")), placeholder=TITLE, place=xfrm(60, 40, 400, 60))
            + shape(body(run("Other", inner=solid("AAAAAA"))), place=xfrm(60, 250, 400, 60)),
            styles=f"<p:titleStyle>{PALE}</p:titleStyle>",
        )
        title, other = self.pairs(document)
        plate = Overlay(OverlayKind.PLATE, Box(50, 30, 420, 80), (255, 255, 0), 100)
        edits = [
            LayOver(document.overlay_address(title.address), plate),
            RecolourOrigin(title.deciders[0].address, (0, 0, 90)),
            RecolourText(other.address, (9, 9, 9)),
        ]
        title, other = self.pairs(document.edited(edits))
        self.assertEqual(
            (title.numbers.foreground, title.numbers.background), ("#00005A", "#FFFF00")
        )
        self.assertEqual(other.numbers.foreground, "#090909")

    def test_it_can_be_stopped_and_what_is_not_there_is_refused(self):
        document = self.opened(shape(body(run("One", inner=themed()))))
        (pair,) = self.pairs(document)
        with self.assertRaises(Cancelled):
            remedies_at(pair.deciders[0], document, Asked(), document.edited, stopped=lambda: True)
        for address in (
            "ppt/theme/theme1.xml#slot=accent9",
            "ppt/slideMasters/slideMaster1.xml#style=99.1",
            "ppt/slideMasters/slideMaster1.xml#style=0",
            "ppt/none.xml#slot=dk1",
        ):
            with self.assertRaises(EditError):
                document.edited([RecolourOrigin(address, (0, 0, 0))])


def photograph() -> bytes:
    random = np.random.default_rng(4)
    small = Image.fromarray(random.integers(120, 235, (6, 8, 3), dtype=np.uint8))
    return png(np.asarray(small.resize((640, 480), Image.Resampling.BICUBIC)))


class OverAPictureOfTheLayout(unittest.TestCase):
    """A photograph in a layout, two slides with white text over it, one with dark text besides."""

    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        deck = Presentation()
        layout = deck.slide_layouts[6]
        _, relation = layout.part.get_or_add_image_part(io.BytesIO(photograph()))
        self._append(layout, picture(relation, xfrm(0, 0, 720, 540)))
        white = solid("FFFFFF")
        texts = (
            title("First", white, 60) + title("Small print", solid("000000"), 400),
            title("Second", white, 200),
        )
        for shapes in texts:
            self._append(deck.slides.add_slide(layout), shapes)
        self.path = self.folder.path / "deck.pptx"
        deck.save(str(self.path))
        self.document = open_document(self.path)
        self.addCleanup(self.document.close)

    def _append(self, holder, shapes: str) -> None:
        holder.shapes._spTree.extend(list(etree.fromstring(f"<tree {NS}>{shapes}</tree>")))

    def pairs(self, document) -> dict[str, Pair]:
        found = {}
        for page in range(len(document.pages)):
            found.update({pair.text: pair for pair in measured(document, page, Asked()).pairs})
        return found

    def above(self):
        page = measured(self.document, 0, Asked())
        pair = next(pair for pair in page.pairs if pair.text == "First")
        (decider,) = reaches_of(pair, page, self.document)
        return decider

    def test_the_picture_behind_is_named_with_where_it_is_from(self):
        self.assertEqual(self.above().words, "over the picture in the layout")

    def test_here_the_layouts_picture_is_not_dimmed_for_one_slide(self):
        bench = PageBench()
        pair = bench.get(self.document, 0, Asked()).pairs[0]
        laid = overlays_for(pair, self.document, bench, Asked(), self.document.edited)
        self.assertNotIn("dim", [each.kind for each in laid])
        self.assertTrue(all("slides/slide1" in each.address for each in laid))

    def test_one_veil_over_it_serves_every_slide_and_does_what_was_listed(self):
        found = remedies_at(self.above(), self.document, Asked(), self.document.edited).remedies
        self.assertEqual({remedy.kind for remedy in found}, {"veil", "ramp"})
        before = self.pairs(self.document)
        for remedy in found:
            edited = self.document.edited(edits_for(remedy, [before["First"]]))
            after = self.pairs(edited)
            self.assertEqual(remedy.mended, 2)
            self.assertIs(after["First"].verdict, Verdict.PASSES)
            self.assertIs(after["Second"].verdict, Verdict.PASSES)
            short = [text for text, pair in after.items() if pair.verdict is Verdict.FALLS_SHORT]
            self.assertEqual([text for text, _ in remedy.broken], short)
            changed = [t for t, pair in after.items() if pair.numbers != before[t].numbers]
            self.assertEqual(remedy.changed, len(changed))

    def test_it_is_written_once_into_the_layout_right_above_the_picture(self):
        (remedy, *_) = remedies_at(
            self.above(), self.document, Asked(), self.document.edited
        ).remedies
        edits = edits_for(remedy, [])
        target = self.folder.path / "copy.pptx"
        self.document.edited(edits).save(target)
        layout = Presentation(str(target)).slides[0].slide_layout
        names = [shape.name for shape in layout.shapes]
        at = names.index("Picture")
        self.assertTrue(names[at + 1].startswith(remedy.kind.capitalize()))
        copy = open_document(target)
        self.addCleanup(copy.close)
        # Laid again, it is changed; taken off, all is as it was.
        stronger = LayOver(remedy.address, replace(remedy.overlay, percent=95))
        again = copy.edited([stronger])
        again.save(self.folder.path / "again.pptx")
        shapes = Presentation(str(self.folder.path / "again.pptx")).slides[0].slide_layout.shapes
        self.assertEqual(len(shapes), len(names))
        bare = self.pairs(copy.edited([TakeOff(remedy.address)]))
        self.assertEqual(bare["First"].ratio, self.pairs(self.document)["First"].ratio)


class OverTheMastersPicture(OdfTest):
    """An OpenDocument deck whose master has a photograph, with two slides upon it."""

    def setUp(self) -> None:
        super().setUp()
        place = 'svg:x="0cm" svg:y="0cm" svg:width="24cm" svg:height="13.5cm"'
        master = (
            f'<draw:frame draw:name="Picture" {place}>'
            '<draw:image xlink:href="Pictures/p.png"/></draw:frame>'
        )
        white = style("W", "paragraph", odf_text('fo:color="#ffffff" fo:font-size="24pt"'))
        first, second = (
            f'<text:p text:style-name="W">{each}</text:p>' for each in ("First", "Second")
        )
        apart = '</draw:page><draw:page draw:name="p2" draw:master-page-name="Plain">'
        self.path = self.write(
            frame(first) + apart + frame(second, place=LOWER),
            {"Pictures/p.png": photograph()},
            automatic=white,
            master=master,
        )
        self.document = open_document(self.path)
        self.addCleanup(self.document.close)

    def pairs(self, document) -> dict[str, Pair]:
        pages = range(len(document.pages))
        found = (pair for page in pages for pair in measured(document, page, Asked()).pairs)
        return {pair.text: pair for pair in found}

    def above(self):
        page = measured(self.document, 0, Asked())
        pair = next(pair for pair in page.pairs if pair.text == "First")
        (decider,) = reaches_of(pair, page, self.document)
        return decider

    def test_one_veil_over_it_serves_every_slide_and_does_what_was_listed(self):
        self.assertEqual(self.above().words, "over the picture in the master")
        found = remedies_at(self.above(), self.document, Asked(), self.document.edited).remedies
        self.assertIn("veil", {remedy.kind for remedy in found})
        before = self.pairs(self.document)
        self.assertIs(before["First"].verdict, Verdict.FALLS_SHORT)
        target = self.folder.path / "copy.odp"
        for remedy in found:
            self.document.edited(edits_for(remedy, [before["First"]])).save(target)
            copy = open_document(target)
            self.addCleanup(copy.close)
            after = self.pairs(copy)
            for text in ("First", "Second"):
                self.assertIs(after[text].verdict, Verdict.PASSES, (remedy.label, text))
            self.assertEqual(remedy.broken, ())

    def test_it_is_written_once_right_above_the_picture_and_taken_off_again(self):
        (remedy, *_) = remedies_at(
            self.above(), self.document, Asked(), self.document.edited
        ).remedies
        target, again = self.folder.path / "copy.odp", self.folder.path / "again.odp"
        self.document.edited(edits_for(remedy, [])).save(target)
        copy = open_document(target)
        self.addCleanup(copy.close)
        copy.edited([LayOver(remedy.address, replace(remedy.overlay, percent=95))]).save(again)
        for path in (target, again):
            master = Document(str(path)).get_part("styles.xml").get_element("//style:master-page")
            names = [each.get_attribute("draw:name") for each in master.children]
            self.assertEqual(names[0], "Picture")
            self.assertEqual(len(names), 2)
            self.assertTrue(names[1].startswith(remedy.kind.capitalize()), names)
        bare = self.pairs(copy.edited([TakeOff(remedy.address)]))
        self.assertEqual(bare["First"].ratio, self.pairs(self.document)["First"].ratio)

    def test_a_plate_of_a_masters_text_beside_it_stays_apart(self):
        edit = LayOver("styles.xml#master=1/shape=1/above=1", VEIL)
        edited = self.document.edited([edit, edit])
        pair = self.pairs(edited)["First"]
        plated = edited.edited([LayOver(f"{pair.address.partition('/p=')[0]}/overlay=1", VEIL)])
        plated.save(self.folder.path / "copy.odp")
        master = Document(str(self.folder.path / "copy.odp")).get_part("styles.xml")
        self.assertEqual(len(master.get_element("//style:master-page").children), 2)


VEIL = Overlay(OverlayKind.VEIL, Box(0, 0, 680, 380), (0, 0, 0), 40)
LOWER = 'svg:x="2cm" svg:y="8cm" svg:width="12cm" svg:height="4cm"'


def title(text: str, fill: str, top: float) -> str:
    return shape(body(run(text, 'sz="3200"', fill)), place=xfrm(60, top, 400, 60))


if __name__ == "__main__":
    unittest.main()
