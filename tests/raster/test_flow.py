"""Flowing text over pages: nothing is lost, and everything has a place."""

import itertools
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.raster.flow import FlowedPage, flow_pages, with_count
from high_pair.raster.pieces import boxed
from high_pair.scene.flow import (
    Band,
    Edges,
    Float,
    Flow,
    FlowCell,
    FlowParagraph,
    FlowRow,
    FlowTable,
    From,
    Offset,
    Section,
    Surface,
    Wrap,
)
from high_pair.scene.geometry import IDENTITY, Box
from high_pair.scene.page import Figure
from high_pair.scene.paint import BLACK, Colour, Stroke
from high_pair.scene.text import Paragraph, Run, TextBlock

GREEN = Colour(0.5, 0.7, 0.5)


def paragraph(words: str, **more: object) -> FlowParagraph:
    run = Run(words, BLACK, "Carlito", 12.0, 400, "", "a#p=1/r=1")
    return FlowParagraph(Paragraph((run,)), "Body", **more)  # type: ignore[arg-type]


def section(*blocks, **more: object) -> Section:
    return Section(blocks, 300.0, 400.0, (40.0, 50.0, 40.0, 50.0), **more)  # type: ignore[arg-type]


def blocks_on(page: FlowedPage) -> list[TextBlock]:
    return [item for item in page.items if isinstance(item, TextBlock)]


def words_on(page: FlowedPage) -> str:
    runs = [run for b in blocks_on(page) for p in b.paragraphs for run in p.runs]
    return " ".join(run.text.strip() for run in runs if run.text.strip())


def bottom_of(block: TextBlock) -> float:
    return block.transform.bounds(block.box).bottom


class Pages(unittest.TestCase):
    def pages(self, *sections: Section) -> tuple[FlowedPage, ...]:
        return flow_pages(Flow(sections))

    def test_an_empty_document_is_one_page(self):
        (page,) = self.pages(section())
        self.assertEqual((page.width, page.height, page.items), (300.0, 400.0, ()))

    @settings(max_examples=25, deadline=None)
    @given(st.lists(st.integers(1, 220), min_size=1, max_size=9))
    def test_every_word_stands_on_some_page_above_its_foot(self, counts):
        numbered = iter(range(100_000))
        blocks = [paragraph(" ".join(f"w{next(numbered)}" for _ in range(n))) for n in counts]
        pages = self.pages(section(*blocks))
        found = " ".join(words_on(page) for page in pages).split()
        self.assertEqual(found, [f"w{n}" for n in range(sum(counts))])
        for page in pages:
            for block in blocks_on(page):
                self.assertLessEqual(bottom_of(block), page.height)
                self.assertGreaterEqual(block.transform.bounds(block.box).y, 0)

    def test_a_paragraph_is_cut_between_words_and_goes_on_on_the_next_page(self):
        pages = self.pages(section(paragraph("word " * 400)))
        self.assertGreater(len(pages), 1)
        self.assertEqual(sum(len(words_on(page).split()) for page in pages), 400)

    def test_a_break_and_a_new_section_begin_pages(self):
        pages = self.pages(
            section(paragraph("One"), paragraph("Two", new_page=True)), section(paragraph("Three"))
        )
        self.assertEqual([words_on(page) for page in pages], ["One", "Two", "Three"])
        goes_on = self.pages(section(paragraph("One")), section(paragraph("Two"), continues=True))
        self.assertEqual([words_on(page) for page in goes_on], ["One Two"])

    def test_headers_know_their_page_and_push_the_text_down(self):
        high = section(
            *[paragraph("word " * 60) for _ in range(12)],
            header=lambda page, _first: Band(
                tuple(paragraph(f"head {page}") for _ in range(4)), apart=5.0
            ),
            header_at=10.0,
        )
        pages = self.pages(high)
        self.assertGreater(len(pages), 1)
        for number, page in enumerate(pages, start=1):
            heads = [b for b in blocks_on(page) if b.paragraphs[0].runs[0].text.startswith("head")]
            texts = [b for b in blocks_on(page) if b not in heads]
            self.assertEqual(heads[0].paragraphs[0].runs[0].text, f"head {number}")
            top = min(b.transform.bounds(b.box).y for b in texts)
            self.assertGreaterEqual(top, max(bottom_of(b) for b in heads) - 0.5)

    def test_a_footer_has_its_own_ground_and_knows_the_first_page(self):
        surface = Surface(Colour(0.1, 0.2, 0.3))
        pages = self.pages(
            section(
                *[paragraph("word " * 60) for _ in range(12)],
                footer=lambda _page, first: Band(
                    (paragraph("first" if first else "later"),), surface, (4, 3, 2, 1), 40.0
                ),
            )
        )
        self.assertGreater(len(pages), 1)
        for number, page in enumerate(pages):
            words = [(b.paragraphs[0].runs[0].text, b) for b in blocks_on(page)]
            foot = next(block for text, block in words if text in ("first", "later"))
            self.assertEqual(foot.paragraphs[0].runs[0].text, "later" if number else "first")
            (ground,) = (x for x in page.items if isinstance(x, Figure) and x.fill == surface.fill)
            self.assertAlmostEqual(ground.box.height, 40.0)
            place = foot.transform.bounds(foot.box)
            self.assertGreaterEqual(place.x, ground.box.x + 4)
            self.assertGreaterEqual(place.y, ground.box.y + 3)

    def test_columns_stand_side_by_side(self):
        blocks = [paragraph("word " * 40) for _ in range(4)]
        page = self.pages(section(*blocks, columns=2, gap=20.0))[0]
        lefts = {round(b.transform.bounds(b.box).x) for b in blocks_on(page)}
        self.assertEqual(lefts, {40, 160})

    def test_what_is_shaded_alike_is_shaded_in_one_piece(self):
        shaded = Surface(GREEN, "x")
        first, other = (paragraph("a", surface=shaded, after=10.0) for _ in range(2))
        (page,) = self.pages(section(first, other))
        fills = sorted(
            (item.transform.bounds(item.box) for item in page.items if isinstance(item, Figure)),
            key=lambda box: box.y,
        )
        for above, below in itertools.pairwise(fills):
            self.assertAlmostEqual(above.bottom, below.y, places=3)

    def test_notes_stand_at_the_foot_of_their_page(self):
        (page,) = self.pages(section(paragraph("text", notes=(paragraph("note"),))))
        note = next(b for b in blocks_on(page) if b.paragraphs[0].runs[0].text == "note")
        self.assertAlmostEqual(bottom_of(note), 350.0, delta=1.0)

    def test_headings_are_listed_with_their_level(self):
        (page,) = self.pages(section(paragraph("Sailings", heading=2)))
        self.assertEqual(page.headings, ((2, "Sailings"),))

    def test_in_a_wanted_number_of_pages_nothing_is_lost(self):
        pages = self.pages(section(*[paragraph("word " * 120) for _ in range(6)]))
        count = sum(len(words_on(page).split()) for page in pages)
        for wanted in (1, len(pages), len(pages) + 2):
            found = with_count(pages, wanted)
            self.assertEqual(len(found), wanted)
            self.assertEqual(sum(len(words_on(page).split()) for page in found), count)
            for page in found:
                for block in blocks_on(page):
                    self.assertLessEqual(bottom_of(block), page.height)


class Tables(unittest.TestCase):
    def cell(self, words: str, column: int, rows: int = 1, **more: object) -> FlowCell:
        return FlowCell(column, 1, rows, (paragraph(words),), **more)  # type: ignore[arg-type]

    def test_rows_are_as_high_as_their_highest_cell_and_fills_reach_over_all(self):
        surface = Surface(GREEN, "c", Edges(left=Stroke(BLACK, 1.0)))
        row = FlowRow((self.cell("word " * 40, 0), self.cell("short", 1, surface=surface)))
        (page,) = flow_pages(Flow((section(FlowTable((110.0, 110.0), (row,))),)))
        (fill,) = (i for i in page.items if isinstance(i, Figure) and i.fill == GREEN)
        tall = max(bottom_of(b) for b in blocks_on(page))
        self.assertGreaterEqual(fill.transform.bounds(fill.box).bottom, tall - 0.5)

    def test_a_cell_over_several_rows_is_painted_in_each(self):
        surface = Surface(GREEN, "c")
        rows = (
            FlowRow((self.cell("a", 0, 2, surface=surface), self.cell("b", 1)), 20.0),
            FlowRow((self.cell("c", 1),), 20.0),
        )
        (page,) = flow_pages(Flow((section(FlowTable((80.0, 80.0), rows)),)))
        fills = [i for i in page.items if isinstance(i, Figure) and i.fill == GREEN]
        self.assertEqual(len(fills), 2)

    def test_a_row_too_high_for_its_page_goes_on_on_the_next(self):
        blocks = tuple(paragraph(f"part{n} " * 25) for n in range(30))
        table = FlowTable((200.0,), (FlowRow((FlowCell(0, 1, 1, blocks),)),))
        pages = flow_pages(Flow((section(table),)))
        self.assertGreater(len(pages), 1)
        found = " ".join(words_on(page) for page in pages)
        self.assertTrue(all(f"part{n} " in found for n in range(30)))

    def test_tables_within_tables_end_somewhere(self):
        table = FlowTable((100.0,), (FlowRow((self.cell("deep", 0),)),))
        for _ in range(40):
            table = FlowTable((100.0,), (FlowRow((FlowCell(0, 1, 1, (table,)),)),))
        self.assertEqual(len(flow_pages(Flow((section(table),)))), 1)


class Floats(unittest.TestCase):
    BOX = Figure((), Box(0.0, 0.0, 60.0, 40.0), IDENTITY, GREEN)

    def placed(self, item: Float, words: str = "word " * 50) -> FlowedPage:
        (page,) = flow_pages(Flow((section(paragraph(words, floats=(item,))),)))
        return page

    def figure(self, page: FlowedPage) -> Box:
        (found,) = (i for i in page.items if isinstance(i, Figure))
        return found.transform.bounds(found.box)

    def test_places_count_from_page_margin_and_column(self):
        for across, x in (
            (Offset(From.PAGE, 5.0), 5.0),
            (Offset(From.MARGIN, 5.0), 45.0),
            (Offset(From.PAGE, share=1.0), 240.0),
            (Offset(From.MARGIN, share=0.5), 120.0),
        ):
            item = Float(60.0, 40.0, (self.BOX,), across=across, down=Offset(From.PAGE, 300.0))
            self.assertEqual(self.figure(self.placed(item)), Box(x, 300.0, 60.0, 40.0))

    def test_lines_go_beside_or_below_what_floats(self):
        def first(wrap: Wrap) -> Box:
            item = Float(
                60.0,
                40.0,
                (self.BOX,),
                across=Offset(From.COLUMN),
                down=Offset(From.PARAGRAPH),
                wrap=wrap,
            )
            block = blocks_on(self.placed(item))[0]
            return block.transform.bounds(block.box)

        self.assertEqual(first(Wrap.THROUGH).x, 40.0)
        self.assertGreaterEqual(first(Wrap.BESIDE).x, 100.0)
        self.assertGreaterEqual(first(Wrap.BELOW).y, 90.0)

    def test_in_the_line_it_stands_above_the_text(self):
        page = self.placed(Float(60.0, 40.0, (self.BOX,)))
        block = blocks_on(page)[0]
        self.assertGreaterEqual(block.transform.bounds(block.box).y, self.figure(page).bottom)

    def test_text_near_what_lies_behind_says_that_its_place_is_a_guess(self):
        near = Float(60.0, 40.0, (self.BOX,), True, Offset(From.COLUMN), Offset(From.PARAGRAPH))
        self.assertTrue(blocks_on(self.placed(near, "word"))[0].doubt)
        far = Float(60.0, 40.0, (self.BOX,), True, Offset(From.COLUMN), Offset(From.PAGE, 340.0))
        self.assertFalse(blocks_on(self.placed(far, "word"))[0].doubt)

    def test_in_a_box_text_that_is_too_long_says_so(self):
        items, filled = boxed((paragraph("word " * 60),), Box(0.0, 0.0, 80.0, 30.0))
        self.assertGreater(filled, 30.0)
        self.assertTrue(items[0].doubt)
        grown, _ = boxed((paragraph("word " * 60),), Box(0.0, 0.0, 80.0, 30.0), grows=True)
        self.assertFalse(grown[0].doubt)


if __name__ == "__main__":
    unittest.main()
