"""The lists of the Report desk: where it is decided, by criterion, and by file."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Generic, TypeVar

from PySide6.QtCore import QModelIndex, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from high_pair.app.marks import paint_mark
from high_pair.app.rows import ROW, Index, RowModel, plural
from high_pair.app.theme import SMALL_PIXELS, TEXT_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.report.ladder import place_on_ladder
from high_pair.review.overview import CriterionCounts, FileCounts, OriginCounts
from high_pair.wcag.criteria import by_number
from high_pair.wcag.verdicts import Verdict

Shown = TypeVar("Shown")
ORIGIN_HEIGHT, LINE_HEIGHT = 46, 30
SAMPLE_WIDTH, SAMPLE_HEIGHT = 44, 26
MARGIN = 14
NUMBER_WIDTH = 66
LADDER_WIDTH, COUNT_WIDTH = 200, 110
VERDICTS = (Verdict.PASSES, Verdict.FALLS_SHORT, Verdict.NEEDS_EYES, Verdict.SET_ASIDE)
HEADINGS = ("passes", "short", "eyes", "aside")
NOWHERE = "no place that could be found"


def change_words(before: int | None, now: int) -> str:
    """Write how much falls short, and did before where that is known."""
    return f"{now:,}" if before is None else f"{before:,} → {now:,}"


class ReportList(QListView, Generic[Shown]):
    """A list of figures. asked: the pairs of a row are to be shown."""

    asked = Signal(object)

    def __init__(
        self, name: str, words_of: Callable[[Shown], str], delegate: QStyledItemDelegate
    ) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setUniformItemSizes(True)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.shown: RowModel[Shown] = RowModel(words_of)
        self.setModel(self.shown)
        self.setItemDelegate(delegate)
        self.activated.connect(self._activated)

    def show_rows(self, rows: Sequence[Shown]) -> None:
        """Show rows; the one at hand stays so where it is there still."""
        listed = list(rows)
        if listed == self.shown.rows:
            return
        place = self.currentIndex().row()
        self.shown.show_rows(listed)
        if listed:
            self.setCurrentIndex(self.shown.index(min(max(0, place), len(listed) - 1)))

    def _activated(self, index: QModelIndex) -> None:
        row = index.data(ROW)
        if row is not None:
            self.asked.emit(row)


class _Delegate(QStyledItemDelegate):
    height = LINE_HEIGHT

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        # Whether there is a before to hold the figures against.
        self.compares = False

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        """Give a row's size."""
        return QSize(200, self.height)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint a row, and its frame where it is at hand."""
        painter.save()
        area: QRect = option.rect
        theme = self.theme
        # Of three lists side by side the one that has the keys shows its row at hand.
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        at_hand = chosen and bool(option.state & QStyle.StateFlag.State_HasFocus)
        if at_hand:
            painter.fillRect(area, colour(theme.chosen))
        self.paint_row(painter, area.adjusted(MARGIN, 0, -MARGIN, 0), index.data(ROW))
        painter.setPen(QPen(colour(theme.rule), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        if at_hand:
            painter.setPen(QPen(colour(theme.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(1, 1, -2, -2))
        painter.restore()

    def paint_row(self, painter: QPainter, area: QRect, row: Any) -> None:
        """Paint what a row says."""

    def words(
        self,
        painter: QPainter,
        box: QRect,
        text: str,
        *,
        quiet: bool = False,
        bold: bool = False,
        right: bool = False,
        pixels: int = TEXT_PIXELS,
    ) -> None:
        """Write words into a box, shortened in the middle where they don't fit."""
        painter.setFont(font(pixels, bold=bold))
        painter.setPen(colour(self.theme.quiet if quiet else self.theme.text))
        middle = Qt.TextElideMode.ElideMiddle
        shown = painter.fontMetrics().elidedText(text, middle, box.width())
        align = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
        painter.drawText(box, align | Qt.AlignmentFlag.AlignVCenter, shown)


class OriginDelegate(_Delegate):
    """Paints where colours are decided: a sample, the words, a bar, and how many fall short."""

    height = ORIGIN_HEIGHT
    most = 1

    def paint_row(self, painter: QPainter, area: QRect, row: OriginCounts) -> None:
        """Paint a row."""
        theme = self.theme
        sample = QRect(area.left(), area.center().y() - SAMPLE_HEIGHT // 2 + 1, SAMPLE_WIDTH,
                       SAMPLE_HEIGHT)  # fmt: skip
        if row.look.background and row.look.foreground:
            painter.fillRect(sample, colour(row.look.background))
            painter.setPen(colour(row.look.foreground))
            painter.setFont(font(TEXT_PIXELS, bold=True))
            painter.drawText(sample, Qt.AlignmentFlag.AlignCenter, "Aa")
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.drawRect(sample)
        count = QRect(area.right() - 92, area.top(), 92, area.height())
        words = change_words(row.before if self.compares else None, row.now)
        self.words(painter, count, words, bold=True, right=True)
        bar_width = min(200, max(0, area.width() - SAMPLE_WIDTH - 92 - 190))
        bar = QRect(count.left() - bar_width - 8, area.center().y() - 5, bar_width, 11)
        if bar_width > 30:
            self._paint_bar(painter, bar, row)
        left = sample.right() + 11
        text = QRect(left, area.top() + 4, bar.left() - left - 10, area.height() // 2 - 3)
        self.words(painter, text, row.origin or NOWHERE)
        below = QRect(left, text.bottom() + 1, text.width(), area.height() // 2 - 4)
        self.words(painter, below, _in_files(row), quiet=True, pixels=SMALL_PIXELS - 1)

    def _paint_bar(self, painter: QPainter, bar: QRect, row: OriginCounts) -> None:
        theme = self.theme
        unit = bar.width() / max(1, self.most)
        before = max(row.before if self.compares else 0, row.now)
        painter.fillRect(QRectF(bar.left(), bar.top(), before * unit, bar.height()),
                         colour(theme.track))  # fmt: skip
        painter.fillRect(QRectF(bar.left(), bar.top(), row.now * unit, bar.height()),
                         colour(theme.mark))  # fmt: skip


class CriterionDelegate(_Delegate):
    """Paints a criterion, and how many pairs it has of each verdict."""

    def paint_row(self, painter: QPainter, area: QRect, row: CriterionCounts) -> None:
        """Paint a row."""
        right = area.right()
        for verdict in reversed(VERDICTS):
            box = QRect(right - NUMBER_WIDTH, area.top(), NUMBER_WIDTH, area.height())
            count = row.counts.get(verdict, 0)
            falls = verdict is Verdict.FALLS_SHORT and count > 0
            self.words(painter, box, f"{count:,}", right=True, bold=falls)
            right -= NUMBER_WIDTH
        name = f"{row.number} {by_number(row.number).name}"
        self.words(painter, QRect(area.left(), area.top(), right - area.left() - 6, area.height()),
                   name)  # fmt: skip


class FileDelegate(_Delegate):
    """Paints a file: its mark, its name, its pairs on a small ladder, how many fall short."""

    # The folder that all files have in common, which isn't said of each.
    folder = ""

    def paint_row(self, painter: QPainter, area: QRect, row: FileCounts) -> None:
        """Paint a row."""
        mark = QRectF(area.left(), area.center().y() - 6, 12, 12)
        if row.error or (row.eyes and not row.short):
            paint_mark(painter, mark, Verdict.NEEDS_EYES, self.theme)
        else:
            paint_mark(painter, mark, Verdict.FALLS_SHORT if row.short else Verdict.PASSES,
                       self.theme)  # fmt: skip
        count = QRect(area.right() - COUNT_WIDTH, area.top(), COUNT_WIDTH, area.height())
        self.words(painter, count, _file_counts(row, self.compares), bold=True, right=True)
        width = LADDER_WIDTH if area.width() > 460 else 0
        if width:
            track = QRectF(count.left() - width - 8, area.center().y() - 8, width, 17)
            self._paint_ladder(painter, track, row)
        left = int(mark.right()) + 12
        room = count.left() - (width + 8 if width else 0) - left - 10
        self.words(
            painter,
            QRect(left, area.top(), room, area.height()),
            row.path.removeprefix(self.folder),
        )

    def _paint_ladder(self, painter: QPainter, track: QRectF, row: FileCounts) -> None:
        theme = self.theme
        painter.fillRect(track, colour(theme.field))
        asked = track.left() + place_on_ladder(1.0) * track.width()
        for tick in row.ladder:
            x = track.left() + place_on_ladder(tick.share) * track.width()
            painter.setPen(QPen(colour(theme.mark if tick.share < 1.0 else theme.text), 1))
            top, bottom = track.top() + 3, track.bottom() - 3
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        painter.setPen(QPen(colour(theme.text), 2))
        painter.drawLine(int(asked), int(track.top()), int(asked), int(track.bottom()))


# Rows in words


def _in_files(row: OriginCounts) -> str:
    ratio = f"{shown_ratio(row.look.ratio)}:1 at worst, " if row.look.ratio is not None else ""
    return f"{ratio}{plural(row.files, 'file')}"


def _file_counts(row: FileCounts, compares: bool) -> str:
    if row.error:
        return "can’t be read"
    if not row.short and not (compares and row.before) and row.eyes:
        return "1 needs eyes" if row.eyes == 1 else f"{row.eyes:,} need eyes"
    return change_words(row.before if compares else None, row.short)


def origin_words(row: OriginCounts) -> str:
    """Say where it is decided, for those who hear it."""
    return f"{row.origin or NOWHERE}: {row.now} fall short, {row.before} before; {_in_files(row)}"


def criterion_words(row: CriterionCounts) -> str:
    """Say a criterion's counts."""
    counts = ", ".join(f"{row.counts.get(each, 0)} {each.words}" for each in VERDICTS)
    return f"{row.number} {by_number(row.number).name}: {counts}"


def file_words(row: FileCounts) -> str:
    """Say a file's counts."""
    if row.error:
        return f"{row.path}: {row.error}"
    return f"{row.path}: {row.short} fall short, {row.before} before, {row.eyes} need eyes"
