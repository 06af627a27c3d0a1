"""The overview adds up what the store has, now and before."""

from __future__ import annotations

import unittest

from high_pair.report.findings import Tick
from high_pair.report.store import Store
from high_pair.review.listing import Kept
from high_pair.review.overview import overview_of
from high_pair.wcag.verdicts import Verdict
from tests.report.samples import a_row, a_run


class Overviews(unittest.TestCase):
    def setUp(self) -> None:
        self.store = Store()
        self.addCleanup(self.store.close)
        self.before = a_run(
            self.store,
            a=(a_row("1", origin="theme"), a_row("2", origin="theme"), a_row("3", origin="style")),
            b=(a_row("4", origin="theme"),),
        )
        self.now = a_run(
            self.store,
            a=(a_row("1", "passes", origin="theme"), a_row("2", origin="theme", ratio=2.25),
               a_row("3", "passes", origin="style")),
            b=(a_row("4", "needs_eyes", origin="theme"), a_row("5", origin="run")),
            c="c.pptx: it is damaged.",
        )  # fmt: skip
        self.overview = overview_of(self.now, self.before)

    def test_origins_tell_what_they_account_for_now_and_before_also_where_nothing_is_left(self):
        found = [(each.origin, each.before, each.now, each.files) for each in self.overview.origins]
        self.assertEqual(found, [("theme", 3, 1, 2), ("run", 0, 1, 1), ("style", 1, 0, 1)])
        self.assertEqual(self.overview.origins[0].look.ratio, 2.25)

    def test_files_come_with_what_cant_be_read_first_then_the_worst(self) -> None:
        found = [(each.path, each.before, each.short, each.eyes) for each in self.overview.files]
        self.assertEqual(found, [("c.pptx", 0, 0, 0), ("a.pptx", 2 + 1, 1, 0), ("b.pptx", 1, 1, 1)])
        ladder = next(each for each in self.overview.files if each.path == "a.pptx").ladder
        self.assertEqual(sum(tick.places for tick in ladder), 3)
        self.assertEqual(ladder[0], Tick(0.5, 1))

    def test_the_trend_is_what_is_new_gone_and_still_there(self) -> None:
        trend = self.overview.trend
        assert trend is not None
        self.assertEqual((trend.new, trend.gone, trend.still), (1, 3, 1))
        self.assertEqual([count for _, count in self.overview.runs], [4, 2])
        of_one = overview_of(self.now, self.before, is_one_review=True)
        self.assertEqual((of_one.trend, of_one.runs), (None, ()))

    def test_what_is_just_short_never_stands_among_what_passes(self) -> None:
        store = Store()
        self.addCleanup(store.close)
        run = a_run(store, a=(a_row("1", ratio=4.4999, required=4.5), a_row("2", ratio=4.5)))
        shares = [tick.share for tick in run.ladders()["a.pptx"]]
        self.assertLess(shares[0], 1.0)
        self.assertGreaterEqual(shares[1], 1.0)

    def test_a_figure_leads_to_a_file_that_has_its_pairs(self) -> None:
        self.assertEqual(self.now.path_with(origin="run"), "b.pptx")
        self.assertEqual(self.now.path_with(shares=(0.49, 0.51)), "a.pptx")
        self.assertIsNone(self.now.path_with(criterion="1.4.11"))

    def test_work_left_is_what_needs_eyes(self) -> None:
        self.assertEqual(self.overview.work_left, 1)
        self.assertEqual(self.overview.summary.number(Verdict.NEEDS_EYES), 1)
        self.assertEqual(self.overview.short_before, 4)


class Keeping(unittest.TestCase):
    def test_a_list_is_kept_to_pairs_of_an_origin_a_criterion_or_some_shares(self) -> None:
        class Found:
            origin, criterion, ratio, required = "theme", "1.4.3", 2.25, 4.5

        pair = Found()
        for kept, holds in (
            (Kept("t", origin="theme"), True),
            (Kept("t", origin="run"), False),
            (Kept("t", criterion="1.4.3"), True),
            (Kept("t", criterion="1.4.1"), False),
            (Kept("t", shares=(0.5, 0.6)), True),
            (Kept("t", shares=(0.4, 0.5)), False),
        ):
            self.assertIs(kept.holds(pair), holds)  # type: ignore[arg-type]


if __name__ == "__main__":
    unittest.main()
