"""The work from opening to the measured copy, without a window."""

import unittest

from high_pair.edits.kinds import RecolourText, Restyle, SetAside, TakeUp
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.review.history import Decision, History
from high_pair.review.listing import EVERYTHING, Order, Scope
from high_pair.review.measuring import PageBench, review_page
from high_pair.review.mending import edits_for, mend_group, proposals_for
from high_pair.review.saving import save_copy
from high_pair.review.session import Session
from high_pair.scene.addresses import expand, span
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.decks import DeckFolder, body, pairs_of, ratio_by_hand, run, shape, solid, xfrm
from tests.mending import mend_file

PALE = solid("AAAAAA")


class Addresses(unittest.TestCase):
    def test_neighbours_are_written_as_a_span_and_read_back(self):
        singles = [f"a.xml#sp=1/p=2/r={n}" for n in (3, 4, 5)]
        self.assertEqual(span(singles), "a.xml#sp=1/p=2/r=3-5")
        self.assertEqual(expand(span(singles)), singles)

    def test_a_range_without_end_is_an_address_of_nothing(self):
        for last in ("99999999999", "9" * 5000):
            self.assertEqual(expand(f"a.xml#sp=1/r=1-{last}"), [f"a.xml#sp=1/r=1-{last}"])
        self.assertEqual(len(expand("a.xml#sp=1/r=1-5000")), 5000)

    def test_what_does_not_fit_together_is_listed(self):
        parts = ["a.xml#sp=1/p=2/r=3", "a.xml#sp=2/p=2/r=1"]
        self.assertEqual(expand(span(parts)), parts)
        self.assertEqual(span(["a#r=1", "a#r=1"]), "a#r=1")


class HistoryTest(unittest.TestCase):
    def test_undo_and_redo_walk_the_decisions(self):
        one = Decision(1, "one", (RecolourText("a#r=1", (0, 0, 0)),))
        two = Decision(1, "two", (RecolourText("a#r=1", (9, 9, 9)),))
        history = History().with_decision(one).with_decision(two)
        self.assertEqual(history.edits_of(1), two.edits)
        self.assertEqual(history.back().edits_of(1), one.edits)
        self.assertEqual(history.back().forth(), history)
        self.assertEqual(history.back().with_decision(one).undone, ())
        self.assertEqual(History().back(), History())
        self.assertEqual(history.edits_of(2), ())

    def test_edits_of_one_address_about_different_matters_stand_beside_each_other(self):
        edits = (
            RecolourText("a#r=1", (0, 0, 0)),
            Restyle("a#r=1", None, True),
            SetAside("a#r=1", "text", "it is a logotype"),
            Restyle("a#r=1", 18.0, None),
            RecolourText("a#r=1", (9, 9, 9)),
        )
        history = History()
        for edit in edits:
            history = history.with_decision(Decision(1, "", (edit,)))
        self.assertEqual(
            history.edits_of(1),
            (Restyle("a#r=1", 18.0, True), RecolourText("a#r=1", (9, 9, 9))),
        )
        self.assertEqual(list(history.set_aside(1)), [("a#r=1", "text")])
        history = history.with_decision(Decision(1, "", (TakeUp("a#r=1", "text"),)))
        self.assertEqual(history.set_aside(1), {})
        self.assertEqual(len(history.edits_of(1)), 2)


class SessionTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        self.bench = PageBench()
        self.session = Session()

    def open(self, shapes: str, name: str = "test.pptx"):
        path = self.folder.deck(shapes, name)
        file = self.session.add(path, open_document(path))
        self.addCleanup(file.base.close)
        self.measure()
        return file

    def measure(self) -> None:
        for due in self.session.due():
            self.session.take(due, review_page(due.document, due.page, due.asked))

    def test_a_remedy_applied_undone_and_redone(self):
        file = self.open(shape(body(run(inner=PALE))))
        (look,) = self.session.looks(Verdict.FALLS_SHORT)
        best = proposals_for(look.group.pairs, file.document, self.bench, self.session.asked)
        touched = self.session.decide(
            file.key, "recolour", edits_for(best.remedies[0], look.group.pairs)
        )
        self.assertEqual(touched, {0})
        self.measure()
        self.assertEqual(self.session.counts()[Verdict.FALLS_SHORT], 0)
        self.assertEqual(self.session.unsaved(), [file])
        self.session.undo()
        self.measure()
        self.assertEqual(self.session.counts()[Verdict.FALLS_SHORT], 1)
        self.assertIs(file.document, file.base)
        self.session.redo()
        self.measure()
        self.assertEqual(self.session.counts()[Verdict.PASSES], 1)
        self.assertIsNone(self.session.redo())

    def test_a_result_from_before_a_change_is_not_taken(self):
        file = self.open(shape(body(run(inner=PALE))))
        old = self.session.due_page(file.key, 0)
        review = review_page(old.document, 0, old.asked)
        address = review.pairs[0].address
        self.session.decide(file.key, "recolour", [RecolourText(address, (0, 0, 0))])
        self.assertFalse(self.session.take(old, review))
        self.assertEqual(len(self.session.due()), 1)

    def test_an_edit_that_cannot_be_carried_out_changes_nothing(self):
        file = self.open(shape(body(run(inner=PALE))))
        with self.assertRaises(EditError):
            self.session.decide(
                file.key, "x", [RecolourText("ppt/slides/slide1.xml#sp=9/p=1/r=1", (0, 0, 0))]
            )
        self.assertEqual(self.session.history, History())
        self.assertEqual(self.session.due(), [])

    def test_another_level_makes_every_page_due(self):
        self.open(shape(body(run(properties='sz="1200"', inner=solid("767676")))))
        self.assertEqual(self.session.counts()[Verdict.PASSES], 1)
        self.session.ask(Asked(Level.AAA))
        self.measure()
        (look,) = self.session.looks(Verdict.FALLS_SHORT)
        self.assertEqual(
            (look.group.weakest.criterion, look.group.weakest.required), ("1.4.6", 7.0)
        )

    def test_several_files_and_closing_one(self):
        one = self.open(shape(body(run(inner=PALE))), "one.pptx")
        two = self.open(shape(body(run(inner=PALE))), "two.pptx")
        self.assertEqual({look.file for look in self.session.looks(Verdict.FALLS_SHORT)}, {1, 2})
        self.assertIs(self.session.file_at(two.location), two)
        self.session.remove(one.key)
        self.assertEqual({look.file for look in self.session.looks(Verdict.FALLS_SHORT)}, {2})

    def test_what_is_listed_is_all_a_file_or_a_page_by_ratio_or_by_what_is_missing(self):
        # 2.5 of the 3 that large text has to have, and 2.9 of 4.5.
        large = shape(body(run("Large", properties='sz="2400"', inner=solid("A4A4A4"))))
        small = shape(body(run("Small", properties='sz="1200"', inner=solid("979797"))))
        one = self.open(large, "one.pptx")
        two = self.open(small + shape(body(run("Black", inner=solid("000000")))), "two.pptx")

        def names(scope=EVERYTHING, order=Order.RATIO):
            looks = self.session.looks(Verdict.FALLS_SHORT, scope, order)
            return [look.group.weakest.text for look in looks]

        self.assertEqual(names(), ["Large", "Small"])
        self.assertEqual(names(order=Order.SHORTFALL), ["Small", "Large"])
        self.assertEqual(names(Scope(one.key)), ["Large"])
        self.assertEqual(names(Scope(two.key, 0)), ["Small"])
        self.assertEqual(names(Scope(two.key, 1)), [])
        self.assertEqual(self.session.counts(Scope(two.key))[Verdict.PASSES], 1)
        self.assertEqual(self.session.counts(Scope(one.key))[Verdict.PASSES], 0)

    def test_alike_places_get_one_colour(self):
        file = self.open(
            shape(body(run("One", inner=PALE)))
            + shape(body(run("Two", inner=PALE)), place=xfrm(60, 220, 400, 60))
        )
        (look,) = self.session.looks(Verdict.FALLS_SHORT)
        edits, left = mend_group(look.group.pairs, file.document, self.bench, self.session.asked)
        self.assertEqual((len(edits), left), (2, ()))
        self.assertEqual(len({edit.levels for edit in edits}), 1)

    def test_a_saved_copy_is_measured_anew(self):
        file = self.open(shape(body(run(inner=PALE))))
        address = self.session.pairs_on(file.key, 0)[0].address
        self.session.decide(file.key, "recolour", [RecolourText(address, (0x59, 0x59, 0x59))])
        target = self.folder.path / "copy.pptx"
        changed = self.session.changed_pairs(file.key)
        copy = save_copy(file.document, target, file.location, changed, [0], self.session.asked)
        self.assertEqual(copy.words, "1 of 1 changed pair passes in the saved file")
        self.assertAlmostEqual(
            copy.pages[0].pairs[0].ratio, ratio_by_hand("595959", "FFFFFF"), delta=0.001
        )

    def test_a_link_recoloured_passes_against_backdrop_and_text(self):
        link = run("letter", 'u="none"', solid("23566E") + '<a:hlinkClick r:id="rId5"/>')
        shapes = shape(
            body(
                run("Ask by ", inner=solid("13232E"))
                + link
                + run(" or post", inner=solid("13232E"))
            )
        )
        path = self.folder.deck(shapes, slide_rels={"rId5": ("hyperlink", "http://a.invalid/")})
        target = self.folder.path / "copy.pptx"
        mended = mend_file(path, target, Asked())
        pairs = {(pair.criterion, pair.text): pair for pair in pairs_of(target)}
        self.assertEqual((mended.left, mended.short), ((), 0))
        self.assertGreaterEqual(pairs["1.4.1", "letter"].ratio, 3.0)
        self.assertGreaterEqual(pairs["1.4.3", "letter"].ratio, 3.0)


if __name__ == "__main__":
    unittest.main()
