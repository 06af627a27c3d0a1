"""The head of the list: how much is listed, and which verdict's pairs."""

from __future__ import annotations

import functools
from collections.abc import Mapping

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QWidget,
)

from high_pair.app.elided_label import ElidedLabel
from high_pair.app.list_choice import ListChoice
from high_pair.app.theme import font
from high_pair.wcag.verdicts import Verdict

FILTERS = (
    Verdict.FALLS_SHORT,
    Verdict.NEEDS_EYES,
    Verdict.PASSES,
    Verdict.SET_ASIDE,
    Verdict.EXEMPT,
)
ADVICE = "Advice"
# Letters of what the list is kept to.
SHORT = 26


def _short(words: str) -> str:
    return words if len(words) <= SHORT else f"{words[: SHORT - 1]}…"


class ListHead(QWidget):
    """The head. verdict_asked: pairs of another verdict are to be listed; advice_asked: those that
    there is advice on from the seat."""

    verdict_asked = Signal(object)
    advice_asked = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.heading = ElidedLabel(Qt.AlignmentFlag.AlignLeft)
        self.heading.setFont(font(15, bold=True))
        self.heading.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.listing = ListChoice()
        self.filters: dict[Verdict, QPushButton] = {}
        # In place of the buttons where there is little room.
        self.choice = QComboBox()
        self._narrow = self._seen = False
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 5, 10, 5)
        row.setSpacing(4)
        row.addWidget(self.heading, 1)
        self.kept = QPushButton()
        self.kept.setProperty("flat", True)
        self.kept.clicked.connect(lambda: self.listing.keep_to(None))
        self.kept.hide()
        row.addWidget(self.kept)
        row.addWidget(self.listing)
        group = QButtonGroup(self)
        for verdict in FILTERS:
            self.filters[verdict] = button = self._button("")
            button.clicked.connect(functools.partial(self._ask, verdict))
            group.addButton(button)
            row.addWidget(button)
        self.advised = self._button(ADVICE)
        self.advised.setToolTip(
            "What doesn’t read from the seat, the shortest reach first, then what is busy behind"
        )
        self.advised.clicked.connect(self.advice_asked)
        group.addButton(self.advised)
        row.addWidget(self.advised)
        self.choice.setAccessibleName("What to list")
        self.choice.activated.connect(self._chosen)
        row.addWidget(self.choice, 1)
        self._arrange()

    def _button(self, words: str) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("flat", True)
        button.setCheckable(True)
        return button

    def _ask(self, verdict: Verdict, _checked: bool = False) -> None:
        self.verdict_asked.emit(verdict)

    def _chosen(self, place: int) -> None:
        if place < len(FILTERS):
            self.verdict_asked.emit(FILTERS[place])
        else:
            self.advice_asked.emit()

    def show_listed(
        self, words: str, counts: Mapping[Verdict, int], shown: Verdict, advised: bool
    ) -> None:
        """Show what is listed, and how many pairs each verdict has. advised: advice is, in place
        of the verdict that is shown."""
        self.heading.setText(words)
        kept = self.listing.kept
        self.kept.setVisible(kept is not None)
        if kept is not None:
            self.kept.setText(f"{_short(kept.words)} ✕")
            self.kept.setAccessibleName(f"Kept to {kept.words}; list all again")
            self.kept.setToolTip(f"The list is kept to {kept.words}. Press to list all again.")
        labels = [f"{verdict.words.capitalize()} {counts[verdict]}" for verdict in FILTERS]
        for verdict, label in zip(FILTERS, labels, strict=True):
            self.filters[verdict].setText(label)
            self.filters[verdict].setChecked(verdict is shown and not advised)
        self.advised.setChecked(advised)
        self.choice.clear()
        self.choice.addItems([*labels, ADVICE] if self._seen else labels)
        self.choice.setCurrentIndex(len(FILTERS) if advised else FILTERS.index(shown))

    def set_narrow(self, narrow: bool) -> None:
        """Take less room, or as much as there is."""
        self._narrow = narrow
        self._arrange()

    def show_seen(self, seen: bool) -> None:
        """Offer advice while the page is seen from a seat."""
        self._seen = seen
        self._arrange()

    def _arrange(self) -> None:
        self.heading.setVisible(not self._narrow)
        self.choice.setVisible(self._narrow)
        for button in self.filters.values():
            button.setVisible(not self._narrow)
        self.advised.setVisible(not self._narrow and self._seen)
