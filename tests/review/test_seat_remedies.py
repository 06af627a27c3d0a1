"""What makes a text read from a seat is tried there, and carried only to where it reads by it."""

from __future__ import annotations

import unittest
from dataclasses import replace
from pathlib import Path
from unittest.mock import Mock

from high_pair.edits.kinds import Edit
from high_pair.formats import open_document
from high_pair.formats.document import Document
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import Reading
from high_pair.remedy.remedies import Backdrop, ForSeat, Laid, Recolour, Remedy
from high_pair.remedy.wishes import Family
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for
from high_pair.review.seats import BUILT_IN, seat_numbers_of
from high_pair.review.shop import Work
from high_pair.review.tasks import apply_to_alike, propose
from high_pair.scene.seat import Seat
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import body, run, shape, solid, xfrm
from tests.review.test_planning import PlanningTest, text

WHITE = solid("FFFFFF")
HALL = BUILT_IN[0]


def demanding(reserve: float) -> Seat:
    """Give the last row, where so much reserve is asked."""
    return replace(HALL, needs=replace(HALL.needs, reserve=reserve))


class SeatRemedies(PlanningTest):
    def work(self, path: Path) -> Work:
        document = open_document(path)
        self.addCleanup(document.close)
        stays = Mock(stopped=lambda: False)
        return Work(document, document, (), document.edited, PageBench(), stays)

    def pairs(self, work: Work) -> list[Pair]:
        found = work.bench.get(work.document, 0, Asked()).pairs
        return sorted(found, key=lambda pair: pair.bbox[1])

    def advice(self, work: Work, pair: Pair, seat: Seat) -> list[ForSeat]:
        found: tuple[Remedy, ...] = propose(work, [pair], Asked(), Family(), seat).remedies
        return [each for each in found if isinstance(each, ForSeat)]

    def reading(self, document: Document, address: str, seat: Seat) -> Reading:
        pair = next(p for p in measured(document, 0, Asked()).pairs if p.address == address)
        self.assertIs(pair.verdict, Verdict.PASSES)
        numbers = seat_numbers_of(pair, seat, document.pages[0])
        assert numbers is not None
        return numbers.reading

    def assert_all_read(self, work: Work, pair: Pair, advice: list[ForSeat], seat: Seat) -> None:
        numbers = seat_numbers_of(pair, seat, work.document.pages[0])
        self.assertIs(numbers and numbers.reading, Reading.FALLS_SHORT)
        for remedy in advice:
            mended = work.document.edited(edits_for(remedy, [pair]))
            self.assertIs(self.reading(mended, pair.address, seat), Reading.READS, remedy.label)

    def test_large_faint_text_gets_another_colour_that_reads_there(self) -> None:
        # 4.54 to 1 on the page, large enough from 14 m, and too faint there.
        work = self.work(self.folder.deck(text("Faint", "767676", 40, 3200, WHITE)))
        (pair,) = self.pairs(work)
        seat = demanding(35.0)
        advice = self.advice(work, pair, seat)
        self.assertIn(Recolour, {type(each.other) for each in advice})
        self.assert_all_read(work, pair, advice, seat)

    def test_on_a_dark_fill_the_fill_gets_darker_for_light_text(self) -> None:
        work = self.work(self.folder.deck(text("Light", "D0D0D0", 40, 3200, solid("686868"))))
        (pair,) = self.pairs(work)
        seat = demanding(35.0)
        advice = self.advice(work, pair, seat)
        (fill,) = (each.other for each in advice if isinstance(each.other, Backdrop))
        self.assertLess(max(fill.levels), 0x68)
        self.assert_all_read(work, pair, advice, seat)

    def test_over_a_photograph_overlays_are_made_stronger_until_it_reads(self) -> None:
        work = self.work(self.on_a_photograph(text("White", "FFFFFF", 40, 3600)))
        (pair,) = self.pairs(work)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        seat = demanding(20.0)
        found = propose(work, [pair], Asked(), Family(), seat).remedies
        for_the_standard = [each for each in found if isinstance(each, Laid)]
        advice = [e for e in found if isinstance(e, ForSeat) and isinstance(e.other, Laid)]
        self.assertTrue(advice)
        self.assertGreater(
            min(each.ratio for each in advice), max(each.ratio for each in for_the_standard)
        )
        self.assert_all_read(work, pair, advice, seat)

    def test_small_and_faint_text_gets_both_larger_and_stronger(self) -> None:
        work = self.work(self.folder.deck(text("Faint", "767676", 40, 1600, WHITE)))
        (pair,) = self.pairs(work)
        seat = demanding(14.0)
        advice = self.advice(work, pair, seat)
        both = [each for each in advice if each.larger is not None and each.other is not None]
        alone = [each for each in advice if each.other is None]
        self.assertTrue(both)
        self.assertTrue(alone)
        assert both[0].larger is not None and alone[0].larger is not None
        self.assertIn(f"{both[0].larger.size:g} pt · ", both[0].label)
        self.assertGreater(alone[0].larger.size or 0.0, both[0].larger.size or 0.0)
        self.assert_all_read(work, pair, advice, seat)

    def test_what_reads_there_already_needs_nothing(self) -> None:
        work = self.work(self.folder.deck(text("Black", "000000", 40, 3200, WHITE)))
        (pair,) = self.pairs(work)
        self.assertEqual(self.advice(work, pair, HALL), [])

    def test_where_nothing_serves_that_is_said(self) -> None:
        work = self.work(self.folder.deck(text("Black", "000000", 40, 1200, WHITE)))
        (pair,) = self.pairs(work)
        seat = replace(HALL, name="the moon", distance=900.0)
        found = propose(work, [pair], Asked(), Family(), seat)
        self.assertEqual(found.remedies, ())
        self.assertIn("the moon", found.none)

    def test_it_is_carried_only_where_it_reads_by_it(self) -> None:
        inner = body(run("Low", 'sz="1800"', solid("000000")))
        low = shape(inner, fill=WHITE, place=xfrm(40, 240, 500, 20))
        high = text("One", "000000", 40, 1800, WHITE) + text("Two", "000000", 140, 1800, WHITE)
        work = self.work(self.folder.deck(high + low))
        pairs = self.pairs(work)
        seat = replace(HALL, name="middle row", distance=15.0)
        larger = self.advice(work, pairs[0], seat)[0]
        assert larger.larger is not None
        edits = apply_to_alike(work, larger, pairs, False, Asked(), seat)
        # The low box has no room for larger letters.
        self.assertEqual(
            [(edit.address, getattr(edit, "size", None)) for edit in edits],
            [(pair.address, larger.larger.size) for pair in pairs[:2]],
        )

    def test_a_fill_is_solved_anew_for_each_alike_text(self) -> None:
        two = "".join(
            text(words, "D0D0D0", top, 3200, solid("686868"))
            for words, top in (("One", 40), ("Two", 140))
        )
        work = self.work(self.folder.deck(two))
        pairs = self.pairs(work)
        seat = demanding(35.0)
        fill = next(e for e in self.advice(work, pairs[0], seat) if isinstance(e.other, Backdrop))
        edits: tuple[Edit, ...] = tuple(apply_to_alike(work, fill, pairs, False, Asked(), seat))
        mended = work.document.edited(edits)
        for pair in pairs:
            self.assertIs(self.reading(mended, pair.address, seat), Reading.READS)


if __name__ == "__main__":
    unittest.main()
