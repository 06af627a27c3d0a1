"""The command line as docs/review-format.md has it: statuses, streams, and the report's keys."""

import json
import subprocess
import sys
import unittest
from pathlib import Path

from high_pair.report.as_table import cut, width_of
from tests.command import call
from tests.decks import DeckFolder, body, members, pack, pairs_of, run, shape, solid

KEYS = {
    "id": str,
    "page": int,
    "where": str,
    "address": str,
    "subject": str,
    "text": str,
    "size_pt": float,
    "bold": bool,
    "size_class": str,
    "foreground": str,
    "background": str,
    "backdrop": str,
    "ratio": float,
    "ratio_lowest": float,
    "ratio_median": float,
    "ratio_highest": float,
    "share_below": float,
    "criterion": str,
    "required": float,
    "verdict": str,
    "reason": str,
    "bbox": list,
    "cells": list,
    "colour_origin": str,
    "layout": str,
    "appears": str,
    "sheet": (str, type(None)),
    "line": (int, type(None)),
    "remedies": list,
}


class CommandLine(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        pale = shape(body(run("Pale", inner=solid("AAAAAA"))))
        self.bad = str(self.folder.deck(pale, "pale.pptx"))
        self.good = str(self.folder.deck(shape(body(run())), "dark.pptx"))
        self.broken = str(self.folder.write(b"nothing", "broken.pptx"))

    def test_status_tells_the_outcome(self):
        self.assertEqual(call("review", self.good)[0], 0)
        self.assertEqual(call("review", self.bad)[0], 1)
        self.assertEqual(call("review", self.broken)[0], 2)
        self.assertEqual(call("review", "/nowhere/none.pptx")[0], 2)
        self.assertEqual(call("review")[0], 2)
        self.assertEqual(call("review", self.good, "--level", "B")[0], 2)

    def test_the_json_report_has_every_key_in_its_type(self):
        status, out, err = call("review", self.bad, "--format", "json", "--remedies")
        self.assertEqual((status, err), (1, ""))
        report = json.loads(out)
        self.assertEqual((report["format"], report["version"]), ("high-pair-review", 1))
        self.assertEqual(report["settings"], {"level": "AA", "coverage": 0.95})
        (file,) = report["files"]
        self.assertEqual((file["path"], file["kind"], file["error"]), (self.bad, "slides", None))
        self.assertEqual(
            file["pages"],
            [{"page": 1, "name": "Slide 1", "width": 720.0, "height": 405.0, "hidden": False}],
        )
        (pair,) = file["pairs"]
        self.assertEqual(set(pair), set(KEYS))
        for key, kind in KEYS.items():
            self.assertIsInstance(pair[key], kind, key)
        self.assertEqual(pair["id"], "p1-0001")
        self.assertEqual(pair["verdict"], "falls_short")
        first = pair["remedies"][0]
        self.assertEqual(set(first), {"kind", "label", "ratio", "change"})
        self.assertGreaterEqual(first["ratio"], pair["required"])

    def test_one_broken_file_does_not_keep_the_others(self):
        status, out, err = call("review", self.broken, self.bad, "--format", "json")
        self.assertEqual(status, 2)
        files = json.loads(out)["files"]
        self.assertIn("broken.pptx", files[0]["error"])
        self.assertEqual(files[0]["pairs"], [])
        self.assertEqual(len(files[1]["pairs"]), 1)
        self.assertEqual(len(err.splitlines()), 1)
        self.assertIn("broken.pptx: it is no deck", err)

    def test_the_table_cuts_ratios_and_goes_to_a_file(self):
        target = self.folder.path / "report.txt"
        text = run("Nearly", 'sz="1200"', solid("777777"))
        near = str(self.folder.deck(shape(body(text)), "near.pptx"))
        status, out, _ = call("review", near, "-o", str(target))
        self.assertEqual((status, out), (1, ""))
        self.assertIn(" 4.47 ", target.read_text())
        self.assertIn("1 falls short", target.read_text())

    def test_measure_in_words_and_as_json(self):
        status, out, _ = call("measure", "#777", "white")
        self.assertEqual(status, 1)
        self.assertTrue(out.startswith("4.47  #777777 on #FFFFFF"), out)
        status, swapped, _ = call("measure", "white", "#777")
        self.assertTrue(swapped.startswith("4.47 "))
        status, out, _ = call("measure", "rgb(0 0 0 / 50%)", "white", "--json")
        content = json.loads(out)
        self.assertEqual(content["foreground"], "#808080")
        self.assertFalse(content["passes"]["normal text AA"])
        self.assertEqual(call("measure", "black", "white")[0], 0)
        status, out, err = call("measure", "blurple", "white")
        self.assertEqual((status, out), (2, ""))
        self.assertIn("write it like", err)

    def test_measure_says_that_cmyk_is_naive(self):
        self.assertIn("converted naively", call("measure", "C0 M0 Y0 K100", "white")[1])

    def test_remedy_writes_a_copy_that_passes(self):
        target = self.folder.path / "mended.pptx"
        before = Path(self.bad).read_bytes()
        status, out, _ = call("remedy", self.bad, "-o", str(target))
        self.assertEqual(status, 0)
        self.assertIn("1 of 1 changed pair passes in the saved file", out)
        self.assertEqual(Path(self.bad).read_bytes(), before)
        self.assertGreaterEqual(pairs_of(target)[0].ratio, 3.0)

    def test_remedy_never_writes_on_the_source(self):
        before = Path(self.bad).read_bytes()
        status, _, err = call("remedy", self.bad, "-o", self.bad)
        self.assertEqual(status, 2)
        self.assertIn("another name", err)
        self.assertEqual(Path(self.bad).read_bytes(), before)

    def test_remedy_says_what_it_left_and_why(self):
        stops = "".join(
            f'<a:gs pos="{place}"><a:srgbClr val="{colour}"/></a:gs>'
            for place, colour in ((0, "000000"), (10000, "000000"), (10000, "FFFFFF"))
        )
        halves = f'<a:gradFill><a:gsLst>{stops}</a:gsLst><a:lin ang="0"/></a:gradFill>'
        text = shape(body(run("Wordwordword", 'sz="1400"', solid("888888"))), fill=halves)
        path = str(self.folder.deck(text, "half.pptx"))
        # A mid grey reaches 4.5 on black and on white, but no colour reaches 7 on both; and the
        # shape's own fill hides whatever is laid behind it.
        target = str(self.folder.path / "x.pptx")
        status, out, err = call("remedy", path, "-o", target, "--level", "AAA")
        self.assertEqual(status, 1)
        self.assertIn("“Wordwordword”: No text colour serves", err)
        self.assertIn("1 still falls short", out)
        status, out, _ = call("remedy", path, "-o", target, "--level", "AAA", "--format", "json")
        told = json.loads(out)
        self.assertEqual((status, told["changed"], told["short"]), (1, 0, 1))
        self.assertEqual(told["left"][0]["text"], "Wordwordword")
        self.assertIn("No text colour serves", told["left"][0]["reason"])

    def test_remedy_is_told_what_to_change(self):
        text = shape(body(run("Words", inner=solid("FFFFFF"))), fill=solid("E0952B"))
        path = str(self.folder.deck(text, "panel.pptx"))
        target = self.folder.path / "y.pptx"
        for words, foreground, background in (
            ((), "#FFFFFF", None),
            (("--prefer", "text"), None, "#E0952B"),
            (("--prefer", "backdrop"), "#FFFFFF", None),
            (("--keep", "white"), "#FFFFFF", None),
        ):
            with self.subTest(words):
                status, _, _ = call("remedy", path, "-o", str(target), *words)
                self.assertEqual(status, 0)
                (pair,) = pairs_of(target)
                self.assertEqual(foreground is None, pair.numbers.foreground != "#FFFFFF")
                self.assertEqual(background is None, pair.numbers.background != "#E0952B")
        status, _, err = call("remedy", path, "-o", str(target), "--keep", "no colour")
        self.assertEqual(status, 2)
        self.assertIn("no colour", err)

    def test_help_teaches_and_completion_is_printed(self):
        status, out, _ = call("--help")
        self.assertEqual(status, 0)
        self.assertIn("examples:", out)
        self.assertIn("exit status:", out)
        for name in ("bash", "zsh"):
            self.assertIn("high", call("--print-completion", name)[1])

    def test_a_hidden_slide_does_not_count(self):
        parts = members(shape(body(run(inner=solid("AAAAAA")))), slide_attributes='show="0"')
        self.assertEqual(call("review", str(self.folder.write(pack(parts))))[0], 0)

    def test_no_window_and_no_qt_for_a_review(self):
        code = (
            "import sys; from high_pair.cli import main; "
            f"main(['review', {self.good!r}]); "
            "sys.exit(any(name.startswith('PySide6') for name in sys.modules))"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr.decode())
        self.assertEqual(done.stderr, b"")


class TableText(unittest.TestCase):
    def test_wide_characters_and_controls(self):
        self.assertEqual(width_of("漢字"), 4)
        self.assertEqual(cut("漢字漢字", 5), "漢字…")
        self.assertEqual(cut("a\x1b[31mb", 20), "a\\x1b[31mb")


if __name__ == "__main__":
    unittest.main()
