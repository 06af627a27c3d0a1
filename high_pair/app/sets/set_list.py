"""The sets there are: those of the file at hand, and those that are kept."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QModelIndex, QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from high_pair.app.rows import ROW, Index, RowModel, plural
from high_pair.app.sets.state import Key
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.scene.colour_set import ColourSet

HEADING, CARD = 34, 62
SWATCH = 14
MARGIN = 8


@dataclass(frozen=True)
class SetRow:
    """A heading, or a set. colours: None for a heading; in_use: offered everywhere."""

    name: str
    key: Key | None = None
    colours: ColourSet | None = None
    in_use: bool = False
    moved: bool = False

    @property
    def words(self) -> str:
        """The row in words, for those who hear it."""
        if self.colours is None:
            return self.name
        more = [", in use" if self.in_use else "", ", changed" if self.moved else ""]
        return f"{self.name}, {plural(len(self.colours.colours), 'colour')}{''.join(more)}"


class _Rows(RowModel[SetRow]):
    def __init__(self) -> None:
        super().__init__(lambda row: row.words)

    def flags(self, index: Index) -> Qt.ItemFlag:
        """Let sets be chosen, headings not."""
        if index.isValid() and self.rows[index.row()].key is None:
            return Qt.ItemFlag.ItemIsEnabled
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable


class _Delegate(QStyledItemDelegate):
    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    def sizeHint(self, _option: QStyleOptionViewItem, index: Index) -> QSize:
        """Give a row's size."""
        row: SetRow = index.data(ROW)
        return QSize(120, HEADING if row.key is None else CARD)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint a heading, or a set with its colours."""
        row: SetRow = index.data(ROW)
        painter.save()
        area: QRect = option.rect
        if row.colours is None:
            painter.setPen(colour(self.theme.text))
            painter.setFont(font(SMALL_PIXELS, bold=True))
            box = area.adjusted(MARGIN + 6, 0, -MARGIN, -6)
            painter.drawText(box, Qt.AlignmentFlag.AlignBottom, row.name)
        else:
            self._paint_card(painter, option, row, row.colours)
        painter.restore()

    def _paint_card(
        self, painter: QPainter, option: QStyleOptionViewItem, row: SetRow, colours: ColourSet
    ) -> None:
        theme = self.theme
        area: QRect = option.rect.adjusted(MARGIN, 2, -MARGIN, -6)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(colour(theme.field if chosen else theme.strip))
        painter.setPen(QPen(colour(theme.accent if chosen else theme.edge), 3 if chosen else 1))
        painter.drawRoundedRect(area, 6, 6)
        if option.state & QStyle.StateFlag.State_HasFocus and chosen:
            painter.setPen(QPen(colour(theme.text), 1, Qt.PenStyle.DotLine))
            painter.drawRoundedRect(area.adjusted(4, 4, -4, -4), 4, 4)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        line = QRect(area.left() + 9, area.top() + 6, area.width() - 18, 20)
        painter.setPen(colour(theme.text))
        if row.in_use:
            painter.setFont(font(SMALL_PIXELS - 1))
            painter.drawText(line, Qt.AlignmentFlag.AlignRight, "in use")
            line.setWidth(line.width() - painter.fontMetrics().horizontalAdvance("in use") - 6)
        painter.setFont(font(bold=chosen))
        words = f"{row.name} · changed" if row.moved else row.name
        elide = Qt.TextElideMode.ElideRight
        shown = painter.fontMetrics().elidedText(words, elide, line.width())
        painter.drawText(line, Qt.AlignmentFlag.AlignLeft, shown)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        x, y = area.left() + 9, area.top() + 29
        for each in colours.colours:
            if x + SWATCH > area.right() - 6:
                break
            painter.fillRect(QRect(x, y, SWATCH, SWATCH), QColor(*each.levels))
            painter.setPen(QPen(colour(theme.edge), 1))
            painter.drawRect(QRect(x, y, SWATCH, SWATCH))
            x += SWATCH + 2


class SetList(QListView):
    """The list. set_chosen: the user went to a set."""

    set_chosen = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("pages")
        self.setAccessibleName("Sets")
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.sets = _Rows()
        self.setModel(self.sets)
        self.setItemDelegate(_Delegate(theme))
        self.selectionModel().currentChanged.connect(self._current_changed)
        self._quiet = False

    def show_sets(self, rows: list[SetRow], shown: Key | None) -> None:
        """Show sets, one of them as chosen, without a signal."""
        self._quiet = True
        if rows != self.sets.rows:
            self.sets.show_rows(rows)
        for place, row in enumerate(rows):
            if row.key is not None and row.key == shown:
                self.setCurrentIndex(self.sets.index(place))
        self._quiet = False

    def _current_changed(self, current: QModelIndex, _before: QModelIndex) -> None:
        row = current.data(ROW) if current.isValid() else None
        if isinstance(row, SetRow) and row.key is not None and not self._quiet:
            self.set_chosen.emit(row.key)
