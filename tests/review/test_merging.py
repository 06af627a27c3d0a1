"""Two reviews of the same files are put together, and where they differ both are shown."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from high_pair.edits.kinds import Edit, MoveShape, RecolourText, Restyle, SetAside, TakeUp
from high_pair.edits.merging import in_force
from high_pair.review.merging import merge
from high_pair.review.review_file import (
    KeptDecision,
    KeptFile,
    KeptReview,
    load_review,
    save_review,
)
from high_pair.wcag.asked import Asked
from tests.command import call
from tests.review.test_audits import write_deck


def recolour(text: str, level: int = 0) -> RecolourText:
    return RecolourText(f"slide.xml#sp={text}", (level, level, level), 1.0)


def review(*decisions: tuple[str, *tuple[Edit, ...]], path: str = "a.pptx", digest: str = ""):
    kept = tuple(KeptDecision(0, words, tuple(edits)) for words, *edits in decisions)
    return KeptReview(Asked(), (KeptFile(Path(path), digest),), kept)


def words(decisions) -> list[str]:
    return [each.words for each in decisions]


class Merging(unittest.TestCase):
    def test_what_both_decided_is_there_once_and_what_one_did_is_added(self) -> None:
        found = merge(
            review(("both", recolour("1")), ("first", recolour("2"))),
            review(("both too", recolour("1")), ("second", recolour("3"))),
        )
        self.assertEqual(words(found.review.decisions), ["both", "first", "second"])
        self.assertEqual((found.agreed, words(found.added), found.differences), (1, ["second"], ()))

    def test_two_answers_for_one_text_are_both_shown_and_the_first_counts(self) -> None:
        found = merge(
            review(("dark", recolour("1", 0))),
            review(("pale", recolour("1", 90)), ("logo", SetAside("slide.xml#sp=1", "text", "l"))),
        )
        (difference,) = found.differences
        self.assertEqual(words(difference.first), ["dark"])
        self.assertEqual(words(difference.second), ["pale", "logo"])
        self.assertEqual(words(found.review.decisions), ["dark"])
        chosen = found.with_second(found.differences)
        self.assertEqual(words(chosen.decisions), ["pale", "logo"])

    def test_different_means_for_one_text_differ_too(self) -> None:
        larger = Restyle("slide.xml#sp=1", 24.0, None)
        found = merge(review(("colour", recolour("1"))), review(("size", larger)))
        self.assertEqual(len(found.differences), 1)
        self.assertEqual(found.added, ())

    def test_what_was_changed_or_taken_back_later_doesnt_count(self) -> None:
        aside = SetAside("slide.xml#sp=2", "text", "logo")
        found = merge(
            review(("first try", recolour("1", 9)), ("then", recolour("1", 0)), ("aside", aside),
                   ("again", TakeUp("slide.xml#sp=2", "text"))),
            review(("theirs", recolour("1", 0))),
        )  # fmt: skip
        self.assertEqual(words(found.review.decisions), ["then"])
        self.assertEqual((found.agreed, found.differences), (1, ()))

    def test_moves_that_add_up_stay_all(self) -> None:
        box = (0.0, 0.0, 10.0, 10.0)
        steps = [MoveShape("slide.xml#sp=1", 5.0, 0.0, box) for _ in range(2)]
        found = merge(review(("one", steps[0]), ("more", steps[1])), review())
        (move,) = in_force(edit for each in found.review.decisions for edit in each.edits)
        self.assertEqual(move.across, 10.0)

    def test_files_are_known_by_place_or_content_and_others_are_added(self) -> None:
        first = review(("one", recolour("1")), path="here/a.pptx", digest="sha256:1")
        second = review(("two", recolour("1", 9)), path="there/a.pptx", digest="sha256:1")
        self.assertEqual(len(merge(first, second).differences), 1)
        other = review(("two", recolour("1", 9)), path="there/b.pptx", digest="sha256:2")
        found = merge(first, other)
        self.assertEqual(len(found.review.files), 2)
        self.assertEqual([each.file for each in found.review.decisions], [0, 1])
        self.assertEqual(found.differences, ())

    def test_decisions_that_share_a_text_are_chosen_together(self) -> None:
        found = merge(
            review(("one", recolour("1")), ("two", recolour("2"))),
            review(("both", recolour("1", 9), recolour("2", 9)), ("three", recolour("3"))),
        )
        (difference,) = found.differences
        self.assertEqual((words(difference.first), words(difference.second)),
                         (["one", "two"], ["both"]))  # fmt: skip
        self.assertEqual(words(found.added), ["three"])

    @given(st.lists(st.tuples(st.sampled_from("123"), st.integers(0, 2)), max_size=6))
    def test_a_review_merged_with_itself_is_in_force_as_it_was(self, edits) -> None:
        kept = review(*(("x", recolour(text, level)) for text, level in edits))
        found = merge(kept, kept)
        self.assertEqual(found.differences, ())
        self.assertEqual(found.added, ())
        before = in_force(edit for each in kept.decisions for edit in each.edits)
        after = in_force(edit for each in found.review.decisions for edit in each.edits)
        self.assertEqual(set(before), set(after))


class Command(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.deck = self.folder / "deck.pptx"
        write_deck(self.deck, "AAAAAA", "BBBBBB")

    def test_it_writes_the_merged_review_and_says_where_they_differ(self) -> None:
        _, out, _ = call("review", self.deck, "--format", "json")
        one, two = (pair["address"] for pair in json.loads(out)["files"][0]["pairs"])
        paths = []
        for name, levels in (("ann", (0, 10)), ("ben", (60, 10))):
            edits = [RecolourText(each, (level,) * 3, 1.0)
                     for each, level in zip((one, two), levels, strict=True)]  # fmt: skip
            kept = tuple(KeptDecision(0, f"{name} on {n}", (edit,)) for n, edit in enumerate(edits))
            paths.append(self.folder / f"{name}.highpair")
            save_review(KeptReview(Asked(), (KeptFile(self.deck, ""),), kept), paths[-1])
        target = self.folder / "both.highpair"
        status, out, err = call("merge", *paths, "-o", target)
        self.assertEqual(status, 1, err)
        self.assertIn("ann: ann on 0", out)
        self.assertIn("ben: ben on 0", out)
        self.assertEqual(words(load_review(target).decisions), ["ann on 0", "ann on 1"])
        status, out, _ = call("merge", *paths, "-o", target, "--prefer", "second",
                                          "--format", "json")  # fmt: skip
        told = json.loads(out)
        self.assertEqual((told["agreed"], len(told["differences"])), (1, 1))
        self.assertEqual(words(load_review(target).decisions), ["ann on 1", "ben on 0"])
        status, out, _ = call("report", target, "--format", "csv")
        self.assertEqual(status, 0)
        self.assertIn("#3C3C3C", out)
        status, _, err = call("merge", *paths, "-o", paths[0])
        self.assertEqual(status, 2)


if __name__ == "__main__":
    unittest.main()
