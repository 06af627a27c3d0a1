"""CSV has a row for each pair, agrees with the other forms, and no cell of it is a formula."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from high_pair.report.as_csv import HEADINGS, cell, write_csv
from high_pair.report.findings import Located
from tests.command import call
from tests.decks import deck_on_an_accent
from tests.report.samples import a_row


def read(text: str) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(text, newline="")))


class Cells(unittest.TestCase):
    @given(st.text(max_size=40))
    def test_no_text_is_taken_for_a_formula_and_none_breaks_its_row(self, text: str) -> None:
        self.assertFalse(cell(text).startswith(("=", "+", "-", "@", "\t", "\r")))
        out = io.StringIO(newline="")
        write_csv([Located("a.pptx", a_row(text=text, origin="run"))], out)
        (row,) = read(out.getvalue())
        self.assertEqual(row["text"].removeprefix("'"), text.replace("\0", "").removeprefix("'"))
        self.assertEqual(row["origin"], "run")

    def test_what_a_spreadsheet_would_work_out_is_marked_as_text(self) -> None:
        for text in ('=HYPERLINK("http://x")', "+1", "-23%", "@SUM(A1)", "\t=1", "%0A"):
            self.assertEqual(cell(text), "'" + text)
        self.assertEqual(
            (cell(None), cell(4.5), cell(3.0), cell(4.47821)), ("", "4.5", "3", "4.4782")
        )


class Reports(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        (self.folder / "share").mkdir()
        self.deck = deck_on_an_accent(self.folder / "share" / "deck.pptx")
        self.store = self.folder / "audit.sqlite"

    def test_a_review_its_json_and_an_audit_give_the_same_rows(self) -> None:
        call("audit", self.folder / "share", "--store", self.store)
        report = self.folder / "report.json"
        call("review", self.deck, "--format", "json", "-o", report)
        status, at_once, _ = call("review", self.deck, "--format", "csv")
        self.assertEqual(status, 1)
        _, of_json, _ = call("report", report, "--format", "csv")
        status, of_store, _ = call("report", self.store, "--format", "csv")
        self.assertEqual(status, 0)
        self.assertEqual(at_once, of_json)
        order = [sorted(read(text), key=lambda row: tuple(row.values())) for text in
                 (at_once, of_store)]  # fmt: skip
        self.assertEqual(order[0], order[1])
        pairs = json.loads(report.read_text("utf-8"))["files"][0]["pairs"]
        self.assertEqual(len(order[0]), len(pairs))
        self.assertEqual(
            sorted(row["verdict"] for row in order[0]), sorted(pair["verdict"] for pair in pairs)
        )
        self.assertEqual(tuple(order[0][0]), HEADINGS)

    def test_it_is_written_to_a_file_and_never_over_its_source(self) -> None:
        call("audit", self.folder / "share", "--store", self.store)
        target = self.folder / "pairs.csv"
        status, out, _ = call("report", self.store, "-o", target)
        self.assertEqual((status, out), (0, ""))
        self.assertEqual(len(read(target.read_text("utf-8"))), 4)
        status, _, err = call("report", self.store, "-o", self.store)
        self.assertEqual(status, 2)
        self.assertIn("audit.sqlite", err)

    def test_what_is_no_source_is_refused_in_words(self) -> None:
        for name, content, words in (
            ("a.json", "{", "sound JSON"),
            ("b.json", '{"format": "other"}', "neither a store"),
            ("c.json", '{"format": "high-pair-review", "files": [{"pairs": [1]}]}', "no sense"),
            ("d.json", '{"format": "high-pair-review", "settings": {}, "files": 3}', "no sense"),
        ):
            path = self.folder / name
            path.write_text(content)
            status, out, err = call("report", path)
            self.assertEqual((status, out), (2, ""))
            self.assertIn(words, err)
        status, _, err = call("report", self.folder / "gone.sqlite")
        self.assertEqual(status, 2)
        self.assertIn("gone.sqlite", err)


if __name__ == "__main__":
    unittest.main()
