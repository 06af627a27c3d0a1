"""Audits: files found, measured once, kept whatever happens, and compared."""

from __future__ import annotations

import contextlib
import io
import json
import os
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from high_pair.cli import main
from high_pair.errors import Cancelled, HighPairError, UnreadableFile, UnwritableFile
from high_pair.formats.web.settings import WebSettings
from high_pair.report.findings import Findings
from high_pair.report.rows import key_of, numbered
from high_pair.report.store import FileRows, Store
from high_pair.review.auditing import AuditWishes, audit, files_of
from high_pair.review.crew import LocalCrew
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.report.samples import a_row


def write_deck(path: Path, *codes: str) -> None:
    """Write a slide with a text in each colour on white."""
    deck = Presentation()
    slide = deck.slides.add_slide(deck.slide_layouts[6])
    for number, code in enumerate(codes):
        box = slide.shapes.add_textbox(Pt(40), Pt(40 + 60 * number), Pt(400), Pt(40))
        run = box.text_frame.paragraphs[0].add_run()
        run.text, run.font.size = f"Sailing {number}", Pt(12)
        run.font.color.rgb = RGBColor.from_string(code)
    path.parent.mkdir(parents=True, exist_ok=True)
    deck.save(str(path))


class AuditTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.share = self.folder / "share"
        self.store = self.folder / "audit.sqlite"

    def wishes(self, *roots: object, **more: object) -> AuditWishes:
        found = tuple(str(each) for each in roots or (self.share,))
        return AuditWishes(found, Asked(), WebSettings(), **more)  # type: ignore[arg-type]

    def run_command(self, *words: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main(["audit", *(str(word) for word in words), "--store", str(self.store)])
        return status, out.getvalue(), err.getvalue()

    def rows(self, query: str) -> list[tuple]:
        connection = sqlite3.connect(self.store)
        self.addCleanup(connection.close)
        return connection.execute(query).fetchall()


class WhichFiles(AuditTest):
    def setUp(self) -> None:
        super().setUp()
        for name in (
            "a.pptx", "b.docx", "notes.txt", "~$a.pptx", ".hidden/c.pptx", "old/d.xlsx",
            "old/deep/e.odp", ".f.html",
        ):  # fmt: skip
            path = self.share / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(b"")

    def names(self, *roots: object, **more: object) -> list[str]:
        found = files_of(self.wishes(*roots, **more))
        return [path.relative_to(self.share).as_posix() for path in found]

    def test_of_folders_what_is_read_counts_and_hidden_files_and_those_of_owners_dont(self) -> None:
        self.assertEqual(self.names(), ["a.pptx", "b.docx", "old/d.xlsx", "old/deep/e.odp"])
        self.assertIn(".hidden/c.pptx", self.names(hidden=True))
        self.assertIn(".f.html", self.names(hidden=True))

    def test_patterns_take_and_leave_files_and_folders(self) -> None:
        self.assertEqual(self.names(self.share / "**" / "*.odp"), ["old/deep/e.odp"])
        self.assertEqual(self.names(excludes=("old",)), ["a.pptx", "b.docx"])
        self.assertEqual(self.names(excludes=("*.docx", "old/deep/*")), ["a.pptx", "old/d.xlsx"])

    def test_each_counts_once_and_what_is_named_counts_whatever_it_is(self) -> None:
        twice = (self.share, self.share / "a.pptx", self.share / "notes.txt")
        self.assertEqual(
            self.names(*twice), ["a.pptx", "b.docx", "notes.txt", "old/d.xlsx", "old/deep/e.odp"]
        )
        with self.assertRaisesRegex(HighPairError, "no such file"):
            self.names(self.share / "gone")

    def test_links_that_lead_in_circles_are_not_followed(self) -> None:
        (self.share / "old" / "up").symlink_to(self.share)
        self.assertEqual(len(self.names()), 4)


class Audits(AuditTest):
    def setUp(self) -> None:
        super().setUp()
        write_deck(self.share / "one.pptx", "AAAAAA", "000000")
        write_deck(self.share / "two.pptx", "BBBBBB", "AAAAAA")
        (self.share / "bad.pptx").write_bytes(b"no deck")

    def test_what_was_found_is_kept_and_summed_up(self) -> None:
        status, out, err = self.run_command(self.share)
        self.assertEqual(status, 2)
        self.assertIn("bad.pptx", err)
        self.assertIn("3 files, 1 can't be read: 3 falls short, 1 passes", out)
        rows = self.rows(
            "SELECT path, text, foreground, verdict FROM pairs JOIN files ON id = file"
        )
        self.assertIn((str(self.share / "one.pptx"), "Sailing 0", "#AAAAAA", "falls_short"), rows)
        self.assertEqual(self.rows("SELECT count(*) FROM runs WHERE finished IS NULL"), [(0,)])
        self.assertEqual(
            self.rows("SELECT criterion, verdict, number FROM by_criterion ORDER BY verdict"),
            [("1.4.3", "falls_short", 3), ("1.4.3", "passes", 1)],
        )
        ((origin, number, files, _),) = self.rows(
            "SELECT origin, number, files, ratio FROM by_origin"
        )
        self.assertEqual((number, files), (3, 2))
        self.assertTrue(origin)

    def test_what_hasnt_changed_is_taken_over_and_what_has_is_compared(self) -> None:
        (self.share / "bad.pptx").unlink()
        self.assertEqual(self.run_command(self.share)[0], 1)
        with mock.patch("high_pair.review.crew.measure_file") as measured:
            status, out, _ = self.run_command(self.share, "--fail-on", "new", "--format", "json")
        measured.assert_not_called()
        self.assertEqual(status, 0)
        said = json.loads(out)
        self.assertEqual((said["as_they_were"], said["new"], said["gone"]), (2, 0, 0))
        # One text is mended, and another comes to fall short.
        write_deck(self.share / "one.pptx", "000000", "000000", "CCCCCC")
        status, out, _ = self.run_command(self.share, "--fail-on", "new", "--format", "json")
        said = json.loads(out)
        self.assertEqual((status, said["as_they_were"], said["new"], said["gone"]), (1, 1, 1, 1))
        (run,) = self.rows("SELECT max(id) FROM runs")[0]
        self.assertEqual(
            self.rows(f"SELECT text FROM new_since WHERE run = {run}"), [("Sailing 2",)]
        )
        self.assertEqual(
            self.rows(f"SELECT text FROM gone_since WHERE now = {run}"), [("Sailing 0",)]
        )

    def test_a_process_goes_on_with_further_files_until_one_goes_wrong(self) -> None:
        crew = LocalCrew(Asked(), WebSettings(), 1)
        self.addCleanup(crew.close)
        found, processes = [], []
        for name in ("one.pptx", "bad.pptx", "two.pptx", "one.pptx"):
            crew.submit(self.share / name, "")
            ((_, worker),) = crew._under_way.values()
            while not (done := crew.finished(5.0)):
                pass
            processes.append(worker)
            found += [(name, bool(each.error), [row.key for row in each.pairs]) for each in done]
        self.assertEqual([error for _, error, _ in found], [False, True, False, False])
        self.assertEqual(found[0][2], found[3][2])
        self.assertNotEqual(found[0][2], found[2][2])
        first, bad, second, again = processes
        self.assertIs(first, bad)
        self.assertIsNot(bad, second)
        self.assertIs(second, again)

    def test_what_couldnt_be_read_is_tried_again_where_that_is_asked(self) -> None:
        self.run_command(self.share)
        _, out, _ = self.run_command(self.share, "--format", "json")
        self.assertEqual(json.loads(out)["as_they_were"], 3)
        _, out, _ = self.run_command(self.share, "--retry", "--format", "json")
        self.assertEqual(json.loads(out)["as_they_were"], 2)

    def test_other_settings_measure_again_and_files_that_are_gone_are_left_out(self) -> None:
        self.run_command(self.share)
        status, out, _ = self.run_command(self.share, "--level", "AAA", "--format", "json")
        self.assertEqual(json.loads(out)["as_they_were"], 0)
        for name in ("two.pptx", "bad.pptx"):
            (self.share / name).unlink()
        status, out, _ = self.run_command(self.share, "--level", "AAA", "--format", "json")
        self.assertEqual((status, json.loads(out)["files"]), (1, 1))

    def test_a_baseline_says_what_is_known(self) -> None:
        (self.share / "bad.pptx").unlink()
        self.run_command(self.share)
        baseline, self.store = self.store, self.folder / "other.sqlite"
        words = (self.share, "--baseline", baseline, "--fail-on", "new")
        status, out, _ = self.run_command(*words)
        self.assertEqual(status, 0)
        self.assertIn("0 new, 0 gone", out)
        write_deck(self.share / "three.pptx", "AAAAAA")
        self.assertEqual(self.run_command(*words)[0], 1)
        self.assertEqual(self.run_command(self.share, "--fail-on", "never")[0], 0)

    def test_paths_come_from_standard_input_too(self) -> None:
        with mock.patch("sys.stdin", io.StringIO(f"{self.share / 'one.pptx'}\n\n")):
            status, out, _ = self.run_command("-", "--format", "json")
        self.assertEqual((status, json.loads(out)["files"]), (1, 1))

    def test_stopped_and_begun_again_it_goes_on_and_counts_nothing_twice(self) -> None:
        store = Store(self.store)
        self.addCleanup(store.close)
        seen: list[str] = []

        def told(_standing: object, found: FileRows | None) -> None:
            if found is not None:
                seen.append(found.path)

        with self.assertRaises(Cancelled):
            audit(self.wishes(), store, told, lambda: bool(seen))
        first = len(seen)
        self.assertLess(first, 3)
        run = audit(self.wishes(), store, told)
        self.assertEqual((run, len(seen), len(set(seen))), (1, 3, 3))
        self.assertEqual(Findings(store, run).summary().number(Verdict.FALLS_SHORT), 3)

    def test_a_page_is_measured_again_when_its_sheet_has_changed(self) -> None:
        page, sheet = self.share / "page.html", self.share / "page.css"
        page.write_text("<!doctype html><html lang=en><title>P</title>"
                        "<link rel=stylesheet href=page.css><p>Words")  # fmt: skip
        sheet.write_text("p{color:#999}")
        for code, status, taken in (("#999", 1, 0), ("#999", 1, 1), ("#222", 0, 0)):
            sheet.write_text(f"p{{color:{code}}}")
            found, out, err = self.run_command(page, "--no-states", "--format", "json")
            self.assertEqual((found, json.loads(out)["as_they_were"]), (status, taken), err)

    def test_killed_it_goes_on_with_what_was_kept(self) -> None:
        for number in range(6):
            write_deck(self.share / f"more {number:02}.pptx", "AAAAAA", "000000")
        program = "import sys; from high_pair.cli import main; sys.exit(main(sys.argv[1:]))"
        words = ["audit", str(self.share), "--jobs", "1", "--store", str(self.store)]
        command = [sys.executable, "-c", program, *words]
        process = subprocess.Popen(
            command, start_new_session=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        end = time.monotonic() + 120
        kept = 0
        while kept < 2 and time.monotonic() < end:
            time.sleep(0.05)
            with contextlib.suppress(sqlite3.Error):
                ((kept,),) = self.rows("SELECT count(*) FROM results")
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()
        before = self.rows("SELECT file, seconds FROM results")
        status, out, _ = self.run_command(self.share, "--format", "json")
        self.assertEqual((status, json.loads(out)["files"]), (2, 9))
        # What was kept then wasn't measured again, and nothing is there twice.
        self.assertLessEqual(set(before), set(self.rows("SELECT file, seconds FROM results")))
        self.assertEqual(self.rows("SELECT count(*), count(DISTINCT key) FROM pairs"), [(16, 16)])


class Stores(AuditTest):
    def test_what_is_no_store_is_refused_and_left(self) -> None:
        for name, data in (("note.txt", b"no database at all, but words" * 50), ("x", b"")):
            path = self.folder / name
            path.write_bytes(data)
            if data:
                with self.assertRaises(UnreadableFile):
                    Store(path)
                self.assertEqual(path.read_bytes(), data)
        other = self.folder / "other.sqlite"
        connection = sqlite3.connect(other)
        connection.execute("CREATE TABLE theirs(a)")
        connection.commit()
        connection.close()
        with self.assertRaisesRegex(UnreadableFile, "another program's"):
            Store(other)
        with self.assertRaisesRegex(UnreadableFile, "no such store"):
            Store(self.folder / "gone.sqlite", reads_only=True)
        with self.assertRaises(UnwritableFile):
            Store(self.folder / "no folder" / "a.sqlite")

    def test_a_newer_programs_store_is_refused(self) -> None:
        Store(self.store).close()
        connection = sqlite3.connect(self.store)
        connection.execute("PRAGMA user_version = 99")
        connection.commit()
        connection.close()
        with self.assertRaisesRegex(UnreadableFile, "newer High Pair"):
            Store(self.store)

    def test_a_full_disk_loses_nothing_that_was_kept(self) -> None:
        store = Store(self.store)
        self.addCleanup(store.close)
        run = store.begin({})
        store.keep(run, FileRows("a", "1", "slides", "", 0.1, (a_row("k"),)))
        (pages,) = store._sql.execute("PRAGMA page_count").fetchone()
        store._sql.execute(f"PRAGMA max_page_count = {pages + 1}")
        many = tuple(a_row(f"{number:05}" * 20) for number in range(3000))
        with self.assertRaisesRegex(UnwritableFile, "make room"):
            store.keep(run, FileRows("b", "2", "slides", "", 0.1, many))
        self.assertEqual(set(store.done(run)), {"a"})
        self.assertEqual(Findings(store, run).summary().number(Verdict.FALLS_SHORT), 1)

    def test_it_is_read_while_an_audit_writes(self) -> None:
        store = Store(self.store)
        self.addCleanup(store.close)
        run = store.begin({})
        with store._writing():
            reader = Store(self.store, reads_only=True)
            self.assertEqual(Findings(reader, run).summary().files, 0)
            reader.close()

    def test_a_million_pairs_are_summed_up_within_a_second(self) -> None:
        store = Store(self.store)
        self.addCleanup(store.close)
        run = store.begin({})
        # A tenth of them here; the sum is over counts, so it grows with the files alone.
        for file in range(100):
            pairs = tuple(a_row(f"{file}-{each}", "passes") for each in range(1000))
            store.keep(run, FileRows(str(file), "d", "slides", "", 0.0, pairs))
        store.finish(run, (str(file) for file in range(100)))
        start = time.perf_counter()
        summary = Findings(store, run).summary()
        self.assertLess(time.perf_counter() - start, 0.1)
        self.assertEqual(summary.number(Verdict.PASSES), 100_000)

    def test_keys_are_the_same_for_the_same_text_at_the_same_place(self) -> None:
        def keys(path: str, *texts: str) -> list[str]:
            return [key_of(path, what) for what in numbered(a_row(text=each) for each in texts)]

        one, other = keys("deck.pptx", "Words", "Words")
        self.assertNotEqual(one, other)
        self.assertEqual(keys("deck.pptx", "before", "Words", "Words")[1:], [one, other])
        self.assertNotEqual(keys("other.pptx", "Words")[0], one)

    def test_the_wishes_that_decide_a_result_are_in_its_settings(self) -> None:
        one, other = (AuditWishes(("a",), Asked(level), WebSettings()).settings for level in Level)
        self.assertNotEqual(one, other)
        more = AuditWishes(("b",), Asked(), WebSettings(), ("x",), True, True, 4).settings
        self.assertEqual(more, one)


if __name__ == "__main__":
    unittest.main()
