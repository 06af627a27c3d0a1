"""The review file: what was opened and decided, there and back, whole, whatever happens."""

import itertools
import json
import multiprocessing
import random
import tempfile
import time
import unittest
from multiprocessing.connection import Connection
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.edits.kinds import (
    RecolourText,
    SetAside,
    TakeUp,
)
from high_pair.errors import HighPairError, UnreadableFile
from high_pair.formats import open_document
from high_pair.review.measuring import review_page
from high_pair.review.review_file import (
    KeptDecision,
    KeptFile,
    KeptReview,
    digest_of,
    load_review,
    save_review,
)
from high_pair.review.session import Session
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.decks import DeckFolder, body, run, shape, solid


class ThereAndBack(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "work.highpair"

    def test_a_review_survives_and_its_paths_are_relative(self):
        deck = self.folder / "decks" / "briefing.pptx"
        deck.parent.mkdir()
        deck.write_bytes(b"anything")
        decision = KeptDecision(0, "recolouring “Word”", (RecolourText("a#r=1", (1, 2, 3)),))
        review = KeptReview(Asked(Level.AAA), (KeptFile(deck, digest_of(deck)),), (decision,))
        save_review(review, self.path)
        written = json.loads(self.path.read_text())
        self.assertEqual(written["files"][0]["path"], "decks/briefing.pptx")
        self.assertTrue(written["files"][0]["digest"].startswith("sha256:"))
        self.assertEqual(written["settings"], {"level": "AAA", "coverage": 0.95})
        self.assertEqual(load_review(self.path), review)
        moved = self.folder / "elsewhere"
        moved.mkdir()
        (moved / "work.highpair").write_bytes(self.path.read_bytes())
        found = load_review(moved / "work.highpair")
        self.assertEqual(found.files[0].location, moved / "decks" / "briefing.pptx")

    def test_a_second_save_is_the_same_to_the_byte(self):
        review = KeptReview(Asked(), (KeptFile(self.folder / "a.pptx", ""),), ())
        save_review(review, self.path)
        first = self.path.read_bytes()
        save_review(load_review(self.path), self.path)
        self.assertEqual(self.path.read_bytes(), first)

    def test_what_is_no_review_file_is_refused_in_words(self):
        good = {
            "format": "high-pair-work",
            "version": 1,
            "settings": {"level": "AA", "coverage": 0.95},
            "files": [{"path": "a.pptx", "digest": ""}],
            "decisions": [],
        }
        decision = {"file": 0, "words": "", "edits": []}
        bad = {
            "no JSON": b"{",
            "a list": b"[]",
            "another format": {**good, "format": "high-pair-log"},
            "a newer version": {**good, "version": 2},
            "no level": {**good, "settings": {"level": "B"}},
            "a decision about no file": {**good, "decisions": [{**decision, "file": 5}]},
            "an unknown edit": {
                **good,
                "decisions": [{**decision, "edits": [{"edit": "format-disk", "address": "a"}]}],
            },
            "an endless nest": b"[" * 200_000,
            "a number for a path": {**good, "files": [{"path": 7, "digest": ""}]},
        }
        for name, content in bad.items():
            data = content if isinstance(content, bytes) else json.dumps(content).encode()
            self.path.write_bytes(data)
            with self.assertRaises(HighPairError, msg=name) as caught:
                load_review(self.path)
            self.assertIn("work.highpair", str(caught.exception))
        with self.assertRaises(UnreadableFile):
            load_review(self.folder / "none.highpair")

    @given(st.binary(max_size=300))
    @settings(max_examples=60)
    def test_any_bytes_are_read_or_refused(self, data):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.highpair"
            path.write_bytes(data)
            with self.assertRaises(HighPairError):
                load_review(path)


class InASession(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        self.path = self.folder.deck(shape(body(run(inner=solid("AAAAAA")))))

    def session(self) -> Session:
        session = Session()
        document = open_document(self.path)
        self.addCleanup(document.close)
        session.add(self.path, document)
        return session

    def measure(self, session: Session):
        for due in session.due():
            session.take(due, review_page(due.document, due.page, due.asked))
        (pair,) = session.pairs_on(1, 0)
        return pair

    def restore(self, session, decisions):
        restored = session.restored(decisions)
        self.assertTrue(session.take_restored(restored))
        return restored.left

    def test_decisions_are_taken_up_again_and_can_be_undone(self):
        first = self.session()
        pair = self.measure(first)
        first.decide(1, "recolouring", [RecolourText(pair.address, (0, 0, 0))])
        first.decide(1, "setting aside", [SetAside(pair.address, "text", "it is a logotype")])
        kept = first.kept_review({1: "sha256:x"})
        second = self.session()
        self.measure(second)
        from high_pair.review.history import Decision

        decisions = [Decision(1, each.words, each.edits) for each in kept.decisions]
        self.assertEqual(self.restore(second, decisions), ())
        pair = self.measure(second)
        self.assertIs(pair.verdict, Verdict.SET_ASIDE)
        self.assertEqual(pair.reason, "it is a logotype")
        self.assertEqual(pair.numbers.foreground, "#000000")
        second.undo()
        self.assertIs(self.measure(second).verdict, Verdict.PASSES)
        second.undo()
        self.assertIs(self.measure(second).verdict, Verdict.FALLS_SHORT)

    def test_a_decision_whose_text_is_gone_is_left_out_and_the_others_stand(self):
        from high_pair.review.history import Decision

        session = self.session()
        pair = self.measure(session)
        gone = Decision(1, "gone", (RecolourText("ppt/slides/slide1.xml#sp=9/p=1/r=1", (0, 0, 0)),))
        good = Decision(1, "good", (RecolourText(pair.address, (0, 0, 0)),))
        self.assertEqual(self.restore(session, [gone, good]), (gone,))
        self.assertIs(self.measure(session).verdict, Verdict.PASSES)

    def test_decisions_of_a_file_that_is_closed_meanwhile_do_not_come_back(self):
        from high_pair.review.history import Decision

        session = self.session()
        pair = self.measure(session)
        decisions = [Decision(1, "black", (RecolourText(pair.address, (0, 0, 0)),))]
        restored = session.restored(decisions)
        self.assertEqual(session.history.taken, ())
        session.remove(1)
        self.assertFalse(session.take_restored(restored))
        again = session.restored(decisions)
        self.assertTrue(session.take_restored(again))
        self.assertEqual(session.history.taken, ())

    def test_judged_again_it_has_its_own_verdict(self):
        session = self.session()
        pair = self.measure(session)
        session.decide(
            1, "aside", [SetAside(pair.address, "text", "it is pure decoration", "seal")]
        )
        self.assertEqual(self.measure(session).reason, "it is pure decoration: seal")
        session.decide(1, "again", [TakeUp(pair.address, "text")])
        self.assertIs(self.measure(session).verdict, Verdict.FALLS_SHORT)


def save_reviews(target: Path, told: Connection) -> None:
    """Write a review file again and again, and tell after each time."""
    edits = tuple(RecolourText(f"a#r={n}", (1, 2, 3)) for n in range(4000))
    for count in itertools.count():
        decisions = (KeptDecision(0, str(count), edits),)
        save_review(KeptReview(Asked(), (KeptFile(target, ""),), decisions), target)
        told.send(count)


def save_copies(source: Path, target: Path, told: Connection) -> None:
    """Save copies of a deck again and again, and tell after each."""
    document = open_document(source)
    for count in itertools.count():
        address = "ppt/slides/slide1.xml#sp=1/p=1/r=1"
        document.edited([RecolourText(address, (count % 256, 0, 0))]).save(target)
        told.send(count)


class KilledWhileSaving(unittest.TestCase):
    """A save that is killed at any moment leaves the old file or the new one, whole."""

    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        self.random = random.Random(6)

    def kill(self, saving, *arguments: Path) -> None:
        """Have files saved in a process of its own, which is killed soon after the first."""
        context = multiprocessing.get_context("fork")
        line, theirs = context.Pipe()
        process = context.Process(target=saving, args=(*arguments, theirs), daemon=True)
        process.start()
        line.recv()
        time.sleep(self.random.random() * 0.12)
        process.kill()
        process.join()
        process.close()
        line.close()
        theirs.close()

    def test_a_review_file(self):
        target = self.folder.path / "work.highpair"
        for _ in range(12):
            self.kill(save_reviews, target)
            review = load_review(target)
            self.assertEqual(len(review.decisions[0].edits), 4000)

    def test_a_saved_copy(self):
        source = self.folder.deck(shape(body(run(inner=solid("AAAAAA")))) * 40, "source.pptx")
        before = source.read_bytes()
        target = self.folder.path / "copy.pptx"
        for _ in range(10):
            self.kill(save_copies, source, target)
            document = open_document(target)
            self.assertEqual(len(review_page(document, 0, Asked()).pairs), 40)
            document.close()
            self.assertEqual(source.read_bytes(), before)


if __name__ == "__main__":
    unittest.main()
