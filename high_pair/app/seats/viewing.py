"""What the Review desk shows from a seat: the strip, the page, and the numbers beside it."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from high_pair.app.look_list import Advice
from high_pair.app.seats.box import MOST_BARS, Reach, metres_words
from high_pair.app.seats.look import Look
from high_pair.colour.ratio import shown_ratio
from high_pair.formats.document import PageInfo
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import Reading, SeatNumbers
from high_pair.review.seats import seat_numbers_of, words_of
from high_pair.review.session import Look as ListedLook
from high_pair.scene.seat import Seat
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from high_pair.app.review_desk import ReviewDesk


class Viewing(QObject):
    """Looks at the desk's page from a seat."""

    def __init__(self, desk: ReviewDesk) -> None:
        super().__init__(desk)
        self._desk = desk
        # Whether what there is advice on from the seat is listed, in place of a verdict's.
        self.lists_advice = False
        desk.seats.seat_chosen.connect(self._seat_chosen)
        desk.seats.seat_tried.connect(self._seat_tried)
        desk.list.advise(self.advice)
        desk.pair_shown.connect(lambda _pair: self.show_numbers())

    @property
    def seat(self) -> Seat | None:
        """The seat from which the page is seen; None for as authored."""
        return self._desk.seats.seat

    def _seat_chosen(self, _seat: Seat | None) -> None:
        self.lists_advice = self.lists_advice and self.seat is not None
        self._desk.head.show_seen(self.seat is not None)
        self._desk.painter.paint_page()
        self._desk.refresh_list()
        self.show_numbers()
        self._desk.propose_anew()

    def _seat_tried(self, _seat: Seat) -> None:
        self._desk.painter.look_again()
        self.show_numbers()

    def falls_short(self, pair: Pair) -> bool:
        """Tell whether a text of the page doesn't read from the seat."""
        numbers = self.numbers(pair)
        return numbers is not None and numbers.reading is Reading.FALLS_SHORT

    def list_advice(self) -> None:
        """List what there is advice on."""
        self.lists_advice = self.seat is not None
        self._desk.refresh_list()

    def advised(self) -> list[ListedLook]:
        """Give the looks of any verdict that don't read from the seat, the shortest reach first,
        and then links that aren't told from their text, and what stands on something busy."""
        session = self._desk.controller.session
        found = []
        for verdict in (Verdict.FALLS_SHORT, Verdict.PASSES):
            for look in session.looks(verdict, self._desk.scope):
                numbers = self._of_look(look)
                if numbers is not None and numbers.advised:
                    reads, link = numbers.reading is Reading.READS, bool(numbers.apart)
                    # Links have no reach.
                    first = (reads, link, numbers.ratio if link else numbers.reach)
                    found.append((first, look))
        return [look for _, look in sorted(found, key=lambda each: each[0])]

    def _of_look(self, look: ListedLook) -> SeatNumbers | None:
        """Give what the weakest text of a look is like from the seat."""
        seat, pair = self.seat, look.group.weakest
        file = self._desk.controller.session.files.get(look.file)
        if seat is None or file is None:
            return None
        return seat_numbers_of(pair, seat, file.base.pages[pair.page - 1])

    def advice(self, look: ListedLook) -> Advice | None:
        """Say what a look is like from the seat."""
        numbers = self._of_look(look)
        if numbers is None or numbers.reading is Reading.NEEDS_EYES:
            return None
        if numbers.apart:
            words = f"{shown_ratio(numbers.ratio)} beside its text"
        else:
            words = (
                f"reads to {metres_words(numbers.reach)}" if numbers.reach > 0 else "reads nowhere"
            )
        return Advice(f"busy · {words}" if numbers.busy else words, not numbers.advised)

    def _page(self) -> PageInfo | None:
        desk = self._desk
        if desk.file is None or desk.page < 0:
            return None
        page: PageInfo = desk.file.base.pages[desk.page]
        return page

    def look(self, part: tuple[float, float, float, float], size: tuple[int, int]) -> Look | None:
        """Give how a part of the page (points), painted at a size (pixels), is looked at."""
        page, seat = self._page(), self.seat
        if seat is None or page is None:
            return None
        metres_a_point = seat.metres_a_point(page.width, page.height, page.seen_whole)
        return Look(seat, part[2] / max(1, size[0]) * metres_a_point)

    @property
    def caption(self) -> str:
        """What is said above a page that is seen from a seat."""
        seat = self.seat
        if seat is None:
            return ""
        return f"From “{seat.name}” (V, held: as authored): {words_of(seat)}"

    def numbers(self, pair: Pair) -> SeatNumbers | None:
        """Give what a text of the page is like from the seat."""
        page, seat = self._page(), self.seat
        return None if seat is None or page is None else seat_numbers_of(pair, seat, page)

    def show_numbers(self) -> None:
        """Show what the text at hand is like from the seat, and how far its page's texts read."""
        desk, seat = self._desk, self.seat
        box, pair = desk.panel.seat_box, desk.pair
        numbers = self.numbers(pair) if pair is not None else None
        if seat is None or pair is None or numbers is None or desk.file is None:
            box.hide()
            return
        found = []
        for each in desk.controller.session.pairs_on(desk.file.key, desk.page):
            theirs = self.numbers(each)
            if theirs is not None and math.isfinite(theirs.reach):
                words = " ".join(each.text.split())
                found.append(Reach(words, theirs.reach, each.id == pair.id))
        found.sort(key=lambda each: (not each.at_hand, each.metres))
        box.show_numbers(pair, numbers, seat, found[:MOST_BARS])
