"""What the lists of pairs on the Bench have in common: how a row is framed, and its mark."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from high_pair.app.marks import paint_mark
from high_pair.app.theme import Theme, colour
from high_pair.measure.by_hand import HandPair
from high_pair.wcag.verdicts import Verdict


class PairRows(QStyledItemDelegate):
    """Paints rows; `paint_row` gives each list's own part. required: the ratio asked for."""

    size = QSize(248, 40)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.required = 4.5

    def verdict_of(self, pair: HandPair) -> Verdict:
        """Tell whether a pair has the ratio asked for."""
        return Verdict.PASSES if pair.ratio >= self.required else Verdict.FALLS_SHORT

    def sizeHint(
        self, _option: QStyleOptionViewItem, _index: QModelIndex | QPersistentModelIndex
    ) -> QSize:
        """Give a row's size."""
        return self.size

    def paint(
        self,
        painter: QPainter,
        option: QStyleOptionViewItem,
        index: QModelIndex | QPersistentModelIndex,
    ) -> None:
        """Paint one row: whether it is chosen, its own part, and the focus."""
        box = QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, colour(self.theme.chosen))
        self.paint_row(painter, box, index.data(Qt.ItemDataRole.UserRole))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QPen(colour(self.theme.accent), 2))
            painter.drawRect(box.adjusted(1, 1, -1, -1))
        else:
            painter.setPen(QPen(colour(self.theme.rule), 1))
            painter.drawLine(box.bottomLeft(), box.bottomRight())
        painter.restore()

    def paint_row(self, painter: QPainter, box: QRectF, data: Any) -> None:
        """Paint what a list's own rows show."""
        raise NotImplementedError

    def paint_verdict(self, painter: QPainter, mark: QRectF, pair: HandPair) -> None:
        """Paint a pair's mark."""
        paint_mark(painter, mark, self.verdict_of(pair), self.theme)
