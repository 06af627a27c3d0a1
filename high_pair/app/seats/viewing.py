"""What the Review desk shows from a seat: the strip, the page, and the numbers beside it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from high_pair.app.seats.box import MOST_BARS, Reach
from high_pair.app.seats.look import Look
from high_pair.formats.document import Shown
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import SeatNumbers, seat_numbers
from high_pair.scene.seat import Seat

if TYPE_CHECKING:
    from high_pair.app.review_desk import ReviewDesk


class Viewing(QObject):
    """Looks at the desk's page from a seat."""

    def __init__(self, desk: ReviewDesk) -> None:
        super().__init__(desk)
        self._desk = desk
        desk.seats.seat_chosen.connect(self._seat_chosen)
        desk.pair_shown.connect(lambda _pair: self.show_numbers())

    @property
    def seat(self) -> Seat | None:
        """The seat from which the page is seen; None for as authored."""
        return self._desk.seats.seat

    def _seat_chosen(self, _seat: Seat | None) -> None:
        self._desk.painter.paint_page()
        self.show_numbers()

    def _page(self) -> tuple[tuple[float, float], bool] | None:
        desk = self._desk
        if desk.file is None or desk.page < 0:
            return None
        info = desk.file.base.pages[desk.page]
        return (info.width, info.height), info.shown in (Shown.WHOLE, Shown.PAPER)

    def look(self, part: tuple[float, float, float, float], size: tuple[int, int]) -> Look | None:
        """Give how a part of the page (points), painted at a size (pixels), is looked at."""
        page, seat = self._page(), self.seat
        if seat is None or page is None:
            return None
        (width, height), whole = page
        points_a_pixel = part[2] / max(1, size[0])
        return Look(seat, points_a_pixel * seat.metres_a_point(width, height, whole))

    @property
    def caption(self) -> str:
        """What is said above a page that is seen from a seat."""
        seat = self.seat
        return "" if seat is None else f"From “{seat.name}”. V, held: as authored."

    def numbers(self, pair: Pair) -> SeatNumbers | None:
        """Give what a text of the page is like from the seat."""
        page, seat = self._page(), self.seat
        return None if seat is None or page is None else seat_numbers(pair, seat, *page)

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
            if theirs is not None and theirs.vision:
                words = " ".join(each.text.split())
                found.append(Reach(words, theirs.reach, each.id == pair.id))
        found.sort(key=lambda each: (not each.at_hand, each.metres))
        box.show_numbers(pair, numbers, seat, found[:MOST_BARS])
