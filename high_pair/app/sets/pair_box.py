"""The chosen pair: a sample, its ratio, whether it is wanted, and the places where it stands."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.bench.sample_sheet import sample_font
from high_pair.app.choice_box import ChoiceBox
from high_pair.app.marks import Mark
from high_pair.app.sets.pair_list import PairRow
from high_pair.app.sets.state import SetsState
from high_pair.app.sets.words import places_words
from high_pair.app.theme import Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.pairs import Pair
from high_pair.scene.colour_set import Levels, State
from high_pair.wcag.verdicts import Verdict

SAMPLE = "Last sailing 21:40"
ASKED = ((3.0, "3 · large text"), (4.5, "4.5 · text"), (7.0, "7 · text, AAA"))
# So many places are listed.
MOST_LISTED = 100
ROW = 26


class PairSample(QWidget):
    """Words in the pair's colours, small and large."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.text: Levels = (0, 0, 0)
        self.backdrop: Levels = (255, 255, 255)
        self.setFixedHeight(76)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_colours(self, text: Levels, backdrop: Levels) -> None:
        """Show two colours."""
        self.text, self.backdrop = text, backdrop
        self.setAccessibleName("Sample of the two colours")
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the sample."""
        painter = QPainter(self)
        box = self.rect().adjusted(0, 0, -1, -1)
        painter.fillRect(box, QColor(*self.backdrop))
        painter.setPen(QColor(*self.text))
        painter.setFont(sample_font(24, True))
        left = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
        painter.drawText(QRect(12, 8, box.width() - 20, 34), left, SAMPLE)
        painter.setFont(sample_font(15, False))
        painter.drawText(QRect(12, 44, box.width() - 20, 24), left, "Foot passengers only")
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(box)
        painter.end()


class PairBox(QWidget):
    """The box. place_asked: the user wants to see a text on the Review desk."""

    place_asked = Signal(object)

    def __init__(self, state: SetsState, theme: Theme) -> None:
        super().__init__()
        self.state = state
        self.theme = theme
        self.name = QLabel()
        self.sample = PairSample(theme)
        self.mark = Mark(theme)
        self.ratio = QLabel()
        self.asks = QLabel()
        self.asked = ChoiceBox(theme)
        self.want = QPushButton()
        self.places = QListWidget()
        self._row: PairRow | None = None
        self._lay_out()
        self.want.clicked.connect(self.change_want)
        self.asked.activated.connect(self._asked_changed)
        self.places.itemActivated.connect(self._go)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.name.setFont(font(15, bold=True))
        self.name.setWordWrap(True)
        self.name.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        column.addWidget(self.name)
        column.addWidget(self.sample)
        row = QHBoxLayout()
        self.ratio.setFont(font(22, bold=True))
        self.asks.setProperty("quiet", True)
        row.addWidget(self.mark)
        row.addWidget(self.ratio)
        row.addWidget(self.asks, 1)
        column.addLayout(row)
        self.wishes = QWidget()
        row = QHBoxLayout(self.wishes)
        row.setContentsMargins(0, 0, 0, 0)
        for required, words in ASKED:
            self.asked.addItem(words, required)
        self.asked.setAccessibleName("The ratio that is wanted")
        row.addWidget(self.asked, 1)
        row.addWidget(self.want)
        column.addWidget(self.wishes)
        self.heading = QLabel("Places")
        self.heading.setProperty("heading", True)
        column.addWidget(self.heading)
        self.places.setAccessibleName("Places; Enter shows one on the Review desk")
        self.places.setToolTip("Enter, or a double click, shows a place on the Review desk")
        self.places.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(self.places)

    def show_pair(self, row: PairRow, places: Sequence[Pair]) -> None:
        """Show a pair, and the texts that it is of."""
        self._row = row
        pair = row.pair
        self.name.setText(row.words[:1].upper() + row.words[1:])
        self.sample.show_colours(row.text, row.backdrop)
        self.mark.show_verdict(Verdict.FALLS_SHORT if row.falls_short else Verdict.PASSES)
        self.ratio.setText(shown_ratio(row.ratio))
        self.asks.setText(f"asks {pair.required:g} · {places_words(pair)}")
        self.wishes.setVisible(pair.state is not State.IN_USE)
        wanted = pair.state is State.WANTED
        self.want.setText("Want it no more" if wanted else "Want this pair")
        self.want.setToolTip("Ask that this text passes on that backdrop, or not any more (W)")
        values = [required for required, _ in ASKED]
        if pair.required in values:
            self.asked.setCurrentIndex(values.index(pair.required))
        self._show_places(places)

    def _show_places(self, places: Sequence[Pair]) -> None:
        self.places.clear()
        for pair in sorted(places, key=lambda each: each.ratio or 0.0)[:MOST_LISTED]:
            ratio = shown_ratio(pair.ratio) if pair.ratio is not None else ""
            item = QListWidgetItem(f"{ratio}  {pair.where}: {' '.join(pair.text.split())[:60]}")
            item.setData(Qt.ItemDataRole.UserRole, pair)
            item.setSizeHint(QSize(100, ROW))
            item.setToolTip(item.text())
            self.places.addItem(item)
        self.heading.setVisible(bool(places))
        self.places.setVisible(bool(places))
        self.places.setFixedHeight(min(5, self.places.count()) * ROW + 8)

    def change_want(self) -> None:
        """Want the pair, or want it no more."""
        row = self._row
        if row is None or row.pair.state is State.IN_USE:
            return
        names = (row.pair.text, row.pair.backdrop)
        if row.pair.state is State.WANTED:
            self.state.want_no_more(names)
        else:
            self.state.want(names, self.asked.currentData())

    def _asked_changed(self) -> None:
        row = self._row
        if row is not None and row.pair.state is State.WANTED:
            self.state.want((row.pair.text, row.pair.backdrop), self.asked.currentData())

    def go_to_place(self) -> None:
        """Show the place that is chosen in the list on the Review desk."""
        item = self.places.currentItem()
        if item is not None:
            self._go(item)

    def _go(self, item: QListWidgetItem) -> None:
        self.place_asked.emit(item.data(Qt.ItemDataRole.UserRole))
