"""The strip above the page: from which seat it is looked at."""

from __future__ import annotations

import functools
from collections.abc import Callable, Mapping, Sequence

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
)

from high_pair.review.seats import words_of
from high_pair.scene.seat import Seat

AUTHORED = "as authored"
# So many seats have a button of their own, where there is room.
MOST_BUTTONS = 3
# Below this width all seats are in the menu alone.
NARROW = 600


class SeatStrip(QFrame):
    """The strip. seat_chosen: a seat, or None for the page as authored; seat_tried: one that is
    still being changed; listed: other seats are there."""

    seat_chosen = Signal(object)
    seat_tried = Signal(object)
    listed = Signal()

    def __init__(self, seats: Sequence[Seat]) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.seats: tuple[Seat, ...] = ()
        self.seat: Seat | None = None
        self.narrow = False
        # It never takes room from what is beside it.
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.label = QLabel("Seen from")
        self.label.setProperty("quiet", True)
        self.group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        self.more = QPushButton("Seats…")
        self.more.setProperty("tight", True)
        self.more.setToolTip("All seats (Shift+S)")
        self.menu = QMenu(self)
        self.more.setMenu(self.menu)
        self._asked: dict[str, Callable[[], None]] = {}
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(12, 4, 10, 4)
        self.row.setSpacing(6)
        self.row.addWidget(self.label)
        self.row.addWidget(self.more)
        self.row.addStretch(1)
        self.show_seats(seats)

    def add_actions(self, asked: Mapping[str, Callable[[], None]]) -> None:
        """Add what else can be done with seats to the menu, by its words."""
        self._asked = dict(asked)
        self.show_seats(self.seats)

    def show_seats(self, seats: Sequence[Seat]) -> None:
        """Show the seats there are."""
        self.seats = tuple(seats)
        for button in self.buttons.values():
            self.group.removeButton(button)
            self.row.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = {}
        self.menu.clear()
        choices: list[Seat | None] = [None, *self.seats]
        for seat in choices:
            name = AUTHORED if seat is None else seat.name
            self.menu.addAction(name).triggered.connect(functools.partial(self._take, seat))
            if len(self.buttons) <= MOST_BUTTONS:
                button = QPushButton(name)
                button.setProperty("tight", True)
                button.setCheckable(True)
                button.setToolTip("The page as it is painted" if seat is None else words_of(seat))
                button.clicked.connect(functools.partial(self._take, seat))
                button.setVisible(not self.narrow)
                self.group.addButton(button)
                self.buttons[name] = button
                self.row.insertWidget(self.row.count() - 2, button)
        if self._asked:
            self.menu.addSeparator()
        for words, ask in self._asked.items():
            self.menu.addAction(words).triggered.connect(functools.partial(_called, ask))
        self.show_seat(self.seat)
        self.listed.emit()

    def _take(self, seat: Seat | None, _checked: bool = False) -> None:
        self.take(seat)

    def take(self, seat: Seat | None) -> None:
        """Look from a seat; None for as authored."""
        self.show_seat(seat)
        self.seat_chosen.emit(seat)

    def try_out(self, seat: Seat) -> None:
        """Look from a seat that is still being changed."""
        self.seat = seat
        self.seat_tried.emit(seat)

    def show_seat(self, seat: Seat | None) -> None:
        """Mark a seat as the one from which the page is seen."""
        self.seat = seat
        name = AUTHORED if seat is None else seat.name
        self.group.setExclusive(False)
        for each, button in self.buttons.items():
            button.setChecked(each == name)
        self.group.setExclusive(name in self.buttons)
        has_button = name in self.buttons and not self.narrow
        self.more.setText("Seats…" if has_button else f"{name}…")

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Leave the buttons to the menu where there is little room."""
        super().resizeEvent(event)
        narrow = event.size().width() < NARROW
        if narrow != self.narrow:
            self.narrow = narrow
            for button in self.buttons.values():
                button.setVisible(not narrow)
            self.show_seat(self.seat)

    def open_menu(self) -> None:
        """Open the menu of all seats."""
        self.menu.popup(self.more.mapToGlobal(self.more.rect().bottomLeft()))


def _called(ask: Callable[[], None], _checked: bool = False) -> None:
    ask()
