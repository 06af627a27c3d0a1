"""The log of measured pairs beside the Bench."""

from __future__ import annotations

import json
from datetime import datetime

from PySide6.QtCore import (
    QEvent,
    QMimeData,
    QRectF,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QColor, QDrag, QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
)

from high_pair.app.bench.pair_rows import PairRows
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.by_hand import HandPair
from high_pair.review.log import Entry, Log

MIME = "application/x-high-pair-entry"
WIDTH = 268


def when_words(time: str) -> str:
    """Say when an entry was made: the time for today, else the day."""
    try:
        made = datetime.fromisoformat(time)
    except ValueError:
        return time[:16]
    today = datetime.now(made.tzinfo).date()
    return made.strftime("%H:%M") if made.date() == today else made.strftime("%Y-%m-%d")


class _Rows(PairRows):
    """Paints an entry: its colours, its name, when and how, and its ratio."""

    size = QSize(WIDTH - 20, 54)

    def paint_row(self, painter: QPainter, box: QRectF, data: Entry) -> None:
        """Paint an entry."""
        pair = data.pair
        swatch = QRectF(box.left() + 10, box.top() + 10, 44, 34)
        painter.fillRect(swatch, QColor(*pair.behind))
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(swatch)
        painter.setFont(font(15, bold=True))
        painter.setPen(QColor(*pair.seen))
        painter.drawText(swatch, Qt.AlignmentFlag.AlignCenter, "Aa")
        self._paint_words(painter, box, data, pair)

    def _paint_words(self, painter: QPainter, box: QRectF, entry: Entry, pair: HandPair) -> None:
        ratio_width = 66.0
        left = box.left() + 64
        room = box.width() - 64 - ratio_width - 8
        painter.setPen(colour(self.theme.text))
        painter.setFont(font(SMALL_PIXELS))
        elide = painter.fontMetrics().elidedText
        mode = Qt.TextElideMode.ElideRight
        name = entry.name or f"{entry.foreground} on {entry.backdrop}"
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(
            QRectF(left, box.top() + 7, room, 20), middle, elide(name, mode, int(room))
        )
        painter.setPen(colour(self.theme.quiet))
        said = entry.note or f"{entry.source}, {when_words(entry.time)}"
        painter.drawText(
            QRectF(left, box.top() + 27, room, 20), middle, elide(said, mode, int(room))
        )
        mark = QRectF(box.right() - ratio_width, box.center().y() - 6, 12, 12)
        self.paint_verdict(painter, mark, pair)
        painter.setPen(colour(self.theme.text))
        place = QRectF(box.right() - ratio_width + 16, box.top(), ratio_width - 24, box.height())
        painter.drawText(place, middle | Qt.AlignmentFlag.AlignRight, shown_ratio(pair.ratio))


class LogList(QListWidget):
    """The list. chosen: Enter or a double click on an entry; forget_asked: Delete."""

    chosen = Signal(int)
    forget_asked = Signal()
    describe_asked = Signal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setAccessibleName("Measured pairs")
        self.setItemDelegate(_Rows(theme))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setDragEnabled(True)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.itemDoubleClicked.connect(lambda item: self.chosen.emit(self.row(item)))

    def event(self, event: QEvent) -> bool:
        """Keep the keys that mean something here from the window's."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            own = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Delete, Qt.Key.Key_F2)
            if event.key() in own and event.modifiers() == Qt.KeyboardModifier.NoModifier:
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Take an entry back with Enter, forget with Delete, describe with F2."""
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.currentRow() >= 0:
            self.chosen.emit(self.currentRow())
        elif key == Qt.Key.Key_Delete:
            self.forget_asked.emit()
        elif key == Qt.Key.Key_F2 and self.currentRow() >= 0:
            self.describe_asked.emit(self.currentRow())
        else:
            super().keyPressEvent(event)

    def startDrag(self, _actions: Qt.DropAction) -> None:
        """Drag an entry: onto the Bench, or as text into another program."""
        item = self.currentItem()
        if item is None:
            return
        entry = item.data(Qt.ItemDataRole.UserRole)
        drag = QDrag(self)
        drag.setMimeData(entry_mime(entry))
        drag.exec(Qt.DropAction.CopyAction)


def entry_mime(entry: Entry) -> QMimeData:
    """Give an entry as what can be dropped."""
    data = QMimeData()
    colours = {"foreground": entry.foreground, "backdrop": entry.backdrop, "source": entry.source}
    data.setData(MIME, json.dumps(colours).encode())
    data.setText(f"{entry.foreground} on {entry.backdrop}")
    return data


def entry_in(data: QMimeData) -> Entry | None:
    """Read a dropped entry; None when it is none."""
    if not data.hasFormat(MIME):
        return None
    try:
        found = json.loads(bytes(data.data(MIME).data()))
        return Entry(found["foreground"], found["backdrop"], "", found["source"])
    except (ValueError, KeyError, TypeError):
        return None


class LogPanel(QFrame):
    """The panel."""

    take_back_asked = Signal(int)
    forget_asked = Signal(list)
    describe_asked = Signal(int)
    export_asked = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setFixedWidth(WIDTH)
        heading = QLabel("Measured")
        heading.setFont(font(15, bold=True))
        self.list = LogList(theme)
        self.empty = QLabel("Enter keeps the pair at hand here.")
        self.empty.setProperty("quiet", True)
        self.empty.setWordWrap(True)
        self.take_back = QPushButton("To the Bench")
        self.describe = QPushButton("Name…")
        self.forget = QPushButton("Delete")
        self.export = QPushButton("Export…")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 12, 0, 10)
        column.setSpacing(6)
        top = QHBoxLayout()
        top.setContentsMargins(14, 0, 10, 0)
        top.addWidget(heading, 1)
        top.addWidget(self.export)
        column.addLayout(top)
        middle = QHBoxLayout()
        middle.setContentsMargins(14, 0, 10, 0)
        middle.addWidget(self.empty)
        column.addLayout(middle)
        column.addWidget(self.list, 1)
        buttons = QHBoxLayout()
        buttons.setContentsMargins(10, 0, 10, 0)
        buttons.setSpacing(6)
        for button in (self.take_back, self.describe, self.forget):
            button.setProperty("tight", True)
            buttons.addWidget(button)
        column.addLayout(buttons)
        self.list.chosen.connect(self.take_back_asked)
        self.list.forget_asked.connect(self._forget)
        self.list.describe_asked.connect(self.describe_asked)
        self.list.itemSelectionChanged.connect(self._enable)
        self.take_back.clicked.connect(lambda: self._with_current(self.take_back_asked))
        self.describe.clicked.connect(lambda: self._with_current(self.describe_asked))
        self.forget.clicked.connect(self._forget)
        self.export.clicked.connect(self.export_asked)
        self._enable()

    def _with_current(self, signal: object) -> None:
        row = self.list.currentRow()
        if row >= 0:
            signal.emit(row)  # type: ignore[attr-defined]

    def _forget(self) -> None:
        self.forget_asked.emit(self.chosen_rows())

    def chosen_rows(self) -> list[int]:
        """Give the rows that are chosen."""
        return sorted(self.list.row(item) for item in self.list.selectedItems())

    def _enable(self) -> None:
        some = bool(self.list.selectedItems())
        for button in (self.take_back, self.describe, self.forget):
            button.setEnabled(some)

    def show_log(self, log: Log, required: float) -> None:
        """Show the entries, measured against what is asked for."""
        delegate = self.list.itemDelegate()
        if isinstance(delegate, _Rows):
            delegate.required = required
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for entry in log.entries:
            item = QListWidgetItem()
            item.setData(Qt.ItemDataRole.UserRole, entry)
            pair = entry.pair
            words = f"{entry.name or entry.foreground + ' on ' + entry.backdrop}, ratio "
            words += f"{shown_ratio(pair.ratio)}, {entry.source}, {when_words(entry.time)}"
            item.setData(Qt.ItemDataRole.AccessibleTextRole, words)
            item.setToolTip(f"{words}\n{entry.note}".strip())
            self.list.addItem(item)
        self.list.blockSignals(False)
        if log.entries:
            self.list.setCurrentRow(min(max(0, row), len(log.entries) - 1))
        self.empty.setVisible(not log.entries)
        self.export.setEnabled(bool(log.entries))
        self._enable()
