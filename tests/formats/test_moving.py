"""Moved shapes stand where they were to go, in slides of both families, and lose nothing."""

from __future__ import annotations

import math
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st
from pptx import Presentation
from pptx.util import Pt

from high_pair.edits.as_json import edit_in, edit_out
from high_pair.edits.kinds import MoveShape
from high_pair.edits.merging import in_force
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.formats.document import Document
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked
from tests.decks import DeckFolder, body, run, shape, xfrm
from tests.odf_decks import OdfTest, frame, style, text

# Whole pixels of the raster, so that letters fall on the same ones.
ACROSS, DOWN = 72.0, -36.0
TURNED = (
    'svg:width="8cm" svg:height="2cm" draw:transform="rotate (0.5235987756) translate (6cm 9cm)"'
)


def boxes(document: Document) -> list[tuple[float, ...]]:
    return [pair.bbox for pair in measured(document, 0, Asked()).pairs]


def move_of(document: Document, across: float = ACROSS, down: float = DOWN) -> MoveShape:
    (pair,) = measured(document, 0, Asked()).pairs
    address = document.shape_address(pair.address)
    assert address is not None
    block = next(item for item in document.scene(0).items if hasattr(item, "paragraphs"))
    bare = block.bare
    box = (bare.x, bare.y, bare.width, bare.height)
    way = block.transform
    turn = round(math.degrees(math.atan2(way.b, way.a)), 4) % 360
    return MoveShape(address, across, down, box, turn, (pair.address,))


class Moving(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def open(self, path: Path) -> Document:
        document = open_document(path)
        self.addCleanup(document.close)
        return document

    def assert_moves(self, document: Document) -> Document:
        before = boxes(document)
        moved = document.edited([move_of(document)])
        for one, other in zip(before, boxes(moved), strict=True):
            self.assertAlmostEqual(other[0] - one[0], ACROSS, delta=0.8)
            self.assertAlmostEqual(other[1] - one[1], DOWN, delta=0.8)
            self.assertAlmostEqual(other[2], one[2], delta=1.6)
        return moved

    def test_a_shape_moves_on_the_slide_and_another_library_finds_it_there(self) -> None:
        deck = Presentation()
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        box = slide.shapes.add_textbox(Pt(100), Pt(200), Pt(300), Pt(60))
        box.text_frame.text = "Words"
        (found,) = self.moved(deck)
        self.assertEqual((found.left, found.top), (Pt(172), Pt(164)))
        self.assertEqual((found.width, found.height), (Pt(300), Pt(60)))

    def moved(self, deck):
        """Move the one shape of a deck's slide, and give the shapes that another library reads."""
        path, target = (self.folder.path / name for name in ("deck.pptx", "moved.pptx"))
        deck.save(str(path))
        self.assert_moves(self.open(path)).save(target)
        return Presentation(str(target)).slides[0].shapes

    def test_a_turned_shape_keeps_its_turn(self) -> None:
        place = xfrm(200, 150, 200, 60, 'rot="5400000"')
        self.assert_moves(self.open(self.folder.deck(shape(body(run()), place=place))))

    def test_a_placeholder_gets_a_place_of_its_own(self) -> None:
        for turn in (0.0, 30.0):
            deck = Presentation()
            layout = deck.slide_layouts[5]
            (prompt,) = (each for each in layout.placeholders if each.placeholder_format.idx == 0)
            prompt.left, prompt.top, prompt.width, prompt.height = Pt(90), Pt(150), Pt(400), Pt(80)
            prompt.rotation = turn
            deck.slides.add_slide(layout).shapes.title.text = "A title"
            (found,) = self.moved(deck)
            self.assertTrue(found.is_placeholder)
            self.assertEqual((found.left, found.top), (Pt(162), Pt(114)))
            self.assertEqual((found.width, found.height), (Pt(400), Pt(80)))
            self.assertEqual(found.rotation, turn)

    def test_in_groups_it_moves_by_the_pages_measure(self) -> None:
        inner = shape(body(run()), place=xfrm(10, 10, 200, 60))
        for more in ("", 'rot="5400000"', 'flipH="1"', 'rot="2700000" flipV="1"'):
            group = (
                "<p:grpSp><p:nvGrpSpPr><p:cNvPr id='9' name='g'/><p:cNvGrpSpPr/><p:nvPr/>"
                f"</p:nvGrpSpPr><p:grpSpPr><a:xfrm {more}><a:off x='2540000' y='1905000'/>"
                "<a:ext cx='2540000' cy='1270000'/><a:chOff x='0' y='0'/>"
                f"<a:chExt cx='5080000' cy='2540000'/></a:xfrm></p:grpSpPr>{inner}</p:grpSp>"
            )
            with self.subTest(more):
                self.assert_moves(self.open(self.folder.deck(group)))

    def test_what_is_no_shape_or_isnt_there_is_refused(self) -> None:
        document = self.open(self.folder.deck(shape(body(run()))))
        for address in ("ppt/slides/slide1.xml#sp=9", "ppt/slides/slide1.xml#bg"):
            with self.assertRaises(EditError):
                document.edited([MoveShape(address, 1.0, 1.0, (0.0, 0.0, 1.0, 1.0))])

    def test_a_shape_that_is_written_in_two_ways_stays(self) -> None:
        box = shape(body(run()))
        both = (
            f'<mc:AlternateContent><mc:Choice Requires="p14">{box}</mc:Choice>'
            f"<mc:Fallback>{box}</mc:Fallback></mc:AlternateContent>"
        )
        document = self.open(self.folder.deck(both))
        with self.assertRaisesRegex(EditError, "two ways"):
            document.edited([move_of(document)])

    def test_what_stands_in_a_layout_is_not_moved_for_one_slide(self) -> None:
        layout = shape(body(run("Of all")))
        document = self.open(self.folder.deck("", layout=layout))
        (pair,) = measured(document, 0, Asked()).pairs
        self.assertIsNone(document.shape_address(pair.address))


class Merging(unittest.TestCase):
    @given(*[st.floats(-500, 500) for _ in range(4)])
    @settings(max_examples=20)
    def test_moves_of_one_shape_add_up_from_where_it_stood_at_first(self, a, b, c, d) -> None:
        first = MoveShape("s#sp=1", a, b, (1.0, 2.0, 3.0, 4.0))
        then = MoveShape("s#sp=1", c, d, (9.0, 9.0, 9.0, 9.0))
        (both,) = in_force([first, then])
        self.assertEqual((both.across, both.down, both.box), (a + c, b + d, first.box))

    def test_it_is_kept_in_json(self) -> None:
        edit = MoveShape("s#sp=1", 1.5, -2.0, (1.0, 2.0, 3.0, 4.0), 30.0, ("s#sp=1/p=1/r=1",))
        self.assertEqual(edit_in(edit_out(edit)), edit)
        with self.assertRaises(ValueError):
            edit_in({**edit_out(edit), "across": 1e9})


class InOpenDocument(OdfTest):
    def test_boxes_and_turned_ones_move(self) -> None:
        for place in (
            "",
            TURNED,
        ):
            words = '<text:p text:style-name="P">Words</text:p>'
            black = style("P", "paragraph", text('fo:color="#000000"'))
            path = self.write(frame(words, place=place), automatic=black)
            document = open_document(path)
            self.addCleanup(document.close)
            before = boxes(document)
            moved = document.edited([move_of(document)])
            for one, other in zip(before, boxes(moved), strict=True):
                self.assertAlmostEqual(other[0] - one[0], ACROSS, delta=0.8)
                self.assertAlmostEqual(other[1] - one[1], DOWN, delta=0.8)


if __name__ == "__main__":
    unittest.main()
