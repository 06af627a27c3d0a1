"""A drop-down list whose arrow is painted in the window's own colours."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QComboBox

from high_pair.app.theme import Theme, colour

ARROW = 5.0


class ChoiceBox(QComboBox):
    """The list."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the box, then the arrow."""
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(self.theme.text))
        tip = QPointF(self.width() - 14.0, self.height() / 2 + 3)
        painter.drawPolygon(QPolygonF([tip, tip + QPointF(-ARROW, -6), tip + QPointF(ARROW, -6)]))
        painter.end()
