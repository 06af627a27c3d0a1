"""What was set aside stays so: by file, place, words and look, in later reviews and audits."""

from __future__ import annotations

import json
import os
import sqlite3
import tempfile
import unittest
from pathlib import Path

from pptx import Presentation

from high_pair.edits.kinds import SetAside
from high_pair.errors import UnreadableFile
from high_pair.formats.reading import sha256_of
from high_pair.report.findings import Findings
from high_pair.report.sources import is_store
from high_pair.report.store import Decision, FileRows, Store
from high_pair.report.tables import APPLICATION, FIRST
from high_pair.review.decisions import Aside, read_decisions, write_decisions
from high_pair.review.review_file import KeptDecision, KeptFile, KeptReview, save_review
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import AsideReason, Verdict
from tests.command import call
from tests.report.samples import a_row, a_run
from tests.review.test_audits import write_deck


class Deciding(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.deck = self.folder / "share" / "deck.pptx"
        # Three texts that fall short, the first two alike.
        write_deck(self.deck, "AAAAAA", "BBBBBB", "AAAAAA")
        self.store = self.folder / "audit.sqlite"
        self.file = self.folder / "share" / "decisions.json"

    def audit(self, *words: object) -> dict:
        _, out, err = call(
            "audit", self.deck.parent, "--store", self.store, "--format", "json", *words
        )
        self.assertTrue(out, err)
        told = json.loads(out)
        counts = {each["verdict"]: each["number"] for each in told["counts"]}
        return {**told, **counts}

    def reviewed(self, *words: object) -> tuple[int, list[dict]]:
        status, out, err = call("review", self.deck, "--format", "json", *words)
        self.assertTrue(out, err)
        return status, json.loads(out)["files"][0]["pairs"]

    def a_review_file(self, *texts: str) -> Path:
        """Keep a review in which texts were set aside."""
        _, pairs = self.reviewed()
        target = self.folder / "work.highpair"
        edits = tuple(
            SetAside(pair["address"], pair["subject"], AsideReason.LOGOTYPE.value, "the line’s own")
            for pair in pairs
            if pair["text"] in texts
        )
        self.assertTrue(edits)
        kept = KeptReview(
            Asked(), (KeptFile(self.deck, ""),), (KeptDecision(0, "setting aside", edits),)
        )
        save_review(kept, target)
        return target


class Files(Deciding):
    def test_a_review_file_becomes_a_decisions_file_that_reviews_and_audits_heed(self) -> None:
        review = self.a_review_file("Sailing 0")
        status, _, err = call("decisions", review, "-o", self.file)
        self.assertEqual(status, 0, err)
        (told,) = json.loads(self.file.read_text("utf-8"))["decisions"]
        self.assertEqual((told["path"], told["text"]), ("deck.pptx", "Sailing 0"))
        self.assertEqual(told["reason"], "it is part of a logotype: the line’s own")
        status, pairs = self.reviewed("--decisions", self.file)
        verdicts = {pair["text"]: pair["verdict"] for pair in pairs}
        self.assertEqual(
            verdicts,
            {"Sailing 0": "set_aside", "Sailing 1": "falls_short", "Sailing 2": "falls_short"},
        )
        self.assertEqual(status, 1)
        found = self.audit("--decisions", self.file)
        self.assertEqual((found["set_aside"], found["falls_short"]), (1, 2))

    def test_an_audit_knows_it_again_without_being_told_and_after_the_file_has_changed(
        self,
    ) -> None:
        self.assertEqual(self.audit()["falls_short"], 3)
        found = self.audit("--decisions", self.a_review_file("Sailing 0"))
        self.assertEqual((found["as_they_were"], found["set_aside"]), (1, 1))
        # A text is added; the one that was set aside is as it was.
        write_deck(self.deck, "AAAAAA", "BBBBBB", "AAAAAA", "CCCCCC")
        found = self.audit()
        self.assertEqual(
            (found["as_they_were"], found["set_aside"], found["falls_short"]), (0, 1, 3)
        )

    def test_what_looks_otherwise_by_now_is_to_be_renewed_and_falls_short(self) -> None:
        self.audit("--decisions", self.a_review_file("Sailing 0"))
        write_deck(self.deck, "ABABAB", "BBBBBB", "AAAAAA")
        found = self.audit()
        self.assertNotIn("set_aside", found)
        self.assertEqual([each["text"] for each in found["decisions_to_renew"]], ["Sailing 0"])
        _, out, _ = call("audit", self.deck.parent, "--store", self.store)
        self.assertIn("looking otherwise now: 1", out)

    def test_what_a_decisions_file_no_longer_says_counts_again(self) -> None:
        call("decisions", self.a_review_file("Sailing 0", "Sailing 1"), "-o", self.file)
        self.assertEqual(self.audit("--decisions", self.file)["set_aside"], 2)
        told = json.loads(self.file.read_text("utf-8"))
        del told["decisions"][0]
        self.file.write_text(json.dumps(told), "utf-8")
        found = self.audit("--decisions", self.file)
        self.assertEqual(
            (found["as_they_were"], found["set_aside"], found["falls_short"]), (1, 1, 2)
        )

    def test_a_review_file_of_another_version_of_the_file_decides_nothing(self) -> None:
        review = self.a_review_file("Sailing 0")
        told = json.loads(review.read_text("utf-8"))
        told["files"][0]["digest"] = "sha256:" + "0" * 64
        review.write_text(json.dumps(told), "utf-8")
        self.assertNotIn("set_aside", self.audit("--decisions", review))

    def test_the_second_of_two_like_texts_is_told_from_the_first(self) -> None:
        deck = Presentation(str(self.deck))
        for shape in deck.slides[0].shapes:
            shape.name = "Box"
            shape.text_frame.paragraphs[0].runs[0].text = "Late"
        deck.save(str(self.deck))
        _, pairs = self.reviewed()
        self.assertEqual(len({pair["where"] for pair in pairs}), 1)
        second = pairs[2]
        aside = Aside(str(self.deck.resolve()), second["where"], "text", "Late", "", 3,
                      second["foreground"], second["background"], "why", "")  # fmt: skip
        write_decisions([aside], self.file)
        _, pairs = self.reviewed("--decisions", self.file)
        self.assertEqual([pair["verdict"] == "set_aside" for pair in pairs], [False, False, True])
        self.assertEqual(self.audit("--decisions", self.file)["set_aside"], 1)

    def test_what_is_written_is_read_again_beside_its_files_wherever_these_are(self) -> None:
        aside = Aside(str(self.deck.resolve()), "Slide 1 › «x»", "text", "Wörter\n2", "on hover", 2,
                      None, "#FFFFFF", "why", "2026-11-30T00:00:00+00:00")  # fmt: skip
        write_decisions([aside], self.file)
        self.assertEqual(read_decisions(self.file), (aside,))
        other = self.folder / "moved"
        self.file.parent.rename(other)
        (moved,) = read_decisions(other / "decisions.json")
        self.assertEqual(moved.path, str((other / "deck.pptx").resolve()))

    def pipe(self) -> Path:
        pipe = self.folder / "pipe"
        os.mkfifo(pipe)
        return pipe

    def test_what_is_no_decisions_file_is_refused_in_words(self) -> None:
        start = '{"format": "high-pair-decisions", "version": 1, "decisions": '
        for content, words in (
            ("{", "sound JSON"),
            ("[]", "holds no decisions"),
            ('{"format": "high-pair-decisions", "version": 9}', "newer"),
            (f"{start}[{{}}]}}", "no sense"),
            (f'{start}[{{"verdict": "passes"}}]}}', "can't be decided"),
        ):
            self.file.write_text(content)
            with self.assertRaisesRegex(UnreadableFile, words):
                read_decisions(self.file)
        for never_ends in (Path("/dev/zero"), self.pipe()):
            for read in (read_decisions, is_store):
                with self.assertRaisesRegex(UnreadableFile, "a pipe or a device"):
                    read(never_ends)
            self.assertEqual(sha256_of(never_ends), "")
        status, _, err = call("review", self.deck, "--decisions", self.folder / "gone")
        self.assertEqual(status, 2)
        self.assertIn("gone", err)


class Stores(unittest.TestCase):
    def setUp(self) -> None:
        self.store = Store()
        self.addCleanup(self.store.close)
        self.run_number = self.store.begin({})
        rows = (a_row("1"), a_row("2", "needs_eyes", reason="why"), a_row("3", "passes"),
                a_row("4", "exempt"))  # fmt: skip
        self.store.keep(self.run_number, FileRows("a", "", "slides", "", 0.0, rows))
        self.findings = Findings(self.store, self.run_number)

    def decide(self, *keys: str) -> None:
        self.store.decide(
            Decision(key, "logo", "", "#777777", "#FFFFFF", "a", "", "") for key in keys
        )
        self.store.heed_decisions(self.run_number)

    def verdicts(self) -> dict[str, str]:
        return {each.row.key: each.row.verdict for each in self.findings.pairs()}

    def test_only_what_is_open_can_be_set_aside_and_counts_follow(self) -> None:
        self.decide("1", "2", "3", "4")
        self.assertEqual(
            self.verdicts(), {"1": "set_aside", "2": "set_aside", "3": "passes", "4": "exempt"}
        )
        summary = self.findings.summary()
        self.assertEqual(summary.number(Verdict.SET_ASIDE), 2)
        self.assertEqual(summary.number(Verdict.FALLS_SHORT), 0)

    def test_a_decision_that_is_taken_back_leaves_what_was_measured(self) -> None:
        before = self.verdicts()
        self.decide("1", "2")
        self.store.take_back(["1", "2"])
        self.store.heed_decisions(self.run_number)
        self.assertEqual(self.verdicts(), before)
        reasons = {each.row.key: each.row.reason for each in self.findings.pairs()}
        self.assertEqual(reasons["2"], "why")

    def test_a_decision_about_another_look_counts_for_nothing(self) -> None:
        self.store.decide([Decision("1", "logo", "", "#000000", "#FFFFFF", "a", "", "")])
        self.store.heed_decisions(self.run_number)
        self.assertEqual(self.verdicts()["1"], "falls_short")
        (renew,) = self.findings.decisions_to_renew()
        self.assertEqual(renew.key, "1")


class FirstVersion(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "old.sqlite"
        old = sqlite3.connect(self.path)
        old.executescript(
            f"{FIRST} PRAGMA application_id = {APPLICATION}; PRAGMA user_version = 1;"
            "INSERT INTO runs VALUES (1, 'then', 'then', '{\"level\": \"AA\"}');"
            "INSERT INTO files VALUES (1, 'a.pptx', 'd', 'slides', NULL);"
            "INSERT INTO results VALUES (1, 1, 0.5, 'd', '', NULL);"
            "INSERT INTO pairs VALUES (1, 1, 'k', 1, 'text', 'Words', '#777777', '#FFFFFF', 4.4,"
            " 4.5, '1.4.3', 'falls_short', '', 'Slide 1', 'theme');"
            "INSERT INTO counts VALUES (1, 1, '1.4.3', 'falls_short', 1);"
        )
        old.close()

    def test_it_is_read_and_goes_on(self) -> None:
        store = Store(self.path)
        self.addCleanup(store.close)
        findings = Findings(store, 1)
        (pair,) = findings.pairs()
        self.assertEqual((pair.row.text, pair.row.ratio, pair.row.bold), ("Words", 4.4, False))
        store.decide([Decision("k", "why", "", "#777777", "#FFFFFF", "", "", "")])
        store.heed_decisions(1)
        self.assertEqual(findings.summary().number(Verdict.SET_ASIDE), 1)
        store.take_back(["k"])
        store.heed_decisions(1)
        self.assertEqual(findings.summary().number(Verdict.FALLS_SHORT), 1)

    def test_read_alone_it_stays_byte_for_byte(self) -> None:
        before = self.path.read_bytes()
        store = Store(self.path, reads_only=True)
        (pair,) = Findings(store, 1).pairs()
        store.close()
        self.assertEqual(pair.row.text, "Words")
        self.assertEqual(self.path.read_bytes(), before)
        self.assertEqual([each.name for each in self.path.parent.iterdir()], ["old.sqlite"])


class StrangersStores(unittest.TestCase):
    """SQLite keeps anything in any column."""

    def test_a_pair_that_makes_no_sense_is_refused_in_words(self) -> None:
        for column, value in (
            ("ratio", "a lot"), ("criterion", "9.9.9"), ("verdict", "fine"), ("text", b"\xff"),
            ("foreground", '"/><script>'), ("bbox", "[1]"), ("bbox", "{"), ("size_class", "huge"),
        ):  # fmt: skip
            store = Store()
            findings = a_run(store, a=(a_row("1"),))
            store.sql.execute(f"UPDATE pairs SET {column} = ?", (value,))
            with self.assertRaisesRegex(UnreadableFile, "makes no sense"):
                list(findings.pairs())
            store.close()

    def test_settings_and_counts_that_make_no_sense_are_left_out(self) -> None:
        store = Store()
        self.addCleanup(store.close)
        findings = a_run(store, a=(a_row("1"),))
        store.sql.execute("UPDATE runs SET settings = '[3'")
        store.sql.execute("UPDATE counts SET criterion = 'x'")
        self.assertEqual(dict(findings.settings), {})
        self.assertEqual((findings.summary().pairs, findings.summary().criteria), (0, ()))


if __name__ == "__main__":
    unittest.main()
