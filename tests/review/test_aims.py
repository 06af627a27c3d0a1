"""Remedies, whole files and sets reach an aim; what can't gets what the standard asks."""

from __future__ import annotations

import contextlib
import io
import json
import unittest
from pathlib import Path

from high_pair.cli import main
from high_pair.formats import open_document
from high_pair.formats.derived_colours import derived
from high_pair.remedy.sets import Move, mend_to_aim, ratio_of
from high_pair.remedy.wishes import Preference, Wishes
from high_pair.review.measuring import PageBench, measured, review_page
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.planning import plan
from high_pair.review.review_file import KeptReview, load_review, save_review
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair, State
from high_pair.wcag.asked import Aim, Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import body, ratio_by_hand, run, shape, solid, xfrm
from tests.review.test_planning import PlanningTest, text

WHITE = solid("FFFFFF")


class Remedies(PlanningTest):
    def remedies(self, path: Path, asked: Asked):
        document = open_document(path)
        self.addCleanup(document.close)
        bench = PageBench()
        (pair,) = bench.get(document, 0, asked).pairs
        return document, pair, remedies_for([pair], document, bench, asked, document.edited)

    def test_every_remedy_reaches_the_aim_and_the_verdict_is_the_standards(self) -> None:
        path = self.on_a_photograph(text("White", "FFFFFF", 40, 2800))
        asked = Asked(aim=Aim(1.5))
        document, pair, found = self.remedies(path, asked)
        self.assertEqual((pair.required, pair.aim, pair.goal), (3.0, 4.5, 4.5))
        self.assertGreater(len({remedy.kind for remedy in found.remedies}), 2)
        for remedy in found.remedies:
            after = measured(document.edited(edits_for(remedy, [pair])), 0, asked)
            (mended,) = after.pairs
            self.assertGreaterEqual(mended.ratio, 4.5, remedy.label)
            self.assertEqual(mended.required, 3.0)

    def test_a_colour_is_the_nearest_that_reaches_it(self) -> None:
        _, _, found = self.remedies(
            self.folder.deck(text("Grey", "AAAAAA", 40)), Asked(aim=Aim(1.2))
        )
        grey = found.remedies[0].levels[0]
        self.assertGreaterEqual(ratio_by_hand(f"{grey:02X}" * 3, "FFFFFF"), 5.4)
        self.assertLess(ratio_by_hand(f"{grey + 1:02X}" * 3, "FFFFFF"), 5.4)

    def test_where_nothing_reaches_it_what_passes_is_proposed_and_that_is_said(self) -> None:
        # Nothing can lie between a text and its highlight, on which black has 4.68.
        highlight = f"<a:highlight>{solid('777777')[len('<a:solidFill>') : -len('</a:solidFill>')]}"
        inner = body(run("Grey", 'sz="1400"', solid("888888") + highlight + "</a:highlight>"))
        path = self.folder.deck(shape(inner, place=xfrm(40, 40, 500, 50)))
        document, pair, found = self.remedies(path, Asked(aim=Aim(ratio=21.0)))
        self.assertTrue(found.remedies)
        self.assertIn("21:1", found.none)
        for remedy in found.remedies:
            (mended,) = measured(document.edited(edits_for(remedy, [pair])), 0, Asked()).pairs
            self.assertIs(mended.verdict, Verdict.PASSES)

    def test_what_passes_below_the_aim_is_left_alone(self) -> None:
        _, pair, found = self.remedies(
            self.folder.deck(text("Grey", "6A6A6A", 40)), Asked(aim=Aim(1.5))
        )
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertEqual(found.remedies, ())


class WholeFiles(PlanningTest):
    def plan_for(self, path: Path, asked: Asked, wishes: Wishes | None = None):
        document = open_document(path)
        self.addCleanup(document.close)
        pages = [review_page(document, 0, asked)]
        found = plan(document, pages, asked, wishes or Wishes())
        return found, measured(document.edited(found.edits), 0, asked).pairs

    def test_all_reaches_the_aim_where_it_can(self) -> None:
        shapes = text("Grey", "AAAAAA", 40) + text("Light", "FFFFFF", 140, fill=solid("E0952B"))
        found, after = self.plan_for(self.folder.deck(shapes), Asked(aim=Aim(1.3)))
        self.assertEqual(found.left, ())
        for pair in after:
            self.assertGreaterEqual(pair.ratio, 4.5 * 1.3)

    def test_what_nothing_brings_to_the_aim_passes_at_least(self) -> None:
        path = self.folder.deck(text("Grey", "888888", 40, fill=solid("777777")))
        wishes = Wishes(Preference.TEXT, overlays=frozenset())
        found, (pair,) = self.plan_for(path, Asked(aim=Aim(ratio=21.0)), wishes)
        self.assertEqual(found.left, ())
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertLess(pair.ratio, 21.0)

    def test_the_command_says_how_many_are_below_the_aim(self) -> None:
        path = self.folder.deck(text("Grey", "AAAAAA", 40))
        target = self.folder.path / "copy.pptx"
        for aim, words in (("1.4x", ""), ("21:1", "")):
            out = io.StringIO()
            with contextlib.redirect_stdout(out):
                status = main(["remedy", str(path), "-o", str(target), "--aim", aim])
            self.assertEqual(status, 0, words)
            document = open_document(target)
            self.addCleanup(document.close)
            (pair,) = measured(document, 0, Asked()).pairs
            self.assertGreaterEqual(pair.ratio, 4.5 * 1.4)
        with contextlib.redirect_stderr(io.StringIO()) as err, self.assertRaises(SystemExit):
            main(["remedy", str(path), "-o", str(target), "--aim", "lofty"])
        self.assertIn("lofty", err.getvalue())

    def test_a_report_and_a_kept_review_know_the_aim(self) -> None:
        path = self.folder.deck(text("Grey", "AAAAAA", 40))
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            main(["review", str(path), "--aim", "1.2x", "--remedies", "--format", "json"])
        report = json.loads(out.getvalue())
        self.assertEqual(report["settings"]["aim"], "×1.2")
        (pair,) = report["files"][0]["pairs"]
        self.assertEqual((pair["required"], pair["verdict"]), (4.5, "falls_short"))
        self.assertTrue(all(remedy["ratio"] >= 5.4 for remedy in pair["remedies"]))
        kept = self.folder.path / "kept.highpair"
        asked = Asked(aim=Aim(ratio=6.0))
        save_review(KeptReview(asked, (), ()), kept)
        self.assertEqual(load_review(kept).asked, asked)


class Sets(unittest.TestCase):
    def test_a_set_reaches_the_aim_or_else_what_is_asked(self) -> None:
        colours = ColourSet(
            "Quay",
            "list",
            "typed",
            (SetColour("ink", (140, 140, 140)), SetColour("paper", (255, 255, 255))),
            (SetPair("ink", "paper", State.WANTED, 4.5),),
        )
        (pair,) = colours.pairs
        for aim, least, most in ((Aim(1.5), 6.75, 7.2), (Aim(ratio=21.0), 21.0, 21.0)):
            mended = mend_to_aim(colours, derived, Move.TEXTS, aim)
            ratio = ratio_of(mended.colours, pair)
            self.assertTrue(least - 1e-6 <= ratio <= most + 1e-6, ratio)
            self.assertEqual(mended.colours.pairs, colours.pairs)
            self.assertEqual(mended.given_up, ())


if __name__ == "__main__":
    unittest.main()
