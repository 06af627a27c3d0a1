"""The list of what was found: a row for each look, alike places together, worst first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QModelIndex, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from high_pair.app.ladder import paint_small_ladder
from high_pair.app.marks import paint_advice, paint_mark
from high_pair.app.rows import ROW, Index, RowModel, page_noun, pages_words
from high_pair.app.theme import SMALL_PIXELS, TEXT_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.pairs import Pair
from high_pair.review.session import Look

LONGEST_NAME = 150
ROW_HEIGHT = 34
NARROW = 560
NARROWEST = 420


def place_words(look: Look, file: str = "") -> str:
    """Say where a look's places are, and when: «slide 2», «page 1 · on hover · alike 6».

    file: its name, where several are open.
    """
    pages = sorted({pair.page for pair in look.group.pairs})
    count = len(look.group.pairs)
    noun = page_noun(look.group.weakest.where)
    few = len(pages) <= 2
    words = pages_words(pages, noun) if few else f"{len(pages)} {noun}s from {pages[0]}"
    if file:
        words = f"{file}, {words}"
    appears = sorted({pair.appears for pair in look.group.pairs})
    if "" not in appears:
        words = f"{words} · {' and '.join(appears)}"
    return words if count == 1 else f"{words} · alike {count}"


def text_of(look: Look) -> str:
    """Give the text that stands for a look: the weakest that says something."""
    telling = (pair.text for pair in look.group.pairs if len(pair.text) > 2)
    return next(telling, look.group.weakest.text)


@dataclass(frozen=True)
class Advice:
    """What a look is like from the seat: in words, and whether it reads there."""

    words: str
    reads: bool


def row_words(look: Look, file: str = "", advice: Advice | None = None) -> str:
    """Give a row in words, for those who hear it."""
    pair = look.group.weakest
    ratio = shown_ratio(pair.ratio) if pair.ratio is not None else "no ratio"
    words = f"{pair.verdict.words}, {ratio} of {pair.required:g}, {text_of(look)}"
    there = f", {advice.words}" if advice is not None else ""
    reason = f", {pair.reason}" if pair.reason else ""
    return f"{words}, {place_words(look, file)}{reason}{there}"


class _Delegate(QStyledItemDelegate):
    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.names: dict[int, str] = {}
        self.advice: Callable[[Look], Advice | None] = lambda _look: None

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        """Give a row's size."""
        return QSize(200, ROW_HEIGHT)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint mark, ratio, sample, text, place and ladder."""
        look: Look = index.data(ROW)
        pair, theme, area = look.group.weakest, self.theme, option.rect
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(area, colour(theme.chosen))
            painter.fillRect(QRect(area.left(), area.top(), 4, area.height()), colour(theme.accent))
            if option.state & QStyle.StateFlag.State_HasFocus:
                painter.setPen(QPen(colour(theme.accent), 2))
                painter.drawRect(area.adjusted(1, 1, -1, -1))
        painter.setPen(colour(theme.rule))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        mark = QRectF(area.left() + 15, area.center().y() - 6, 13, 13)
        paint_mark(painter, mark, pair.verdict, theme)
        self._paint_pair(painter, area, pair, look, self.names.get(look.file, ""))
        painter.restore()

    def _paint_pair(
        self, painter: QPainter, area: QRect, pair: Pair, look: Look, file: str
    ) -> None:
        theme, top, height = self.theme, area.top(), area.height()
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setPen(colour(theme.text))
        painter.setFont(font(TEXT_PIXELS, bold=True))
        ratio = shown_ratio(pair.ratio) if pair.ratio is not None else "–"
        painter.drawText(QRect(area.left() + 40, top, 50, height), middle, ratio)
        left = area.left() + 98
        if area.width() >= NARROWEST:
            self._paint_sample(painter, QRect(left, top + 6, 48, height - 12), pair)
            left += 62
        right = area.right() - 14
        if area.width() >= NARROW:
            if pair.numbers is not None:
                box = QRectF(right - 96, top + 9, 96, height - 18)
                paint_small_ladder(painter, box, pair.numbers, pair.required, theme)
            right -= 110
        painter.setPen(colour(theme.text))
        if area.width() >= NARROWEST:
            painter.setFont(font(SMALL_PIXELS))
            name = painter.fontMetrics().elidedText(
                file, Qt.TextElideMode.ElideMiddle, LONGEST_NAME
            )
            place = place_words(look, name)
            width = max(128, painter.fontMetrics().horizontalAdvance(place) + 4)
            painter.drawText(QRect(right - width, top, width, height), middle, place)
            right -= width + 10
            right = self._paint_advice(painter, look, QRect(left, top, right - left, height))
        room = QRect(left, top, max(0, right - left), height)
        words = text_of(look) + (f" ({pair.reason})" if pair.reason else "")
        painter.setFont(font(TEXT_PIXELS))
        elide = Qt.TextElideMode.ElideRight
        shown = painter.fontMetrics().elidedText(words, elide, room.width())
        painter.drawText(room, middle, shown)

    def _paint_advice(self, painter: QPainter, look: Look, room: QRect) -> int:
        """Paint what a look is like from the seat at the right of a room; gives what is left."""
        advice = self.advice(look)
        if advice is None:
            return room.right()
        width = painter.fontMetrics().horizontalAdvance(advice.words) + 4
        words = QRect(room.right() - width, room.top(), width, room.height())
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, advice.words)
        mark = QRectF(words.left() - 17, room.center().y() - 5, 10, 10)
        paint_advice(painter, mark, advice.reads, self.theme)
        return words.left() - 26

    def _paint_sample(self, painter: QPainter, box: QRect, pair: Pair) -> None:
        """Paint «Aa» in the pair's two colours."""
        if pair.numbers is not None:
            painter.fillRect(box, QColor(pair.numbers.background))
            painter.setPen(QColor(pair.numbers.foreground))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "Aa")
        painter.setPen(colour(self.theme.edge))
        painter.drawRect(box)


class LookList(QListView):
    """The list. `look_chosen` tells the look that the user went to."""

    look_chosen = Signal(object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("looks")
        self.setAccessibleName("What was found, worst first")
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setUniformItemSizes(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        # Of the files by key, where several are open.
        self.names: dict[int, str] = {}
        self._delegate = _Delegate(theme)
        self.looks: RowModel[Look] = RowModel(
            lambda look: row_words(look, self.names.get(look.file, ""), self._delegate.advice(look))
        )
        self.setModel(self.looks)
        self.setItemDelegate(self._delegate)
        self.selectionModel().currentChanged.connect(self._current_changed)
        self._quiet = False
        self._last_row = -1

    def _current_changed(self, current: QModelIndex, _before: QModelIndex) -> None:
        look = current.data(ROW) if current.isValid() else None
        if look is not None:
            self._last_row = current.row()
            if not self._quiet:
                self.look_chosen.emit(look)

    def advise(self, advice: Callable[[Look], Advice | None]) -> None:
        """Say of each look what it is like from the seat. advice: tells it, None of nothing."""
        self._delegate.advice = advice
        self.viewport().update()

    def show_looks(
        self, looks: list[Look], names: dict[int, str], file: int | None, pair: Pair | None
    ) -> None:
        """Show looks, and among them the one that holds a pair, without a signal."""
        self._quiet = True
        scroll = self.verticalScrollBar().value()
        self.names = self._delegate.names = names
        self.looks.show_rows(looks)
        self.verticalScrollBar().setValue(scroll)
        self._quiet = False
        self.go_to(file, pair)

    def go_to(self, file: int | None, pair: Pair | None) -> None:
        """Choose the look that holds a pair, without a signal; none when it isn't listed."""
        self._quiet = True
        place = self._place_of(file, pair)
        if place >= 0:
            self.setCurrentIndex(self.looks.index(place))
            self.scrollTo(self.looks.index(place))
        else:
            self.selectionModel().clearSelection()
            self.selectionModel().clearCurrentIndex()
        self._quiet = False

    def _place_of(self, file: int | None, pair: Pair | None) -> int:
        if pair is not None:
            for place, look in enumerate(self.looks.rows):
                if look.file == file and any(p.id == pair.id for p in look.group.pairs):
                    return place
        return -1

    def step(self, by: int) -> bool:
        """Go to the next or previous row; after a row has gone, to the one in its place."""
        count = len(self.looks.rows)
        if not count:
            return False
        current = self.currentIndex()
        if current.isValid():
            place = current.row() + by
        else:
            place = self._last_row if by > 0 else self._last_row - 1
        place = min(count - 1, max(0, place))
        if current.isValid() and place == current.row():
            return False
        self.setCurrentIndex(self.looks.index(place))
        return True
