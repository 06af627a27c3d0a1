"""The pairs of a set below its line: those in use, wanted, or possible."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
)

from high_pair.app.elided_label import ElidedLabel
from high_pair.app.sets.pair_list import PairList, pair_row
from high_pair.app.sets.state import Names, pairs_of
from high_pair.app.theme import Theme, font
from high_pair.review.set_drafts import standing, wanted_of
from high_pair.scene.colour_set import ColourSet, SetPair, State

FILTERS = {State.IN_USE: "In use", State.WANTED: "Wanted", State.POSSIBLE: "Possible"}
# Of larger sets the pairs that nobody uses or wants aren't listed.
MOST_POSSIBLE = 60


class PairsPart(QFrame):
    """The part. state_asked: pairs of another state are to be listed; shown: of which they are."""

    state_asked = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.setMinimumHeight(120)
        self.shown = State.IN_USE
        self._was_kept = False
        self.pairs = PairList(theme)
        self.heading = ElidedLabel(Qt.AlignmentFlag.AlignLeft)
        self.heading.setFont(font(15, bold=True))
        self.filters: dict[State, QPushButton] = {}
        self.nothing = QLabel()
        self.nothing.setProperty("quiet", True)
        self.nothing.setContentsMargins(16, 8, 16, 8)
        self.nothing.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setContentsMargins(14, 5, 10, 5)
        row.setSpacing(4)
        row.addWidget(self.heading, 1)
        group = QButtonGroup(self)
        for state in FILTERS:
            button = QPushButton()
            button.setProperty("flat", True)
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, state=state: self.state_asked.emit(state))
            group.addButton(button)
            self.filters[state] = button
            row.addWidget(button)
        column.addLayout(row)
        column.addWidget(self.nothing)
        column.addWidget(self.pairs, 1)
        column.addStretch(0)

    def suit(self, colours: ColourSet | None, kept: bool) -> None:
        """List wanted pairs of a kept set, which stands on no page; of a file's those in use."""
        self.filters[State.IN_USE].setVisible(not kept)
        if kept and self.shown is State.IN_USE:
            wanted = colours is not None and wanted_of(colours)
            self.shown = State.WANTED if wanted else State.POSSIBLE
        elif not kept and self._was_kept:
            self.shown = State.IN_USE
        self._was_kept = kept

    def show_set(
        self, colours: ColourSet | None, required: float, chosen: Names | None, narrow: bool
    ) -> None:
        """Show the pairs of a set. required: the usual ratio; chosen: the pair at hand."""
        counts = dict.fromkeys(FILTERS, 0)
        listed: list[SetPair] = []
        if colours is not None:
            for state in FILTERS:
                large = state is State.POSSIBLE and len(colours.colours) > MOST_POSSIBLE
                found = [] if large else pairs_of(colours, state, required)
                counts[state] = len(found)
                listed = found if state is self.shown else listed
        for state, words in FILTERS.items():
            self.filters[state].setText(f"{words} {counts[state]}")
            self.filters[state].setChecked(state is self.shown)
        rows = []
        if colours is not None:
            ratios = standing(colours, listed).ratios
            rows = [pair_row(*each, colours) for each in zip(listed, ratios, strict=True)]
            rows.sort(key=lambda row: row.ratio / row.pair.required)
        self.pairs.show_pairs(rows, chosen)
        short = sum(row.falls_short for row in rows)
        word = FILTERS[self.shown].lower()
        self.heading.setText(
            f"{short} fall short"
            if narrow
            else f"Pairs of this set: {short} of {len(rows)} {word} fall short"
        )
        self.pairs.setVisible(bool(rows))
        self.nothing.setVisible(not rows)
