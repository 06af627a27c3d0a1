"""The remedies for a pair, each with a small picture of the result."""

from __future__ import annotations

from dataclasses import dataclass, field

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from high_pair.app.rows import ROW, Index, RowModel
from high_pair.app.theme import SMALL_PIXELS, TEXT_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.remedy.remedies import Remedy

PICTURE = QSize(88, 46)
CARD_HEIGHT = 66
# A card with the gap below it.
CARD = CARD_HEIGHT + 8


@dataclass
class Card:
    """A remedy with its small picture, which comes when it is painted."""

    remedy: Remedy
    picture: QImage = field(default_factory=QImage)

    @property
    def words(self) -> str:
        """The card in words, for those who hear it."""
        ratio = shown_ratio(self.remedy.ratio)
        return f"{self.remedy.label}, {self.remedy.detail}, ratio {ratio}"


class _Delegate(QStyledItemDelegate):
    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        return QSize(200, CARD)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        card: Card = index.data(ROW)
        theme = self.theme
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        area: QRect = option.rect.adjusted(2, 2, -3, -7)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.setPen(QPen(colour(theme.accent if chosen else theme.edge), 3 if chosen else 1))
        painter.setBrush(colour(theme.field))
        painter.drawRoundedRect(area, 6, 6)
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QPen(colour(theme.text), 1, Qt.PenStyle.DotLine))
            painter.drawRoundedRect(area.adjusted(4, 4, -4, -4), 4, 4)
        picture = QRect(area.left() + 8, area.top() + 7, PICTURE.width(), PICTURE.height())
        if card.picture.isNull():
            painter.fillRect(picture, colour(theme.track))
        else:
            painter.drawImage(picture, card.picture)
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(picture)
        self._paint_words(painter, card, area, picture.right() + 12, index.row())
        painter.restore()

    def _paint_words(self, painter: QPainter, card: Card, area: QRect, left: int, row: int) -> None:
        room = area.right() - left - 10
        line = QRect(left, area.top() + 9, room, 20)
        elide = Qt.TextElideMode.ElideRight
        painter.setPen(colour(self.theme.text))
        painter.setFont(font(TEXT_PIXELS))
        label = f"{row + 1}  {card.remedy.label}"
        shown = painter.fontMetrics().elidedText(label, elide, room)
        painter.drawText(line, Qt.AlignmentFlag.AlignLeft, shown)
        line.translate(0, 23)
        ratio = shown_ratio(card.remedy.ratio)
        painter.setFont(font(TEXT_PIXELS, bold=True))
        painter.drawText(line, Qt.AlignmentFlag.AlignRight, ratio)
        room -= painter.fontMetrics().horizontalAdvance(ratio) + 8
        painter.setPen(colour(self.theme.quiet))
        painter.setFont(font(SMALL_PIXELS))
        shown = painter.fontMetrics().elidedText(card.remedy.detail, elide, room)
        painter.drawText(line, Qt.AlignmentFlag.AlignLeft, shown)


class RemedyList(QListView):
    """The list. `remedy_chosen` tells the remedy, or None when none is chosen any more."""

    remedy_chosen = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("remedies")
        self.setAccessibleName("Remedies, the least visible change first")
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.cards: RowModel[Card] = RowModel(lambda card: card.words)
        self.setModel(self.cards)
        self.setItemDelegate(_Delegate(theme))
        self.selectionModel().selectionChanged.connect(lambda *_: self._tell())
        self._quiet = False

    @property
    def chosen(self) -> Remedy | None:
        """The remedy chosen, None when none is."""
        selected = self.selectedIndexes()
        return self.cards.rows[selected[0].row()].remedy if selected else None

    def show_remedies(self, remedies: tuple[Remedy, ...]) -> None:
        """Show remedies, none of them chosen."""
        self._quiet = True
        self.cards.show_rows([Card(remedy) for remedy in remedies])
        self._quiet = False
        self.setFixedHeight(len(remedies) * (CARD) + 4)
        self.setVisible(bool(remedies))

    def show_picture(self, row: int, picture: QImage) -> None:
        """Show a remedy's small picture."""
        if row < len(self.cards.rows):
            self.cards.rows[row].picture = picture
            self.cards.row_changed(row)

    def replace_chosen(self, remedy: Remedy) -> None:
        """Put a remedy, changed by hand, in the place of the chosen one; without a signal."""
        selected = self.selectedIndexes()
        if selected:
            self.cards.rows[selected[0].row()].remedy = remedy
            self.cards.row_changed(selected[0].row())

    def choose(self, row: int) -> None:
        """Choose a remedy by its place."""
        if 0 <= row < len(self.cards.rows):
            self.setCurrentIndex(self.cards.index(row))

    def choose_none(self) -> None:
        """Choose no remedy."""
        self.selectionModel().clear()

    def _tell(self) -> None:
        if not self._quiet:
            self.remedy_chosen.emit(self.chosen)
