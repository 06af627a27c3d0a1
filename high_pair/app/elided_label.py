"""A label that shortens its words at the end where there is no room for all of them."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QLabel, QSizePolicy


class ElidedLabel(QLabel):
    """The label; its accessible text and its tool tip stay whole."""

    def __init__(self, side: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignRight) -> None:
        super().__init__()
        self.side = side
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def minimumSizeHint(self) -> QSize:
        """Need no width at all."""
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint as many of the words as there is room for."""
        painter = QPainter(self)
        shown = self.fontMetrics().elidedText(
            self.text(), Qt.TextElideMode.ElideRight, self.width()
        )
        painter.drawText(self.rect(), self.side | Qt.AlignmentFlag.AlignVCenter, shown)
        painter.end()
