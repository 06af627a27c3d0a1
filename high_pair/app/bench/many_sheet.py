"""One text colour on many backdrops, or one backdrop under many texts."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QAbstractItemView,
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.bench.fields import ColourRow
from high_pair.app.bench.pair_rows import PairRows
from high_pair.app.bench.sample_sheet import sample_font
from high_pair.app.bench.state import BenchState
from high_pair.app.theme import Theme, colour, font
from high_pair.colour.notation import write
from high_pair.colour.ratio import shown_ratio
from high_pair.errors import NotationError
from high_pair.formats.sets.typed import read_typed
from high_pair.measure.by_hand import PAPER, HandPair, OneAndMany, laid_over
from high_pair.scene.paint import Colour, from_levels
from high_pair.wcag.verdicts import Verdict

MOST_OTHERS = 200


def colours_in(text: str) -> list[Colour]:
    """Read several colours; raises NotationError for what is none."""
    return [from_levels(each.colour.rgb, each.colour.opacity) for each in read_typed(text)]


@dataclass(frozen=True)
class Line:
    """What a row of the list shows."""

    code: str
    other: Colour
    pair: HandPair
    is_weakest: bool


class _Rows(PairRows):
    """Paints a row: the colour, its ratio, its mark, and words in the pair's colours."""

    def paint_row(self, painter: QPainter, box: QRectF, data: Line) -> None:
        """Paint a row."""
        x = box.left() + 12
        swatch = QRectF(x, box.center().y() - 13, 44, 26)
        painter.fillRect(swatch, QColor(*laid_over(data.other, PAPER)))
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(swatch)
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setPen(colour(self.theme.text))
        painter.setFont(font())
        painter.drawText(QRectF(x + 58, box.top(), 100, box.height()), middle, data.code)
        mark = QRectF(x + 164, box.center().y() - 7, 14, 14)
        self.paint_verdict(painter, mark, data.pair)
        painter.setPen(colour(self.theme.text))
        painter.setFont(font(15, bold=True))
        ratio = QRectF(x + 188, box.top(), 60, box.height())
        painter.drawText(ratio, middle, shown_ratio(data.pair.ratio))
        sample = QRectF(x + 256, box.top() + 5, 250, box.height() - 10)
        painter.fillRect(sample, QColor(*data.pair.behind))
        painter.setPen(QColor(*data.pair.seen))
        painter.setFont(sample_font(16, False))
        inner = sample.adjusted(12, 0, -8, 0)
        painter.drawText(inner, middle, "Last sailing 21:40")
        if data.is_weakest:
            painter.setPen(colour(self.theme.text))
            painter.setFont(font(bold=True))
            painter.drawText(
                QRectF(sample.right() + 16, box.top(), 120, box.height()), middle, "the weakest"
            )


class ManyList(QListWidget):
    """The list of colours. remove_asked: Delete was pressed."""

    remove_asked = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Remove with Delete."""
        if event.key() == Qt.Key.Key_Delete:
            self.remove_asked.emit()
        else:
            super().keyPressEvent(event)


class ManySheet(QWidget):
    """The sheet."""

    def __init__(self, state: BenchState, theme: Theme) -> None:
        super().__init__()
        self.state = state
        self.theme = theme
        self.one = ColourRow("Text", theme)
        self.as_text = QPushButton("One text on many backdrops")
        self.as_backdrop = QPushButton("One backdrop under many texts")
        self.group = QButtonGroup(self)
        self.add_field = QLineEdit()
        self.add_button = QPushButton("Add")
        self.said = QLabel()
        self.list = ManyList()
        self.serve = QPushButton("One that serves all")
        self.remove = QPushButton("Remove")
        self.summary = QLabel()
        self._lay_out()
        self.one.taken.connect(lambda c: state.set_many(replace(state.now.many, one=c)))
        self.as_text.clicked.connect(lambda: self._turn(True))
        self.as_backdrop.clicked.connect(lambda: self._turn(False))
        self.add_field.returnPressed.connect(self._add)
        self.add_button.clicked.connect(self._add)
        self.remove.clicked.connect(self.remove_chosen)
        self.serve.clicked.connect(self._serve)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        card = QFrame()
        card.setObjectName("card")
        inner = QVBoxLayout(card)
        inner.setContentsMargins(14, 12, 14, 12)
        inner.setSpacing(10)
        ways = QHBoxLayout()
        for button in (self.as_text, self.as_backdrop):
            button.setCheckable(True)
            self.group.addButton(button)
            ways.addWidget(button)
        ways.addStretch(1)
        inner.addLayout(ways)
        inner.addWidget(self.one)
        adding = QHBoxLayout()
        self.add_field.setAccessibleName("Colours to add")
        self.add_field.setPlaceholderText("Add colours: #E7F0EE #FFD8A0; rgb(20 40 60) …")
        self.add_field.setMinimumWidth(320)
        adding.addWidget(self.add_field)
        adding.addWidget(self.add_button)
        adding.addStretch(1)
        inner.addLayout(adding)
        self.said.setWordWrap(True)
        self.said.hide()
        inner.addWidget(self.said)
        self.list.setItemDelegate(_Rows(self.theme))
        self.list.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.list.setAccessibleName("The colours and their ratios")
        self.list.itemSelectionChanged.connect(self._enable)
        self.list.remove_asked.connect(self.remove_chosen)
        inner.addWidget(self.list, 1)
        foot = QHBoxLayout()
        foot.addWidget(self.serve)
        foot.addWidget(self.remove)
        foot.addWidget(self.summary, 1)
        inner.addLayout(foot)
        column.addWidget(card, 1)

    # Changing

    def _turn(self, one_is_text: bool) -> None:
        self.state.set_many(replace(self.state.now.many, one_is_text=one_is_text))

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def _add(self) -> None:
        many = self.state.now.many
        try:
            found = colours_in(self.add_field.text())
        except NotationError as error:
            self._say(f"{error}.")
            return
        if not found:
            self._say("Type or paste at least one colour.")
            return
        self._say("")
        self.add_field.clear()
        others = tuple(dict.fromkeys((*many.others, *found)))[:MOST_OTHERS]
        self.state.set_many(replace(many, others=others))

    def remove_chosen(self) -> None:
        """Take the chosen colours out."""
        rows = {self.list.row(item) for item in self.list.selectedItems()}
        many = self.state.now.many
        kept = tuple(c for row, c in enumerate(many.others) if row not in rows)
        self.state.set_many(replace(many, others=kept))

    def _serve(self) -> None:
        if self.state.serve_all():
            self._say("")
        else:
            kind = "text" if self.state.now.many.one_is_text else "backdrop"
            self._say(
                f"No lightness of this {kind}'s hue reaches {self.state.required:g} with all of "
                "these. Take out the darkest or the lightest, or ask for less."
            )

    # Showing

    def _enable(self) -> None:
        self.remove.setEnabled(bool(self.list.selectedItems()))

    def refresh(self) -> None:
        """Show the state's colours."""
        many = self.state.now.many
        self.one.name.setText("Text" if many.one_is_text else "Backdrop")
        self.one.show_colour(many.one)
        (self.as_text if many.one_is_text else self.as_backdrop).setChecked(True)
        self._show_rows(many)
        pairs = many.pairs
        short = sum(pair.ratio < self.state.required for pair in pairs)
        self.serve.setEnabled(bool(short))
        self.summary.setText(
            "" if not pairs else f"{short} of {len(pairs)} fall short of {self.state.required:g}"
        )
        self._enable()

    def _show_rows(self, many: OneAndMany) -> None:
        required, weakest = self.state.required, many.weakest
        delegate = self.list.itemDelegate()
        if isinstance(delegate, _Rows):
            delegate.required = required
        row = self.list.currentRow()
        self.list.clear()
        for place, (other, pair) in enumerate(zip(many.others, many.pairs, strict=True)):
            code = write(other.levels, "hex", other.opacity)
            is_weakest = place == weakest and len(many.others) > 1
            item = QListWidgetItem()
            item.setData(Qt.ItemDataRole.UserRole, Line(code, other, pair, is_weakest))
            verdict = Verdict.PASSES if pair.ratio >= required else Verdict.FALLS_SHORT
            words = f"{code}: {shown_ratio(pair.ratio)}, {verdict.words}"
            words += ", the weakest" if is_weakest else ""
            item.setData(Qt.ItemDataRole.AccessibleTextRole, words)
            self.list.addItem(item)
        if row >= 0:
            self.list.setCurrentRow(min(row, self.list.count() - 1))
