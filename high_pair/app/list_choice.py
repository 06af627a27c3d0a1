"""The button at the head of the list: how much of the review it shows, and in which order."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtGui import QAction, QActionGroup
from PySide6.QtWidgets import QMenu, QPushButton

from high_pair.review.listing import EVERYTHING, Kept, Order, Reach, Scope

REACHES = {
    Reach.EVERYTHING: ("All that is open", "all"),
    Reach.FILE: ("This file alone", "this file"),
    Reach.PAGE: ("This page alone", "this page"),
}
ORDERS = {
    Order.RATIO: ("Worst ratio first", "by ratio"),
    Order.SHORTFALL: ("Farthest from what is asked first", "by shortfall"),
}


class ListChoice(QPushButton):
    """The button. changed: something else is to be listed, or otherwise."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.reach, self.order = Reach.EVERYTHING, Order.RATIO
        self.kept: Kept | None = None
        self.setProperty("flat", True)
        self.choices = QMenu(self)
        self.actions_of: dict[Reach | Order, QAction] = {}
        for kinds in (REACHES, ORDERS):
            group = QActionGroup(self)
            for kind, (words, _) in kinds.items():
                action = self.choices.addAction(words)
                action.setCheckable(True)
                action.triggered.connect(lambda _checked=False, kind=kind: self.choose(kind))
                group.addAction(action)
                self.actions_of[kind] = action
            self.choices.addSeparator()
        self.setMenu(self.choices)
        self._refresh()

    def choose(self, kind: Reach | Order) -> None:
        """List so much, or in this order."""
        if isinstance(kind, Reach):
            self.reach = kind
        else:
            self.order = kind
        self._refresh()
        self.changed.emit()

    def next_reach(self) -> None:
        """List the next smaller part, and after the page all."""
        every = list(Reach)
        self.choose(every[(every.index(self.reach) + 1) % len(every)])

    def next_order(self) -> None:
        """List in the other order."""
        self.choose(Order.SHORTFALL if self.order is Order.RATIO else Order.RATIO)

    def scope(self, file: int | None, page: int) -> Scope:
        """Give what is listed while a file's page, from 0, is shown."""
        if self.reach is Reach.EVERYTHING or file is None:
            return replace(EVERYTHING, kept=self.kept)
        alone = page if self.reach is Reach.PAGE and page >= 0 else None
        return Scope(file, alone, self.kept)

    def keep_to(self, kept: Kept | None) -> None:
        """List some pairs alone, or all again."""
        if kept != self.kept:
            self.kept = kept
            self.changed.emit()

    def _refresh(self) -> None:
        for kind in (self.reach, self.order):
            self.actions_of[kind].setChecked(True)
        words = f"{REACHES[self.reach][1]}, {ORDERS[self.order][1]}"
        self.setText(words)
        self.setAccessibleName(f"The list shows {words}")
        self.setToolTip(f"The list shows {words}. (O: the order; Shift+P: how much)")
