"""The pairs of the set that is shown, the weakest first."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QModelIndex, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from high_pair.app.marks import paint_mark
from high_pair.app.rows import ROW, Index, RowModel
from high_pair.app.sets.words import pair_words, places_words, ratio_words
from high_pair.app.theme import TEXT_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.scene.colour_set import ColourSet, Levels, SetPair
from high_pair.wcag.verdicts import Verdict

ROW_HEIGHT = 36
NARROW, NARROWEST = 520, 380


@dataclass(frozen=True)
class PairRow:
    """A pair of a set as it is now."""

    pair: SetPair
    words: str
    ratio: float
    text: Levels
    backdrop: Levels

    @property
    def falls_short(self) -> bool:
        """Whether it falls short."""
        return self.ratio < self.pair.required

    @property
    def said(self) -> str:
        """The row in words, for those who hear it."""
        return (
            f"{self.words}, {ratio_words(self.ratio, self.pair.required)}, "
            f"{places_words(self.pair)}"
        )


def pair_row(pair: SetPair, ratio: float, colours: ColourSet) -> PairRow:
    """Give a pair's row."""
    text, backdrop = colours.colour(pair.text), colours.colour(pair.backdrop)
    assert text is not None and backdrop is not None
    return PairRow(pair, pair_words(pair, colours), ratio, text.levels, backdrop.levels)


class _Delegate(QStyledItemDelegate):
    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        """Give a row's size."""
        return QSize(200, ROW_HEIGHT)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint mark, ratio, sample, names, places and what is asked."""
        row: PairRow = index.data(ROW)
        theme, area = self.theme, option.rect
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(area, colour(theme.chosen))
            painter.fillRect(QRect(area.left(), area.top(), 4, area.height()), colour(theme.accent))
            if option.state & QStyle.StateFlag.State_HasFocus:
                painter.setPen(QPen(colour(theme.accent), 2))
                painter.drawRect(area.adjusted(1, 1, -1, -1))
        middle = Qt.AlignmentFlag.AlignVCenter
        mark = QRectF(area.left() + 16, area.center().y() - 6, 13, 13)
        verdict = Verdict.FALLS_SHORT if row.falls_short else Verdict.PASSES
        paint_mark(painter, mark, verdict, theme)
        painter.setPen(colour(theme.text))
        painter.setFont(font(TEXT_PIXELS, bold=True))
        painter.drawText(QRect(area.left() + 38, area.top(), 52, area.height()), middle,
                         shown_ratio(row.ratio))  # fmt: skip
        sample = QRectF(area.left() + 94, area.center().y() - 12, 52, 25)
        painter.fillRect(sample, QColor(*row.backdrop))
        painter.setPen(QColor(*row.text))
        painter.drawText(sample, Qt.AlignmentFlag.AlignCenter, "Aa")
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.drawRect(sample)
        self._paint_words(painter, row, area)
        painter.restore()

    def _paint_words(self, painter: QPainter, row: PairRow, area: QRect) -> None:
        theme, middle = self.theme, Qt.AlignmentFlag.AlignVCenter
        right = area.right() - 14
        painter.setFont(font())
        painter.setPen(colour(theme.quiet))
        said = [(f"asks {row.pair.required:g}", 74)]
        if area.width() >= NARROW:
            said.append((places_words(row.pair), 104))
        for words, width in said if area.width() >= NARROWEST else ():
            place = QRect(right - width, area.top(), width, area.height())
            painter.drawText(place, middle, words)
            right -= width + 10
        left = area.left() + 160
        painter.setPen(colour(theme.text))
        shown = painter.fontMetrics().elidedText(
            row.words, Qt.TextElideMode.ElideRight, max(20, right - left)
        )
        painter.drawText(QRect(left, area.top(), right - left, area.height()), middle, shown)


class PairList(QListView):
    """The list. pair_chosen: the user went to a pair, by its names; opened: by Enter, or twice."""

    pair_chosen = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setAccessibleName("Pairs of this set, the weakest first")
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setUniformItemSizes(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.pairs: RowModel[PairRow] = RowModel(lambda row: row.said)
        self.setModel(self.pairs)
        self.setItemDelegate(_Delegate(theme))
        self.selectionModel().currentChanged.connect(self._current_changed)
        self._quiet = False

    def show_pairs(self, rows: list[PairRow], chosen: tuple[str, str] | None) -> None:
        """Show pairs, one of them as chosen, without a signal."""
        self._quiet = True
        names = [(row.pair.text, row.pair.backdrop) for row in rows]
        if names == [(row.pair.text, row.pair.backdrop) for row in self.pairs.rows]:
            # The same pairs: only their numbers are others.
            self.pairs.rows = rows
            if rows:
                self.pairs.dataChanged.emit(self.pairs.index(0), self.pairs.index(len(rows) - 1))
        else:
            self.pairs.show_rows(rows)
        if chosen in names:
            self.setCurrentIndex(self.pairs.index(names.index(chosen)))
        else:
            self.selectionModel().clear()
        self._quiet = False

    def step(self, by: int) -> bool:
        """Go to the next or previous pair; tells whether there was one."""
        place = self.currentIndex().row() + by
        if not self.currentIndex().isValid():
            place = 0 if by > 0 else len(self.pairs.rows) - 1
        if not 0 <= place < len(self.pairs.rows):
            return False
        self.setCurrentIndex(self.pairs.index(place))
        return True

    def _current_changed(self, current: QModelIndex, _before: QModelIndex) -> None:
        row = current.data(ROW) if current.isValid() else None
        if isinstance(row, PairRow) and not self._quiet:
            self.pair_chosen.emit((row.pair.text, row.pair.backdrop))
