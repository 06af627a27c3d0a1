"""Small files that took minutes or gigabytes: each is measured, or needs eyes, or is refused, soon."""

from __future__ import annotations

import time
import tracemalloc
import unittest

from high_pair.errors import UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.number_formats import sections_of
from high_pair.formats.sheets.expressions import compiled
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import review_page
from high_pair.scene.text import MOST_BREAKS, MOST_IN_WORD, MOST_LETTERS, MOST_RUNS, MOST_TABS
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import DeckFolder, body, members, pack, run, shape
from tools.attack import cases

# Most take less than one; they took half a minute and more. A busy machine counts some twice.
SECONDS = 12.0


class Attacks(unittest.TestCase):
    """Of the whole set (`python -m tools.attack`) those that were found out first."""

    NAMES = (
        "slides: a word of a million letters",
        "slides: a million combining marks",
        "slides: a million joiners",
        "slides: a million marks of direction",
        "slides: a hundred thousand tabs",
        "slides: a slide listed ten thousand times",
        "slides: letters with a gradient of fifty thousand stops",
        "slides: a path of two hundred thousand curves",
        "document: a word of a million letters",
        "document: a hundred thousand tabs",
        "open slides: a word of a million letters",
        "open sheet: rows and columns repeated with words",
        "workbook: a condition of PERMUT(1000000,500000)&gt;1",
        "workbook: a condition of SUM(MUNIT(20000))&gt;0",
        "workbook: a condition of PERMUTATIONA(999999,999999)&gt;0",
        "workbook: a number format of brackets",
        "picture: tiff of nine hundred pages",
        "picture: sixteen bits of grey at the limit",
        "picture: sixteen bits see-through at the limit",
        "picture: webp see-through at its largest",
    )

    def test_each_ends_soon(self) -> None:
        known = {case.name: case for case in cases()}
        self.assertGreaterEqual(len(known), 150)
        folder = DeckFolder()
        self.addCleanup(folder.close)
        for name in self.NAMES:
            with self.subTest(name):
                case = known[name]
                path = folder.write(case.make(), f"absurd{case.suffix}")
                start = time.process_time()
                try:
                    document = open_document(path)
                    for page in range(min(len(document.pages), 20)):
                        review_page(document, page, Asked())
                    document.close()
                except UnreadableFile as error:
                    self.assertIn("absurd", str(error))
                self.assertLess(time.process_time() - start, SECONDS)


class Texts(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def pairs(self, shapes: str) -> tuple[Pair, ...]:
        document = open_document(self.folder.write(pack(members(shapes))))
        self.addCleanup(document.close)
        return review_page(document, 0, Asked()).pairs

    def test_a_paragraph_at_the_border_is_measured_and_one_past_it_needs_eyes(self) -> None:
        for text, words in (
            ("w" * MOST_IN_WORD, "a word of more than"),
            ("\t" * MOST_TABS + "word", "tabs"),
            ("w " * (MOST_LETTERS // 2), "letters"),
        ):
            with self.subTest(words):
                (pair,) = self.pairs(shape(body(run(text))))
                self.assertNotIn(words, pair.reason)
                (pair,) = self.pairs(shape(body(run(text[0] + text))))
                self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
                self.assertIn(words, pair.reason)
                self.assertTrue(pair.text)

    def test_so_with_line_breaks(self) -> None:
        for count, verdict in (
            (MOST_BREAKS, Verdict.PASSES),
            (MOST_BREAKS + 1, Verdict.NEEDS_EYES),
        ):
            breaks = shape(body(run("Word") + "<a:br/>" * count))
            (pair,) = self.pairs(breaks)
            self.assertIs(pair.verdict, verdict, pair.reason)

    def test_so_with_runs(self) -> None:
        for count in (MOST_RUNS, MOST_RUNS + 1):
            (pair,) = self.pairs(shape(body(run("w ") * count)))
            self.assertEqual("more than 10,000 runs" in pair.reason, count > MOST_RUNS)

    def test_scripts_without_blanks_have_no_such_words(self) -> None:
        (pair,) = self.pairs(shape(body(run("\u6f22" * (MOST_IN_WORD + 1)))))
        self.assertNotIn("more than", pair.reason)

    def test_texts_off_the_page_take_time_that_grows_with_their_number(self) -> None:
        def seconds(count: int) -> float:
            shapes = shape(body(f"<a:p>{run()}</a:p>" * count))
            start = time.process_time()
            self.assertEqual(len(self.pairs(shapes)), count)
            return time.process_time() - start

        seconds(50)
        # Four times as many, and at most eight times as long; it was sixteen.
        self.assertLess(seconds(800), 8 * max(seconds(200), 0.05))


class Formulas(unittest.TestCase):
    def test_what_grows_without_end_is_not_worked_out(self) -> None:
        for formula in (
            "PERMUT(1000000,500000)>1", "SUM(MUNIT(20000))>0", "SEQUENCE(9)>0", "REPT(A1,9)=1",
            "5!>0", "A1!>0", "(" * 41 + "A1" + ")" * 41, "-" * 20 + "A1", "INDIRECT(A1)", "LCM(1,2)>0",
            "_xlfn.RANDARRAY(9)>1",
        ):  # fmt: skip
            with self.subTest(formula):
                self.assertIsNone(compiled(formula))

    def test_what_people_write_is(self) -> None:
        reader = lambda _sheet, row, column: float(row + column)  # noqa: E731
        for formula, truth in (
            ("AND($A2>0,MOD(ROW(),2)=0)", True),
            ("A1^2+B1^2=1", True),
            ('LEN("MUNIT(5)!")>3', True),
            ("IF(IF(A1>5,1,0)=0,TRUE,FALSE)", True),
            ("COUNTIF(A1:A3,2)=1", True),
            ("-A1=1", False),
        ):
            with self.subTest(formula):
                function = compiled(formula)
                assert function is not None
                self.assertIs(function.truth((0, 0), (1, 0), reader), truth)

    def test_how_much_a_formula_reads_is_known(self) -> None:
        function = compiled("SUM(A1:J20)+B3>$C$4")
        assert function is not None
        self.assertEqual(function.reads, 200 + 2)

    def test_brackets_without_end_take_no_time(self) -> None:
        start = time.process_time()
        sections_of("[" * 200_000)
        self.assertLess(time.process_time() - start, 2.0)


class Memory(unittest.TestCase):
    def test_sixteen_bits_are_converted_some_rows_at_a_time(self) -> None:
        import io

        import numpy as np
        from PIL import Image

        from high_pair.raster.pictures import decode

        deep = np.linspace(0, 65535, 2000 * 2000).astype(np.uint16).reshape(2000, 2000)
        out = io.BytesIO()
        Image.fromarray(deep).save(out, "PNG")
        tracemalloc.start()
        found = decode(out.getvalue())
        _, most = tracemalloc.get_traced_memory()
        tracemalloc.stop()
        # Its pixels in four channels, twice, and a little: float64 alone would take 32 MB more.
        self.assertLess(most, 2000 * 2000 * 8 + 12_000_000)
        self.assertTrue((np.abs(found[..., 0] - deep / 257.0) <= 0.5).all())


if __name__ == "__main__":
    unittest.main()
